#include "app/rooms/bench/transport_bar.h"

#include "app/theme/icons.h"
#include "app/theme/text.h"
#include "app/theme/theme.h"

#include <QAction>
#include <QHBoxLayout>
#include <QMenu>
#include <QToolButton>

#include <cmath>

namespace kite::app {

TransportBar::TransportBar(ShownSwing* state, QWidget* parent) : QWidget(parent), state_(state) {
    auto* layout = new QHBoxLayout(this);
    layout->setContentsMargins(0, 0, 0, 0);
    layout->setSpacing(3);
    const auto add = [&](Icon kind, const QString& name, const QString& tip, const char* object,
                         auto action) {
        auto* button = new QToolButton(this);
        button->setObjectName(QString::fromLatin1(object));
        button->setAccessibleName(name);
        button->setToolTip(tip);
        icons_.emplace_back(button, static_cast<int>(kind));
        connect(button, &QToolButton::clicked, this, action);
        layout->addWidget(button);
        return button;
    };
    add(Icon::MomentBack, tr("Previous moment"), tr("Previous moment (Shift+Left)"), "moment_back",
        [this] { state_->step_moment(-1); });
    add(Icon::FrameBack, tr("Frame back"), tr("Frame back (Left)"), "frame_back",
        [this] { state_->step_frames(-1); });
    play_ = add(Icon::Play, tr("Play"), tr("Play or pause (Space)"), "play",
                [this] { state_->set_playing(!state_->is_playing()); });
    add(Icon::FrameForward, tr("Frame forward"), tr("Frame forward (Right)"), "frame_forward",
        [this] { state_->step_frames(1); });
    add(Icon::MomentForward, tr("Next moment"), tr("Next moment (Shift+Right)"), "moment_forward",
        [this] { state_->step_moment(1); });
    layout->addSpacing(5);
    int key = 1;
    for (const auto& [speed, name] :
         {std::pair(0.25, QStringLiteral("1/4")), std::pair(0.1, QStringLiteral("1/10")),
          std::pair(1.0 / 30.0, QStringLiteral("1/30"))}) {
        auto* button = new QToolButton(this);
        button->setText(name);
        button->setCheckable(true);
        button->setAccessibleName(tr("Play at %1 of real speed").arg(name));
        button->setToolTip(tr("Play at %1 of real speed (%2)").arg(name).arg(key++));
        connect(button, &QToolButton::clicked, this, [this, s = speed] { state_->set_speed(s); });
        layout->addWidget(button);
        speeds_.emplace_back(button, speed);
    }
    layout->addSpacing(5);
    whole_ = add(Icon::WholeSwing, tr("Whole swing"),
                 tr("Whole swing or transition and downswing (W)"), "whole",
                 [this] { state_->is_whole() ? state_->show_transition() : state_->show_whole(); });
    whole_->setCheckable(true);
    layout->addStretch(1);
    add_golfer(layout);
    connect(state_, &ShownSwing::swing_changed, this, &TransportBar::show_golfer);
    connect(state_, &ShownSwing::play_changed, this, &TransportBar::show_play);
    connect(state_, &ShownSwing::range_changed, this,
            [this] { whole_->setChecked(state_->is_whole()); });
    connect(&Theme::instance(), &Theme::changed, this, &TransportBar::restyle);
    restyle();
    show_play();
}

void TransportBar::add_golfer(QBoxLayout* layout) {
    golfer_ = new QToolButton(this);
    golfer_->setObjectName(QStringLiteral("choose_golfer"));
    golfer_->setToolTip(tr("Club and hand. What the file does not say can be said here."));
    golfer_->setPopupMode(QToolButton::InstantPopup);
    auto* menu = new QMenu(golfer_);
    for (ClubKind club : {ClubKind::Driver, ClubKind::Wood, ClubKind::Iron, ClubKind::Wedge}) {
        QAction* action = menu->addAction(club_name(club));
        action->setCheckable(true);
        connect(action, &QAction::triggered, this, [this, club] { emit state_->club_said(club); });
        clubs_.emplace_back(action, club);
    }
    menu->addSeparator();
    for (Handedness handed : {Handedness::Right, Handedness::Left}) {
        QAction* action = menu->addAction(handed_name(handed));
        action->setCheckable(true);
        connect(action, &QAction::triggered, this,
                [this, handed] { emit state_->hand_said(handed); });
        hands_.emplace_back(action, handed);
    }
    golfer_->setMenu(menu);
    layout->addWidget(golfer_);
}

void TransportBar::show_golfer() {
    golfer_->setEnabled(state_->has_swing());
    if (!state_->has_swing())
        return;
    const Analysis& analysis = state_->swing()->analysis;
    golfer_->setText(golfer_text(analysis));
    golfer_->setAccessibleName(tr("Club and hand: %1").arg(golfer_text(analysis)));
    for (const auto& [action, club] : clubs_)
        action->setChecked(analysis.club_said && analysis.club == club);
    for (const auto& [action, handed] : hands_)
        action->setChecked(analysis.handed_said && analysis.handed == handed);
}

void TransportBar::restyle() {
    const Theme& theme = Theme::instance();
    golfer_->setFont(theme.font(12));
    for (const auto& [button, kind] : icons_) {
        button->setIcon(icon(static_cast<Icon>(kind), colours().ink));
        button->setIconSize(QSize(theme.scaled(20), theme.scaled(20)));
    }
    show_play();
}

void TransportBar::show_play() {
    play_->setIcon(icon(state_->is_playing() ? Icon::Pause : Icon::Play, colours().ink));
    for (const auto& [button, speed] : speeds_)
        button->setChecked(std::abs(speed - state_->speed()) < 1e-9);
}

} // namespace kite::app
