#pragma once

#include "core/sets/comparison.h"

#include <string>

namespace kite::formats {

/// {"question": KEY or null, "sets": {"before": {"n", "distinct"}, "after": {…}}, "sessions":
/// "one" or "two", "measures": [{"key", "unit", "before": {"n", "mean", "sd", "typical_error"},
/// "after": {…}, "change", "low", "high", "level", "p", "worthwhile", "lag_one", "session_sd",
/// "verdict": "changed", "unchanged", "cannot tell" or "not measured", "size": "worthwhile",
/// "small", "unsure" or null, "further_swings": {"likely", "low", "high"} or null,
/// "further_to_exclude": the same, "question": whether it is the one}, …]}
std::string to_json(const Comparison& comparison);

} // namespace kite::formats
