#pragma once

#include "core/film/marks.h"

#include <Eigen/Geometry>

namespace kite::film {

/// A pinhole with square pixels and the principal point in the middle of the picture. Lab frame:
/// x to the target, y from the ball through the golfer, z up.
struct Camera {
    Eigen::Matrix3d axes = Eigen::Matrix3d::Identity(); ///< rows: right, up, forward in the lab
    Eigen::Vector3d at_m = Eigen::Vector3d::Zero();
    double focal_px = 1.0;
    Pixel centre_px = Pixel::Zero();

    /// Where a point is seen. Behind the camera: not finite.
    Pixel see(const Eigen::Vector3d& p_m) const {
        const Eigen::Vector3d q = axes * (p_m - at_m);
        return centre_px + Pixel(q.x(), -q.y()) * (focal_px / q.z());
    }
};

/// Right, up and forward of a camera that stands exactly where its side says. Face-on looks along
/// +y with the target to the right; down the line looks along +x; above looks down, the target to
/// the right and away from the ball upwards.
Eigen::Matrix3d nominal_axes(Side side);
/// Whether such a camera shows what lies along an axis of the lab (0 to 2), or looks along it.
bool shows_axis(Side side, int axis);

} // namespace kite::film
