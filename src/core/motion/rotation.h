#pragma once

#include "core/base/range.h"

#include <Eigen/Geometry>

#include <cmath>
#include <vector>

/// Rotations are unit quaternions q_lab_body: they take body coordinates to lab coordinates,
/// v_lab = q_lab_body * v_body. Beware: Eigen's constructor takes (w, x, y, z), its coefficient
/// array stores (x, y, z, w).
namespace kite {

/// Angles of pelvis and torso in the lab, in radians:
///
///     R_lab_body = Rz(turn) · Ry(-side_tilt) · Rx(forward_bend)
///
/// so turn is the direction of the trail→lead axis seen from above. Zero: upright, square to the
/// target line. Positive: open to the target; lead side higher; leaning towards the ball.
/// Ranges: turn (-pi, pi], side tilt [-pi/2, pi/2], bend (-pi, pi]; singular at side tilt ±90°,
/// where turn and bend share one axis. Order after Baker 2001 (rotation, obliquity, tilt).
struct BodyAngles {
    double turn_rad = 0.0;
    double side_tilt_rad = 0.0;
    double forward_bend_rad = 0.0;
};

Eigen::Quaterniond rotation_of(const BodyAngles& angles);
BodyAngles angles_of(const Eigen::Quaterniond& q_lab_body);

/// Axial rotation of the torso against the pelvis in radians: the turn component of
/// R_pelvis^T · R_torso in the same angle order.
double joint_turn_rad(const Eigen::Quaterniond& q_lab_pelvis,
                      const Eigen::Quaterniond& q_lab_torso);

/// Steps between frames are small: asin(s) / s by its series, exact to 1e-11 up to kSmallSine.
inline constexpr double kSmallSine = 0.12;
inline double angle_over_sine(double s2) {
    return 1.0 + s2 * (1.0 / 6 + s2 * (3.0 / 40 + s2 * (15.0 / 336 + s2 * 105.0 / 3456)));
}

/// Rotation vector (axis times angle, radians, angle in [0, pi]) of a unit quaternion.
inline Eigen::Vector3d log_of(const Eigen::Quaterniond& q) {
    const double sign = q.w() < 0.0 ? -1.0 : 1.0;
    const Eigen::Vector3d v = sign * q.vec();
    const double s2 = v.squaredNorm();
    if (s2 < kSmallSine * kSmallSine)
        return 2.0 * angle_over_sine(s2) * v;
    const double s = std::sqrt(s2);
    return 2.0 * std::atan2(s, sign * q.w()) / s * v;
}
Eigen::Quaterniond exp_of(const Eigen::Vector3d& rotation_vector_rad);

/// The shortest rotation that takes one direction to another; half a turn about some axis across
/// them where they are opposite. (Eigen's own costs half a minute of compiling in every file.)
Eigen::Quaterniond rotation_between(const Eigen::Vector3d& from, const Eigen::Vector3d& to);

/// Orientations from directions alone: -Z along each, without twist from frame to frame; where a
/// direction is missing or has no length the rotation is missing too.
std::vector<Eigen::Quaterniond> twist_free(const std::vector<Eigen::Vector3d>& direction_lab);

/// A NaN or an infinity in any component carries over to the sum.
inline bool is_finite(const Eigen::Quaterniond& q) {
    return std::isfinite(q.coeffs().sum());
}
inline bool is_finite(const Eigen::Vector3d& p) {
    return std::isfinite(p.sum());
}
Eigen::Quaterniond missing_rotation(); ///< all NaN
Eigen::Vector3d missing_point();       ///< all NaN

/// Turn alone: see angles_of.
double turn_of(const Eigen::Quaterniond& q_lab_body);

/// Flips signs so that neighbours lie in the same half of the quaternion sphere; NaN is skipped.
void make_continuous(std::vector<Eigen::Quaterniond>& q);
/// The same of one after another; missing ones are passed on.
class Continuous {
public:
    /// x, y, z, w
    Eigen::Vector4d next(const Eigen::Quaterniond& q) {
        const double along = q.coeffs().dot(last_);
        const Eigen::Vector4d out = along < 0.0 ? Eigen::Vector4d(-q.coeffs()) : q.coeffs();
        if (std::isfinite(along))
            last_ = out;
        return out;
    }

private:
    Eigen::Vector4d last_ = Eigen::Vector4d::Zero();
};

/// Adds whole turns so that neighbours differ by less than half a turn; NaN is skipped.
void unwrap_deg(std::vector<double>& angle_deg);

/// Angular velocity in lab axes, rad/s, from rotation increments: with
/// phi_k = log(q_(i+k) q_i^-1), the derivative of phi at k = 0 is omega_i exactly; it is taken with
/// the five-point formula, one-sided near the ends of a run. Frames outside the runs are NaN.
std::vector<Eigen::Vector3d>
calc_angular_velocity(const std::vector<Eigen::Quaterniond>& q_lab_body,
                      const std::vector<FrameRange>& runs, double rate_hz);

} // namespace kite
