#include "core/reading/why.h"

#include "core/base/normal.h"
#include "core/base/units.h"

#include <algorithm>
#include <cmath>
#include <limits>

namespace kite {

namespace {

constexpr double kNoWay = std::numeric_limits<double>::infinity();

bool is_enough(const Evidence& evidence) {
    return evidence && *evidence >= kEnoughEvidence;
}

/// Some changes with what they cost: the sum of their shares of the spreads.
struct Way {
    NeededChanges changes;
    double cost = kNoWay;
};

double spread_of(const Judged& leaf) {
    // Where the limit follows the uncertainty, that is in the width already.
    return leaf.condition->beyond_u > 0.0 || leaf.condition->short_of_u > 0.0
               ? leaf.width
               : std::hypot(leaf.width, leaf.value.u);
}

/// A leaf brought to an evidence.
Way way_of_leaf(const Judged& leaf, double evidence) {
    if (!leaf.evidence || !(evidence > 0.0) || !(evidence < 1.0))
        return {};
    const double spread = spread_of(leaf);
    const double off = normal_quantile(evidence) * spread;
    const double to =
        leaf.condition->kind == Condition::Kind::Above ? leaf.limit + off : leaf.limit - off;
    return {{{&leaf, to}}, std::abs(to - leaf.value.value) / spread};
}

Way way_across(const Judged& judged);

/// One of them alone that brings the mean by weight to what is enough.
Way way_of_weighted(const Judged& group) {
    const auto& weights = group.condition->weights;
    double judged_weight = 0.0;
    double sum = 0.0;
    for (std::size_t i = 0; i < group.of.size(); ++i)
        if (group.of[i].evidence) {
            judged_weight += weights[i];
            sum += weights[i] * *group.of[i].evidence;
        }
    Way best;
    for (std::size_t i = 0; i < group.of.size(); ++i) {
        const Judged& one = group.of[i];
        if (!one.evidence || !one.of.empty() || !(weights[i] > 0.0))
            continue;
        const double others = sum - weights[i] * *one.evidence;
        const Way way = way_of_leaf(one, (kEnoughEvidence * judged_weight - others) / weights[i]);
        if (way.cost < best.cost)
            best = way;
    }
    return best;
}

Way way_across(const Judged& judged) {
    if (!judged.evidence)
        return {};
    if (judged.of.empty())
        return way_of_leaf(judged, kEnoughEvidence);
    const Condition::Kind kind = judged.condition->kind;
    if (kind == Condition::Kind::Weighted)
        return way_of_weighted(judged);
    const bool now = is_enough(judged.evidence);
    // The weakest of all and the strongest of any: one change is enough to break "all" or to bring
    // "any"; else every one that stands in the way has to change.
    const bool one_is_enough = now == (kind == Condition::Kind::All);
    Way best;
    if (one_is_enough) {
        for (const Judged& one : judged.of)
            if (one.evidence)
                if (const Way way = way_across(one); way.cost < best.cost)
                    best = way;
        return best;
    }
    best.cost = 0.0;
    for (const Judged& one : judged.of) {
        if (one.silent && !one.evidence)
            continue;
        if (!one.evidence)
            return {}; // what is not known may stand in the way too
        if (is_enough(one.evidence) != now)
            continue;
        const Way way = way_across(one);
        best.changes.insert(best.changes.end(), way.changes.begin(), way.changes.end());
        best.cost += way.cost;
    }
    return std::isfinite(best.cost) ? best : Way{};
}

void add_steps(const Judged& judged, int depth, double weight, const Analysis& analysis,
               std::vector<WhyStep>& out) {
    WhyStep step{depth, &judged, weight, kMissing};
    if (judged.of.empty())
        step.t_s = place_of(judged.condition->look.value_or(judged.condition->term), analysis);
    out.push_back(step);
    for (std::size_t i = 0; i < judged.of.size(); ++i)
        add_steps(judged.of[i], depth + 1,
                  judged.condition->kind == Condition::Kind::Weighted ? judged.condition->weights[i]
                                                                      : kMissing,
                  analysis, out);
}

std::string with_unit(double value, int decimals, std::string_view unit, const Language& language) {
    const std::string number = written(value, decimals, language);
    return unit.empty() ? number : number + (unit == "°" ? "" : " ") + std::string(unit);
}

/// Decimals at which the two numbers can be told apart.
int decimals_of(const Judged& leaf) {
    const std::string_view unit = unit_of(leaf.condition->term);
    return std::max(leaf.condition->because.decimals, unit == "cm" ? 1 : 0);
}

} // namespace

NeededChanges changes_of(const Judged& judged) {
    return way_across(judged).changes;
}

Why explain(const Fault& fault, const Reading& reading, const Analysis& analysis) {
    Why out;
    out.fault = &fault;
    if (fault.judged.condition != nullptr) {
        add_steps(fault.judged, 0, kMissing, analysis, out.steps);
        out.changes = changes_of(fault.judged);
    }
    const auto leads = [](const Fault& from, const Fault& to) {
        return std::find(from.leads_to.begin(), from.leads_to.end(), to.id) != from.leads_to.end();
    };
    for (const auto* list : {&reading.set_up, &reading.faults})
        for (const Fault& other : *list) {
            if (!other.is_present() || !other.counts() || other.id == fault.id)
                continue;
            if (leads(fault, other))
                out.explains.push_back(&other);
            if (leads(other, fault))
                out.behind.push_back(&other);
        }
    return out;
}

std::vector<const Fault*> listed_faults(const Reading& reading) {
    std::vector<const Fault*> out;
    for (const auto* list : {&reading.faults, &reading.set_up})
        for (const Fault& fault : *list)
            if (fault.is_present())
                out.push_back(&fault);
    const auto rank = [&](const Fault& fault) {
        return !fault.counts()                 ? -2.0
               : fault.phase == Phase::SetUp   ? -1.0
               : reading.first_fix == fault.id ? std::numeric_limits<double>::infinity()
                                               : explained_evidence(reading.faults, fault);
    };
    std::stable_sort(out.begin(), out.end(),
                     [&](const Fault* a, const Fault* b) { return rank(*a) > rank(*b); });
    return out;
}

std::string what_of(const WhyStep& step, const Language& language) {
    switch (step.judged->condition->kind) {
    case Condition::Kind::All:
        return language.translate(KITE_TR("All of these; the weakest counts"));
    case Condition::Kind::Any:
        return language.translate(KITE_TR("Any of these; the strongest counts"));
    case Condition::Kind::Weighted:
        return language.translate(KITE_TR("These together, by weight"));
    default:
        return name_of(step.judged->condition->term, language);
    }
}

std::string numbers_of(const WhyStep& step, const Language& language) {
    const Judged& leaf = *step.judged;
    if (!leaf.of.empty())
        return {};
    const std::string_view unit = unit_of(leaf.condition->term);
    const int decimals = decimals_of(leaf);
    if (!std::isfinite(leaf.limit))
        return language.translate(leaf.silent
                                      ? KITE_TR("says nothing with this club or in this school")
                                      : KITE_TR("has no limit here"));
    const std::string limit = filled(
        leaf.condition->kind == Condition::Kind::Above ? KITE_TR("speaks above {1} (soft by {2})")
                                                       : KITE_TR("speaks below {1} (soft by {2})"),
        {with_unit(leaf.limit, decimals, unit, language), written(leaf.width, 1, language)},
        language);
    if (!std::isfinite(leaf.value.value))
        return language.translate(KITE_TR("not measured")) + "; " + limit;
    std::string value = with_unit(leaf.value.value, decimals, unit, language);
    // 95 %: about two standard uncertainties.
    value += std::isfinite(leaf.value.u)
                 ? " ± " + written(2.0 * leaf.value.u, std::max(1, decimals), language)
                 : " (" + language.translate(KITE_TR("uncertainty not known")) + ")";
    return value + "; " + limit;
}

std::string evidence_of(const Evidence& evidence, const Language& language) {
    if (!evidence)
        return language.translate(KITE_TR("not judged"));
    return filled(KITE_TR("evidence {1}"), {written(*evidence, 2, language)}, language);
}

std::string change_of(const Why& why, const Language& language) {
    if (!why.fault->evidence)
        return language.translate(
            KITE_TR("Not judged: what it rests on was not measured, or says nothing here."));
    if (why.changes.empty())
        return {};
    std::string all;
    for (const NeededChange& change : why.changes) {
        const Judged& leaf = *change.judged;
        const int decimals = decimals_of(leaf);
        const std::string_view unit = unit_of(leaf.condition->term);
        const double by = change.to - leaf.value.value;
        all +=
            (all.empty() ? "" : "; ") + filled(by > 0.0 ? KITE_TR("{1} at {2}, {3} more than now")
                                                        : KITE_TR("{1} at {2}, {3} less than now"),
                                               {name_of(leaf.condition->term, language),
                                                with_unit(change.to, decimals, unit, language),
                                                with_unit(std::abs(by), decimals, unit, language)},
                                               language);
    }
    return filled(why.fault->is_present() ? KITE_TR("This would clear it: {1}.")
                                          : KITE_TR("This would make it a fault: {1}."),
                  {all}, language);
}

std::string first_of(const Reading& reading, const Language& language) {
    if (!reading.first_fix)
        return {};
    const Fault& first = *reading.find(*reading.first_fix);
    if (first.can_come_first)
        return language.translate(KITE_TR("It comes first because the school has it so."));
    const Fault* next = nullptr;
    for (const Fault& other : reading.faults)
        if (other.is_present() && other.counts() && other.id != first.id &&
            (next == nullptr ||
             explained_evidence(reading.faults, other) > explained_evidence(reading.faults, *next)))
            next = &other;
    const std::string own = written(explained_evidence(reading.faults, first), 1, language);
    if (next == nullptr)
        return language.translate(KITE_TR("It is the only one that was found."));
    return filled(KITE_TR("It comes first because its evidence and that of what it leads to add up "
                          "to {1}; the next, \u201c{2}\u201d, comes to {3}."),
                  {own, language.translate(next->title),
                   written(explained_evidence(reading.faults, *next), 1, language)},
                  language);
}

} // namespace kite
