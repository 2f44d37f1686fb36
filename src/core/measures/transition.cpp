#include "core/measures/transition.h"

#include "core/base/units.h"

#include <algorithm>
#include <cmath>

namespace kite {

Transition calc_transition(const Sequence& sequence, const SwingMoments& moments,
                           const TrunkCurves* pelvis, std::optional<double> hip_joint_width_m) {
    Transition out;
    const auto reversal = [&](Segment segment) {
        const SegmentSequence* part = sequence.find(segment);
        return part == nullptr ? kMissing : part->reversal_t_s;
    };
    for (Segment segment : kSequence)
        if (std::isfinite(reversal(segment)))
            out.reversal_order.push_back(segment);
    std::stable_sort(out.reversal_order.begin(), out.reversal_order.end(),
                     [&](Segment a, Segment b) { return reversal(a) < reversal(b); });
    if (!out.reversal_order.empty()) {
        out.first_reversal_s = reversal(out.reversal_order.front());
        out.last_reversal_s = reversal(out.reversal_order.back());
    }
    const double club = reversal(Segment::Club);
    out.pelvis_lead_ms = ms_from_s(club - reversal(Segment::Pelvis));
    out.torso_lead_ms = ms_from_s(club - reversal(Segment::Torso));
    out.arm_lead_ms = ms_from_s(club - reversal(Segment::LeadArm));
    if (pelvis == nullptr)
        return out;

    const double top = moments.time_s(Moment::Top);
    const double arm_level = moments.time_s(Moment::LeadArmLevelDown);
    if (!pelvis->sway_m.empty()) {
        const double begin = moments.time_s(Moment::Takeaway);
        const double end = moments.time_s(Moment::ShaftLevelDown);
        const auto turns = pelvis->sway_m.derivative({begin, end})
                               .find_crossings(0.0, Curve::Direction::Rising, {begin, end});
        if (!turns.empty()) {
            // Where it turns, the sway is smallest: a slow re-centring is badly determined in time.
            const double turn_s = turns.back();
            const auto trough =
                find_highest(pelvis->measured_sway_m, {turn_s - 0.1, turn_s + 0.1}, turn_s);
            out.recentre_lead_ms = ms_from_s(top - turn_s);
            if (trough)
                out.recentre_u_ms = ms_from_s(std::hypot(trough->u_s, trough->t_s - turn_s));
        }
        if (const auto lowest = pelvis->lift_m.find_min({top, arm_level}))
            out.pelvis_drop_cm = cm_from_m(lowest->value - pelvis->lift_m.at(top));
    }
    if (hip_joint_width_m) {
        // Trail minus lead hip joint height: the joints lie ±width/2 along X, whose height is
        // sin(side tilt).
        std::vector<double> drop = pelvis->angles.side_tilt_deg.values();
        for (double& value : drop)
            value = -cm_from_m(*hip_joint_width_m) * std::sin(rad_from_deg(value));
        const Curve drop_cm(std::move(drop), pelvis->angles.side_tilt_deg.rate_hz());
        out.lead_hip_drop_top_cm = drop_cm.at(top);
        if (const auto smallest = drop_cm.find_min({top, arm_level}))
            out.lead_hip_drop_min_cm = smallest->value;
    }
    return out;
}

} // namespace kite
