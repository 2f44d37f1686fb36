#include "film/film.h"
#include "film/sources.h"

namespace kite::film {

namespace fs = std::filesystem;

Outcome<std::shared_ptr<Film>> Film::open(const fs::path& path) {
    std::error_code ignored;
    if (fs::is_directory(path, ignored))
        return open_folder(path);
    if (!fs::exists(path, ignored)) {
        Outcome<std::shared_ptr<Film>> out;
        out.add({Finding::Severity::Error, "no-film", "There is no such film.", path.string(),
                 "Put it back beside its marks, or choose where it is now."});
        return out;
    }
    return open_video(path);
}

} // namespace kite::film
