#pragma once

#include "core/base/names.h"
#include "core/motion/markers.h"

#include <string>
#include <string_view>
#include <utility>

namespace kite::cli {

/// "club=30" → ("club", 30). Throws CLI::ValidationError that says what is wrong.
std::pair<std::string, double> key_and_number(const std::string& text, std::string_view option);

/// "--up z --target +x", or "--target-deg 25"; empty texts give no hint. Throws
/// CLI::ValidationError.
AxisHints axis_hints(const std::string& up, const std::string& target,
                     const std::string& target_deg);

/// Segment by its key. Throws CLI::ValidationError.
Segment segment_of(const std::string& key, std::string_view option);

} // namespace kite::cli
