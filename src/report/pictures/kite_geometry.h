#pragma once

#include "report/pictures/measured_swing.h"

#include <Eigen/Core>

#include <optional>
#include <vector>

namespace kite::report {

/// What the kite shows at one time, in the lab from above: x to the target, y away from the ball,
/// metres against the pelvis' place at address. Both lines go through the pelvis' centre, so that
/// the kite's opening is the separation and nothing else; they are drawn at fixed lengths, since
/// their direction is what was measured.
struct KitePicture {
    struct Line {
        Eigen::Vector2d trail_m = Eigen::Vector2d::Zero();
        Eigen::Vector2d lead_m = Eigen::Vector2d::Zero();
        double turn_deg = 0.0;
    };
    std::optional<Line> hips;
    std::optional<Line> shoulders;
    std::optional<double> ball_x_m; ///< along the target line, where the club head is at impact
    std::optional<Eigen::Vector2d> lead_foot_m;
    std::optional<Eigen::Vector2d> trail_foot_m;
    /// The point about which the pelvis pivots now, if it turns fast enough to have one.
    std::optional<Eigen::Vector2d> hinge_m;
    double separation_deg = 0.0; ///< NaN where it is not available
};

KitePicture calc_kite(const MeasuredSwing& swing, double t_s);

/// The hinge's way from the pelvis' reversal to impact, in the same places.
std::vector<Eigen::Vector2d> calc_hinge_way(const MeasuredSwing& swing);

} // namespace kite::report
