#pragma once

#include "core/base/findings.h"
#include "core/motion/markers.h"
#include "core/motion/take.h"

#include <filesystem>
#include <memory>
#include <optional>
#include <string>
#include <vector>

namespace kite::formats {

class MappingStore;
class NameTable;

/// What the user says about a file; empty: the file's own word, else the usual.
struct ReadOptions {
    std::optional<Handedness> handed;
    std::optional<ClubKind> club;
    AxisHints axes;
    std::shared_ptr<const NameTable> names; ///< of markers and joints; null: the shipped table
    std::shared_ptr<const MappingStore> mappings; ///< of tables with columns of other names
};

/// A format: how sure it is that the bytes are its own (0 to 100), and its reader. The surest
/// reader gets the file, whatever its extension says. See docs/new-format.md.
struct Format {
    std::string name;
    int (*sureness)(std::string_view bytes, const std::filesystem::path& path);
    Outcome<Take> (*read)(std::string_view bytes, const ReadOptions& options);
};
const std::vector<Format>& all_formats();

/// Markers of a marker file (C3D, TRC) in its own axes, for conversion; an error for other formats.
Outcome<MarkerTake> read_markers(std::string_view bytes, const std::filesystem::path& path,
                                 const ReadOptions& options);

/// Reads any known motion file. Never throws, never changes the file, never holds more memory than
/// a small multiple of the file's size.
Outcome<Take> read_take(const std::filesystem::path& path, const ReadOptions& options);

/// The same for bytes already in memory; `path` is only a name.
Outcome<Take> read_take(std::string_view bytes, const std::filesystem::path& path,
                        const ReadOptions& options);

/// What the user has said about files so far: the table of names and the mappings of columns.
/// Findings name what is wrong with them; the rest is used.
Outcome<ReadOptions> read_options_of_user();

/// "name.csv: line 4, column pelvis_qw: …" for standard error and for the message in the window.
std::string text_of(const std::filesystem::path& path, const Finding& finding);

} // namespace kite::formats
