#pragma once

#include "core/film/marks.h"
#include "film/picture.h"

#include <optional>

namespace kite::film {

/// The bright straight line (a stick, a shaft) that lies nearest to where one is expected, from the
/// end nearer to `expected.from` to the other. Empty: none is within `reach_px` of it in place and
/// within 15° in direction, or it is shorter than half of what is expected.
std::optional<Line> find_line(const GreyPicture& picture, const Line& expected, double reach_px);

} // namespace kite::film
