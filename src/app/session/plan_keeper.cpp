#include "app/session/plan_keeper.h"

#include "app/theme/text.h"
#include "formats/practice/plan_json.h"

#include <QDir>
#include <QFileInfo>
#include <QSettings>
#include <QUndoCommand>

namespace kite::app {

namespace {

/// Beside the settings, until it is put elsewhere.
QString usual_file() {
    return QFileInfo(QSettings().fileName()).dir().filePath(QStringLiteral("plan.json"));
}
/// Beside what cannot be used and must not be written over.
QString free_file() {
    const QDir folder = QFileInfo(usual_file()).dir();
    QString file = usual_file();
    for (int i = 2; QFileInfo::exists(file); ++i)
        file = folder.filePath(QStringLiteral("plan-%1.json").arg(i));
    return file;
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

void PlanKeeper::show(Plan plan) {
    history_.clear();
    put(std::move(plan));
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

std::vector<Finding> PlanKeeper::resume() {
    const QString kept = QSettings().value(QStringLiteral("practice/plan")).toString();
    const QString file = kept.isEmpty() ? usual_file() : kept;
    if (!QFileInfo::exists(file)) {
        file_ = usual_file();
        return {};
    }
    auto findings = open(file);
    if (!findings.empty()) {
        // A new plan goes elsewhere: what could not be read may be mended.
        file_ = free_file();
        QSettings().setValue(QStringLiteral("practice/plan"), file_);
    }
    return findings;
}

std::vector<Finding> PlanKeeper::open(const QString& file) {
    auto read = formats::read_plan(path_of(file));
    if (!read.ok())
        return read.findings;
    file_ = file;
    QSettings().setValue(QStringLiteral("practice/plan"), file);
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
        QSettings().setValue(QStringLiteral("practice/plan"), file);
    else
        file_ = before;
    return findings;
}

} // namespace kite::app
