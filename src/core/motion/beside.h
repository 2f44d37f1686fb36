#pragma once

#include "core/base/findings.h"

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
