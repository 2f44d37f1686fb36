#pragma once

#include "simulate/film_marks.h"

#include <cstdint>
#include <memory>
#include <vector>

namespace kite::film {

/// A picture as the encoder takes it: three bytes a pixel (blue, green, red), rows from the top.
struct Drawn {
    int width_px = 0;
    int height_px = 0;
    std::vector<std::uint8_t> bgr;
};

/// What a phone sees of a made-up swing: a figure with sticks at belt and shoulders, a club, a
/// ball, a floor and a wall, with blur of the shutter and grain.
class Scene {
public:
    Scene(const simulate::SwingModel& model, const simulate::FilmSetup& setup,
          const simulate::FilmCamera& camera);
    ~Scene();
    Scene(const Scene&) = delete;
    Scene& operator=(const Scene&) = delete;

    /// The picture that begins at a time of the swing's clock. `grain` is its SD, of 255.
    Drawn draw(double t_s, double grain, std::uint32_t seed) const;

private:
    struct Parts;
    std::unique_ptr<Parts> parts_;
};

} // namespace kite::film
