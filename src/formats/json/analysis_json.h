#pragma once

#include "core/measures/analyse.h"
#include "core/reading/reading.h"

#include <string>
#include <vector>

namespace kite::formats {

/// One JSON object on one line with the keys of docs/analysis-json.md. Times are seconds from the
/// file's first frame. A value that the source cannot give, or that is not computed yet, is null.
/// `file` is the path as the user gave it.
std::string to_json(const std::string& file, const Analysis& analysis, const Reading& reading,
                    const std::vector<Finding>& findings);

} // namespace kite::formats
