#include "app/shell/commands.h"

#include <QAction>
#include <QApplication>
#include <QKeyEvent>
#include <QMenu>
#include <QMenuBar>

#include <algorithm>

namespace kite::app {

namespace {
constexpr const char* kOwner = "room";
} // namespace

Commands::Commands(QMenuBar* bar, QWidget* window) : QObject(window), bar_(bar), window_(window) {
    qApp->installEventFilter(this);
}

bool Commands::eventFilter(QObject* object, QEvent* event) {
    // With a list open Esc means the list: no command of the window may take it. The list would be
    // closed by this very event, and the key would then leave the room.
    if (event->type() == QEvent::ShortcutOverride &&
        static_cast<QKeyEvent*>(event)->key() == Qt::Key_Escape &&
        QApplication::activePopupWidget() != nullptr) {
        event->accept();
        return true;
    }
    return QObject::eventFilter(object, event);
}

void Commands::add_menu(const QString& id, const QString& title, const QString& before) {
    if (menus_.contains(id))
        return;
    auto* menu = new QMenu(title, bar_);
    QMenu* next = menus_.value(before);
    bar_->insertMenu(next == nullptr ? nullptr : next->menuAction(), menu);
    menus_[id] = menu;
}

QAction* Commands::add(const QString& menu, const Command& command) {
    auto* action = new QAction(command.words, window_);
    connect(action, &QAction::triggered, window_, command.run);
    add(menu, command.id, action, command.keys);
    return action;
}

void Commands::add(const QString& menu, const QString& id, QAction* action,
                   const QList<QKeySequence>& keys) {
    Q_ASSERT(find(id) == nullptr);
    action->setObjectName(id);
    action->setProperty(kOwner, owner_);
    action->setShortcuts(keys);
    menus_.value(menu)->addAction(action);
    // A menu's keys work wherever the focus is, also while the menu is not on screen.
    window_->addAction(action);
    actions_ << action;
}

void Commands::add_line(const QString& menu) {
    menus_.value(menu)->addSeparator();
}

QAction* Commands::find(const QString& id) const {
    const auto found = std::find_if(actions_.begin(), actions_.end(), [&](const QAction* action) {
        return action->objectName() == id;
    });
    return found == actions_.end() ? nullptr : *found;
}

bool Commands::run(const QString& id) const {
    QAction* action = find(id);
    if (action == nullptr || !action->isEnabled())
        return false;
    action->trigger();
    return true;
}

void Commands::show_room(const QString& room) {
    for (QAction* action : actions_) {
        const QString owner = action->property(kOwner).toString();
        if (owner.isEmpty())
            continue;
        action->setEnabled(owner == room);
        action->setVisible(owner == room);
    }
    for (QMenu* menu : menus_) {
        const QList<QAction*> entries = menu->actions();
        menu->menuAction()->setVisible(
            std::any_of(entries.begin(), entries.end(), [](const QAction* entry) {
                return !entry->isSeparator() && entry->isVisible();
            }));
    }
}

} // namespace kite::app
