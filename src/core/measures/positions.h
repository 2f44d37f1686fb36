#pragma once

#include "core/measures/kinematics.h"
#include "core/measures/sequence.h"

namespace kite {

/// Pelvis or torso over time: angles in degrees, sway (towards the target), depth (away from the
/// ball) and lift (up) of the origin in metres against its mean at address. Empty curves where the
/// source has no positions, or the take no address.
struct TrunkCurves {
    TrunkAngles angles;
    Curve lean_deg;         ///< of the part's Z axis from the vertical, any way …
    Curve face_on_lean_deg; ///< … and in the plane through the target line, positive towards it
    Eigen::Vector3d rest_m = Eigen::Vector3d::Constant(kMissing); ///< mean place at address
    Curve sway_m;
    Samples measured_sway_m; ///< as measured, against the same mean
    Curve depth_m;
    Curve lift_m;
};
TrunkCurves calc_trunk_curves(const PoseSeries& raw, const SegmentMotion& motion,
                              const SwingMoments& moments);

/// The same at one moment; NaN where not available.
struct TrunkPosition {
    double turn_deg = kMissing;
    double side_tilt_deg = kMissing;
    double forward_bend_deg = kMissing;
    double sway_m = kMissing;
    double depth_m = kMissing;
    double lift_m = kMissing;
};
TrunkPosition position_at(const TrunkCurves& curves, double t_s);

} // namespace kite
