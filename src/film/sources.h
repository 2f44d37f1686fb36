#pragma once

#include "film/film.h"

namespace kite::film {

Outcome<std::shared_ptr<Film>> open_video(const std::filesystem::path& path);
Outcome<std::shared_ptr<Film>> open_folder(const std::filesystem::path& path);
/// The pictures of a folder by their numbers.
std::vector<std::filesystem::path> numbered_pictures(const std::filesystem::path& folder);

} // namespace kite::film
