#pragma once

#include "core/base/findings.h"
#include "core/motion/markers.h"
#include "core/motion/take.h"

#include <Eigen/Core>

#include <map>
#include <string>
#include <vector>

namespace kite {

/// Joint positions of a skeleton in the file's own axes and unit, by our joint names: hips, spine,
/// chest, neck, head, club, and left_ / right_ hip, knee, ankle, shoulder, elbow, wrist.
struct JointTake {
    std::string name;
    double rate_hz = 0.0;
    std::size_t frames = 0;
    Handedness handed = Handedness::Right;
    bool handed_said = false;
    ClubKind club = ClubKind::Iron;
    bool club_said = false;
    std::map<std::string, std::vector<Eigen::Vector3d>> joints;
};

/// Poses from joints. Skeletons carry no markers of the pelvis: X of the pelvis runs between its
/// hip joints, its Z towards the chest; the torso likewise between the shoulders and from the
/// pelvis to the neck. Their forward bend therefore differs from that of markers by a constant. A
/// skeleton's unit is often not said: metres are taken from the legs (hip to ankle 0.86 m) unless
/// the size already fits metres, centimetres or millimetres; a note says so. Up and target axis as
/// for markers: hints, else the trunk and the hip line at rest.
Outcome<Take> poses_from_joints(const JointTake& joints, const AxisHints& hints);

} // namespace kite
