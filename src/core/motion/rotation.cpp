#include "core/motion/rotation.h"

#include "core/base/units.h"
#include "core/signal/derivative.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <limits>

namespace kite {

using Eigen::AngleAxisd;
using Eigen::Matrix3d;
using Eigen::Quaterniond;
using Eigen::Vector3d;

Quaterniond rotation_of(const BodyAngles& angles) {
    return Quaterniond(AngleAxisd(angles.turn_rad, Vector3d::UnitZ()) *
                       AngleAxisd(-angles.side_tilt_rad, Vector3d::UnitY()) *
                       AngleAxisd(angles.forward_bend_rad, Vector3d::UnitX()));
}

BodyAngles angles_of(const Quaterniond& q_lab_body) {
    const Matrix3d R = q_lab_body.toRotationMatrix();
    // First column (cos tilt cos turn, cos tilt sin turn, sin tilt); last row holds the bend.
    return {std::atan2(R(1, 0), R(0, 0)), std::asin(std::clamp(R(2, 0), -1.0, 1.0)),
            std::atan2(R(2, 1), R(2, 2))};
}

double turn_of(const Quaterniond& q) {
    // First column of the rotation matrix.
    return std::atan2(2.0 * (q.x() * q.y() + q.w() * q.z()),
                      1.0 - 2.0 * (q.y() * q.y() + q.z() * q.z()));
}

namespace {

/// Of two unit vectors, not yet of length one.
Quaterniond unscaled_between(const Vector3d& a, const Vector3d& b) {
    const double half_way = 1.0 + a.dot(b);
    // The half-way quaternion (1 + cos, sin · axis), which vanishes for opposite directions.
    if (half_way < 1e-12)
        return Quaterniond(AngleAxisd(kPi, a.unitOrthogonal()));
    const Vector3d axis = a.cross(b);
    return {half_way, axis.x(), axis.y(), axis.z()};
}

} // namespace

Quaterniond rotation_between(const Vector3d& from, const Vector3d& to) {
    return unscaled_between(from.normalized(), to.normalized()).normalized();
}

double joint_turn_rad(const Quaterniond& q_lab_pelvis, const Quaterniond& q_lab_torso) {
    return turn_of(q_lab_pelvis.conjugate() * q_lab_torso);
}

Quaterniond exp_of(const Vector3d& rotation_vector_rad) {
    const double angle = rotation_vector_rad.norm();
    if (angle < 1e-12)
        return Quaterniond::Identity();
    return Quaterniond(AngleAxisd(angle, rotation_vector_rad / angle));
}

Quaterniond missing_rotation() {
    constexpr double kNaN = std::numeric_limits<double>::quiet_NaN();
    return {kNaN, kNaN, kNaN, kNaN};
}

Vector3d missing_point() {
    return Vector3d::Constant(std::numeric_limits<double>::quiet_NaN());
}

std::vector<Eigen::Quaterniond> twist_free(const std::vector<Eigen::Vector3d>& direction_lab) {
    std::vector<Eigen::Quaterniond> out(direction_lab.size(), missing_rotation());
    Eigen::Quaterniond last = Eigen::Quaterniond::Identity();
    Eigen::Vector3d last_direction = -Eigen::Vector3d::UnitZ();
    for (std::size_t i = 0; i < direction_lab.size(); ++i) {
        const double size = direction_lab[i].norm();
        if (!std::isfinite(size) || !(size > 0.0))
            continue;
        const Eigen::Vector3d unit = direction_lab[i] / size;
        last = (unscaled_between(last_direction, unit) * last).normalized();
        last_direction = unit;
        out[i] = last;
    }
    return out;
}

void make_continuous(std::vector<Quaterniond>& q) {
    Continuous continuous;
    for (Quaterniond& now : q)
        now.coeffs() = continuous.next(now);
}

void unwrap_deg(std::vector<double>& angle_deg) {
    double last = std::numeric_limits<double>::quiet_NaN();
    for (double& angle : angle_deg) {
        if (!std::isfinite(angle))
            continue;
        if (std::abs(angle - last) >= 180.0)
            angle -= 360.0 * std::round((angle - last) / 360.0);
        last = angle;
    }
}

std::vector<Vector3d> calc_angular_velocity(const std::vector<Quaterniond>& q_lab_body,
                                            const std::vector<FrameRange>& runs, double rate_hz) {
    std::vector<Vector3d> omega(q_lab_body.size(), missing_point());
    for (const FrameRange& run : runs) {
        const std::size_t count = std::min<std::size_t>(5, run.size());
        if (count < 2)
            continue;
        // At the ends the nearest frames are asked; all of them where there are less than five.
        const auto by_nearest = [&](std::size_t i) {
            const std::size_t half = count / 2;
            std::size_t first = i - run.begin < half ? run.begin : i - half;
            first = std::min(first, run.end - count);
            const std::vector<double> w =
                derivative_weights(static_cast<int>(count), static_cast<int>(i - first));
            const Quaterniond back = q_lab_body[i].conjugate();
            Vector3d sum = Vector3d::Zero();
            for (std::size_t k = 0; k < count; ++k)
                if (first + k != i)
                    sum += w[k] * log_of(q_lab_body[first + k] * back);
            return Vector3d(sum * rate_hz);
        };
        const std::size_t inner_begin = count == 5 ? run.begin + 2 : run.end;
        const std::size_t inner_end = count == 5 ? run.end - 2 : run.end;
        for (std::size_t i = run.begin; i < inner_begin; ++i)
            omega[i] = by_nearest(i);
        for (std::size_t i = inner_end; i < run.end; ++i)
            omega[i] = by_nearest(i);
        if (count < 5)
            continue;
        // Increments over one and over two frames serve the frames on both sides of them.
        const auto increment = [&](std::size_t i, std::size_t steps) {
            return log_of(q_lab_body[i + steps] * q_lab_body[i].conjugate());
        };
        const std::vector<double> w = derivative_weights(5, 2);
        const double far = rate_hz * w[4];
        const double near = rate_hz * w[3];
        std::array<Vector3d, 2> two_back{increment(run.begin, 2), increment(run.begin + 1, 2)};
        Vector3d one_back = increment(run.begin + 1, 1);
        for (std::size_t i = inner_begin; i < inner_end; ++i) {
            const Vector3d one = increment(i, 1);
            const Vector3d two = increment(i, 2);
            omega[i] = far * (two + two_back[0]) + near * (one + one_back);
            two_back = {two_back[1], two};
            one_back = one;
        }
    }
    return omega;
}

} // namespace kite
