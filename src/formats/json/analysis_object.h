#pragma once

#include "core/measures/analyse.h"
#include "core/reading/reading.h"

#include <nlohmann/json.hpp>

#include <vector>

namespace kite::formats {

/// Null where the value is not known.
nlohmann::ordered_json number(double value);

/// The object of docs/analysis-json.md with `"file": null`, for who writes more about the swing.
nlohmann::ordered_json analysis_object(const Analysis& analysis, const Reading& reading,
                                       const std::vector<Finding>& findings);

} // namespace kite::formats
