#pragma once

#include "core/base/findings.h"

#include <filesystem>
#include <string>
#include <vector>

namespace kite::store {

// Film that is kept with the record, where somebody wants that: files in a folder beside the
// record's, one folder a swing. It is large and never changes, so it is not in the record's file,
// its backups or its exports; what is deleted for good takes its film with it.

/// Where a swing's film and marks are, by the swing's id.
std::filesystem::path film_folder(const std::filesystem::path& record, const std::string& swing_id);

/// A file or a folder of pictures, and what it is called there.
struct KeptFilm {
    std::filesystem::path from;
    std::string name;
};

/// Writes a swing's marks and copies its film there: all or nothing.
std::vector<Finding> keep_film(const std::filesystem::path& record, const std::string& swing_id,
                               const std::string& marks_name, const std::string& marks,
                               const std::vector<KeptFilm>& films);

/// Deletes the film of swings. Findings: what could not be deleted.
std::vector<Finding> forget_film(const std::filesystem::path& record,
                                 const std::vector<std::string>& swing_ids);

} // namespace kite::store
