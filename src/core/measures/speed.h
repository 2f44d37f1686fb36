#pragma once

#include "core/base/findings.h"
#include "core/measures/approach.h"
#include "core/measures/events.h"
#include "core/measures/sequence.h"

#include <Eigen/Core>

#include <vector>

namespace kite {

/// Speeds just before impact, m/s; NaN without positions, and where a speed cannot be told to
/// kLeastSureSpeed of itself (too few frames so near the ball).
struct Speed {
    double hands_m_s = kMissing;   ///< of the wrist centre
    double hands_u_m_s = kMissing; ///< standard uncertainty
    double club_head_m_s = kMissing;
    double club_head_u_m_s = kMissing;
    double ratio = kMissing; ///< hands / club head
    /// Direction of the club head seen from above against the target line, degrees; positive: from
    /// inside (the golfer's side) to outside.
    double club_head_direction_deg = kMissing;
    double club_head_direction_u_deg = kMissing;
    double attack_deg = kMissing; ///< of the club head's way from the horizontal, positive upwards
    double attack_u_deg = kMissing;
};

inline constexpr double kLeastSureSpeed = 0.08;

/// `wrist_m` and `head_m` are paths in the lab as measured, a point a frame, unseen ones NaN;
/// either may be empty; `approach` is that of the head. Only what lies before impact is used. What
/// could not be told is named.
Speed calc_speed(const std::vector<Eigen::Vector3d>& wrist_m,
                 const std::vector<Eigen::Vector3d>& head_m, const Approach& approach,
                 double rate_hz, const SwingMoments& moments, std::vector<Finding>& findings);

} // namespace kite
