#include "report/pictures/drill_body.h"

#include "core/base/units.h"

#include <Eigen/Geometry>

#include <algorithm>
#include <cmath>

namespace kite::report {

using Eigen::AngleAxisd;
using Eigen::Matrix3d;
using Eigen::Vector3d;

namespace {

// Of a body of 1.78 m: usual shares, for drawing only.
constexpr double kHip_m = 0.90;
constexpr double kHalfHips_m = 0.11;
constexpr double kShank_m = 0.43;
constexpr double kAnkle_m = 0.08;
constexpr double kSpine_m = 0.52;
constexpr double kHalfShoulders_m = 0.20;
constexpr double kArms_m = 0.60;
constexpr double kClub_m = 0.90;

Matrix3d about(double deg, const Vector3d& axis) {
    return AngleAxisd(rad_from_deg(deg), axis).toRotationMatrix();
}

/// The knee of a leg that bends towards the ball; straight where hip and ankle are too far apart.
Vector3d knee_between(const Vector3d& hip, const Vector3d& ankle) {
    const Vector3d along = ankle - hip;
    const double length = along.norm();
    const double half = 0.5 * length;
    const double bow = std::sqrt(std::max(0.0, kShank_m * kShank_m - half * half));
    Vector3d front(0.0, -1.0, 0.0);
    front -= front.dot(along) / (length * length) * along;
    return hip + 0.5 * along + bow * front.normalized();
}

} // namespace

Figure figure_of(const DrillPose& pose) {
    Figure out;
    // Turning open takes the trail hip to the ball: seen from above, the lead side goes back.
    const Vector3d up = Vector3d::UnitZ();
    const Vector3d hips(0.01 * pose.sway_cm, 0.01 * pose.depth_cm, kHip_m + 0.01 * pose.lift_cm);
    const Vector3d across = about(pose.pelvis_turn_deg, up) * Vector3d::UnitX();
    out.lead_hip_m = hips + kHalfHips_m * across;
    out.trail_hip_m = hips - kHalfHips_m * across;
    out.lead_ankle_m = Vector3d(0.01 * pose.lead_foot_cm, 0.0, kAnkle_m);
    out.trail_ankle_m = Vector3d(0.01 * pose.trail_foot_cm, 0.0, kAnkle_m);
    out.lead_knee_m = knee_between(*out.lead_hip_m, *out.lead_ankle_m);
    out.trail_knee_m = knee_between(*out.trail_hip_m, *out.trail_ankle_m);

    // The spine leans towards the ball, and away from the target where it is tilted.
    const Matrix3d lean = about(-pose.side_tilt_deg, Vector3d::UnitY()) *
                          about(pose.forward_bend_deg, Vector3d::UnitX());
    const Vector3d spine = lean * up;
    const Vector3d neck = hips + kSpine_m * spine;
    out.neck_m = neck;
    const Matrix3d torso = about(pose.torso_turn_deg, spine) * lean;
    out.lead_shoulder_m = neck + kHalfShoulders_m * (torso * Vector3d::UnitX());
    out.trail_shoulder_m = neck - kHalfShoulders_m * (torso * Vector3d::UnitX());
    if (pose.arms_crossed) {
        out.wrist_m = neck + torso * Vector3d(-0.08, -0.10, -0.14);
        return out;
    }
    const auto hanging = [&](double deg, double front) {
        const double a = rad_from_deg(deg);
        // In the plane of the chest at address: turning brings the arms there by itself.
        return Vector3d(lean * Vector3d(std::sin(a), -front, -std::cos(a))).normalized();
    };
    out.wrist_m = neck + kArms_m * hanging(pose.arms_deg, 0.45);
    if (pose.hinge_deg) {
        // The club lags behind on the way back and leads on the way through.
        const double side = pose.arms_deg < 0.0 ? -1.0 : 1.0;
        out.head_m = *out.wrist_m + kClub_m * hanging(pose.arms_deg + side * *pose.hinge_deg, 0.35);
    }
    return out;
}

} // namespace kite::report
