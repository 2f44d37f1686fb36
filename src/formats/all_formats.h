#pragma once

#include "formats/format.h"

#include <vector>

namespace kite::formats {

/// Every format that can be read. A new one is one entry.
const std::vector<Format>& all_formats();

} // namespace kite::formats
