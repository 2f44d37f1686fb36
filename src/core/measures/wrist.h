#pragma once

#include "core/measures/events.h"
#include "core/measures/kinematics.h"
#include "core/measures/sequence.h"

#include <Eigen/Core>

#include <optional>
#include <vector>

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

/// Speeds just before impact, m/s; NaN without positions.
struct Speed {
    double hands_m_s = kMissing; ///< of the wrist centre
    double club_head_m_s = kMissing;
    double ratio = kMissing; ///< hands / club head
    /// Direction of the club head seen from above against the target line, degrees; positive: from
    /// inside (the golfer's side) to outside.
    double club_head_direction_deg = kMissing;
};

/// `wrist_m` and `head_m` are paths in the lab, a point a frame; either may be empty.
Speed calc_speed(const std::vector<Eigen::Vector3d>& wrist_m,
                 const std::vector<Eigen::Vector3d>& head_m, double rate_hz,
                 const SwingMoments& moments);

} // namespace kite
