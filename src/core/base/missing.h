#pragma once

#include <limits>

namespace kite {

/// What is not known. It is never shown as known, and never 0.
inline constexpr double kMissing = std::numeric_limits<double>::quiet_NaN();

} // namespace kite
