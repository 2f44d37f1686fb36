#pragma once

#include "core/base/findings.h"
#include "core/motion/markers.h"
#include "core/motion/take.h"

namespace kite {

/// Poses from markers as a file has them: unit, wrong and exchanged markers, axes, target line and
/// hand are checked and mended first (core/motion), then as below.
Outcome<Take> take_from_file_markers(MarkerTake markers, const AxisHints& hints);

/// Poses from markers in the lab frame: address is found from arm and club alone, then pelvis and
/// torso are built from their markers there.
Outcome<Take> take_from_markers(MarkerTake markers);

} // namespace kite
