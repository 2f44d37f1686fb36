#pragma once

#include "core/base/findings.h"
#include "core/base/range.h"
#include "core/motion/axes.h"
#include "core/motion/take.h"

#include <array>
#include <initializer_list>
#include <optional>
#include <string>
#include <string_view>
#include <vector>

namespace kite {

/// A force plate: where it is and the size of its vertical force, a value a frame.
struct ForcePlate {
    Eigen::Vector3d centre_m = Eigen::Vector3d::Zero();
    std::vector<double> vertical_n;
};

/// Marker tracks as a capture system gives them, metres, missing frames NaN.
/// The axes are those of the file until `rotate_to_lab` has been called.
struct MarkerTake {
    std::string name; ///< the file's name, for messages
    double rate_hz = 0.0;
    std::size_t frames = 0;
    std::vector<std::string> labels;
    std::vector<std::vector<Eigen::Vector3d>> tracks_m; ///< one a label, a point a frame
    Handedness handed = Handedness::Right;
    bool handed_said = false; ///< by the file or the user
    ClubKind club = ClubKind::Iron;
    bool club_said = false;
    std::optional<double> contact_s; ///< from the first frame
    std::vector<ForcePlate> plates;
    std::optional<SignedAxis> up_axis; ///< the file's own word

    /// Track of a label, after dropping a `subject:` prefix, without case; nullptr if absent.
    const std::vector<Eigen::Vector3d>* find(std::string_view label) const;
    std::vector<Eigen::Vector3d>* find(std::string_view label);
};

/// Mean of a track over those of the frames in which it was seen; all NaN without any.
Eigen::Vector3d mean_in(const std::vector<Eigen::Vector3d>& track, FrameRange frames);
/// … and of several markers, of those that were seen there.
Eigen::Vector3d mean_in(const MarkerTake& markers, std::initializer_list<const char*> labels,
                        FrameRange frames);

/// What is known about the axes from outside: the user's choice, or the file's own parameters.
struct AxisHints {
    std::optional<SignedAxis> up;
    std::optional<SignedAxis> target;
    /// The target line in degrees from `zero_axis`, counter-clockwise from above; before `target`.
    std::optional<double> target_deg;
    std::optional<SignedAxis> file_up; ///< the file's own word: used where the body agrees
};

/// Lengths of a body in metres: where the file's unit makes a golfer of no possible size and one
/// other unit does, the tracks are brought to it and a warning says so; an error if none does.
void check_unit(MarkerTake& markers, std::vector<Finding>& findings);

/// Turns the tracks from the file's axes to the lab frame (x target, z up, y = z × x).
/// Turns the file's axes to those of the lab.
Eigen::Matrix3d R_lab_from_file(const LabAxes& axes);
void rotate_to_lab(MarkerTake& markers, const LabAxes& axes);

/// Hip joint centres in the pelvis' axes from mid-ASIS, metres, for pelvic width (between the ASIS)
/// and depth (mid-ASIS to mid-PSIS). Harrington et al. 2007, width and depth alone, in mm:
/// posterior 0.24 PD + 9.9, inferior 0.30 PW + 10.9, lateral 0.33 PW + 7.3. Lead is +x.
struct HipJointCentres {
    Eigen::Vector3d lead_m = Eigen::Vector3d::Zero();
    Eigen::Vector3d trail_m = Eigen::Vector3d::Zero();
};
HipJointCentres calc_hip_joint_centres(double pelvis_width_m, double pelvis_depth_m);

/// Makes markers in the lab frame ready for poses: a left-handed golfer is mirrored (the labels
/// stay as they are). Gaps stay: what was not seen is not made up.
void mirror_markers(MarkerTake& markers);

/// Arms and club from markers that are ready: directions, which need no reference shape. What
/// cannot be built is left out.
Outcome<Take> arms_from_markers(const MarkerTake& ready);

/// Adds pelvis and torso, by a rigid fit to their shape in the frames in which the golfer stands at
/// address: the anatomical frames (docs/frames.md) are built from the mean positions there, of
/// markers hidden there from where they stand to the others when all are seen. In every frame those
/// markers serve that were seen. What cannot be built, of all parts, is named in the findings;
/// frames in which a cluster has lost its shape are missing.
Outcome<Take> add_trunk_from_markers(const MarkerTake& ready, FrameRange reference,
                                     Outcome<Take> arms);

/// One sentence naming the markers that a swing needs and this take lacks; empty if none.
std::string missing_markers(const MarkerTake& markers);

} // namespace kite
