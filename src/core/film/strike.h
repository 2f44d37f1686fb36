#pragma once

#include <cstddef>
#include <optional>
#include <vector>

namespace kite::film {

/// The strike in the sound: when it was heard, s from the first value.
struct Strike {
    double t_s = 0.0;
    double above = 0.0; ///< how many times louder than what is usual there
};

/// The sharpest onset of a sound: the piece of 1 ms that is loudest against the 60 ms before it,
/// its beginning found to the value. Empty: nothing stands out (less than eight times louder), or
/// two strikes are alike (the second at least half as loud): somebody must look.
std::optional<Strike> find_strike(const std::vector<float>& values, double rate_hz);

/// What the strike takes to the phone: 343 m/s at 20 °C (ISO 9613-1), 2.9 ms a metre.
inline constexpr double kSound_s_per_m = 1.0 / 343.0;

} // namespace kite::film
