#pragma once

#include "core/base/findings.h"
#include "core/base/names.h"
#include "core/motion/markers.h"
#include "core/motion/take.h"

#include <optional>
#include <string>
#include <vector>

/// Where the target is and which hand the golfer plays with, told by several witnesses: the way the
/// club head (else the hands) goes at the ball, hips, feet and shoulders at address before the
/// swing, the side that the hands are on. They must agree; what was decided is said with how sure.
namespace kite {

/// One witness: the direction of the target seen from above, counter-clockwise from x, degrees.
struct Witness {
    const char* who = "";
    double target_deg = 0.0;
    double u_deg = 5.0; ///< standard deviation among golfers (common practice, no source)
};

/// What the witnesses say together.
struct Orientation {
    std::vector<Witness> witnesses;
    double target_deg = 0.0; ///< weighted mean
    double u_deg = 90.0;
    double spread_deg = 0.0;        ///< largest distance of a witness from the mean
    std::optional<Handedness> hand; ///< empty: it cannot be told

    bool has_head() const; ///< club head or hands are among them
};

/// Further off an axis than this, and the lab does not lie along the target line, degrees.
inline constexpr double kAligned_deg = 9.0;
/// Witnesses further apart than this disagree, degrees.
inline constexpr double kAgree_deg = 30.0;

/// How a marker file lies, and the golfer's hand.
struct Setting {
    LabAxes axes;
    Handedness handed = Handedness::Right;
};

/// Up: what the user says, else the file's word where the body agrees, else the body. Target: what
/// the user says, else the witnesses, along the file's axis where they are within kAligned_deg of
/// it. Hand: the witnesses', else what was told. What contradicts what was told is told back.
/// Errors: up or target cannot be told. `calm`: the calm frames before the swing, where they are
/// known already.
Outcome<Setting> find_setting(const MarkerTake& markers, const AxisHints& hints,
                              std::optional<FrameRange> calm = std::nullopt);

/// For poses, which claim to lie in the lab frame already: turns the take about the vertical where
/// all witnesses agree that the target is elsewhere, mirrors it where the golfer plays with the
/// other hand than was said, and says so. `handed_told`: the file or the user said the hand.
void check_orientation(Take& take, std::vector<Finding>& findings);

/// Quaternions in another order, or the other way round, and positions in another unit cannot be a
/// golfer: mended where there is one way, else an error. Before mirroring, so `take` is as read.
void check_pose_conventions(Take& take, std::vector<Finding>& findings);

} // namespace kite
