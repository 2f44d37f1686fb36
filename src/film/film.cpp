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

/// The last number in a name; -1: none.
long long number_in(const std::string& stem) {
    std::size_t end = stem.size();
    while (end > 0 && std::isdigit(static_cast<unsigned char>(stem[end - 1])) == 0)
        --end;
    std::size_t begin = end;
    while (begin > 0 && std::isdigit(static_cast<unsigned char>(stem[begin - 1])) != 0)
        --begin;
    if (begin == end || end - begin > 15)
        return -1;
    return std::stoll(stem.substr(begin, end - begin));
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

std::vector<fs::path> numbered_pictures(const fs::path& folder) {
    std::vector<std::pair<long long, fs::path>> found;
    std::error_code error;
    for (const fs::directory_entry& entry : fs::directory_iterator(folder, error)) {
        const std::string ending = lower(entry.path().extension().string());
        const bool picture = ending == ".png" || ending == ".jpg" || ending == ".jpeg" ||
                             ending == ".bmp" || ending == ".tif" || ending == ".tiff" ||
                             ending == ".webp" || ending == ".ppm";
        const long long number = number_in(entry.path().stem().string());
        if (picture && number >= 0)
            found.emplace_back(number, entry.path());
    }
    std::sort(found.begin(), found.end());
    std::vector<fs::path> out;
    out.reserve(found.size());
    for (auto& one : found)
        out.push_back(std::move(one.second));
    return out;
}

bool is_picture_folder(const fs::path& path) {
    std::error_code ignored;
    return fs::is_directory(path, ignored) && !numbered_pictures(path).empty();
}

} // namespace kite::film
