#include "app/session/plan_link.h"

#include "formats/practice/plan_json.h"

namespace kite::app {

namespace {

/// Two states of one plan: same golfer, same fault, begun on the same day.
QString key_of_plan(const Plan& plan) {
    return QString::fromStdString(plan.golfer + "/" + plan.fault + "/" +
                                  text_of(plan.wish.first_day));
}

} // namespace

PlanLink::PlanLink(PlanKeeper* plan, RecordKeeper* record, QObject* parent)
    : QObject(parent), plan_(plan), record_(record) {
    connect(plan_, &PlanKeeper::changed, this, &PlanLink::keep);
    connect(record_, &RecordKeeper::whose_changed, this, &PlanLink::take);
}

void PlanLink::keep() {
    if (taking_ || !plan_->plan())
        return;
    const Plan& plan = *plan_->plan();
    const Row* golfer = nullptr;
    for (const Row& row : record_->view().golfers)
        if (!plan.golfer.empty() && store::text_in(row, "name") == plan.golfer)
            golfer = &row;
    if (golfer == nullptr)
        return; // it has its file
    const QString key = key_of_plan(plan);
    const Row text(formats::to_json(plan));
    for (const Row& row : record_->view().plans) {
        const auto kept = formats::parse_plan(store::text_in(row, "plan"));
        if (kept.ok() && row.at("golfer_id") == golfer->at("id") &&
            key_of_plan(kept.value) == key) {
            record_->change(QStringLiteral("plan"), text_in(row, "id"), {{"plan", text}});
            return;
        }
    }
    // A change that comes before the new row is known goes into it once it is.
    if (making_ == key)
        return;
    making_ = key;
    record_->make(QStringLiteral("plan"), {{"golfer_id", golfer->at("id")}, {"plan", text}},
                  [this](const QString& /*id*/) {
                      making_.clear();
                      keep();
                  });
}

void PlanLink::take() {
    const Row* newest = nullptr;
    for (const Row& row : record_->view().plans)
        if (text_in(row, "golfer_id") == record_->whose() &&
            (newest == nullptr || text_in(row, "created") > text_in(*newest, "created")))
            newest = &row;
    if (newest == nullptr)
        return;
    auto plan = formats::parse_plan(store::text_in(*newest, "plan"));
    if (!plan.ok() ||
        (plan_->plan() && formats::to_json(*plan_->plan()) == formats::to_json(plan.value)))
        return;
    taking_ = true;
    plan_->show(std::move(plan.value));
    taking_ = false;
}

} // namespace kite::app
