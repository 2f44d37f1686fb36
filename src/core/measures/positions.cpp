#include "core/measures/positions.h"

#include "core/base/units.h"

#include <algorithm>
#include <cmath>

namespace kite {

TrunkCurves calc_trunk_curves(const PoseSeries& raw, const SegmentMotion& motion,
                              const SwingMoments& moments) {
    TrunkCurves out;
    out.angles = calc_trunk_angles(motion);
    if (motion.p_lab_m.empty() || !moments[Moment::Address])
        return out;
    const auto against_address = [&](int axis) {
        const Curve place = calc_coordinate_m(motion, axis);
        const double rest = mean_between(place, moments.address_window);
        out.rest_m(axis) = rest;
        std::vector<double> values = place.values();
        for (double& value : values)
            value -= rest;
        return Curve(std::move(values), place.rate_hz(), place.change_s());
    };
    out.sway_m = against_address(0);
    out.depth_m = against_address(1);
    out.lift_m = against_address(2);
    out.measured_sway_m.rate_hz = motion.rate_hz;
    out.measured_sway_m.smoothness = {5.0, 0.5};
    for (const Eigen::Vector3d& p : raw.p_lab_m)
        out.measured_sway_m.x.push_back(-p.x()); // turned over: its trough is looked for
    return out;
}

TrunkPosition position_at(const TrunkCurves& curves, double t_s) {
    return {curves.angles.turn_deg.at(t_s),
            curves.angles.side_tilt_deg.at(t_s),
            curves.angles.forward_bend_deg.at(t_s),
            curves.sway_m.at(t_s),
            curves.depth_m.at(t_s),
            curves.lift_m.at(t_s)};
}

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
        const auto turns =
            pelvis->sway_m.derivative().find_crossings(0.0, Curve::Direction::Rising, {begin, end});
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
