#pragma once

#include "core/base/range.h"
#include "core/motion/markers.h"

#include <cstddef>

/// When the golfer stood still and when something was fastest, from the markers as they came:
/// before there are poses.
namespace kite {

/// The calmest 0.1 s before the swing: within three seconds before the fastest moment of club or
/// hands, and not in its last half second. The whole take where nothing is fast.
FrameRange find_calm_before_swing(const MarkerTake& markers);

/// Do the hands rest in these frames?
bool is_calm(const MarkerTake& markers, FrameRange frames);

/// The frame in which club head or hands are fastest; `frames` where nothing moves.
std::size_t find_fastest_frame(const MarkerTake& markers);

} // namespace kite
