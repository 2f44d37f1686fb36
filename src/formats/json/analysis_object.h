#pragma once

#include "core/measures/analyse.h"
#include "core/reading/reading.h"
#include "formats/json/json_writer.h"

#include <vector>

namespace kite::formats {

/// Which findings stand among the warnings.
enum class Said { Warnings, ErrorsToo };

/// The members of docs/analysis-json.md into an object that was begun, for who writes more about
/// the swing. Without a `file`: null.
void add_analysis(const std::string* file, const Analysis& analysis, const Reading& reading,
                  const std::vector<Finding>& findings, Said said, JsonWriter& out);

} // namespace kite::formats
