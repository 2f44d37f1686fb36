#pragma once

#include "core/reading/rules.h"

#include <limits>
#include <string>
#include <vector>

namespace kite {

/// Where the rules in force want a number to be; open ends are infinite.
struct WantedRange {
    double t_s = kMissing; ///< where it is looked at, from the first frame
    double low = -std::numeric_limits<double>::infinity();
    double high = std::numeric_limits<double>::infinity();
};

/// Of a quantity of the catalogue, in its curve's own unit, one for each time at which a fault that
/// counts looks at it; the tightest limits count. Of separation also its greatest value.
std::vector<WantedRange> wanted_ranges(const Rules& rules, const Analysis& analysis,
                                       const std::string& quantity);

/// When a part should turn back or be fastest, s from the first frame.
struct WantedTime {
    Segment part = Segment::Pelvis;
    double from_s = -std::numeric_limits<double>::infinity();
    double to_s = std::numeric_limits<double>::infinity();
};
std::vector<WantedTime> wanted_times(const Rules& rules, const Analysis& analysis);

} // namespace kite
