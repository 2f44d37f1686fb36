#pragma once

#include "core/base/findings.h"

#include <filesystem>
#include <vector>

namespace kite::film {

/// The sound of a film, all channels as one.
struct Sound {
    double rate_hz = 0.0;
    double starts_s = 0.0; ///< of its first value, as stored to play, from the first picture
    std::vector<float> values;
};

/// The first ten minutes of it. No sound is no error: it is empty then.
Outcome<Sound> read_sound(const std::filesystem::path& path);

} // namespace kite::film
