#pragma once

#include "core/live/feedback.h"

#include <QObject>
#include <QString>

#include <map>

class QSoundEffect;

namespace kite::app {

/// What is heard while moving: a tone or a word a cue.
class BaySounds : public QObject {
    Q_OBJECT
public:
    enum class Voice { Tone, Word };

    using QObject::QObject;

    /// Before the first sound, so that none waits to be loaded. Asks the machine for its devices,
    /// which takes a while: not before somebody wants to hear something.
    void prepare();

    /// Something can be heard on this machine.
    bool can_sound() const;
    void play(live::Cue cue, Voice voice);

private:
    QSoundEffect* effect(const QString& name);

    std::map<QString, QSoundEffect*> effects_;
};

} // namespace kite::app
