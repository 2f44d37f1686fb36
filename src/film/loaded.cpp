// The same functions as in the module: loaded when the first of them is called.
#include "film/module.h"
#include "parts/load.h"

namespace kite::film {

const FilmModule* film_module(std::string& why) {
    static std::string said;
    static const FilmModule* const module = [] {
        const auto give = reinterpret_cast<GiveFilmModule>( // NOLINT: how it is given
            find_in_part("kite-hinge-film", kFilmModuleName, said));
        return give == nullptr ? nullptr : &give();
    }();
    why = said;
    return module;
}

Finding no_film_module(const std::string& why) {
    return {Finding::Severity::Error, "film-part-missing",
            "The part of the program that handles film cannot be loaded: " + why + ".", "",
            "Install the program again."};
}

namespace {

const FilmModule* loaded() {
    std::string ignored;
    return film_module(ignored);
}

} // namespace

Outcome<std::shared_ptr<Film>> Film::open(const std::filesystem::path& path) {
    std::string why;
    if (const FilmModule* module = film_module(why))
        return module->open(path);
    Outcome<std::shared_ptr<Film>> out;
    out.add(no_film_module(why));
    return out;
}

Outcome<Sound> read_sound(const std::filesystem::path& path) {
    std::string why;
    if (const FilmModule* module = film_module(why))
        return module->sound(path);
    Outcome<Sound> out;
    out.add(no_film_module(why));
    return out;
}

// What follows is asked about pictures of a film, which only the module can have opened.

GreyPicture grey_of(const Picture& picture, int times) {
    const FilmModule* module = loaded();
    return module == nullptr ? GreyPicture{} : module->grey(picture, times);
}

double difference(const GreyPicture& a, const GreyPicture& b) {
    const FilmModule* module = loaded();
    return module == nullptr ? 0.0 : module->differs(a, b);
}

std::size_t follow_through(Film& film, std::size_t from, std::size_t to, const Points& marked,
                           const Points& steps,
                           const std::function<bool(std::size_t, const FollowedPoints&)>& found) {
    const FilmModule* module = loaded();
    return module == nullptr ? from : module->follow(film, from, to, marked, steps, found);
}

} // namespace kite::film
