#pragma once

#include "film/film.h"

#include <array>
#include <functional>
#include <optional>

namespace kite::film {

using Points = std::array<std::optional<Pixel>, kPoints>;

/// What is found of the points in one picture.
struct FollowedPoints {
    Points at;
    std::array<bool, kPoints> outside{}; ///< it has left the picture, as far as its way tells
};

/// Follows all points that were marked in one picture through a film, picture by picture, forwards
/// or backwards. Ends of sticks and of the shaft are followed as pairs; a club head that is lost is
/// looked for at the end of the shaft's line. What something passes before is looked for behind it
/// for a while, where its way and its partner say; so is a club head that has swung out of the
/// picture. Meanwhile it is not found. `found` is called after every picture with what is found
/// there and may end it by false; so does the last point's loss. `steps` is how far points moved
/// from one picture to the next before, where that is known. Returns the last picture that was
/// reached.
std::size_t follow_through(Film& film, std::size_t from, std::size_t to, const Points& marked,
                           const Points& steps,
                           const std::function<bool(std::size_t, const FollowedPoints&)>& found);

} // namespace kite::film
