#include "paper/paint.h"

#include "paper/fonts.h"

#include <algorithm>

namespace kite::paper {

using report::Anchor;
using report::Ink;
using report::Shape;

namespace {

void paint_words(QPainter& painter, const Shape& shape, const Palette& palette) {
    // Fonts come in whole pixels: painted large, and made small.
    constexpr double kLarge = 100.0;
    QFont font(QString::fromLatin1(kFamily));
    font.setPixelSize(static_cast<int>(shape.size.y_mm * kLarge));
    font.setHintingPreference(QFont::PreferNoHinting);
    without_ligatures(font);
    if (shape.bold)
        font.setWeight(QFont::DemiBold);
    const QString words = QString::fromStdString(shape.words);
    const double across = QFontMetricsF(font).horizontalAdvance(words);
    const double shift = shape.anchor == Anchor::Start    ? 0.0
                         : shape.anchor == Anchor::Middle ? 0.5 * across
                                                          : across;
    painter.save();
    painter.translate(shape.points.front().x_mm, shape.points.front().y_mm);
    painter.scale(1.0 / kLarge, 1.0 / kLarge);
    painter.setFont(font);
    painter.setPen(palette(shape.fill));
    painter.drawText(QPointF(-shift, 0.0), words);
    painter.restore();
}

void paint_shape(QPainter& painter, const Shape& shape, const Palette& palette) {
    if (shape.points.empty())
        return;
    if (shape.kind == Shape::Kind::Words) {
        paint_words(painter, shape, palette);
        return;
    }
    QColor stroke = shape.stroke == Ink::None ? QColor() : palette(shape.stroke);
    QPen pen(Qt::NoPen);
    if (shape.stroke != Ink::None) {
        if (shape.fill == Ink::None)
            stroke.setAlphaF(static_cast<float>(shape.opacity));
        pen = QPen(stroke, shape.width_mm, Qt::SolidLine, Qt::RoundCap, Qt::RoundJoin);
        if (shape.dotted)
            pen.setDashPattern({0.2, 2.0});
    }
    painter.setPen(pen);
    QColor fill = shape.fill == Ink::None ? QColor() : palette(shape.fill);
    if (shape.fill != Ink::None)
        fill.setAlphaF(static_cast<float>(shape.opacity));
    painter.setBrush(shape.fill == Ink::None ? QBrush(Qt::NoBrush) : QBrush(fill));
    QPolygonF points;
    for (const report::Spot& spot : shape.points)
        points << QPointF(spot.x_mm, spot.y_mm);
    if (shape.kind == Shape::Kind::Line)
        painter.drawPolyline(points);
    else if (shape.kind == Shape::Kind::Area)
        painter.drawPolygon(points);
    else
        painter.drawEllipse(points.front(), shape.size.x_mm, shape.size.y_mm);
}

} // namespace

void paint(QPainter& painter, const report::Drawing& drawing, const QRectF& field,
           const Palette& palette) {
    if (drawing.shapes.empty() || !(drawing.width_mm > 0.0) || !(drawing.height_mm > 0.0))
        return;
    const double scale =
        std::min(field.width() / drawing.width_mm, field.height() / drawing.height_mm);
    painter.save();
    painter.translate(field.center());
    painter.scale(scale, scale);
    painter.translate(-0.5 * drawing.width_mm, -0.5 * drawing.height_mm);
    for (const Shape& shape : drawing.shapes)
        paint_shape(painter, shape, palette);
    painter.restore();
}

} // namespace kite::paper
