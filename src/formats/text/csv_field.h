#pragma once

#include <string>

namespace kite::formats {

/// A field of a CSV line (RFC 4180): in quotation marks where it has to be.
std::string csv_field(const std::string& text);

/// A field of text that somebody else may have written. A spreadsheet takes what begins with =, +,
/// -, @, a tab or a line's end for a formula: an apostrophe before it makes it text (common
/// practice).
std::string csv_text_field(const std::string& text);

} // namespace kite::formats
