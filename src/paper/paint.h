#pragma once

#include "report/drawing.h"

#include <QFont>
#include <QPainter>

#include <functional>

namespace kite::paper {

using Palette = std::function<QColor(report::Ink)>;

/// Paints a drawing as large as it fits into the field, in the middle of it.
void paint(QPainter& painter, const report::Drawing& drawing, const QRectF& field,
           const Palette& palette);

/// What is copied out of the PDF must be the letters that were written: joined ones are lost. Qt
/// joins none where letters are set apart, be it by a hair.
inline void without_ligatures(QFont& font) {
    font.setLetterSpacing(QFont::AbsoluteSpacing, 0.02);
}

} // namespace kite::paper
