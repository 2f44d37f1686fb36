// The same functions as in the module: loaded when the first of them is called.
#include "film/module.h"
#include "parts/load.h"

namespace kite::film {

const LoadedFilm& loaded_film() {
    static const LoadedFilm loaded = [] {
        LoadedFilm out;
        const auto give = reinterpret_cast<GiveFilmModule>( // NOLINT: how it is given
            find_in_part("kite-hinge-film", kFilmModuleName, out.why));
        out.module = give == nullptr ? nullptr : &give();
        return out;
    }();
    return loaded;
}

Finding LoadedFilm::missing() const {
    return {Finding::Severity::Error, "film-part-missing",
            "The part of the program that handles film cannot be loaded: " + why + ".", "",
            "Install the program again."};
}

namespace {

/// What the module makes of a file, or that it is missing.
template <class Value>
Outcome<Value> asked(Outcome<Value> (*FilmModule::*of_file)(const std::filesystem::path&),
                     const std::filesystem::path& path) {
    const LoadedFilm& film = loaded_film();
    if (film.module != nullptr)
        return (film.module->*of_file)(path);
    Outcome<Value> out;
    out.add(film.missing());
    return out;
}

} // namespace

Outcome<std::shared_ptr<Film>> Film::open(const std::filesystem::path& path) {
    return asked(&FilmModule::open, path);
}

Outcome<Sound> read_sound(const std::filesystem::path& path) {
    return asked(&FilmModule::sound, path);
}

// What follows is asked about pictures of a film, which only the module can have opened.

GreyPicture grey_of(const Picture& picture, int times) {
    const FilmModule* module = loaded_film().module;
    return module == nullptr ? GreyPicture{} : module->grey(picture, times);
}

double difference(const GreyPicture& a, const GreyPicture& b) {
    const FilmModule* module = loaded_film().module;
    return module == nullptr ? 0.0 : module->differs(a, b);
}

std::size_t follow_through(Film& film, std::size_t from, std::size_t to, const Points& marked,
                           const Points& steps,
                           const std::function<bool(std::size_t, const FollowedPoints&)>& found) {
    const FilmModule* module = loaded_film().module;
    return module == nullptr ? from : module->follow(film, from, to, marked, steps, found);
}

} // namespace kite::film
