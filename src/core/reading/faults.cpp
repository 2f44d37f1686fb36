#include "core/reading/faults.h"

#include "core/base/units.h"
#include "core/reading/words.h"

#include <algorithm>
#include <cmath>

namespace kite {

std::string_view key_of(Phase phase) {
    switch (phase) {
    case Phase::Backswing:
        return "backswing";
    case Phase::Transition:
        return "transition";
    case Phase::Downswing:
        return "downswing";
    case Phase::FollowThrough:
        return "follow-through";
    }
    return "";
}

namespace {

Because::Value number(double value, int decimals = 0) {
    return {value, decimals, {}};
}
Because::Value name(Segment segment) {
    return {0.0, 0, std::string(name_of(segment))};
}

/// The torso, arm or club reverses before the pelvis; or the torso turns more than 5° further than
/// the pelvis between the first part's reversal and lead arm level down.
Fault judge_upper_body_first(const Analysis& analysis) {
    constexpr double kReversalWidth_ms = 5.0;
    constexpr double kTurnLimit_deg = 5.0;
    constexpr double kTurnWidth_deg = 1.5;
    Fault fault;
    fault.id = "upper-body-first";
    fault.phase = Phase::Transition;
    fault.leads_to = {"out-of-order", "bunched-peaks"};

    const SegmentSequence* pelvis = analysis.sequence.find(Segment::Pelvis);
    Evidence reversal;
    double ahead_ms = kMissing;
    double ahead_t_s = kMissing;
    Segment earliest = Segment::Torso;
    if (pelvis != nullptr && std::isfinite(pelvis->reversal_t_s)) {
        for (Segment segment : {Segment::Torso, Segment::LeadArm, Segment::Club}) {
            const SegmentSequence* part = analysis.sequence.find(segment);
            if (part == nullptr || !std::isfinite(part->reversal_t_s))
                continue;
            const double ms = ms_from_s(pelvis->reversal_t_s - part->reversal_t_s);
            const double u_ms = ms_from_s(std::hypot(pelvis->reversal_u_s, part->reversal_u_s));
            const Evidence evidence = above(ms, 0.0, kReversalWidth_ms, u_ms);
            if (evidence && evidence > reversal) {
                reversal = evidence;
                ahead_ms = ms;
                ahead_t_s = part->reversal_t_s;
                earliest = segment;
            }
        }
    }
    Evidence turning;
    double further_deg = kMissing;
    const double first = analysis.transition.first_reversal_s;
    const double arm_level = analysis.moments.time_s(Moment::LeadArmLevelDown);
    const auto pelvis_curves = analysis.trunk.find(Segment::Pelvis);
    const auto torso_curves = analysis.trunk.find(Segment::Torso);
    if (pelvis_curves != analysis.trunk.end() && torso_curves != analysis.trunk.end() &&
        arm_level > first) {
        const Curve& p = pelvis_curves->second.angles.turn_deg;
        const Curve& t = torso_curves->second.angles.turn_deg;
        further_deg = (t.at(arm_level) - t.at(first)) - (p.at(arm_level) - p.at(first));
        turning = above(further_deg, kTurnLimit_deg, kTurnWidth_deg);
    }
    fault.evidence = any_of({reversal, turning});
    if (!fault.is_present())
        return fault;
    if (reversal && *reversal >= kEnoughEvidence)
        fault.because.push_back({KITE_TR("The {1} starts down {2} ms before the pelvis."),
                                 {name(earliest), number(ahead_ms)},
                                 ahead_t_s,
                                 {Segment::Pelvis, earliest},
                                 Because::About::Reversals});
    if (turning && *turning >= kEnoughEvidence)
        fault.because.push_back({KITE_TR("From the first reversal until the lead arm is level, the "
                                         "torso opens {1}° more than the pelvis."),
                                 {number(further_deg)},
                                 arm_level,
                                 {Segment::Pelvis, Segment::Torso}});
    return fault;
}

/// The peaks do not come pelvis, torso, lead arm, club, and the exchanged ones are not tied.
Fault judge_out_of_order(const Analysis& analysis) {
    constexpr double kLeastEarly_ms = 4.0;
    constexpr double kEarlyWidth_ms = 1.0;
    Fault fault;
    fault.id = "out-of-order";
    fault.phase = Phase::Downswing;
    fault.leads_to = {};
    for (std::size_t i = 0; i < kSequence.size(); ++i) {
        for (std::size_t j = i + 1; j < kSequence.size(); ++j) {
            const SegmentSequence* inner = analysis.sequence.find(kSequence[i]);
            const SegmentSequence* outer = analysis.sequence.find(kSequence[j]);
            if (inner == nullptr || outer == nullptr)
                continue;
            const double early_ms = ms_from_s(inner->peak_t_s - outer->peak_t_s);
            const double u_ms = ms_from_s(std::hypot(inner->peak_t_u_s, outer->peak_t_u_s));
            // Untied: further apart than twice their combined uncertainty; and by more than the few
            // milliseconds that no golfer can be told to change.
            const Evidence evidence = std::isfinite(u_ms)
                                          ? above(early_ms, std::max(kLeastEarly_ms, 2.0 * u_ms),
                                                  std::max(kEarlyWidth_ms, 0.5 * u_ms))
                                          : Evidence{};
            if (!evidence)
                continue;
            fault.evidence = std::max(fault.evidence.value_or(0.0), *evidence);
            if (*evidence >= kEnoughEvidence)
                fault.because.push_back({KITE_TR("The {1} peaks {2} ms before the {3}."),
                                         {name(kSequence[j]), number(early_ms), name(kSequence[i])},
                                         outer->peak_t_s,
                                         {kSequence[i], kSequence[j]},
                                         Because::About::Peaks});
        }
    }
    // Without all four a clean order is not shown, only a broken one.
    if (analysis.sequence.order.size() < kSequence.size() && !fault.is_present())
        fault.evidence = std::nullopt;
    return fault;
}

/// Pelvis and torso peak together (tied or within 10 ms), and face the same way at impact
/// (separation under 5°).
Fault judge_bunched_peaks(const Analysis& analysis) {
    constexpr double kApart_ms = 10.0;
    constexpr double kApartWidth_ms = 2.0;
    constexpr double kSeparation_deg = 5.0;
    constexpr double kSeparationWidth_deg = 1.5;
    Fault fault;
    fault.id = "bunched-peaks";
    fault.phase = Phase::Downswing;
    fault.leads_to = {};
    const SegmentSequence* pelvis = analysis.sequence.find(Segment::Pelvis);
    const SegmentSequence* torso = analysis.sequence.find(Segment::Torso);
    if (pelvis == nullptr || torso == nullptr || !analysis.separation)
        return fault;
    const double apart_ms = ms_from_s(std::abs(torso->peak_t_s - pelvis->peak_t_s));
    const double u_ms = ms_from_s(std::hypot(pelvis->peak_t_u_s, torso->peak_t_u_s));
    Evidence together = below(apart_ms, kApart_ms, kApartWidth_ms, u_ms);
    if (analysis.sequence.is_tied(Segment::Pelvis, Segment::Torso))
        together = 1.0;
    const double at_impact_deg = analysis.separation->at_impact_deg;
    fault.evidence =
        all_of({together, below(at_impact_deg, kSeparation_deg, kSeparationWidth_deg)});
    if (!fault.is_present())
        return fault;
    fault.because.push_back({KITE_TR("Pelvis and torso peak within {1} ms of each other."),
                             {number(apart_ms)},
                             torso->peak_t_s,
                             {Segment::Pelvis, Segment::Torso},
                             Because::About::Peaks});
    fault.because.push_back(
        {std::abs(at_impact_deg) < 0.5 ? KITE_TR("At impact pelvis and torso face the same way.")
         : at_impact_deg > 0.0
             ? KITE_TR("At impact the pelvis is only {1}° more open than the torso.")
             : KITE_TR("At impact the torso is {1}° more open than the pelvis."),
         {number(std::abs(at_impact_deg))},
         analysis.moments.time_s(Moment::Impact),
         {Segment::Pelvis, Segment::Torso}});
    return fault;
}

} // namespace

std::vector<Fault> judge_faults(const Analysis& analysis) {
    return {judge_upper_body_first(analysis), judge_out_of_order(analysis),
            judge_bunched_peaks(analysis)};
}

} // namespace kite
