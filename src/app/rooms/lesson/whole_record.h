#pragma once

#include <QObject>
#include <QString>

namespace kite::app {

class Commands;
class Desk;
class Shell;

/// What is done with the record as a whole: out, in, a copy, the bin emptied; and what the window
/// says while it goes on.
class WholeRecord : public QObject {
    Q_OBJECT
public:
    WholeRecord(Shell& shell, Desk& desk, QObject* parent = nullptr);

    void add_commands(Commands& commands);
    void look_into_bin();
    /// Id of the golfer that is exported; empty: nobody is chosen.
    void set_golfer(const QString& id) { golfer_ = id; }

signals:
    /// What was in the bin is about to be gone.
    void emptied();

private:
    void ask_and_empty();
    void open_backup();

    Shell& shell_;
    Desk& desk_;
    QString golfer_;
};

} // namespace kite::app
