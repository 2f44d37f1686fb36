#include "app/rooms/bay/bay_sounds.h"

#include <QAudioDevice>
#include <QMediaDevices>
#include <QSoundEffect>
#include <QUrl>

namespace kite::app {

void BaySounds::prepare() {
    if (!effects_.empty() || !can_sound())
        return;
    for (const char* name : {"early", "good", "hold", "tone-high", "tone-low"})
        effect(QString::fromLatin1(name));
}

bool BaySounds::can_sound() const {
    return !QMediaDevices::defaultAudioOutput().isNull();
}

QSoundEffect* BaySounds::effect(const QString& name) {
    QSoundEffect*& kept = effects_[name];
    if (kept == nullptr) {
        kept = new QSoundEffect(this);
        kept->setSource(QUrl(QStringLiteral("qrc:/sounds/%1.wav").arg(name)));
    }
    return kept;
}

void BaySounds::play(live::Cue cue, Voice voice) {
    if (!can_sound())
        return;
    const bool good = cue == live::Cue::Good || cue == live::Cue::Inside;
    if (voice == Voice::Tone) {
        effect(good ? QStringLiteral("tone-high") : QStringLiteral("tone-low"))->play();
        return;
    }
    switch (cue) {
    case live::Cue::Good:
        effect(QStringLiteral("good"))->play();
        break;
    case live::Cue::Early:
        effect(QStringLiteral("early"))->play();
        break;
    case live::Cue::Inside:
        effect(QStringLiteral("hold"))->play();
        break;
    case live::Cue::Outside:
        effect(QStringLiteral("tone-low"))->play(); // no word fits as quickly
        break;
    }
}

} // namespace kite::app
