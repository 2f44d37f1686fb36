#include "core/reading/ranges.h"

#include "core/base/units.h"

#include <algorithm>
#include <cmath>
#include <functional>

namespace kite {

namespace {

/// Calls use(leaf, its limit) for every condition on one number that counts here.
void each_leaf(const Rules& rules, const Analysis& analysis,
               const std::function<void(const Condition&, double)>& use) {
    for (const FaultRule* fault : rules.all_faults()) {
        if (rules.school.no_fault.count(fault->id) > 0 ||
            rules.school.not_judged.count(fault->id) > 0 ||
            !(rules.weight(*fault, analysis.club) > 0.0))
            continue;
        for (const Condition* leaf : leaves_of(fault->when)) {
            const bool silent =
                leaf->not_with.count(analysis.club) > 0 ||
                (!leaf->only_with.empty() && leaf->only_with.count(analysis.club) == 0);
            const auto limit = rules.limit(leaf->limit, analysis.club);
            if (!silent && limit)
                use(*leaf, limit->value);
        }
    }
}

/// A measure that is a value of a curve at one time.
struct OnCurve {
    const char* measure;
    const char* quantity;
    double (*at_s)(const Analysis&);
};
const OnCurve kOnCurves[] = {
    {"separation.max_deg", "separation",
     [](const Analysis& a) { return a.separation ? a.separation->max_t_s : kMissing; }},
    {"separation.at_impact_deg", "separation",
     [](const Analysis& a) { return a.moments.time_s(Moment::Impact); }},
};

} // namespace

std::vector<WantedRange> wanted_ranges(const Rules& rules, const Analysis& analysis,
                                       const std::string& quantity) {
    const Quantity* shown = find_quantity(quantity);
    std::vector<WantedRange> out;
    if (shown == nullptr)
        return out;
    const auto add = [&](double t_s, Condition::Kind kind, double limit) {
        if (!std::isfinite(t_s))
            return;
        auto found = std::find_if(out.begin(), out.end(), [&](const WantedRange& one) {
            return std::abs(one.t_s - t_s) < 1e-9;
        });
        if (found == out.end()) {
            WantedRange made;
            made.t_s = t_s;
            found = out.insert(out.end(), made);
        }
        // A fault speaks above its limit: what is wanted lies below it.
        if (kind == Condition::Kind::Above)
            found->high = std::min(found->high, limit);
        else
            found->low = std::max(found->low, limit);
    };
    each_leaf(rules, analysis, [&](const Condition& leaf, double limit) {
        if (leaf.term.kind == Term::Kind::At && leaf.term.key == quantity)
            add(leaf.term.from.time_s(analysis), leaf.kind, limit / shown->per_file_unit);
        if (leaf.term.kind != Term::Kind::Measure)
            return;
        for (const OnCurve& one : kOnCurves)
            if (leaf.term.key == one.measure && quantity == one.quantity)
                add(one.at_s(analysis), leaf.kind, limit / shown->per_file_unit);
    });
    return out;
}

std::vector<WantedTime> wanted_times(const Rules& rules, const Analysis& analysis) {
    WantedTime pelvis{Segment::Pelvis};
    WantedTime club{Segment::Club};
    const SegmentSequence* last = analysis.sequence.find(Segment::Club);
    const double impact_s = analysis.moments.time_s(Moment::Impact);
    each_leaf(rules, analysis, [&](const Condition& leaf, double limit) {
        if (leaf.term.kind != Term::Kind::Measure)
            return;
        // The pelvis turns back so long before the club, or longer.
        if (leaf.term.key == "transition.pelvis_lead_ms" && leaf.kind == Condition::Kind::Below &&
            last != nullptr && std::isfinite(last->reversal_t_s))
            pelvis.to_s = std::min(pelvis.to_s, last->reversal_t_s - limit / 1000.0);
        if (leaf.term.key == "sequence.fastest_at_ball_ms" && std::isfinite(impact_s)) {
            if (leaf.kind == Condition::Kind::Below)
                club.from_s = std::max(club.from_s, impact_s + limit / 1000.0);
            else
                club.to_s = std::min(club.to_s, impact_s + limit / 1000.0);
        }
    });
    std::vector<WantedTime> out;
    for (const WantedTime& one : {pelvis, club})
        if (std::isfinite(one.from_s) || std::isfinite(one.to_s))
            out.push_back(one);
    return out;
}

} // namespace kite
