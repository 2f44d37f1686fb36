#pragma once

#include "core/base/findings.h"
#include "core/practice/plan.h"
#include "formats/text/bytes.h"

#include <filesystem>
#include <string>
#include <string_view>

namespace kite::formats {

/// Plan files: docs/practice.md describes them. Strict, as rule files are.
Outcome<Plan> parse_plan(std::string_view bytes);
Outcome<Plan> read_plan(const std::filesystem::path& path);
std::string to_json(const Plan& plan);
/// In its place only when it is whole; else what stands there stays.
std::vector<Finding> write_plan(const std::filesystem::path& path, const Plan& plan,
                                Old old = Old::Replaced);

} // namespace kite::formats
