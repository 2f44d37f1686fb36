#pragma once

#include "film/film.h"
#include "film/follow_through.h"
#include "film/motion.h"
#include "film/render/film_writer.h"
#include "film/sound.h"

namespace kite::film {

/// What the module that knows FFmpeg and OpenCV gives to programs that load it when a film is first
/// asked for. Same compiler, same build: both stand on the same headers.
struct FilmModule {
    decltype(&Film::open) open;
    decltype(&read_sound) sound;
    decltype(&grey_of) grey;
    decltype(&difference) differs;
    decltype(&follow_through) follow;
    decltype(&film_swing) render;
};
inline const char* const kFilmModuleName = "kite_film_module";
using GiveFilmModule = const FilmModule& (*)();

/// Loaded when it is first asked for, once.
struct LoadedFilm {
    const FilmModule* module = nullptr; ///< null: it cannot be loaded
    std::string why;

    Finding missing() const;
};
const LoadedFilm& loaded_film();

} // namespace kite::film
