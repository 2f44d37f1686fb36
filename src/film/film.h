#pragma once

#include "core/base/findings.h"
#include "core/film/marks.h"
#include "film/picture.h"

#include <filesystem>
#include <memory>
#include <optional>
#include <string>
#include <vector>

namespace kite::film {

/// What is known of a film before a picture of it is decoded.
struct FilmFacts {
    Pixel size_px = Pixel::Zero(); ///< of the upright picture, with square pixels
    int turned_deg = 0; ///< by which the stored pictures are turned clockwise to stand upright
    std::string codec;
    bool interlaced = false; ///< of every picture the first of its two halves is shown
    bool has_sound = false;
    bool has_times = true; ///< false: a folder of pictures, which nobody timed
    /// When each picture is shown as the film is stored to play, s from the first one.
    std::vector<double> stored_s;
    /// Pictures a second as it is stored to play.
    double stored_rate_hz = 0.0;
    /// Pictures a second as it was filmed, where the file tells.
    std::optional<double> capture_rate_hz;

    std::size_t pictures() const { return stored_s.size(); }
    /// Real time of a picture from the first one, s: slow motion plays slower than it was filmed.
    /// `capture_rate_hz` ≤ 0: as it plays.
    double real_s(std::size_t number, double capture_rate_hz) const;
    /// The picture that is nearest to a real time.
    std::size_t nearest(double real_s, double capture_rate_hz) const;
};

/// How many stored seconds go by in a real one: over 1 for slow motion.
double slow_motion_of(const FilmFacts& facts, double capture_rate_hz);

/// A film file, or a folder of numbered pictures. Not for several threads at once.
class Film {
public:
    /// Errors say why it cannot be opened. Opening decodes nothing but a first picture or two.
    static Outcome<std::shared_ptr<Film>> open(const std::filesystem::path& path);
    virtual ~Film() = default;
    Film(const Film&) = delete;
    Film& operator=(const Film&) = delete;

    const FilmFacts& facts() const { return facts_; }
    /// The same picture however it is come to: forwards, backwards or out of nowhere. Null: it is
    /// damaged; `problem()` says how.
    virtual SharedPicture picture(std::size_t number) = 0;
    /// Decodes at most so many pictures on the way to one, so that others can be shown meanwhile;
    /// true: it is at hand, or cannot be had.
    virtual bool prepare(std::size_t number, int pictures) = 0;
    /// Whether the picture is at hand without decoding others first.
    virtual bool is_near(std::size_t number) const = 0;
    virtual std::size_t cache_bytes() const = 0;
    const std::string& problem() const { return problem_; }

    /// What is kept of decoded pictures at most.
    static constexpr std::size_t kCacheBytes = std::size_t{400} * 1024 * 1024;

protected:
    Film() = default;
    FilmFacts facts_;
    std::string problem_;
};

/// Whether a name is that of a film file that is read.
bool is_film_name(const std::filesystem::path& path);
/// "mp4", … as they stand after the dot.
const std::vector<std::string>& film_endings();
/// A folder that holds numbered pictures.
bool is_picture_folder(const std::filesystem::path& path);

} // namespace kite::film
