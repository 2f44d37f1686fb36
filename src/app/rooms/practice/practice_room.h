#pragma once

#include "app/session/desk.h"
#include "app/session/plan_keeper.h"
#include "app/shell/room.h"

#include <QPointer>

#include <memory>

class QTextDocument;

namespace kite::app {

class DrillFinder;
class DrillSheet;
class PlanPanel;

/// Drills on the left, one of them in full, and the plan made of them.
class PracticeRoom : public Room {
    Q_OBJECT
public:
    PracticeRoom(Shell& shell, std::shared_ptr<Desk> desk);
    ~PracticeRoom() override;

    QString id() const override { return QStringLiteral("practice"); }
    QString name() const override { return tr("Practice"); }
    QWidget* view() override { return page_; }
    void add_commands(Commands& commands) override;
    QUndoStack* history() override { return keeper_.history(); }
    void entered() override;

    PlanKeeper& keeper() { return keeper_; }
    DrillFinder* finder() const { return finder_; }
    /// The whole plan as it is printed.
    std::unique_ptr<QTextDocument> document() const;

private:
    void say(const QString& title, const std::vector<Finding>& findings);
    void show_drill();
    void make_plan_for_first_fix();
    void count_swings_on_list();
    void take_drill(bool as_helper);
    void open_plan();
    void keep_plan_elsewhere();
    void save_calendar();
    void save_pdf();
    void print();

    Shell& shell_;
    std::shared_ptr<Desk> desk_;
    PlanKeeper& keeper_;
    QPointer<QWidget> page_; ///< the window's, once it is in
    DrillFinder* finder_ = nullptr;
    DrillSheet* sheet_ = nullptr;
    PlanPanel* panel_ = nullptr;
};

} // namespace kite::app
