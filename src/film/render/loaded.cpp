#include "film/module.h"

namespace kite::film {

std::vector<Finding> film_swing(const std::filesystem::path& path,
                                const simulate::SwingModel& model, const simulate::FilmSetup& setup,
                                const simulate::FilmCamera& camera, FilmLook look) {
    std::string why;
    if (const FilmModule* module = film_module(why))
        return module->render(path, model, setup, camera, std::move(look));
    return {no_film_module(why)};
}

} // namespace kite::film
