#pragma once

#include <QKeySequence>
#include <QList>
#include <QMap>
#include <QObject>
#include <QString>

#include <functional>

class QAction;
class QMenu;
class QMenuBar;

namespace kite::app {

/// Something that a user can do, from a menu, by a key or from the sheet of commands.
struct Command {
    QString id;    ///< "bench.next-swing": the same in every language
    QString words; ///< with & before the letter that the menu underlines
    QList<QKeySequence> keys;
    std::function<void()> run;
};

/// All commands of the window, in menus. Those of a room can be done while it is on screen.
class Commands : public QObject {
    Q_OBJECT
public:
    /// Keys work in `window`, wherever the focus is.
    Commands(QMenuBar* bar, QWidget* window);

    /// The menu of this id; made with its title where it is not there yet, before the menu
    /// `before` (empty: last).
    void add_menu(const QString& id, const QString& title, const QString& before = {});
    /// Whose commands are added from here on; empty: the window's, which can always be done.
    void set_owner(const QString& room) { owner_ = room; }
    QAction* add(const QString& menu, const Command& command);
    /// An action that somebody else keeps up to date.
    void add(const QString& menu, const QString& id, QAction* action,
             const QList<QKeySequence>& keys);
    void add_line(const QString& menu);

    QAction* find(const QString& id) const; ///< nullptr: there is none
    bool run(const QString& id) const;      ///< false: there is none, or it cannot be done now
    QList<QAction*> all() const { return actions_; }

    void show_room(const QString& room);

private:
    bool eventFilter(QObject* object, QEvent* event) override;

    QMenuBar* bar_;
    QWidget* window_;
    QMap<QString, QMenu*> menus_;
    QList<QAction*> actions_;
    QString owner_;
};

} // namespace kite::app
