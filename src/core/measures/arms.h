#pragma once

#include "core/measures/events.h"
#include "core/measures/kinematics.h"
#include "core/motion/take.h"

namespace kite {

/// Arms and head against the trunk, over time; curves empty where the take does not give them.
struct Arms {
    /// Direction shoulder → wrist of the lead arm in the torso's frame, seen along its Z axis: from
    /// straight ahead towards the trail side, degrees, positive across the chest.
    Curve across_deg;
    Curve lead_elbow_flex_deg; ///< 0 straight
    Curve hand_height_m;       ///< wrist centre above the torso's origin
    Curve head_sway_m;         ///< of the head's middle against address
    Curve head_lift_m;
};

/// `places` are the smoothed parts; nullptr where the take has none.
struct ArmParts {
    const SegmentMotion* torso = nullptr;
    const SegmentMotion* lead_arm = nullptr;
    const SegmentMotion* lead_forearm = nullptr;
    const SegmentMotion* club = nullptr;
    const SegmentMotion* head = nullptr;
};
Arms calc_arms(const ArmParts& parts, const Take& take, const SwingMoments& moments);

} // namespace kite
