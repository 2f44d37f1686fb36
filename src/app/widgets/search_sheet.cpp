#include "app/widgets/search_sheet.h"

#include "app/theme/theme.h"

#include <QKeyEvent>
#include <QLineEdit>
#include <QListWidget>

#include <algorithm>

namespace kite::app {

SearchSheet::SearchSheet(QWidget* parent)
    : QFrame(parent), line_(new QLineEdit(this)), list_(new QListWidget(this)) {
    setObjectName(QStringLiteral("card"));
    list_->setFocusPolicy(Qt::NoFocus);
    line_->installEventFilter(this);
    connect(line_, &QLineEdit::textChanged, this, &SearchSheet::fill);
    connect(list_, &QListWidget::itemClicked, this, &SearchSheet::take);
    hide();
}

void SearchSheet::open_over_window(int across, int high) {
    const Theme& theme = Theme::instance();
    const QSize room = parentWidget()->size();
    const QSize size(std::min(room.width() - theme.scaled(40), theme.scaled(across)),
                     std::min(room.height() - theme.scaled(80), theme.scaled(high)));
    setGeometry(QRect(
        QPoint((room.width() - size.width()) / 2, (room.height() - size.height()) / 2), size));
    // One sheet at a time.
    for (SearchSheet* other :
         parentWidget()->findChildren<SearchSheet*>(QString(), Qt::FindDirectChildrenOnly))
        if (other != this)
            other->hide();
    line_->clear();
    fill({});
    show();
    raise();
    line_->setFocus();
}

bool SearchSheet::eventFilter(QObject* watched, QEvent* event) {
    if (event->type() == QEvent::ShortcutOverride) {
        event->accept();
        return true;
    }
    if (event->type() != QEvent::KeyPress)
        return QFrame::eventFilter(watched, event);
    switch (static_cast<QKeyEvent*>(event)->key()) {
    case Qt::Key_Down:
        list_->setCurrentRow(std::min(list_->currentRow() + 1, list_->count() - 1));
        return true;
    case Qt::Key_Up:
        list_->setCurrentRow(std::max(list_->currentRow() - 1, 0));
        return true;
    case Qt::Key_Return:
    case Qt::Key_Enter:
        take();
        return true;
    case Qt::Key_Escape:
        hide();
        return true;
    default:
        return QFrame::eventFilter(watched, event);
    }
}

void SearchSheet::keyPressEvent(QKeyEvent* event) {
    if (event->key() == Qt::Key_Escape)
        hide();
    else
        QFrame::keyPressEvent(event);
}

} // namespace kite::app
