#pragma once

#include "core/sets/comparison.h"

#include <string>

namespace kite::formats {

/// A comparison for people at a terminal: the answer, then row by row, what changed first.
std::string to_table(const Comparison& comparison);

} // namespace kite::formats
