#include "film/module.h"

namespace kite::film {

std::vector<Finding> film_swing(const std::filesystem::path& path,
                                const simulate::SwingModel& model, const simulate::FilmSetup& setup,
                                const simulate::FilmCamera& camera, FilmLook look) {
    const LoadedFilm& film = loaded_film();
    if (film.module == nullptr)
        return {film.missing()};
    return film.module->render(path, model, setup, camera, std::move(look));
}

} // namespace kite::film
