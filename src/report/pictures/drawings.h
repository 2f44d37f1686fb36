#pragma once

#include "core/base/language.h"
#include "core/practice/drill.h"
#include "core/reading/reading.h"
#include "report/drawing.h"
#include "report/pictures/body_figure.h"
#include "report/pictures/kite_geometry.h"

namespace kite::report {

/// Every part's speed through the downswing, one above the other, the fastest moments joined as a
/// stair; without parts it says so.
Drawing stair_drawing(const Analysis& analysis, const Reading& reading, double width_mm,
                      double height_mm, const Language& language);

/// Hips and shoulders from above at a moment, with the separation. `when` stands above it.
Drawing kite_drawing(const MeasuredSwing& swing, double t_s, const std::string& when,
                     double width_mm, double height_mm, const Language& language);

/// The drawing of a drill: its poses side by side, with what stands around. The target, or the
/// ball, is to the right.
Drawing drill_drawing(const DrillFigure& figure, double width_mm, double height_mm);

} // namespace kite::report
