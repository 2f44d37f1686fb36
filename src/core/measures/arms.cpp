#include "core/measures/arms.h"

#include "core/base/missing.h"
#include "core/base/units.h"
#include "core/measures/smoothed_series.h"
#include "core/motion/rotation.h"

#include <cmath>

namespace kite {

using Eigen::Vector3d;

namespace {

Curve against_address(Curve curve, const SwingMoments& moments) {
    if (!moments[Moment::Address])
        return {};
    const double rest = mean_between(curve, moments.address_window);
    std::vector<double> values = curve.values();
    for (double& value : values)
        value -= rest;
    return {std::move(values), curve.rate_hz(), curve.change_s()};
}

Curve across(const SegmentMotion& torso, const SegmentMotion& arm) {
    std::vector<double> out(arm.size(), kMissing);
    for (std::size_t i = arm.frames().begin; i < arm.frames().end; ++i) {
        if (!is_finite(torso.q_lab_segment[i]) || !is_finite(arm.q_lab_segment[i]))
            continue;
        const Vector3d to_wrist = torso.q_lab_segment[i].conjugate() * Vector3d(-arm.long_axis(i));
        // Straight ahead is -Y, the trail side -X.
        out[i] = deg_from_rad(std::atan2(-to_wrist.x(), -to_wrist.y()));
    }
    unwrap_deg(out);
    return {std::move(out), arm.rate_hz, arm.change_s};
}

/// Upper arm from shoulder to elbow, forearm from elbow to wrist.
Curve elbow_flex(const SegmentMotion& arm, const SegmentMotion& forearm) {
    if (arm.p_lab_m.empty() || forearm.p_lab_m.empty())
        return {};
    std::vector<double> out(arm.size(), kMissing);
    for (std::size_t i = arm.frames().begin; i < arm.frames().end; ++i) {
        const Vector3d upper = forearm.p_lab_m[i] - arm.p_lab_m[i];
        const Vector3d lower = -forearm.long_axis(i);
        out[i] = deg_from_rad(std::atan2(upper.cross(lower).norm(), upper.dot(lower)));
    }
    return {std::move(out), arm.rate_hz, arm.change_s};
}

} // namespace

Arms calc_arms(const ArmParts& parts, const Take& take, const SwingMoments& moments) {
    Arms out;
    if (parts.torso != nullptr && parts.lead_arm != nullptr)
        out.across_deg = across(*parts.torso, *parts.lead_arm);
    if (parts.lead_arm != nullptr && parts.lead_forearm != nullptr)
        out.lead_elbow_flex_deg = elbow_flex(*parts.lead_arm, *parts.lead_forearm);
    // The wrist centre is the far end of the arm, else the club's grip.
    const bool by_arm = parts.lead_arm != nullptr && !parts.lead_arm->p_lab_m.empty() &&
                        take.arm_length_m.has_value();
    const bool by_club = parts.club != nullptr && !parts.club->p_lab_m.empty();
    if (parts.torso != nullptr && !parts.torso->p_lab_m.empty() && (by_arm || by_club)) {
        std::vector<double> height(parts.torso->size(), kMissing);
        for (std::size_t i = parts.torso->frames().begin; i < parts.torso->frames().end; ++i) {
            const double wrist_z_m = by_arm
                                         ? parts.lead_arm->p_lab_m[i].z() -
                                               *take.arm_length_m * parts.lead_arm->long_axis(i).z()
                                         : parts.club->p_lab_m[i].z();
            height[i] = wrist_z_m - parts.torso->p_lab_m[i].z();
        }
        out.hand_height_m = Curve(std::move(height), parts.torso->rate_hz);
    }
    if (parts.head != nullptr && !parts.head->p_lab_m.empty()) {
        out.head_sway_m = against_address(calc_coordinate_m(*parts.head, 0), moments);
        out.head_lift_m = against_address(calc_coordinate_m(*parts.head, 2), moments);
    } else if (const auto found = take.points_lab_m.find(BodyPoint::Head);
               found != take.points_lab_m.end()) {
        constexpr double kHeadCutoff_hz = 8.0;
        const std::vector<Vector3d> path = smoothed(found->second, kHeadCutoff_hz, take.rate_hz);
        const auto coordinate = [&](Eigen::Index axis) {
            std::vector<double> values;
            values.reserve(path.size());
            for (const Vector3d& p : path)
                values.push_back(p(axis));
            return Curve(std::move(values), take.rate_hz);
        };
        out.head_sway_m = against_address(coordinate(0), moments);
        out.head_lift_m = against_address(coordinate(2), moments);
    }
    return out;
}

} // namespace kite
