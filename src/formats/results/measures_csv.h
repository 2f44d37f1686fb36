#pragma once

#include "core/measures/analyse.h"

#include <string>

namespace kite::formats {

/// The measures as CSV (RFC 4180), a row a swing: file, handed, club, rate, order, certainty, the
/// times of the moments and every single measure by its key; missing values are empty.
std::string measures_csv_header();
std::string measures_csv_row(const std::string& file, const Analysis& analysis);

} // namespace kite::formats
