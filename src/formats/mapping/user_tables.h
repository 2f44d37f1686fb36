#pragma once

#include "formats/format.h"

namespace kite::formats {

/// What the user has said about files so far: the table of names and the mappings of columns.
/// Findings name what is wrong with them; the rest is used.
Outcome<ReadOptions> read_options_of_user();

} // namespace kite::formats
