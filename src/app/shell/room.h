#pragma once

#include <QObject>
#include <QString>
#include <QStringList>

#include <functional>

class QBoxLayout;
class QSettings;
class QUndoStack;
class QWidget;

namespace kite::app {

class Commands;
class Jobs;

/// What a room may ask of the window that it stands in.
class Shell {
public:
    Shell() = default;
    virtual ~Shell() = default;
    Shell(const Shell&) = delete;
    Shell& operator=(const Shell&) = delete;

    /// A message in place, until it is closed or the next one comes. `action` is the text of a
    /// button that offers a way out and runs `run`; empty: there is none.
    virtual void show_message(const QString& title, const QString& text, const QString& action = {},
                              std::function<void()> run = {}) = 0;
    virtual void hide_message() = 0;
    /// A few words beside the rooms' names for as long as something holds that must not be
    /// forgotten, whatever room is on screen; empty: it is over. `key`: what it is about; several
    /// stand beside each other.
    virtual void show_caution(const QString& key, const QString& words) = 0;
    /// A name for a file that is to be written; one without an ending gets that of the kind.
    /// Empty: given up.
    virtual QString ask_for_new_file(const QString& title, const QString& kinds,
                                     const QString& suggested = {}) = 0;
    /// Asks for a place and writes; says so in the window if it cannot.
    virtual void ask_and_save(const QString& title, const QString& kinds,
                              const std::function<bool(const QString&)>& write) = 0;
    /// Goes to a room by its id.
    virtual void enter(const QString& room) = 0;
    virtual Jobs& jobs() = 0;
    virtual QWidget* widget() = 0; ///< the window, for what lies over the whole of it
};

/// A part of the program that takes the whole window: the Bench is one. Made with a Shell; added to
/// the window in rooms/rooms.cpp.
class Room : public QObject {
    Q_OBJECT
public:
    using QObject::QObject;

    virtual QString id() const = 0;   ///< begins the ids of its commands and settings
    virtual QString name() const = 0; ///< a word, in the strip
    virtual QWidget* view() = 0;      ///< the same at every call
    virtual void add_commands(Commands& commands) = 0;
    /// Where messages go; nullptr: above its view.
    virtual QBoxLayout* place_for_messages() { return nullptr; }
    virtual QUndoStack* history() { return nullptr; }
    /// Files or folders that were dropped or given at the start; false: they are not for it.
    virtual bool open(const QStringList& /*paths*/) { return false; }
    virtual void entered() {} ///< it has come on screen
    virtual void read_settings(const QSettings& /*settings*/) {}
    virtual void write_settings(QSettings& /*settings*/) const {}
};

} // namespace kite::app
