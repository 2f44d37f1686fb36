#include "app/rooms/bench/swing_delegate.h"

#include "app/charts/order_glyph.h"
#include "app/session/swing_list_model.h"
#include "app/theme/text.h"
#include "app/theme/theme.h"

#include <QPainter>

namespace kite::app {

QSize SwingDelegate::sizeHint(const QStyleOptionViewItem& /*option*/,
                              const QModelIndex& /*index*/) const {
    return {Theme::instance().scaled(200), Theme::instance().scaled(54)};
}

namespace {

/// What tells the chosen row and that under the pointer.
void draw_ground(QPainter& painter, const QRectF& row, QStyle::State state) {
    const Colours& c = colours();
    const bool chosen = state.testFlag(QStyle::State_Selected);
    if (chosen || state.testFlag(QStyle::State_MouseOver)) {
        QColor back = c.raised;
        if (!chosen)
            back.setAlphaF(0.5F);
        painter.fillRect(row, back);
    }
    if (chosen)
        painter.fillRect(QRectF(row.left(), row.top(), 3.0, row.height()), c.ink);
    if (chosen && state.testFlag(QStyle::State_HasFocus)) {
        painter.setPen(QPen(c.accent, 2));
        painter.drawRect(row.adjusted(1, 1, -1, -1));
    }
}

/// A tick in a ring: a shape, not a colour. Its left edge.
double draw_good(QPainter& painter, const QPointF& lower_right) {
    const double size = Theme::instance().scaled(14);
    const QRectF ring(lower_right - QPointF(size, size), QSizeF(size, size));
    painter.setPen(QPen(colours().ink, 1.3));
    painter.drawEllipse(ring);
    painter.drawPolyline(QPolygonF{ring.topLeft() + QPointF(0.27, 0.52) * size,
                                   ring.topLeft() + QPointF(0.44, 0.70) * size,
                                   ring.topLeft() + QPointF(0.74, 0.32) * size});
    return ring.left();
}

} // namespace

void SwingDelegate::paint(QPainter* painter, const QStyleOptionViewItem& option,
                          const QModelIndex& index) const {
    const Theme& theme = Theme::instance();
    const Colours& c = colours();
    const auto swing =
        index.data(SwingListModel::SwingRole).value<std::shared_ptr<const LoadedSwing>>();
    const bool excluded = index.data(SwingListModel::ExcludedRole).toBool();
    painter->save();
    painter->setRenderHint(QPainter::Antialiasing);
    const QRectF row = option.rect;
    draw_ground(*painter, row, option.state);

    const double number_width = theme.scaled(26);
    const double glyph = theme.scaled(34);
    painter->setFont(theme.font(12));
    painter->setPen(c.soft);
    painter->drawText(
        QRectF(row.left() + theme.scaled(8), row.top(), number_width - 4.0, row.height()),
        Qt::AlignRight | Qt::AlignVCenter,
        QString::number(index.data(SwingListModel::NumberRole).toInt()));
    const QRectF glyph_box(row.left() + theme.scaled(8) + number_width + 4.0,
                           row.center().y() - glyph / 2.0, glyph, glyph);
    const auto state =
        static_cast<SwingListModel::State>(index.data(SwingListModel::StateRole).toInt());
    if (state == SwingListModel::State::Ready) {
        draw_order_glyph(*painter, glyph_box, swing->analysis.sequence, swing->reading);
    } else {
        painter->setFont(theme.font(18, Theme::Weight::Bold));
        painter->setPen(state == SwingListModel::State::Failed ? c.accent : c.soft);
        painter->drawText(glyph_box, Qt::AlignCenter,
                          state == SwingListModel::State::Failed ? QStringLiteral("!")
                                                                 : QStringLiteral("…"));
    }

    const double x = glyph_box.right() + theme.scaled(10);
    const QRectF text(x, row.top() + theme.scaled(8), row.right() - x - theme.scaled(8),
                      row.height() - theme.scaled(16));
    const QFont bold = theme.font(14, Theme::Weight::Semibold);
    painter->setFont(bold);
    painter->setPen(excluded ? c.soft : c.ink);
    const QString golfer = index.data(SwingListModel::GolferRole).toString();
    QString second = index.data(SwingListModel::NoteRole).toString();
    if (state == SwingListModel::State::Failed)
        second = SwingListModel::tr("could not be read");
    else if (state == SwingListModel::State::Loading)
        second = SwingListModel::tr("loading");
    else if (second.isEmpty())
        second = swing->analysis.handed_said ? handed_name(swing->analysis.handed) : QString();
    painter->drawText(text, Qt::AlignLeft | Qt::AlignTop,
                      QFontMetricsF(bold).elidedText(golfer, Qt::ElideMiddle, text.width()));
    if (state == SwingListModel::State::Ready) {
        painter->setFont(theme.font(12));
        painter->setPen(c.soft);
        if (QFontMetricsF(bold).horizontalAdvance(golfer) + theme.scaled(60) < text.width())
            painter->drawText(text, Qt::AlignRight | Qt::AlignTop,
                              swing->analysis.club_said ? club_name(swing->analysis.club)
                                                        : QString());
    }
    painter->setFont(theme.font(12));
    painter->setPen(c.soft);
    if (excluded)
        second = second.isEmpty() ? SwingListModel::tr("left out")
                                  : SwingListModel::tr("left out · %1").arg(second);
    QRectF below = text;
    if (index.data(SwingListModel::GoodRole).toBool()) {
        below.setRight(draw_good(*painter, text.bottomRight()) - 4.0);
        painter->setPen(c.soft);
    }
    painter->drawText(
        below, Qt::AlignLeft | Qt::AlignBottom,
        QFontMetricsF(painter->font()).elidedText(second, Qt::ElideRight, below.width()));
    painter->restore();
}

} // namespace kite::app
