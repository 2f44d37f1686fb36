#pragma once

#include "core/measures/events.h"
#include "core/measures/kinematics.h"
#include "core/measures/sequence.h"
#include "core/motion/take.h"

#include <Eigen/Core>

#include <vector>

namespace kite {

/// Hip joint centres, knees and ankles over time, lab frame, metres, filtered like the trunk. Empty
/// where the take does not give them: without positions of the pelvis or a hip joint width there
/// are no hips.
struct Leg {
    std::vector<Eigen::Vector3d> hip;
    std::vector<Eigen::Vector3d> knee;
    std::vector<Eigen::Vector3d> ankle;
};
struct LegPaths {
    Leg lead;
    Leg trail;
    double rate_hz = 0.0;
    FrameRange wanted; ///< of the curves that are made of them
};
LegPaths calc_leg_paths(const SegmentMotion& pelvis, const Take& take);

/// One hip joint centre over time, metres against its mean at address; curves empty where the take
/// does not give them.
struct HipCurves {
    Curve depth_m; ///< away from the ball
    Curve lift_m;
    /// How far the joint is outside its ankle along the target line: lead hip towards the target,
    /// trail hip away from it.
    Curve beyond_ankle_m;
};

struct HipPosition {
    double depth_m = kMissing;
    double lift_m = kMissing;
    double beyond_ankle_m = kMissing;
};
HipPosition position_at(const HipCurves& curves, double t_s);

struct Hips {
    HipCurves lead;
    HipCurves trail;
};
Hips calc_hips(const LegPaths& paths, const SwingMoments& moments);

struct Legs {
    /// Flex of the lead knee, degrees, 0 straight: angle between thigh (hip joint to knee) and
    /// shank (knee to ankle).
    Curve lead_knee_flex_deg;
    Curve trail_knee_flex_deg;
    /// Trail ankle to knee against the ground, as seen from the front: 90 upright, less where the
    /// knee has gone to the target.
    Curve trail_shin_deg;
    double straightening_t_s = kMissing; ///< greatest flex between the first reversal and impact
    /// From the lead foot's plant (its ankle, lifted by over 1 cm, comes back to within 0.5 cm of
    /// its height at address) to the start of straightening; none where the foot stayed down.
    double plant_to_straighten_ms = kMissing;
};
Legs calc_legs(const LegPaths& paths, const SwingMoments& moments, double first_reversal_s);

} // namespace kite
