#pragma once

#include <optional>
#include <string>
#include <string_view>

namespace kite::store {

/// How bytes are packed, as the record says it.
inline constexpr const char* kPacking = "zstd";

/// Packed with a check sum.
std::string pack(std::string_view bytes);

/// Empty: the bytes are damaged, or are more than `most`.
std::optional<std::string> unpack(std::string_view packed, std::size_t most);

/// SHA-256 in lower-case hexadecimal (FIPS 180-4).
std::string sha256_of(std::string_view bytes);

} // namespace kite::store
