#pragma once

#include "formats/format.h"

namespace kite::formats {

/// Markers of a marker file (C3D, TRC) in its own axes, for conversion; an error for other formats.
Outcome<MarkerTake> read_markers(std::string_view bytes, const std::filesystem::path& path,
                                 const ReadOptions& options);

/// Reads any known motion file. Never throws, never changes the file, never holds more memory than
/// a small multiple of the file's size.
Outcome<Take> read_take(const std::filesystem::path& path, const ReadOptions& options);

/// The same for bytes already in memory; `path` is only a name.
Outcome<Take> read_take(std::string_view bytes, const std::filesystem::path& path,
                        const ReadOptions& options);

/// "name.csv: line 4, column pelvis_qw: …" for standard error and for the message in the window.
std::string text_of(const std::filesystem::path& path, const Finding& finding);

} // namespace kite::formats
