#pragma once

#include "core/film/marks.h"
#include "film/picture.h"

#include <optional>
#include <vector>

namespace kite::film {

/// A point to be followed into the next picture, and where it is expected there.
struct Followed {
    Pixel from = Pixel::Zero();
    Pixel expected = Pixel::Zero();
    /// Where somebody marked it, and in which picture; null: nobody did.
    Pixel marked = Pixel::Zero();
    const GreyPicture* marked_in = nullptr;
    /// Which of the points is the other end of its stick: what it looks like turns with that.
    std::optional<std::size_t> partner = std::nullopt;
};

/// Where each point is in the next picture (pyramidal Lucas–Kanade, Bouguet 2000), to a part of a
/// pixel. Empty where following it back does not come home to within half a pixel or the spot looks
/// different: somebody must look. Small errors of many pictures add up; so the spot is then set by
/// what it looked like where it was marked, as far as that is found within a few pixels (Matthews,
/// Ishikawa and Baker 2004), and must look like it. All pictures are of one size.
std::vector<std::optional<Pixel>> follow(const GreyPicture& from, const GreyPicture& to,
                                         const std::vector<Followed>& points);

/// What was marked, looked for anew about a place, as after something has passed before it;
/// `turned_rad` is by how much it has turned in the picture since, clockwise on screen. Empty:
/// nothing there looks like it.
std::optional<Pixel> find_again(const GreyPicture& picture, const Followed& point,
                                const Pixel& about, double turned_rad, double reach_px);

} // namespace kite::film
