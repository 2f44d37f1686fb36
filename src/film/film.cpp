#include "film/film.h"

#include "core/film/marking.h"
#include "film/sources.h"

#include <algorithm>
#include <cmath>

namespace kite::film {

namespace fs = std::filesystem;

namespace {

/// A film whose told rate differs by no more than this share plays as it was filmed.
constexpr double kSameRate = 0.02;

std::string lower_ending(const fs::path& path) {
    const std::string ending = lower(path.extension().string());
    return ending.empty() ? ending : ending.substr(1);
}

} // namespace

double slow_motion_of(const FilmFacts& facts, double capture_rate_hz) {
    if (!(capture_rate_hz > 0.0) || !(facts.stored_rate_hz > 0.0))
        return 1.0;
    const double times = capture_rate_hz / facts.stored_rate_hz;
    return std::abs(times - 1.0) < kSameRate ? 1.0 : times;
}

double FilmFacts::real_s(std::size_t number, double capture_rate) const {
    return stored_s.at(number) / slow_motion_of(*this, capture_rate);
}

std::size_t FilmFacts::nearest(double real_s, double capture_rate) const {
    return nearest_picture(stored_s, real_s * slow_motion_of(*this, capture_rate));
}

const std::vector<std::string>& film_endings() {
    static const std::vector<std::string> endings{"mp4", "mov", "m4v",  "webm", "mkv",
                                                  "avi", "mpg", "mpeg", "ogv",  "3gp"};
    return endings;
}

bool is_film_name(const fs::path& path) {
    const auto& endings = film_endings();
    return std::find(endings.begin(), endings.end(), lower_ending(path)) != endings.end();
}

bool is_picture_folder(const fs::path& path) {
    std::error_code ignored;
    return fs::is_directory(path, ignored) && !numbered_pictures(path).empty();
}

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
