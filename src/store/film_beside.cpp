#include "store/film_beside.h"

#include "formats/text/bytes.h"

#include <algorithm>
#include <cctype>

namespace kite::store {

namespace fs = std::filesystem;

fs::path film_folder(const fs::path& record, const std::string& swing_id) {
    // Ids are the record's own; whatever else comes never leads out of the folder.
    const bool plain =
        !swing_id.empty() && std::all_of(swing_id.begin(), swing_id.end(), [](char c) {
            return std::isalnum(static_cast<unsigned char>(c)) != 0 || c == '-';
        });
    if (!plain)
        return {};
    fs::path folder = record;
    folder += "-film";
    return folder / swing_id;
}

std::vector<Finding> keep_film(const fs::path& record, const std::string& swing_id,
                               const std::string& marks_name, const std::string& marks,
                               const std::vector<KeptFilm>& films) {
    const fs::path to = film_folder(record, swing_id);
    fs::path coming = to;
    coming += ".coming";
    std::error_code error;
    if (!to.empty()) {
        fs::remove_all(coming, error);
        fs::create_directories(coming, error);
        for (const KeptFilm& film : films)
            if (!error)
                fs::copy(film.from, coming / film.name, fs::copy_options::recursive, error);
        if (!error && has_errors(formats::write_bytes(coming / marks_name, marks)))
            error = std::make_error_code(std::errc::io_error);
        if (!error)
            fs::remove_all(to, error);
        if (!error)
            fs::rename(coming, to, error);
        if (!error)
            return {};
    }
    const std::string why = error.message();
    fs::remove_all(coming, error);
    return {{Finding::Severity::Warning, "film-not-kept",
             "The film of this swing is not kept with the record: " + why + ".", to.string(),
             "Make room on the disk; the film stays where it is."}};
}

std::vector<Finding> forget_film(const fs::path& record,
                                 const std::vector<std::string>& swing_ids) {
    std::vector<Finding> out;
    for (const std::string& id : swing_ids) {
        const fs::path folder = film_folder(record, id);
        std::error_code error;
        if (!folder.empty())
            fs::remove_all(folder, error);
        if (error)
            out.push_back({Finding::Severity::Warning, "film-stays",
                           "The film of a deleted swing is still there: " + error.message() + ".",
                           folder.string(), "Delete that folder if nothing of it may stay."});
    }
    return out;
}

} // namespace kite::store
