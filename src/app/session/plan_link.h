#pragma once

#include "app/session/plan_keeper.h"
#include "app/session/record_keeper.h"

#include <QTimer>

namespace kite::app {

/// Between the plan that is worked on and the record: the plan of a golfer of the record is kept
/// there with every change, and the newest one comes back when the golfer is chosen.
class PlanLink : public QObject {
    Q_OBJECT
public:
    PlanLink(PlanKeeper* plan, RecordKeeper* record, QObject* parent = nullptr);

    /// The plan could not be made in the record yet; it is tried again.
    bool is_unkept() const { return retry_.isActive(); }

signals:
    void unkept_changed();

private:
    /// The row of the plan's golfer; nullptr: nobody of the record, or several of the name of whom
    /// none is chosen.
    const Row* golfer_of(const Plan& plan) const;
    void keep();
    void take();

    PlanKeeper* plan_;
    RecordKeeper* record_;
    bool taking_ = false;
    QTimer retry_;
    QString making_; ///< key of a plan that is on its way into the record
};

} // namespace kite::app
