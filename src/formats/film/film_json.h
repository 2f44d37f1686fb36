#pragma once

#include "core/base/findings.h"
#include "core/film/marks.h"
#include "formats/format.h"

#include <filesystem>
#include <string>
#include <string_view>

namespace kite::formats {

/// What was marked in film: `NAME.film.json` (docs/film.md).
int film_json_sureness(std::string_view bytes, const std::filesystem::path& path);
Outcome<film::Marks> read_film_marks(std::string_view bytes);
Outcome<Take> read_film_json(std::string_view bytes, const ReadOptions& options);

/// Marks as a file; what reads it gives the same marks.
std::string write_film_marks(const film::Marks& marks);

} // namespace kite::formats
