#pragma once

#include "core/practice/plan.h"

#include <QObject>
#include <QString>
#include <QUndoStack>

#include <functional>
#include <optional>

namespace kite::app {

/// The practice plan that is worked on. Every change can be undone and is in its file before the
/// next one can be made.
class PlanKeeper : public QObject {
    Q_OBJECT
public:
    explicit PlanKeeper(QObject* parent = nullptr);

    const std::optional<Plan>& plan() const { return plan_; }
    QUndoStack* history() { return &history_; }
    const QString& file() const { return file_; }

    /// Takes a plan in place of the one that is there. `what` names the step for undo.
    void set_plan(Plan plan, const QString& what);
    void change(const QString& what, const std::function<void(Plan&)>& change);
    /// Another plan is worked on from here on; nothing to undo.
    void show(Plan plan);

    /// The plan that was worked on last; findings where its file cannot be used (it stays as it is
    /// and nothing is written over it).
    std::vector<Finding> resume();
    std::vector<Finding> open(const QString& file);
    /// From here on the plan is kept there.
    std::vector<Finding> keep_in(const QString& file);

signals:
    void changed();
    /// The plan on screen is not in its file.
    void not_kept(const QString& why);

private:
    void put(const std::optional<Plan>& plan);
    std::vector<Finding> write() const;

    std::optional<Plan> plan_;
    QUndoStack history_;
    QString file_; ///< empty until resume() or open()
};

} // namespace kite::app
