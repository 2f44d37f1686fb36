#pragma once

#include "core/film/solve.h"
#include "core/motion/take.h"

namespace kite::film {

/// What was marked in film as a take: directions of belt and shoulders, lead arm and club, of the
/// pictures in which they can be told. Left-handers are mirrored. How pelvis and torso bend forward
/// is not marked: the torso's bend follows the line from belt to shoulders where that is seen from
/// two sides, else and for the pelvis what is usual stands in, with its uncertainty. `Take::also`
/// holds the takes that other cameras, lengths, clocks and bends would have made.
///
/// Findings say what cannot be told from this film, and what would help.
Outcome<Take> take_from_marks(Marks marks);

} // namespace kite::film
