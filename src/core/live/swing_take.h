#pragma once

#include "core/base/findings.h"
#include "core/live/cutting.h"
#include "core/motion/take.h"

#include <map>
#include <optional>

namespace kite::live {

/// How sensors sit on their parts, sensor → segment; a part that is not named sits straight.
using Mounts = std::map<Segment, Eigen::Quaterniond>;

/// One sensor in one swing.
struct SensorHeard {
    Samples samples;
    Samples orientations; ///< the device's own; may be empty
    double clock_u_s = 0.0;
    Eigen::Quaterniond q_segment_sensor = Eigen::Quaterniond::Identity();
};

/// All that was heard of one swing, at the computer's times.
struct Heard {
    Cut cut;
    std::map<Segment, SensorHeard> sensors;
    Samples feet; ///< left and right, N; empty: no plate
    double feet_u_s = 0.0;
    std::optional<Handedness> handed; ///< empty: the way it turned tells
    std::optional<ClubKind> club;
    std::optional<LaunchNumbers> launch;
    bool is_made_up = false; ///< a stand-in sent it
};

/// Gaps up to this long are laid over, s.
inline constexpr double kBridged_s = 0.02;

/// Of a take that a stand-in sent: it is nobody's, and is never kept as somebody's.
inline constexpr const char* kMadeUp = "made-up";

/// The swing as a take that starts where the cut does. Each sensor's rate is brought to common
/// times; what the clocks leave open is carried by the take's alternatives. Errors: as of
/// poses_from_sensors.
Outcome<Take> take_of(const Heard& heard);

/// The computer's time of the take's first frame.
double first_frame_s(const Heard& heard);

/// Up as each sensor had it at address, in its segment's axes; without the sensors that were not
/// heard there.
std::map<Segment, Eigen::Vector3d> up_at_address(const Heard& heard);

/// A sensor that does not sit as it did: gravity at address lies elsewhere in it than in the swings
/// before; or, without any before, where no golfer's address has it.
std::vector<Finding> check_mounts(const std::map<Segment, Eigen::Vector3d>& up,
                                  const std::map<Segment, Eigen::Vector3d>& up_before);

} // namespace kite::live
