#include "app/session/plan_counting.h"

#include "app/session/days.h"
#include "app/theme/text.h"
#include "formats/practice/drills_json.h"

#include <QCoreApplication>

namespace kite::app {

namespace {

QString tr(const char* text) {
    return QCoreApplication::translate("PlanCounting", text);
}

} // namespace

CountWords count_against_plan(PlanKeeper& keeper, const LoadedSwings& swings, bool rehearsal) {
    const auto& plan = keeper.plan();
    const Drill* drill = plan ? main_drill_of(*plan, formats::shipped_drills()) : nullptr;
    if (drill == nullptr)
        return {tr("There is no drill to count against"),
                tr("Make a plan in the Practice room first.")};
    std::vector<PlanCheck> checks;
    for (const auto& swing : swings)
        checks.push_back(
            check_swing(*drill, swing->analysis, rehearsal, &swing->reading, plan->fault));
    if (const int rung = rung_on(*plan, *drill, today()).rung;
        !checks.empty() && !counts_on(rung, checks.front()))
        return {tr("Full swings do not count here"),
                tr("The drill is on rung %1, %2: count its movements by hand, or in the Bay with "
                   "Drill on.")
                    .arg(rung)
                    .arg(said(name_of_rung(rung)))};
    const PlanCount count = count_swings(*plan, *drill, checks, today());
    const Language words = language();
    const QString measure = QString::fromStdString(name_of(drill->measure, words));
    if (count.swings == 0)
        return {tr("No swing could be counted"),
                tr("None of these swings gives the measure: %1.").arg(measure)};
    const bool passed = passes(*plan, count);
    const int needed = plan->pass_swings;
    keeper.change(tr("count measured swings"),
                  [&](Plan& changed) { changed.counts.push_back(count); });
    return {tr("%1 of %2 swings passed").arg(count.passed).arg(count.swings),
            tr("%1: mean %2 against %3. %4")
                .arg(measure, number_text(count.mean, 1),
                     QString::fromStdString(text_of(drill->swing, drill->measure, words)),
                     passed ? tr("The rung is passed.")
                     : count.swings < needed
                         ? tr("Too few to pass a rung: it takes %1.").arg(needed)
                         : tr("The rung is not passed yet."))};
}

bool count_running(PlanKeeper& keeper, const Drill& drill, const std::vector<PlanCheck>& checks,
                   const QString& what) {
    if (!keeper.plan())
        return true;
    // On the rung that held before these swings. A count made meanwhile, or one that was taken
    // back, is none of ours.
    Plan before = *keeper.plan();
    if (checks.size() > 1 && !before.counts.empty()) {
        const PlanCount last = before.counts.back();
        before.counts.pop_back();
        const PlanCount ours =
            count_swings(before, drill, {checks.begin(), checks.end() - 1}, today());
        const bool same = last.drill == ours.drill && last.date == ours.date &&
                          last.rung == ours.rung && last.swings == ours.swings &&
                          last.passed == ours.passed && last.mean == ours.mean;
        if (!same)
            before.counts.push_back(last);
    }
    const PlanCount count = count_swings(before, drill, checks, today());
    keeper.change(what, [&](Plan& changed) {
        changed.counts = before.counts;
        changed.counts.push_back(count);
    });
    return passes(*keeper.plan(), count);
}

QString drill_tag(const Plan& plan, const Drill& drill) {
    return tr("%1, rung %2").arg(said(drill.title)).arg(rung_on(plan, drill, today()).rung);
}

} // namespace kite::app
