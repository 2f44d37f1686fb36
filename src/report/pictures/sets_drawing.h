#pragma once

#include "core/base/language.h"
#include "core/sets/swing_set.h"
#include "report/drawing.h"

#include <array>

namespace kite::report {

/// What the stair shows of a set.
struct SetStair {
    std::array<Band, kSequence.size()> rates_deg_s; ///< empty with fewer than two swings
    std::array<PeakSummary, kSequence.size()> peaks;
};
SetStair stair_of_set(const std::vector<const Analysis*>& swings);

/// Two sets in one stair: every part's speed as mean ± SD, the first set in outline, the
/// second filled; the peaks of each joined, each with the scatter of its time. `letters`: size of
/// the words against the usual.
Drawing sets_drawing(const SetStair& first, const SetStair& second, double width_mm,
                     double height_mm, double letters, const Language& language);

} // namespace kite::report
