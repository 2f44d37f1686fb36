#pragma once

#include "core/base/findings.h"
#include "core/base/range.h"
#include "core/motion/markers.h"

#include <vector>

namespace kite {

/// Finds what cannot be in marker tracks and mends it where there is one way to: markers that were
/// exchanged for some frames are given back, single points far off are dropped, markers of a rigid
/// cluster that do not keep their distances are dropped, and labels that are wrong throughout (left
/// and right, front and back, a club upside down) are put right. Works in any axes. What was done
/// is named in the findings; what was dropped is NaN.
void mend_markers(MarkerTake& markers, std::vector<Finding>& findings);

/// The calmest 0.1 s before the swing: within three seconds before the fastest moment of club or
/// hands, and not in its last half second. The whole take where nothing is fast.
FrameRange find_calm_before_swing(const MarkerTake& markers);

/// Do the hands rest in these frames?
bool is_calm(const MarkerTake& markers, FrameRange frames);

/// The frame in which club head or hands are fastest; `frames` where nothing moves.
std::size_t find_fastest_frame(const MarkerTake& markers);

} // namespace kite
