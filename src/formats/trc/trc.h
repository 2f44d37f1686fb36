#pragma once

#include "core/motion/markers.h"
#include "formats/format.h"

#include <filesystem>
#include <string>
#include <string_view>

namespace kite::formats {

/// TRC: marker positions as tab-separated text. Three lines of header (PathFileType; names; values
/// of DataRate, NumFrames, NumMarkers, Units …), a line of marker labels, a line X1 Y1 Z1 …, then a
/// row a frame: number, time, coordinates; empty fields are gaps.
int trc_sureness(std::string_view bytes, const std::filesystem::path& path);
Outcome<MarkerTake> read_trc_markers(std::string_view bytes, const ReadOptions& options);

/// In the take's own axes, millimetres.
std::string write_trc(const MarkerTake& markers);

} // namespace kite::formats
