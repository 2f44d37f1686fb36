#pragma once

#include "core/base/findings.h"

#include <cstdint>
#include <filesystem>
#include <string>
#include <string_view>

namespace kite::formats {

/// No more than this is taken into memory: 40 minutes of 50 markers at 1,000 Hz.
constexpr std::uintmax_t kMostBytes = std::uintmax_t{2} << 30;

/// The whole of a regular file of at most kMostBytes; an error says why it cannot be had.
Outcome<std::string> read_bytes(const std::filesystem::path& path);

/// Writes beside the target and then puts the new file in its place, so that a failure leaves the
/// old one whole. The findings hold an error if it failed.
std::vector<Finding> write_bytes(const std::filesystem::path& path, std::string_view bytes);

} // namespace kite::formats
