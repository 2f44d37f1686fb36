#pragma once

#include "core/base/findings.h"

#include <filesystem>
#include <string>
#include <string_view>

namespace kite::formats {

/// The whole of a regular file; an error says why it cannot be had.
Outcome<std::string> read_bytes(const std::filesystem::path& path);

/// Writes beside the target and then puts the new file in its place, so that a failure leaves the
/// old one whole. The findings hold an error if it failed.
std::vector<Finding> write_bytes(const std::filesystem::path& path, std::string_view bytes);

} // namespace kite::formats
