#pragma once

#include "core/measures/sequence.h"
#include "core/reading/reading.h"

#include <QPainter>

namespace kite::app {

/// The stair of one swing in the size of a letter or two: a dot a part, from the ground up, by peak
/// time; steps that the reading names in the accent, ties as a double dot's width on one spot.
void draw_order_glyph(QPainter& painter, const QRectF& box, const Sequence& sequence,
                      const Reading& reading);

} // namespace kite::app
