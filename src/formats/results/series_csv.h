#pragma once

#include "core/measures/analyse.h"

#include <string>

namespace kite::formats {

/// The measured curves over time as CSV, a row a frame: rates, angles, sway, depth, lift,
/// separation, hinge, knee, pressure, hinge path; columns that the source cannot give are left out.
std::string to_series_csv(const Analysis& analysis);

} // namespace kite::formats
