#pragma once

#include <cstddef>
#include <string>
#include <string_view>

namespace kite::formats {

/// The line, from 1, on which a value of a JSON text begins, by its pointer (RFC 6901):
/// "/faults/3/id". The text must be valid JSON. A pointer that leads nowhere gives the line of the
/// last part that is there.
std::size_t line_of(std::string_view json, std::string_view pointer);

/// The line of a byte.
std::size_t line_of_byte(std::string_view text, std::size_t byte);

} // namespace kite::formats
