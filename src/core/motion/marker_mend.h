#pragma once

#include "core/base/findings.h"
#include "core/motion/markers.h"

#include <optional>
#include <vector>

namespace kite {

/// Finds what cannot be in marker tracks and mends it where there is one way to: markers that were
/// exchanged for some frames are given back, single points far off are dropped, markers of a rigid
/// cluster that do not keep their distances are dropped, and labels that are wrong throughout (left
/// and right, front and back, a club upside down) are put right. Works in any axes. What was done
/// is named in the findings; what was dropped is NaN. Gives the calm frames before the swing (see
/// stillness.h) where they were found on the way and hold for what the markers are called now.
std::optional<FrameRange> mend_markers(MarkerTake& markers, std::vector<Finding>& findings);

} // namespace kite
