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
    constexpr int kRetry_ms = 10000;
    retry_.setInterval(kRetry_ms);
    retry_.setSingleShot(true);
    connect(&retry_, &QTimer::timeout, this, [this] {
        emit unkept_changed();
        keep();
    });
}

const Row* PlanLink::golfer_of(const Plan& plan) const {
    const Row* chosen = record_->golfer(record_->whose());
    if (plan.golfer.empty() ||
        (chosen != nullptr && store::text_in(*chosen, "name") == plan.golfer))
        return plan.golfer.empty() ? nullptr : chosen;
    const Row* out = nullptr;
    for (const Row& row : record_->view().golfers)
        if (store::text_in(row, "name") == plan.golfer) {
            if (out != nullptr)
                return nullptr;
            out = &row;
        }
    return out;
}

void PlanLink::keep() {
    if (taking_ || !plan_->plan())
        return;
    const Plan& plan = *plan_->plan();
    const Row* golfer = golfer_of(plan);
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
    record_->make(
        QStringLiteral("plan"), {{"golfer_id", golfer->at("id")}, {"plan", text}},
        [this](const QString& /*id*/) {
            making_.clear();
            keep();
        },
        [this] {
            making_.clear();
            retry_.start();
            emit unkept_changed();
        });
}

void PlanLink::take() {
    const Row* newest = nullptr;
    for (const Row& row : record_->view().plans)
        if (text_in(row, "golfer_id") == record_->whose() &&
            (newest == nullptr || text_in(row, "created") > text_in(*newest, "created")))
            newest = &row;
    const std::optional<Plan>& shown = plan_->plan();
    std::optional<Plan> wanted;
    if (newest != nullptr)
        if (auto plan = formats::parse_plan(store::text_in(*newest, "plan")); plan.ok())
            wanted = std::move(plan.value);
    // A plan of nobody in particular stays on screen while there is none for who was chosen.
    if (!wanted &&
        (!shown || shown->golfer.empty() || record_->golfer(record_->whose()) == nullptr))
        return;
    if (wanted && shown && formats::to_json(*shown) == formats::to_json(*wanted))
        return;
    taking_ = true;
    if (shown && golfer_of(*shown) == nullptr)
        plan_->leave_file();
    plan_->show(std::move(wanted));
    taking_ = false;
}

} // namespace kite::app
