#pragma once

#include "core/measures/analyse.h"
#include "core/reading/reading.h"

#include <string>
#include <vector>

namespace kite::formats {

/// The analysis for people at a terminal: order, parts, moments, separation, reading.
std::string to_table(const std::string& file, const Analysis& analysis, const Reading& reading,
                     const std::vector<Finding>& findings);

} // namespace kite::formats
