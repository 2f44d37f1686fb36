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

    explicit BaySounds(QObject* parent = nullptr);

    /// Something can be heard on this machine.
    bool can_sound() const;
    void play(live::Cue cue, Voice voice);

private:
    QSoundEffect* effect(const QString& name);

    std::map<QString, QSoundEffect*> effects_; ///< loaded beforehand, so that nothing waits
};

} // namespace kite::app
