#pragma once

#include <QObject>
#include <QString>

namespace kite::app {

class Desk;
class Shell;

/// Says in the window where what arrives goes, and what is not in the record: nothing is kept, or
/// not kept, in silence.
class Arrivals : public QObject {
    Q_OBJECT
public:
    Arrivals(Shell& shell, Desk& desk, QObject* parent = nullptr);

    /// Swings that were opened while nobody was chosen are offered to the lesson that begins.
    void offer_nobodys();

signals:
    /// A lesson was begun by what arrived: one step that can be taken back.
    void lesson_begun(const QString& lesson);

private:
    void say_unkept();
    void say_other_lesson(const QString& lesson, bool began_it);

    Shell& shell_;
    Desk& desk_;
    QString said_lesson_; ///< that swings went into, said already
    bool said_unkept_ = false;
};

} // namespace kite::app
