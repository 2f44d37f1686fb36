#pragma once

#include "simulate/swing_model.h"

#include <random>

namespace kite::simulate {

/// A skilled player's full swing with this club: driver and wood faster, wedge slower.
SwingParameters typical_swing(ClubKind club);

/// Swing-to-swing scatter as a golfer has it: times by some milliseconds, speeds by a few per cent,
/// angles by a degree or two, times `amount`.
void scatter(SwingParameters& parameters, std::mt19937& random, double amount);

} // namespace kite::simulate
