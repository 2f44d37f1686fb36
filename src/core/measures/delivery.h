#pragma once

#include "core/measures/events.h"
#include "core/measures/kinematics.h"
#include "core/measures/sequence.h"
#include "core/motion/take.h"

#include <vector>

namespace kite {

/// How shaft and club head come to the ball, just before impact. Its path and attack are in Speed.
struct Delivery {
    /// Not given where the shaft itself had to tell when impact was.
    /// Shaft (head → grip) from the vertical in the plane through the target line and the vertical,
    /// positive with the grip ahead of the head.
    double shaft_lean_deg = kMissing;
    double shaft_lean_u_deg = kMissing;
    /// Lowest point of the parabola through the club head's height over its way along the target
    /// line in the last 0.03 s, against the head at impact; positive ahead of it.
    double low_point_cm = kMissing;
    double low_point_u_cm = kMissing;
};

/// `club` nullptr: no shaft; `head_m` empty: no club head. Missing without an impact.
Delivery calc_delivery(const SegmentMotion* club, const std::vector<Eigen::Vector3d>& head_m,
                       double rate_hz, const SwingMoments& moments);

} // namespace kite
