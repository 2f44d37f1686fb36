#include "app/theme/icons.h"

#include "app/theme/theme.h"

#include <QPainterPath>
#include <QPixmap>

namespace kite::app {

namespace {

/// All icons are drawn in a 24 × 24 box.
void draw(QPainter& painter, Icon kind, const QColor& colour) {
    QPen pen(colour, 1.8);
    pen.setCapStyle(Qt::RoundCap);
    pen.setJoinStyle(Qt::RoundJoin);
    painter.setPen(pen);
    painter.setBrush(Qt::NoBrush);
    const auto triangle = [&](double tip_x, double base_x) {
        painter.setBrush(colour);
        painter.drawPolygon(QPolygonF{{base_x, 6}, {tip_x, 12}, {base_x, 18}});
    };
    switch (kind) {
    case Icon::Play:
        triangle(19, 7);
        break;
    case Icon::Pause:
        painter.setBrush(colour);
        painter.drawRect(QRectF(7, 6, 2.5, 12));
        painter.drawRect(QRectF(14.5, 6, 2.5, 12));
        break;
    case Icon::FrameBack:
        triangle(8, 16);
        break;
    case Icon::FrameForward:
        triangle(16, 8);
        break;
    case Icon::MomentBack:
        triangle(9, 18);
        painter.drawLine(QPointF(6, 6), QPointF(6, 18));
        break;
    case Icon::MomentForward:
        triangle(15, 6);
        painter.drawLine(QPointF(18, 6), QPointF(18, 18));
        break;
    case Icon::Open:
        painter.drawPolyline(
            QPolygonF{{4, 18}, {4, 6}, {10, 6}, {12, 8.5}, {20, 8.5}, {20, 18}, {4, 18}});
        break;
    case Icon::Theme:
        painter.drawEllipse(QPointF(12, 12), 7, 7);
        painter.setBrush(colour);
        painter.drawPie(QRectF(5, 5, 14, 14), 90 * 16, 180 * 16);
        break;
    case Icon::Close:
        painter.drawLine(QPointF(7, 7), QPointF(17, 17));
        painter.drawLine(QPointF(17, 7), QPointF(7, 17));
        break;
    case Icon::WholeSwing:
        painter.drawLine(QPointF(4, 12), QPointF(20, 12));
        painter.drawPolyline(QPolygonF{{7.5, 8.5}, {4, 12}, {7.5, 15.5}});
        painter.drawPolyline(QPolygonF{{16.5, 8.5}, {20, 12}, {16.5, 15.5}});
        break;
    case Icon::Sort:
        painter.drawLine(QPointF(5, 7), QPointF(19, 7));
        painter.drawLine(QPointF(5, 12), QPointF(15, 12));
        painter.drawLine(QPointF(5, 17), QPointF(11, 17));
        break;
    }
}

} // namespace

QIcon icon(Icon kind, const QColor& colour) {
    QIcon out;
    for (int size : {20, 40}) {
        QPixmap pixmap(size, size);
        pixmap.fill(Qt::transparent);
        QPainter painter(&pixmap);
        painter.setRenderHint(QPainter::Antialiasing);
        painter.scale(size / 24.0, size / 24.0);
        draw(painter, kind, colour);
        painter.end();
        out.addPixmap(pixmap);
    }
    return out;
}

void draw_mark(QPainter& painter, const QRectF& box, const QColor& ink, const QColor& accent) {
    painter.save();
    painter.setRenderHint(QPainter::Antialiasing);
    painter.translate(box.topLeft());
    painter.scale(box.width() / 24.0, box.height() / 24.0);
    QPen pen(ink, 1.6);
    pen.setJoinStyle(Qt::RoundJoin);
    pen.setCapStyle(Qt::RoundCap);
    painter.setPen(pen);
    // Hip line and shoulder line cross on the hinge; their ends make the kite.
    painter.drawPolygon(QPolygonF{{3, 13}, {9, 3}, {21, 11}, {15, 21}});
    painter.drawLine(QPointF(3, 13), QPointF(21, 11));
    painter.drawLine(QPointF(9, 3), QPointF(15, 21));
    painter.setPen(Qt::NoPen);
    painter.setBrush(accent);
    painter.drawEllipse(QPointF(12, 12), 2.6, 2.6);
    painter.restore();
}

QIcon app_icon() {
    QIcon out;
    for (int size : {16, 32, 64, 128}) {
        QPixmap pixmap(size, size);
        pixmap.fill(Qt::transparent);
        QPainter painter(&pixmap);
        draw_mark(painter, QRectF(0, 0, size, size), colours().ink, colours().accent);
        painter.end();
        out.addPixmap(pixmap);
    }
    return out;
}

} // namespace kite::app
