#pragma once

#include "core/base/findings.h"
#include "core/base/names.h"

#include <array>
#include <limits>
#include <optional>
#include <vector>

/// What is measured beside the motion, with devices of its own.
namespace kite {

struct Take;

/// What a launch monitor says of one shot; NaN where it says nothing.
struct LaunchNumbers {
    double club_speed_m_s = std::numeric_limits<double>::quiet_NaN();
    double ball_speed_m_s = std::numeric_limits<double>::quiet_NaN();
    double carry_m = std::numeric_limits<double>::quiet_NaN();
    /// Start of the flight against the target line, positive to the right, looking to the target.
    double start_direction_deg = std::numeric_limits<double>::quiet_NaN();
    /// How far the ball bends away from its start line until it lands, positive to the right.
    double curve_m = std::numeric_limits<double>::quiet_NaN();
    double time_s = std::numeric_limits<double>::quiet_NaN(); ///< when, on the monitor's own clock
};

/// One of the numbers: a new one is an entry here.
struct LaunchField {
    const char* key;  ///< in files, with its unit
    const char* name; ///< English
    const char* unit;
    int decimals;
    double LaunchNumbers::*member;
    double most; ///< what is larger, either way, is a slip of the hand
};
inline constexpr std::array kLaunchFields{
    LaunchField{"club_speed_m_s", KITE_TR("Club speed"), "m/s", 1, &LaunchNumbers::club_speed_m_s,
                80.0},
    LaunchField{"ball_speed_m_s", KITE_TR("Ball speed"), "m/s", 1, &LaunchNumbers::ball_speed_m_s,
                110.0},
    LaunchField{"carry_m", KITE_TR("Carry"), "m", 0, &LaunchNumbers::carry_m, 400.0},
    LaunchField{"start_direction_deg", KITE_TR("Start direction"), "°", 1,
                &LaunchNumbers::start_direction_deg, 90.0},
    LaunchField{"curve_m", KITE_TR("Curve"), "m", 1, &LaunchNumbers::curve_m, 200.0},
};

/// Vertical force under the feet from a mat or from plates with a clock of their own.
struct ForceRecord {
    std::vector<double> times_s; ///< ascending, finite
    std::vector<double> lead_n;  ///< or per cent of the total; missing values NaN
    std::vector<double> trail_n;
    bool is_share = false; ///< per cent: how heavy both feet were is not known
    std::optional<double> contact_s;
};

/// Brings the forces onto the take's frames. Where both have a contact mark, the marks are laid on
/// each other; else the record's times count from the take's first frame, and a note says so.
/// Frames outside the record are missing; a warning says if none is inside. Forces that the take
/// already had are replaced, and a note says so.
void attach_forces(Take& take, const ForceRecord& record, std::vector<Finding>& findings);

} // namespace kite
