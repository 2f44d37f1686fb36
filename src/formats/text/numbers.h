#pragma once

#include "core/base/number.h"

#include <optional>
#include <string>
#include <string_view>

namespace kite::formats {

/// A decimal number as files write it, independent of the locale: "1.5", "-2e-3", "+4", and with
/// `decimal_comma` "1,5". The whole text must be the number. Infinity is refused.
std::optional<double> parse_number(std::string_view text, bool decimal_comma = false);

/// A time of day, "10:15" or "10:15:03.2", or a date with one, "2026-11-27T10:15:03" (a blank for
/// the T, a Z behind it): seconds from midnight, or of 1 January 1970 as if in UTC.
std::optional<double> parse_clock(std::string_view text);

/// "", "NaN", "nan" and "-" stand for a missing value.
bool is_missing_text(std::string_view text);

/// Shortest text that reads back as the same double; "nan" becomes "".
std::string format_number(double value);
using kite::fixed;

std::string_view trimmed(std::string_view text);
std::string lower_case(std::string_view text);

} // namespace kite::formats
