#pragma once

#include "core/sets/swing_set.h"

#include <string>
#include <vector>

namespace kite::formats {

/// A comparison for people at a terminal: real changes first, then what the swings cannot tell.
std::string to_table(const std::vector<MeasureChange>& changes);

} // namespace kite::formats
