#pragma once

#include "core/motion/markers.h"
#include "formats/format.h"

namespace kite::formats {

/// From a marker file's tracks to poses, the same for every marker format: other names become ours
/// (the shipped table with the user's over it), axes are found or taken from the hints, poses
/// built. Errors say how much was read and which markers a swing still needs.
Outcome<Take> take_from_marker_file(Outcome<MarkerTake> file, const AxisHints& hints,
                                    const ReadOptions& options);

} // namespace kite::formats
