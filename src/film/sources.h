#pragma once

#include "film/film.h"

#include <cctype>

namespace kite::film {

/// Letters A to Z small.
inline std::string lower(std::string text) {
    for (char& c : text)
        c = static_cast<char>(std::tolower(static_cast<unsigned char>(c)));
    return text;
}

Outcome<std::shared_ptr<Film>> open_video(const std::filesystem::path& path);
Outcome<std::shared_ptr<Film>> open_folder(const std::filesystem::path& path);
/// The pictures of a folder by their numbers.
std::vector<std::filesystem::path> numbered_pictures(const std::filesystem::path& folder);

} // namespace kite::film
