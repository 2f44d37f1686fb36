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
    /// Another plan is worked on from here on, or none; nothing to undo.
    void show(std::optional<Plan> plan);
    /// The next plan is kept in another file: the one in this file is nowhere else.
    void leave_file();

    /// The plan that was worked on last with this record, which it lives beside; findings where its
    /// file cannot be used (it stays as it is and nothing is written over it). `is_usual`: plans of
    /// before lay beside the settings; the last of those is taken on.
    std::vector<Finding> resume(const QString& record, bool is_usual);
    std::vector<Finding> open(const QString& file);
    /// From here on the plan is kept there.
    std::vector<Finding> keep_in(const QString& file);

signals:
    void changed();
    /// The plan on screen is not in its file.
    void not_kept(const QString& why);

private:
    void put(const std::optional<Plan>& plan);
    QString usual_file() const;
    QString free_file() const;
    QString settings_key() const;
    std::vector<Finding> write() const;

    std::optional<Plan> plan_;
    QUndoStack history_;
    QString record_; ///< that it goes with
    QString file_;   ///< empty until resume() or open()
};

} // namespace kite::app
