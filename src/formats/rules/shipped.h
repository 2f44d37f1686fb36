#pragma once

#include <string_view>
#include <vector>

namespace kite::formats {

/// The bytes of rules/faults.json and of rules/schools/*.json as they were built in, "none" first.
std::string_view shipped_rules_bytes();
std::string_view shipped_drill_bytes();
std::vector<std::string_view> shipped_school_bytes();

} // namespace kite::formats
