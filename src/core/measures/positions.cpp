#include "core/measures/positions.h"

#include "core/base/units.h"

#include <algorithm>
#include <cmath>

namespace kite {

TrunkCurves calc_trunk_curves(const PoseSeries& raw, const SegmentMotion& motion,
                              const SwingMoments& moments) {
    TrunkCurves out;
    out.angles = calc_trunk_angles(motion);
    std::vector<double> lean(motion.size(), kMissing);
    std::vector<double> face_on(motion.size(), kMissing);
    for (std::size_t i = motion.frames().begin; i < motion.frames().end; ++i) {
        const Eigen::Vector3d up = motion.long_axis(i);
        lean[i] = deg_from_rad(std::atan2(up.head<2>().norm(), up.z()));
        face_on[i] = deg_from_rad(std::atan2(up.x(), up.z()));
    }
    out.face_on_lean_deg = Curve(std::move(face_on), motion.rate_hz, motion.change_s);
    out.lean_deg = Curve(std::move(lean), motion.rate_hz, motion.change_s);
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

} // namespace kite
