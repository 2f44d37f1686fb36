#pragma once

#include "core/sets/swing_set.h"

#include <string>
#include <vector>

namespace kite::formats {

/// {"measures": [{"key", "unit", "before": {"n", "mean", "sd", "typical_error"}, "after": {…},
/// "change", "low", "high", "p", "worthwhile", "verdict", "further_swings"}, …]}
std::string to_json(const std::vector<MeasureChange>& changes);

} // namespace kite::formats
