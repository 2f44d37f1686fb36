#pragma once

#include "core/base/range.h"
#include "core/measures/kinematics.h"

#include <Eigen/Core>

#include <optional>
#include <vector>

namespace kite {

/// Least-squares plane through the club-head path (Kwon et al. 2012: from shaft level down to
/// shaft level through). `normal` points so that the downswing turns positively about it.
struct SwingPlane {
    Eigen::Vector3d normal = Eigen::Vector3d::Zero();
    Eigen::Vector3d point_m = Eigen::Vector3d::Zero();
    double rms_m = 0.0;

    /// Angle between plane and ground, 0 to 90°.
    double inclination_deg() const;
};

/// Club-head path in the lab, metres: grip - length * Z. Where the source gives no club positions
/// the path is built from the directions of arm and shaft about the lead shoulder, or of the shaft
/// alone about the grip (then in shaft lengths): enough for the plane's direction.
std::vector<Eigen::Vector3d> calc_head_path(const SegmentMotion& club, const SegmentMotion* arm,
                                            std::optional<double> arm_length_m,
                                            std::optional<double> club_length_m);

/// Fits the plane in a stretch of time; empty with fewer than four points or a straight path.
std::optional<SwingPlane> fit_swing_plane(const std::vector<Eigen::Vector3d>& head_m,
                                          const SegmentMotion& club, TimeRange stretch);

/// Stand-in where only the trunk was measured: the plane across its own axis as it turns down, the
/// mean over 0.1 s before a time. No path lies in it.
SwingPlane plane_across_axis(const SegmentMotion& trunk, double t_s);

} // namespace kite
