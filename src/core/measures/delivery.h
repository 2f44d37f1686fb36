#pragma once

#include "core/measures/approach.h"
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
    /// Where the club head's path, going on as it went before the ball, is lowest, against the head
    /// at impact (approach.h); positive ahead of it.
    double low_point_cm = kMissing;
    double low_point_u_cm = kMissing;
};

/// `club` nullptr: no shaft. Missing without an impact.
Delivery calc_delivery(const SegmentMotion* club, const Approach& approach,
                       const SwingMoments& moments);

} // namespace kite
