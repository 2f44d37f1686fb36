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

/// What becomes of a file that is there already.
enum class Old { Replaced, Stays };

/// Writes beside the target and then puts the new file in its place, so that a failure or a power
/// cut leaves the old one whole or the new one; safe on disk when this returns. A link is followed;
/// a pipe or device is written to as it is. A record is never replaced. The findings hold an error
/// if it failed.
std::vector<Finding> write_bytes(const std::filesystem::path& path, std::string_view bytes,
                                 Old old = Old::Replaced);

/// Puts a finished file into its place, as write_bytes does; the part is gone if that failed.
std::vector<Finding> put_in_place(const std::filesystem::path& part,
                                  const std::filesystem::path& path, Old old);

/// A name beside `path` that nobody else uses, for what is not finished.
std::filesystem::path part_of(const std::filesystem::path& path);

/// Whether this is a database, such as a record: it is never replaced by anything.
bool is_database(const std::filesystem::path& path);

} // namespace kite::formats
