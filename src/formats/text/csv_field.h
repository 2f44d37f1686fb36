#pragma once

#include <string>

namespace kite::formats {

/// A field of a CSV line (RFC 4180): in quotation marks where it has to be.
std::string csv_field(const std::string& text);

} // namespace kite::formats
