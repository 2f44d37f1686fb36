#include "core/measures/hinge_path.h"

#include "core/base/median.h"
#include "core/base/units.h"

#include <algorithm>
#include <cmath>

namespace kite {

using Eigen::Vector3d;

namespace {

/// Median of the finite samples between two times; NaN with fewer than three.
double median_between(const Curve& curve, TimeRange range) {
    std::vector<double> values;
    for (std::size_t i = 0; i < curve.size(); ++i)
        if (range.contains(curve.time_of(i)) && std::isfinite(curve.values()[i]))
            values.push_back(curve.values()[i]);
    return values.size() < 3 ? kMissing : median_of(values);
}

} // namespace

HingePath calc_hinge_path(const SegmentMotion& pelvis, std::optional<double> hip_joint_width_m,
                          const SwingMoments& moments, double pelvis_reversal_s) {
    HingePath out;
    if (pelvis.p_lab_m.empty() || !hip_joint_width_m)
        return out;
    const Curve x_m = calc_coordinate_m(pelvis, 0);
    const Curve y_m = calc_coordinate_m(pelvis, 1);
    std::vector<double> along(pelvis.size(), kMissing);
    std::vector<double> behind(pelvis.size(), kMissing);
    for (std::size_t i = pelvis.frames().begin; i < pelvis.frames().end; ++i) {
        const double omega_z = pelvis.omega_lab_rad_s[i].z();
        if (!(std::abs(deg_from_rad(omega_z)) > kSlowestHinge_deg_s))
            continue;
        // c - p = (ẑ × v) / ω_z with ẑ × (vx, vy) = (-vy, vx).
        const Vector3d offset(-y_m.slope_at_frame(i) / omega_z, x_m.slope_at_frame(i) / omega_z,
                              0.0);
        const Vector3d hip_line = pelvis.q_lab_segment[i] * Vector3d::UnitX();
        const Vector3d level(hip_line.x(), hip_line.y(), 0.0);
        const Vector3d x = level.normalized();
        const Vector3d y(-x.y(), x.x(), 0.0);
        along[i] = offset.dot(x) / (0.5 * *hip_joint_width_m * level.norm());
        behind[i] = offset.dot(y);
    }
    out.along = Curve(std::move(along), pelvis.rate_hz);
    out.behind_m = Curve(std::move(behind), pelvis.rate_hz);
    const auto median_in = [&](TimeRange range) {
        return HingePath::Median{median_between(out.along, range),
                                 median_between(out.behind_m, range)};
    };
    out.backswing = median_in({moments.time_s(Moment::Takeaway), pelvis_reversal_s});
    out.downswing = median_in({pelvis_reversal_s, moments.time_s(Moment::Impact)});
    return out;
}

} // namespace kite
