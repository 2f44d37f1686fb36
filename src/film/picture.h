#pragma once

#include <cstddef>
#include <cstdint>
#include <memory>
#include <vector>

namespace kite::film {

/// A picture as it is shown: upright, square pixels, rows from the top, four bytes a pixel (blue,
/// green, red, 255).
struct Picture {
    int width_px = 0;
    int height_px = 0;
    std::vector<std::uint8_t> bgra;
};
using SharedPicture = std::shared_ptr<const Picture>;

/// Its brightness, a byte a pixel.
struct GreyPicture {
    int width_px = 0;
    int height_px = 0;
    std::vector<std::uint8_t> grey;

    bool empty() const { return grey.empty(); }
};
/// `times` smaller, whole pixels together.
GreyPicture grey_of(const Picture& picture, int times = 1);

} // namespace kite::film
