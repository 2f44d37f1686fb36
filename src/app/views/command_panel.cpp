#include "app/views/command_panel.h"

#include "app/theme/theme.h"

#include <QAction>
#include <QHBoxLayout>
#include <QKeyEvent>
#include <QLabel>
#include <QLineEdit>
#include <QListWidget>
#include <QTimer>
#include <QVBoxLayout>

#include <algorithm>
#include <utility>
#include <vector>

namespace kite::app {

namespace {

QString plain_text(const QAction* action) {
    QString text = action->text();
    return text.remove(QLatin1Char('&'));
}

QString keys_of(const QAction* action) {
    QStringList keys;
    for (const QKeySequence& key : action->shortcuts())
        keys << key.toString(QKeySequence::NativeText);
    return keys.join(QStringLiteral(", "));
}

/// How well a command fits, 0 best: begins so, holds it, has its letters in this order; -1: not.
int fit_of(const QString& text, const QString& wanted) {
    if (text.startsWith(wanted, Qt::CaseInsensitive))
        return 0;
    if (text.contains(wanted, Qt::CaseInsensitive))
        return 1;
    int at = 0;
    for (const QChar letter : wanted) {
        if (letter.isSpace())
            continue;
        at = static_cast<int>(text.indexOf(letter, at, Qt::CaseInsensitive)) + 1;
        if (at == 0)
            return -1;
    }
    return 2;
}

} // namespace

CommandPanel::CommandPanel(QList<QAction*> actions, QWidget* parent)
    : QFrame(parent), actions_(std::move(actions)) {
    setObjectName(QStringLiteral("card"));
    setAccessibleName(tr("Commands and keys"));
    auto* layout = new QVBoxLayout(this);
    line_ = new QLineEdit(this);
    line_->setObjectName(QStringLiteral("command_line"));
    line_->setPlaceholderText(tr("What do you want to do?"));
    line_->setAccessibleName(tr("Search commands"));
    list_ = new QListWidget(this);
    list_->setObjectName(QStringLiteral("command_list"));
    list_->setFocusPolicy(Qt::NoFocus);
    layout->addWidget(line_);
    layout->addWidget(list_);
    line_->installEventFilter(this);
    connect(line_, &QLineEdit::textChanged, this, &CommandPanel::fill);
    connect(list_, &QListWidget::itemClicked, this, &CommandPanel::run);
    connect(&Theme::instance(), &Theme::changed, this, &CommandPanel::restyle);
    restyle();
    hide();
}

void CommandPanel::restyle() {
    line_->setFont(Theme::instance().font(15));
    list_->setFont(Theme::instance().font(13));
}

void CommandPanel::open() {
    const Theme& theme = Theme::instance();
    const QSize room = parentWidget()->size();
    const int across = std::min(room.width() - theme.scaled(40), theme.scaled(560));
    const int high = std::min(room.height() - theme.scaled(80), theme.scaled(620));
    setGeometry((room.width() - across) / 2, theme.scaled(40), across, high);
    line_->clear();
    fill({});
    show();
    raise();
    line_->setFocus();
}

void CommandPanel::fill(const QString& wanted) {
    list_->clear();
    std::vector<std::pair<int, QAction*>> found;
    for (QAction* action : actions_)
        if (const int fit = fit_of(plain_text(action), wanted); fit >= 0)
            found.emplace_back(fit, action);
    std::stable_sort(found.begin(), found.end(),
                     [](const auto& a, const auto& b) { return a.first < b.first; });
    for (const auto& [fit, action] : found) {
        const QString text = plain_text(action);
        const QString keys = keys_of(action);
        auto* item = new QListWidgetItem(list_);
        item->setData(Qt::UserRole, QVariant::fromValue(action));
        auto* row = new QWidget(list_);
        row->setAttribute(Qt::WA_TransparentForMouseEvents);
        auto* layout = new QHBoxLayout(row);
        layout->setContentsMargins(8, 3, 12, 3);
        layout->addWidget(new QLabel(text, row), 1);
        auto* key = new QLabel(keys, row);
        key->setObjectName(QStringLiteral("soft"));
        layout->addWidget(key);
        item->setSizeHint(row->sizeHint());
        item->setData(Qt::AccessibleTextRole,
                      keys.isEmpty() ? text : text + QStringLiteral(", ") + keys);
        list_->setItemWidget(item, row);
    }
    list_->setCurrentRow(0);
}

void CommandPanel::run() {
    const QListWidgetItem* item = list_->currentItem();
    hide();
    if (item == nullptr)
        return;
    auto* action = item->data(Qt::UserRole).value<QAction*>();
    // After this panel has given the focus back.
    QTimer::singleShot(0, action, &QAction::trigger);
}

bool CommandPanel::eventFilter(QObject* watched, QEvent* event) {
    // While the sheet is open its keys are its own, not those of the commands it lists.
    if (event->type() == QEvent::ShortcutOverride) {
        event->accept();
        return true;
    }
    if (event->type() != QEvent::KeyPress)
        return QFrame::eventFilter(watched, event);
    const int key = static_cast<QKeyEvent*>(event)->key();
    const int rows = list_->count();
    if (key == Qt::Key_Down || key == Qt::Key_Up) {
        const int row = list_->currentRow() + (key == Qt::Key_Down ? 1 : -1);
        list_->setCurrentRow(std::clamp(row, 0, std::max(0, rows - 1)));
        return true;
    }
    if (key == Qt::Key_Return || key == Qt::Key_Enter) {
        run();
        return true;
    }
    if (key == Qt::Key_Escape) {
        hide();
        return true;
    }
    return QFrame::eventFilter(watched, event);
}

void CommandPanel::keyPressEvent(QKeyEvent* event) {
    if (event->key() == Qt::Key_Escape)
        hide();
    else
        QFrame::keyPressEvent(event);
}

} // namespace kite::app
