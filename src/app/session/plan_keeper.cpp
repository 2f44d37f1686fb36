#include "app/session/plan_keeper.h"

#include "app/theme/text.h"
#include "formats/practice/plan_json.h"

#include <QCryptographicHash>
#include <QDir>
#include <QFileInfo>
#include <QSettings>
#include <QUndoCommand>

namespace kite::app {

namespace {

/// Where plans lay before they went with a record.
QString file_beside_settings() {
    return QFileInfo(QSettings().fileName()).dir().filePath(QStringLiteral("plan.json"));
}

class PlanChange : public QUndoCommand {
public:
    PlanChange(std::function<void(const std::optional<Plan>&)> put, std::optional<Plan> before,
               std::optional<Plan> after, const QString& what)
        : QUndoCommand(what), put_(std::move(put)), before_(std::move(before)),
          after_(std::move(after)) {}
    void undo() override { put_(before_); }
    void redo() override { put_(after_); }

private:
    std::function<void(const std::optional<Plan>&)> put_;
    std::optional<Plan> before_;
    std::optional<Plan> after_;
};

} // namespace

PlanKeeper::PlanKeeper(QObject* parent) : QObject(parent) {}

void PlanKeeper::set_plan(Plan plan, const QString& what) {
    history_.push(new PlanChange([this](const std::optional<Plan>& to) { put(to); }, plan_,
                                 std::move(plan), what));
}

void PlanKeeper::change(const QString& what, const std::function<void(Plan&)>& change) {
    if (!plan_)
        return;
    Plan plan = *plan_;
    change(plan);
    set_plan(std::move(plan), what);
}

void PlanKeeper::show(std::optional<Plan> plan) {
    history_.clear();
    put(std::move(plan));
}

void PlanKeeper::leave_file() {
    if (QFileInfo::exists(file_))
        file_ = free_file();
}

/// Beside the record, until it is put elsewhere.
QString PlanKeeper::usual_file() const {
    return record_ + QStringLiteral(".plan.json");
}

/// Beside what cannot be used and must not be written over.
QString PlanKeeper::free_file() const {
    QString file = usual_file();
    for (int i = 2; QFileInfo::exists(file); ++i)
        file = QStringLiteral("%1.plan-%2.json").arg(record_).arg(i);
    return file;
}

QString PlanKeeper::settings_key() const {
    return QStringLiteral("practice/plans/") +
           QString::fromLatin1(QCryptographicHash::hash(record_.toUtf8(), QCryptographicHash::Sha1)
                                   .toHex()
                                   .left(16));
}

void PlanKeeper::put(const std::optional<Plan>& plan) {
    plan_ = plan;
    emit changed();
    if (plan_)
        for (const Finding& finding : write())
            emit not_kept(QString::fromStdString(text_of(finding)));
}

std::vector<Finding> PlanKeeper::write() const {
    if (file_.isEmpty())
        return {};
    QDir().mkpath(QFileInfo(file_).path());
    return formats::write_plan(path_of(file_), *plan_);
}

std::vector<Finding> PlanKeeper::resume(const QString& record, bool is_usual) {
    record_ = record;
    history_.clear();
    plan_.reset();
    emit changed();
    QSettings settings;
    QString file = settings.value(settings_key()).toString();
    if (file.isEmpty())
        file = usual_file();
    bool is_old = false;
    if (is_usual && !QFileInfo::exists(file)) {
        const QString old =
            settings.value(QStringLiteral("practice/plan"), file_beside_settings()).toString();
        is_old = QFileInfo::exists(old);
        file = is_old ? old : usual_file();
    }
    if (!QFileInfo::exists(file)) {
        file_ = usual_file();
        return {};
    }
    auto findings = open(file);
    if (!findings.empty()) {
        // A new plan goes elsewhere: what could not be read may be mended.
        file_ = free_file();
        settings.setValue(settings_key(), file_);
    } else if (is_old && file == file_beside_settings()) {
        return keep_in(usual_file());
    }
    return findings;
}

std::vector<Finding> PlanKeeper::open(const QString& file) {
    auto read = formats::read_plan(path_of(file));
    if (!read.ok())
        return read.findings;
    file_ = file;
    QSettings().setValue(settings_key(), file);
    plan_ = std::move(read.value);
    history_.clear();
    emit changed();
    return {};
}

std::vector<Finding> PlanKeeper::keep_in(const QString& file) {
    if (!plan_)
        return {};
    const QString before = file_;
    file_ = file;
    auto findings = write();
    if (findings.empty())
        QSettings().setValue(settings_key(), file);
    else
        file_ = before;
    return findings;
}

} // namespace kite::app
