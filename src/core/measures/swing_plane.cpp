#include "core/measures/swing_plane.h"

#include "core/base/units.h"

#include <Eigen/Eigenvalues>

#include <algorithm>
#include <cmath>

namespace kite {

using Eigen::Vector3d;

double SwingPlane::inclination_deg() const {
    return deg_from_rad(std::acos(std::clamp(std::abs(normal.z()), 0.0, 1.0)));
}

std::vector<Vector3d> calc_head_path(const SegmentMotion& club, const SegmentMotion* arm,
                                     std::optional<double> arm_length_m,
                                     std::optional<double> club_length_m) {
    std::vector<Vector3d> path(club.size());
    const bool has_grip = !club.p_lab_m.empty();
    for (std::size_t i = 0; i < path.size(); ++i) {
        const double length_m = club_length_m.value_or(1.0);
        Vector3d grip_m = Vector3d::Zero();
        if (has_grip)
            grip_m = club.p_lab_m[i];
        else if (arm != nullptr)
            grip_m = -arm_length_m.value_or(0.65 * length_m) * arm->long_axis(i);
        path[i] = grip_m - length_m * club.long_axis(i);
    }
    return path;
}

std::optional<SwingPlane> fit_swing_plane(const std::vector<Vector3d>& head_m,
                                          const SegmentMotion& club, TimeRange stretch) {
    const auto first =
        static_cast<std::size_t>(std::max(0.0, std::ceil(stretch.begin_s * club.rate_hz - 1e-9)));
    std::vector<Vector3d> points;
    Vector3d turning = Vector3d::Zero();
    for (std::size_t i = first;
         i < head_m.size() && static_cast<double>(i) <= stretch.end_s * club.rate_hz + 1e-9; ++i) {
        if (!head_m[i].allFinite() || !club.omega_lab_rad_s[i].allFinite())
            continue;
        points.push_back(head_m[i]);
        turning += club.omega_without_roll(i);
    }
    if (points.size() < 4)
        return std::nullopt;
    SwingPlane plane;
    for (const Vector3d& p : points)
        plane.point_m += p;
    plane.point_m /= static_cast<double>(points.size());
    Eigen::Matrix3d spread = Eigen::Matrix3d::Zero();
    for (const Vector3d& p : points)
        spread += (p - plane.point_m) * (p - plane.point_m).transpose();
    const Eigen::SelfAdjointEigenSolver<Eigen::Matrix3d> solver(spread);
    // Ascending: the least spread is across the plane. A straight path spans no plane.
    if (!(solver.eigenvalues()(1) > 1e-6 * solver.eigenvalues()(2)))
        return std::nullopt;
    plane.normal = solver.eigenvectors().col(0);
    if (plane.normal.dot(turning) < 0.0)
        plane.normal = -plane.normal;
    plane.rms_m =
        std::sqrt(std::max(0.0, solver.eigenvalues()(0)) / static_cast<double>(points.size()));
    return plane;
}

SwingPlane plane_across_axis(const SegmentMotion& trunk, double t_s) {
    constexpr double kStretch_s = 0.1;
    SwingPlane plane;
    Vector3d sum = Vector3d::Zero();
    const auto first =
        static_cast<std::size_t>(std::max(0.0, std::ceil((t_s - kStretch_s) * trunk.rate_hz)));
    for (std::size_t i = first; i < trunk.size() && static_cast<double>(i) <= t_s * trunk.rate_hz;
         ++i)
        if (trunk.q_lab_segment[i].coeffs().allFinite())
            sum += trunk.long_axis(i);
    plane.normal = sum.norm() > 0.0 ? Vector3d(sum.normalized()) : Vector3d(Vector3d::UnitZ());
    return plane;
}

} // namespace kite
