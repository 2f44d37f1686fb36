#include "app/shell/room_strip.h"

#include "app/theme/theme.h"

#include <QButtonGroup>
#include <QHBoxLayout>
#include <QLabel>
#include <QPushButton>

namespace kite::app {

RoomStrip::RoomStrip(QWidget* parent) : QWidget(parent) {
    setObjectName(QStringLiteral("room_strip"));
    row_ = new QHBoxLayout(this);
    row_->setContentsMargins(0, 0, Theme::instance().scaled(12), 0);
    row_->setSpacing(0);
    caution_ = new QLabel(this);
    caution_->setObjectName(QStringLiteral("caution"));
    row_->addWidget(caution_);
    row_->addSpacing(Theme::instance().scaled(10));
    jobs_ = new QLabel(this);
    jobs_->setObjectName(QStringLiteral("jobs_elsewhere"));
    row_->addWidget(jobs_);
    words_ = new QButtonGroup(this);
    connect(words_, &QButtonGroup::idClicked, this, &RoomStrip::asked_for);
    connect(&Theme::instance(), &Theme::changed, this, &RoomStrip::restyle);
    restyle();
}

void RoomStrip::add_room(const QString& name) {
    auto* word = new QPushButton(name, this);
    word->setCheckable(true);
    word->setFlat(true);
    word->setAccessibleName(tr("Room: %1").arg(name));
    word->setToolTip(tr("Go to the room %1").arg(name));
    words_->addButton(word, static_cast<int>(words_->buttons().size()));
    row_->addWidget(word);
    restyle();
}

void RoomStrip::show_current(int index) {
    words_->button(index)->setChecked(true);
    // Tab comes to the room on screen, arrows to the others.
    for (QAbstractButton* word : words_->buttons())
        word->setFocusPolicy(word->isChecked() ? Qt::StrongFocus : Qt::ClickFocus);
}

void RoomStrip::show_jobs(const QString& words) {
    jobs_->setText(words);
}

void RoomStrip::show_caution(const QString& words) {
    caution_->setText(words);
    caution_->setAccessibleName(words);
}

void RoomStrip::restyle() {
    const Theme& theme = Theme::instance();
    jobs_->setFont(theme.font(12));
    caution_->setFont(theme.font(12, Theme::Weight::Bold));
    for (QAbstractButton* word : words_->buttons())
        word->setFont(theme.font(13, Theme::Weight::Bold));
    // Words only: which one is on screen is told by ink, not by a shape.
    setStyleSheet(
        QStringLiteral("QPushButton { border: none; border-bottom: 2px solid transparent; "
                       "background: transparent; color: %1; padding: 2px 8px; }"
                       "QPushButton:checked { color: %2; }"
                       "QPushButton:hover { color: %2; }"
                       "QPushButton:focus { border-bottom-color: %3; }"
                       "QLabel { color: %1; } QLabel#caution { color: %3; }")
            .arg(colours().soft.name(), colours().ink.name(), colours().accent.name()));
}

} // namespace kite::app
