#pragma once

#include "core/motion/markers.h"
#include "core/motion/take.h"
#include "simulate/swing_model.h"

namespace kite::simulate {

/// The swing as a pose source gives it: sampled at the rate, as a right-handed swing. Without noise
/// the poses are exact; with noise they are rebuilt from noisy markers, as in a real capture.
Take make_take(const SwingParameters& parameters);

/// The swing as a marker system gives it: in the lab frame as measured, so a left-hander's markers
/// are mirrored and carry the names of the other side.
MarkerTake make_markers(const SwingParameters& parameters);

} // namespace kite::simulate
