#pragma once

#include <QStyledItemDelegate>

namespace kite::app {

/// A row of the swing list: number, order glyph, golfer, club and note.
class SwingDelegate : public QStyledItemDelegate {
    Q_OBJECT
public:
    using QStyledItemDelegate::QStyledItemDelegate;
    void paint(QPainter* painter, const QStyleOptionViewItem& option,
               const QModelIndex& index) const override;
    QSize sizeHint(const QStyleOptionViewItem& option, const QModelIndex& index) const override;
};

} // namespace kite::app
