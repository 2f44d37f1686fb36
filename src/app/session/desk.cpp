#include "app/session/desk.h"

#include "app/session/workers.h"
#include "app/theme/text.h"
#include "formats/beside/launch_csv.h"
#include "formats/json/lesson_json.h"
#include "formats/rules/rules_json.h"

#include <QDir>
#include <QFileInfo>
#include <QtConcurrent>

#include <cmath>
#include <utility>

namespace kite::app {

std::vector<Finding> Desk::read_by(const QString& school, FaceHabit face, const QString& what) {
    auto read = formats::rules_with_school(school.toStdString());
    if (!read.ok())
        return read.findings;
    read.value.face = face;
    read.value.goal = rules()->goal;
    const auto rules = std::make_shared<const Rules>(std::move(read.value));
    if (what.isEmpty())
        lesson_.swings()->set_rules(rules);
    else
        lesson_.editor()->set_rules(rules, what);
    return {};
}

void Desk::set_goal(Goal goal, const QString& what) {
    Rules now = *rules();
    now.goal = goal;
    const auto changed = std::make_shared<const Rules>(std::move(now));
    if (what.isEmpty())
        lesson_.swings()->set_rules(changed);
    else
        lesson_.editor()->set_rules(changed, what);
}

void Desk::know_golfer(const store::Row& golfer) {
    Rules now = *rules();
    now.face = find_face(store::text_in(golfer, "face")).value_or(now.face);
    now.goal = find_goal(store::text_in(golfer, "goal")).value_or(now.goal);
    if (now.face != rules()->face || now.goal != rules()->goal)
        lesson_.swings()->set_rules(std::make_shared<const Rules>(std::move(now)));
    limits_.clear();
    const auto limits = store::Row::parse(store::text_in(golfer, "limits"), nullptr, false);
    if (limits.is_array())
        for (const auto& limit : limits)
            if (limit.is_string())
                limits_.push_back(limit.get<std::string>());
}

int Desk::shown_row() const {
    const SwingListModel* swings = lesson_.swings();
    for (int row = 0; row < swings->rowCount(); ++row)
        if (shown_.has_swing() && swings->swing(row) == shown_.swing())
            return row;
    return -1;
}

QString Desk::shown_in_record() const {
    const int row = shown_row();
    return row < 0 ? QString() : lesson_.swings()->record_id_of(lesson_.swings()->id_of(row));
}

QString Desk::shown_file() const {
    const int row = shown_row();
    return row < 0 ? QString() : lesson_.swings()->request(row).path;
}

void Desk::add_still(report::Photo still) {
    stills_.emplace_back(golfer_meant(), std::move(still));
    emit stills_changed();
}

std::vector<report::Photo> Desk::stills_of(const QString& golfer) const {
    std::vector<report::Photo> out;
    for (const auto& [whose, still] : stills_)
        if (whose == golfer)
            out.push_back(still);
    return out;
}

void Desk::forget_stills() {
    stills_.clear();
    emit stills_changed();
}

QString Desk::golfer_meant() const {
    const Row* chosen = record_.golfer(record_.whose());
    return !golfer_.isEmpty() || chosen == nullptr ? golfer_ : text_in(*chosen, "name");
}

void Desk::set_caption(const QString& golfer, const QString& caption) {
    golfer_ = golfer;
    caption_ = caption;
    emit caption_changed();
}

Desk::Desk(QObject* parent) : QObject(parent) {}

void Desk::use_record(const QString& path) {
    if (!record_.path().isEmpty() && record_.path() != path) {
        link_.let_go_of(record_.path());
        lesson_.editor()->history()->clear();
        forget_stills();
        limits_.clear();
    }
    record_.open(path);
    const bool is_usual = path == QString::fromStdString(store::Record::usual_place().string());
    for (const Finding& finding : plan_.resume(path, is_usual))
        emit plan_not_usable(QString::fromStdString(text_of(finding)));
}

void Desk::use_own_record() {
    if (record_.path() == own_record_)
        return;
    use_record(own_record_);
    leave_copy();
}

void Desk::leave_copy() {
    // The thread may still have it open: it is gone when that has let go.
    if (copy_)
        record_.when_done([copy = std::exchange(copy_, nullptr)] {});
}

void Desk::use_copy_of(const QString& path, const std::function<void(const QString&)>& then) {
    const auto folder = std::make_shared<QTemporaryDir>();
    const QString to = folder->filePath(QFileInfo(path).fileName());
    QtConcurrent::run(&workers(), [path, to, is_there = folder->isValid()]() -> QString {
        if (!is_there)
            return tr("There is no room for a copy.");
        // By the store: a record may have a log beside it.
        auto opened = store::Record::open(path_of(path), store::Opening::Read);
        auto findings = opened.findings;
        if (opened.value)
            for (Finding& finding : opened.value->back_up(path_of(to)))
                findings.push_back(std::move(finding));
        for (const Finding& finding : findings)
            if (finding.severity == Finding::Severity::Error)
                return QString::fromStdString(text_of(finding));
        return opened.value ? QString() : tr("It cannot be read.");
    }).then(this, [this, folder, to, then](const QString& why) {
        if (why.isEmpty()) {
            use_record(to);
            leave_copy();
            copy_ = folder;
        }
        then(why);
    });
}

void Desk::use_demo_record() {
    const QString demo = QFileInfo(own_record_).dir().filePath(QStringLiteral("demo.db"));
    if (record_.path() != demo)
        use_record(demo);
    leave_copy();
    record_.collect_into(tr("Demo lesson"));
    keep_earlier();
}

/// What the demo's golfers did before: kept once, however often the demo is opened.
void Desk::keep_earlier() {
    const QFileInfo demo(find_demo_lesson());
    const auto earlier = formats::read_lesson(
        path_of(demo.dir().filePath(QStringLiteral("../earlier/lesson.json"))));
    for (const formats::LessonSwing& swing : earlier.value.swings) {
        ToKeep kept;
        kept.path = QString::fromStdString(swing.file.lexically_normal().string());
        kept.golfer = QString::fromStdString(swing.golfer);
        kept.rules = rules();
        kept.in = {record_.path(),
                   {},
                   QString::fromStdString(swing.day),
                   {},
                   QString::fromStdString(swing.day)};
        kept.read_options = lesson_.swings()->read_options();
        kept.day = QString::fromStdString(swing.day);
        if (!swing.flight.empty())
            kept.columns["flight"] = swing.flight;
        if (std::isfinite(swing.guess_open_deg))
            kept.columns["guess_open_deg"] = swing.guess_open_deg;
        if (swing.launch)
            kept.columns["launch"] = formats::to_json(*swing.launch);
        record_.keep(kept);
    }
}

std::vector<int> Desk::rows_of(const std::vector<SwingRequest>& requests) {
    SwingListModel* swings = lesson_.swings();
    std::vector<int> out;
    for (const SwingRequest& request : requests) {
        const int row = swings->row_of_record(request.record_id);
        out.push_back(row >= 0 ? row : swings->open({request}));
    }
    return out;
}

void Desk::look_at(const std::vector<SwingRequest>& requests) {
    const std::vector<int> rows = rows_of(requests);
    emit look_asked(rows.empty() ? -1 : rows.front());
}

void Desk::compare(const std::vector<SwingRequest>& first,
                   const std::vector<SwingRequest>& second) {
    const std::vector<int> a = rows_of(first);
    emit compare_asked(a, rows_of(second));
}

} // namespace kite::app
