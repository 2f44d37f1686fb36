#pragma once

#include "app/session/swing_loader.h"
#include "app/session/swing_marks.h"

namespace kite::app {

/// A row of the list for who hears it: what the eye takes from the glyph, in words. No swing: it is
/// being read.
QString spoken_row(int number, const QString& golfer, const LoadedSwing* swing,
                   const SwingMarks& marks);

} // namespace kite::app
