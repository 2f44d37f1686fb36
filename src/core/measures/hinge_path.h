#pragma once

#include "core/measures/events.h"
#include "core/measures/kinematics.h"
#include "core/measures/sequence.h"

#include <optional>

namespace kite {

/// Below this turning speed about the vertical the centre of rotation is not determined.
inline constexpr double kSlowestHinge_deg_s = 60.0;

/// Where the pelvis pivots, seen from above: the instantaneous centre of rotation
/// c = p + (ẑ × v) / ω_z (plane kinematics of a rigid body) for the pelvis' origin p with
/// horizontal velocity v, turning at ω_z about the lab's vertical; in the pelvis' own terms.
struct HingePath {
    /// -1 at the trail hip joint, 0 at the centre, +1 at the lead hip joint; NaN where |ω_z| is
    /// below kSlowestHinge_deg_s. Empty without positions or hip joint width.
    Curve along;
    Curve behind_m; ///< positive: behind the hip line
    struct Median {
        double along = kMissing;
        double behind_m = kMissing;
    };
    Median backswing; ///< takeaway to pelvis reversal
    Median downswing; ///< pelvis reversal to impact
};

HingePath calc_hinge_path(const SegmentMotion& pelvis, std::optional<double> hip_joint_width_m,
                          const SwingMoments& moments, double pelvis_reversal_s);

} // namespace kite
