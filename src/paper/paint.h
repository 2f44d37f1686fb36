#pragma once

#include "report/drawing.h"

#include <QPainter>

#include <functional>

namespace kite::paper {

using Palette = std::function<QColor(report::Ink)>;

/// Paints a drawing as large as it fits into the field, in the middle of it.
void paint(QPainter& painter, const report::Drawing& drawing, const QRectF& field,
           const Palette& palette);

} // namespace kite::paper
