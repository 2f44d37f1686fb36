#pragma once

#include "core/base/findings.h"
#include "film/render/scene.h"

#include <filesystem>
#include <functional>

namespace kite::film {

/// How a made-up film is stored.
struct StoredAs {
    double capture_rate_hz = 240.0;
    double stored_rate_hz = 240.0; ///< less than it was filmed with: slow motion
    bool tells_capture_rate = true;
    int turned_deg =
        0; ///< stored lying, with a note to turn it by so much clockwise: 0, 90, 180, 270
    int quality = 34; ///< 0 best to 63
    int key_every = 120;
    /// Values of the sound track at `sound_rate_hz` of real time; empty: none.
    std::vector<float> sound;
    int sound_rate_hz = 48000;
};

/// Writes `pictures` pictures as VP9 with FLAC sound, into .mp4 or .mkv (a turn can only be stored
/// in .mp4). Empty: it is done.
std::vector<Finding> write_film(const std::filesystem::path& path, std::size_t pictures,
                                const std::function<Drawn(std::size_t)>& draw,
                                const StoredAs& stored);

/// The sound of a swing at a phone: wind, the club through the air, the strike after its way.
std::vector<float> swing_sound(double impact_s, double duration_s, double distance_m, int rate_hz,
                               std::uint32_t seed);

/// Films one view of a swing as a phone would and writes it.
struct FilmLook {
    double grain = 3.0;
    StoredAs stored;
    bool with_sound = true;
};
std::vector<Finding> film_swing(const std::filesystem::path& path,
                                const simulate::SwingModel& model, const simulate::FilmSetup& setup,
                                const simulate::FilmCamera& camera, FilmLook look);

} // namespace kite::film
