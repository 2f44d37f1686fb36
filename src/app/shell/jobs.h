#pragma once

#include <QMap>
#include <QObject>
#include <QString>

namespace kite::app {

/// What goes on in the background, by whose it is: rooms report, the window shows what goes on in
/// those that are not on screen.
class Jobs : public QObject {
    Q_OBJECT
public:
    using QObject::QObject;

    /// `words` say what is done, such as "reading"; `done` of `wanted`.
    void report(const QString& owner, const QString& words, int done, int wanted);
    void end(const QString& owner);
    bool is_idle() const { return jobs_.isEmpty(); }
    /// "reading 3 of 10" of everybody but one; empty: they are idle.
    QString words_but(const QString& owner) const;

signals:
    void changed();
    void all_ended();

private:
    struct Job {
        QString words;
        int done = 0;
        int wanted = 0;
    };
    QMap<QString, Job> jobs_;
};

} // namespace kite::app
