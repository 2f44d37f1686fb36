#pragma once

#include "formats/format.h"

#include <filesystem>
#include <string_view>

namespace kite::formats {

/// A swing that was heard in the bay: its raw packets (docs/live.md, "The file").
int bay_capture_sureness(std::string_view bytes, const std::filesystem::path& path);
Outcome<Take> read_bay_capture(std::string_view bytes, const ReadOptions& options);

} // namespace kite::formats
