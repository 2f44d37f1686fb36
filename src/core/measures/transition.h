#pragma once

#include "core/measures/positions.h"
#include "core/measures/sequence.h"

#include <optional>
#include <vector>

namespace kite {

/// All in ms are against the club's reversal: positive means before it.
struct Transition {
    std::vector<Segment> reversal_order;
    double pelvis_lead_ms = kMissing;
    double torso_lead_ms = kMissing;
    double arm_lead_ms = kMissing;
    double first_reversal_s = kMissing;     ///< transition runs from here …
    double last_reversal_s = kMissing;      ///< … to here
    double recentre_lead_ms = kMissing;     ///< top minus the pelvis' last turn towards the target
    double recentre_u_ms = kMissing;        ///< standard uncertainty of that turn
    double lead_hip_drop_top_cm = kMissing; ///< positive while the lead hip joint is lower
    double lead_hip_drop_min_cm = kMissing; ///< its smallest from the top to lead arm level
    double pelvis_drop_cm = kMissing; ///< lowest lift from top to lead arm level, minus lift at top
};

/// Reversals in order and their leads; pelvis measures where there are positions.
/// `hip_joint_width_m` empty: the hip measures stay NaN.
Transition calc_transition(const Sequence& sequence, const SwingMoments& moments,
                           const TrunkCurves* pelvis, std::optional<double> hip_joint_width_m);

} // namespace kite
