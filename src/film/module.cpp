#include "film/module.h"

extern "C" __attribute__((visibility("default"))) const kite::film::FilmModule& kite_film_module() {
    using namespace kite::film;
    static const FilmModule module{&Film::open, &read_sound,     &grey_of,
                                   &difference, &follow_through, &film_swing};
    return module;
}
