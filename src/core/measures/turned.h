#pragma once

#include "core/measures/kinematics.h"
#include "core/signal/place.h"

#include <Eigen/Core>

namespace kite {

/// How smoothly a part turns, as the half-power frequency of the low-pass that suits the last
/// quarter of a second before the ball. Wide (a factor of 1.5 either way): the data decide.
Smoothness smoothness_of(Segment segment);

/// Which turning is added up.
enum class Turning {
    Rate,     ///< that of the chosen convention
    Reversing ///< that whose change of sign is the reversal: of arm and club along the plane
};

/// How far a part has turned, in degrees, a value a frame, from its orientation as measured: the
/// rotation from each seen frame to the next, taken about the axis of the convention (which the
/// smoothed motion gives) and added up. Its derivative is the part's rate; its noise is that of the
/// orientation, frame by frame. NaN where the part was not seen.
Samples calc_turned_deg(const PoseSeries& raw, const SegmentMotion& smooth, Segment segment,
                        RateConvention convention, const Eigen::Vector3d& normal, Turning turning,
                        TimeRange stretch);

} // namespace kite
