#pragma once

#include "app/session/plan_keeper.h"
#include "app/session/record_keeper.h"

namespace kite::app {

/// Between the plan that is worked on and the record: the plan of a golfer of the record is kept
/// there with every change, and the newest one comes back when the golfer is chosen.
class PlanLink : public QObject {
    Q_OBJECT
public:
    PlanLink(PlanKeeper* plan, RecordKeeper* record, QObject* parent = nullptr);

private:
    void keep();
    void take();

    PlanKeeper* plan_;
    RecordKeeper* record_;
    bool taking_ = false;
    QString making_; ///< key of a plan that is on its way into the record
};

} // namespace kite::app
