#pragma once

#include "core/measures/events.h"
#include "core/measures/kinematics.h"
#include "core/measures/sequence.h"

namespace kite {

/// Angle between forearm (else whole arm) and shaft in degrees: 0 in one line, 0 to 180.
Curve calc_wrist_hinge_deg(const SegmentMotion& arm, const SegmentMotion& club);

struct Wrist {
    double top_deg = kMissing;
    double max_deg = kMissing;     ///< from takeaway to impact
    double release_t_s = kMissing; ///< when it has fallen 15° below its downswing maximum
    double kept_pct = kMissing;    ///< hinge at shaft level down / hinge at top · 100
};
Wrist calc_wrist(const Curve& hinge_deg, const SwingMoments& moments);

} // namespace kite
