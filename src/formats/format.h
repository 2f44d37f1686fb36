#pragma once

#include "core/base/findings.h"
#include "core/motion/markers.h"
#include "core/motion/take.h"

#include <filesystem>
#include <memory>
#include <optional>
#include <string>
#include <string_view>

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

} // namespace kite::formats
