#pragma once

#include "core/film/marks.h"

namespace kite::film {

/// Whether the film shows a right-hander: seen from the front the club goes to the right through
/// the ball, from behind it stands at the right of the hips, from above it goes to the right below
/// them. Empty: nothing tells.
std::optional<Handedness> hand_in_film(const Marks& marks);

/// From above the ball is below the golfer in the picture. Where hands and club are above the hips
/// the picture stands on its head.
void set_above_upright(Marks& marks);

} // namespace kite::film
