#include "app/session/swing_loader.h"

#include "app/theme/text.h"
#include "core/live/swing_take.h"
#include "formats/json/lesson_json.h"
#include "formats/reader.h"
#include "formats/rules/rules_json.h"

#include <QCoreApplication>
#include <QDir>
#include <QFileInfo>

#include <exception>
#include <new>

namespace kite::app {

namespace {

/// A task that throws would take the window with it: whatever goes wrong becomes a sentence.
template <class Task>
std::shared_ptr<const LoadedSwing> guarded(const std::shared_ptr<const LoadedSwing>& before,
                                           const Task& task) {
    const char* what = "The swing could not be measured.";
    const char* mend = "Please keep the file: it shows a mistake of this program.";
    try {
        return task();
    } catch (const std::bad_alloc&) {
        what = "There is not enough memory for this file.";
        mend = "Cut it to the swing.";
    } catch (const std::exception&) {
    }
    auto out = std::make_shared<LoadedSwing>();
    out->rules = before ? before->rules : rules_without_school();
    out->take = before ? before->take : std::make_shared<const Take>();
    out->file_findings.push_back({Finding::Severity::Error, "task-failed", what, "", mend});
    out->findings = out->file_findings;
    return out;
}

void measure(LoadedSwing& swing, const AnalysisOptions& options, const RulesInUse& rules) {
    swing.rules = rules;
    swing.findings = swing.file_findings;
    if (!has_errors(swing.findings)) {
        Outcome<Analysis> analysis = analyse(*swing.take, options);
        swing.analysis = std::move(analysis.value);
        swing.findings.insert(swing.findings.end(), analysis.findings.begin(),
                              analysis.findings.end());
    }
    swing.ok = !has_errors(swing.findings);
    if (!swing.ok)
        return;
    swing.reading = read_swing(swing.analysis, *rules);
    overrule(swing.reading, swing.overruled);
}

SwingRequest request_for(const QString& path, const QString& golfer = {},
                         const QString& note = {}) {
    SwingRequest out;
    out.path = path;
    out.golfer = golfer;
    out.note = note;
    return out;
}

} // namespace

std::shared_ptr<const LoadedSwing> load_swing(const SwingRequest& request,
                                              formats::ReadOptions read_options,
                                              const AnalysisOptions& options,
                                              const RulesInUse& rules) {
    read_options.axes = request.axes;
    if (request.said.handed)
        read_options.handed = request.said.handed;
    if (request.said.club)
        read_options.club = request.said.club;
    return guarded(nullptr, [&] {
        const std::filesystem::path path(request.path.toStdString());
        auto take = request.capture ? formats::read_take(*request.capture, path, read_options)
                                    : formats::read_take(path, read_options);
        if (request.launch)
            take.value.launch = request.launch;
        return swing_of(std::move(take), options, rules, request.overruled);
    });
}

bool is_made_up(const LoadedSwing& swing) {
    return holds(swing.file_findings, live::kMadeUp);
}

RulesInUse rules_without_school() {
    // It stands as long as the program.
    return {RulesInUse(), &formats::plain_rules()};
}

std::shared_ptr<const LoadedSwing> swing_of(Outcome<Take> take, const AnalysisOptions& options,
                                            const RulesInUse& rules, const Overruled& overruled) {
    auto out = std::make_shared<LoadedSwing>();
    out->overruled = overruled;
    out->file_findings = std::move(take.findings);
    out->take = std::make_shared<const Take>(std::move(take.value));
    measure(*out, options, rules);
    return out;
}

std::shared_ptr<const LoadedSwing> analyse_again(const std::shared_ptr<const LoadedSwing>& swing,
                                                 const AnalysisOptions& options,
                                                 const RulesInUse& rules) {
    return guarded(swing, [&]() -> std::shared_ptr<const LoadedSwing> {
        auto out = std::make_shared<LoadedSwing>();
        out->take = swing->take;
        out->file_findings = swing->file_findings;
        out->overruled = swing->overruled;
        measure(*out, options, rules);
        return out;
    });
}

std::shared_ptr<const LoadedSwing> read_again(const LoadedSwing& swing,
                                              const Overruled& overruled) {
    auto out = std::make_shared<LoadedSwing>(swing);
    out->overruled = overruled;
    if (out->ok) {
        out->reading = read_swing(out->analysis, *out->rules);
        overrule(out->reading, overruled);
    }
    return out;
}

std::vector<SwingRequest> expand_paths(const QStringList& paths, QString* lesson_name) {
    std::vector<SwingRequest> out;
    const auto add_lesson = [&](const QString& file) {
        const auto lesson = formats::read_lesson(path_of(file));
        if (!lesson.ok()) {
            out.push_back(request_for(file));
            return;
        }
        if (lesson_name != nullptr)
            *lesson_name = QString::fromStdString(lesson.value.name);
        for (const formats::LessonSwing& swing : lesson.value.swings)
            out.push_back(request_for(QString::fromStdString(swing.file.string()),
                                      QString::fromStdString(swing.golfer),
                                      QString::fromStdString(swing.note)));
    };
    for (const QString& path : paths) {
        const QFileInfo info(path);
        if (info.isDir()) {
            const QString list = QDir(path).filePath(QStringLiteral("lesson.json"));
            if (QFileInfo::exists(list)) {
                add_lesson(list);
                continue;
            }
            const QFileInfoList files = QDir(path).entryInfoList(
                capture_patterns(), QDir::Files | QDir::Readable, QDir::Name);
            for (const QFileInfo& file : files)
                out.push_back(request_for(file.absoluteFilePath()));
            if (files.isEmpty())
                out.push_back(request_for(path)); // says that there is nothing to read
        } else if (info.suffix().compare(QLatin1String("json"), Qt::CaseInsensitive) == 0) {
            add_lesson(path);
        } else {
            out.push_back(request_for(path));
        }
    }
    return out;
}

QStringList capture_patterns() {
    return {QStringLiteral("*.csv"),       QStringLiteral("*.c3d"), QStringLiteral("*.trc"),
            QStringLiteral("*.film.json"), QStringLiteral("*.bvh"), QStringLiteral("*.sto"),
            QStringLiteral("*.mot")};
}

QString find_demo_lesson() {
    QDir here(QCoreApplication::applicationDirPath());
    const QString list = QStringLiteral("demo/lesson/lesson.json");
    const QString installed = here.filePath(QStringLiteral("../share/kite-hinge/") + list);
    if (QFileInfo::exists(installed))
        return QDir::cleanPath(installed);
    // In a build folder: beside the sources, some folders up.
    constexpr int kMostUp = 5;
    for (int up = 0; up < kMostUp && here.cdUp(); ++up)
        if (here.exists(list))
            return here.filePath(list);
    return {};
}

} // namespace kite::app
