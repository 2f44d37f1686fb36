#pragma once

#include "app/shell/jobs.h"
#include "app/shell/room.h"

#include <QMainWindow>

#include <memory>
#include <vector>

class QSettings;
class QStackedWidget;
class QUndoGroup;
class QBoxLayout;
class QVBoxLayout;

namespace kite::app {

class CommandPanel;
class Commands;
class MessageBar;
class RoomStrip;

/// The window: menu, rooms by name, messages, undo, the sheet of commands, what goes on in the
/// background, theme and sizes. Knows nothing of what a room shows.
class ShellWindow : public QMainWindow, public Shell {
    Q_OBJECT
public:
    explicit ShellWindow(QWidget* parent = nullptr);
    ~ShellWindow() override;

    /// In the order of the strip; the first one is on screen when all are in.
    void add_room(std::unique_ptr<Room> room);
    /// After the last room: the rest of the menus, and what was kept of the last time.
    void furnish();

    void enter(const QString& room_id) override;
    Room* current() const;
    Commands& commands() { return *commands_; }
    /// The room of this kind; nullptr: there is none.
    template <class Kind>
    Kind* room() const {
        for (const auto& room : rooms_)
            if (auto* found = qobject_cast<Kind*>(room.get()))
                return found;
        return nullptr;
    }
    /// Shows files or folders in the room on screen, else in the first that takes them.
    void open_paths(const QStringList& paths);

    void show_message(const QString& title, const QString& text, const QString& action = {},
                      std::function<void()> run = {}) override;
    void hide_message() override;
    void show_caution(const QString& key, const QString& words) override;
    QString ask_for_new_file(const QString& title, const QString& kinds,
                             const QString& suggested = {}) override;
    void ask_and_save(const QString& title, const QString& kinds,
                      const std::function<bool(const QString&)>& write) override;
    Jobs& jobs() override { return jobs_; }
    QWidget* widget() override { return this; }

protected:
    void dragEnterEvent(QDragEnterEvent* event) override;
    void dropEvent(QDropEvent* event) override;
    void closeEvent(QCloseEvent* event) override;

private:
    void make_first_menus();
    void make_last_menus();
    void enter(std::size_t index);
    void read_settings();
    void write_settings() const;

    Jobs jobs_;
    Commands* commands_ = nullptr;
    CommandPanel* panel_ = nullptr;
    QUndoGroup* history_ = nullptr;
    MessageBar* message_ = nullptr;
    std::function<void()> answer_;         ///< of the message's button
    QVBoxLayout* message_place_ = nullptr; ///< goes to the room on screen
    std::map<QString, QString> cautions_;
    QBoxLayout* above_ = nullptr;
    QStackedWidget* pages_ = nullptr;
    RoomStrip* strip_ = nullptr;
    std::vector<std::unique_ptr<Room>> rooms_;
    std::size_t current_ = 0;
};

} // namespace kite::app
