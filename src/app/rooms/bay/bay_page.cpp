#include "app/rooms/bay/bay_room.h"
#include "app/rooms/bay/device_panel.h"
#include "app/shell/commands.h"
#include "app/theme/text.h"
#include "app/theme/theme.h"
#include "app/widgets/wrapped.h"

#include <QAction>
#include <QCheckBox>
#include <QComboBox>
#include <QDoubleSpinBox>
#include <QHBoxLayout>
#include <QLineEdit>
#include <QPushButton>
#include <QScrollArea>
#include <QSettings>
#include <QSpinBox>
#include <QVBoxLayout>

// What the room is made of, its commands and what is kept of it.

namespace kite::app {

void BayRoom::make_page() {
    page_ = new QWidget;
    auto* row = new QHBoxLayout(page_);
    row->setContentsMargins(0, 0, 0, 0);
    row->setSpacing(0);
    across_ = new AcrossView(page_);
    row->addWidget(across_, 1);
    side_ = make_side();
    row->addWidget(side_);
}

QWidget* BayRoom::make_side() {
    const Theme& theme = Theme::instance();
    auto* scroll = new QScrollArea(page_);
    scroll->setFrameShape(QFrame::NoFrame);
    scroll->setWidgetResizable(true);
    scroll->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    scroll->setFixedWidth(theme.scaled(320));
    auto* inner = new QWidget(scroll);
    auto* column = new QVBoxLayout(inner);
    column->setContentsMargins(theme.scaled(14), theme.scaled(12), theme.scaled(14),
                               theme.scaled(12));
    column->setSpacing(theme.scaled(8));
    const auto heading = [&](const QString& words) {
        column->addSpacing(theme.scaled(6));
        column->addWidget(make_label(words, theme.font(14, Theme::Weight::Semibold), "", inner));
    };
    make_place(column, inner);
    heading(tr("Who sends"));
    make_devices(column, inner);
    heading(tr("Golfer and club"));
    make_golfer(column, inner);
    heading(tr("Drill"));
    make_drill(column, inner);
    column->addStretch(1);
    scroll->setWidget(inner);
    return scroll;
}

void BayRoom::make_place(QVBoxLayout* column, QWidget* inner) {
    const Theme& theme = Theme::instance();
    where_ = make_label({}, theme.font(14, Theme::Weight::Semibold), "", inner);
    column->addWidget(where_);
    open_warning_ = new WrappedText(
        tr("Anybody on this network can send: the address is not this computer's alone."),
        theme.font(13), inner);
    open_warning_->setObjectName(QStringLiteral("bay_open_warning"));
    open_warning_->setProperty("tone", "accent");
    column->addWidget(open_warning_);
    auto* place = new QHBoxLayout;
    address_ = new QLineEdit(inner);
    address_->setObjectName(QStringLiteral("bay_address"));
    address_->setAccessibleName(tr("Address to listen on"));
    address_->setToolTip(tr("127.0.0.1: this computer alone. 0.0.0.0: anybody on the network."));
    port_ = new QSpinBox(inner);
    port_->setObjectName(QStringLiteral("bay_port"));
    port_->setAccessibleName(tr("Port to listen on"));
    port_->setRange(0, 65535);
    port_->setButtonSymbols(QAbstractSpinBox::NoButtons);
    place->addWidget(address_, 1);
    place->addWidget(port_);
    column->addLayout(place);
    auto* buttons = new QHBoxLayout;
    listen_ = new QPushButton(inner);
    listen_->setObjectName(QStringLiteral("bay_listen"));
    connect(listen_, &QPushButton::clicked, this, [this] {
        if (ear_.is_listening())
            stop();
        else
            listen();
    });
    stand_in_button_ = new QPushButton(inner);
    stand_in_button_->setObjectName(QStringLiteral("bay_stand_in"));
    connect(stand_in_button_, &QPushButton::clicked, this, [this] {
        if (stand_in_.is_sending())
            stand_in_.stop();
        else
            start_stand_in({});
        show_state();
    });
    buttons->addWidget(listen_);
    buttons->addWidget(stand_in_button_, 1);
    column->addLayout(buttons);
}

void BayRoom::make_devices(QVBoxLayout* column, QWidget* inner) {
    devices_ = new DevicePanel(inner);
    column->addWidget(devices_);
    mount_ = new QPushButton(tr("Mount the sensors…"), inner);
    mount_->setObjectName(QStringLiteral("bay_mount"));
    connect(mount_, &QPushButton::clicked, this, [this] {
        const bool left = hand_->currentData().toInt() == static_cast<int>(Handedness::Left);
        ear_.begin_mounting(left ? Handedness::Left : Handedness::Right);
    });
    column->addWidget(mount_);
}

void BayRoom::make_golfer(QVBoxLayout* column, QWidget* inner) {
    auto* golfer = new QHBoxLayout;
    hand_ = new QComboBox(inner);
    hand_->setObjectName(QStringLiteral("bay_hand"));
    hand_->setAccessibleName(tr("Hand"));
    hand_->addItem(tr("as it turns"), -1);
    for (Handedness hand : {Handedness::Right, Handedness::Left})
        hand_->addItem(handed_name(hand), static_cast<int>(hand));
    club_ = new QComboBox(inner);
    club_->setObjectName(QStringLiteral("bay_club"));
    club_->setAccessibleName(tr("Club"));
    club_->addItem(tr("not said"), -1);
    for (ClubKind club : {ClubKind::Driver, ClubKind::Wood, ClubKind::Iron, ClubKind::Wedge})
        club_->addItem(club_name(club), static_cast<int>(club));
    golfer->addWidget(hand_);
    golfer->addWidget(club_);
    column->addLayout(golfer);
    for (QComboBox* box : {hand_, club_})
        connect(box, qOverload<int>(&QComboBox::currentIndexChanged), this, &BayRoom::tell_ear);
}

void BayRoom::make_drill(QVBoxLayout* column, QWidget* inner) {
    const Theme& theme = Theme::instance();
    drill_box_ = new QCheckBox(inner);
    drill_box_->setObjectName(QStringLiteral("bay_drill"));
    connect(drill_box_, &QCheckBox::toggled, this, &BayRoom::set_drill);
    column->addWidget(drill_box_);
    make_feedback(column, inner);
    sound_words_ = new WrappedText(
        tr("This machine has no sound; what would be heard stands at the top of the screen."),
        theme.font(13), inner);
    sound_words_->setObjectName(QStringLiteral("bay_no_sound"));
    sound_words_->setProperty("tone", "soft");
    column->addWidget(sound_words_);
    auto* caution = new WrappedText(
        tr("Slow first. Stop where it hurts; pain is for a doctor, a new movement for a qualified "
           "coach."),
        theme.font(13), inner);
    caution->setProperty("tone", "soft");
    column->addWidget(caution);
}

void BayRoom::make_feedback(QVBoxLayout* column, QWidget* inner) {
    feedback_ = new QComboBox(inner);
    feedback_->setObjectName(QStringLiteral("bay_feedback"));
    feedback_->setAccessibleName(tr("What is heard while moving"));
    feedback_->addItem(tr("Nothing is heard while moving"), -1);
    feedback_->addItem(tr("Pelvis past square before the arms start down"),
                       static_cast<int>(live::Wanted::PelvisFirst));
    feedback_->addItem(tr("Pelvis held open"), static_cast<int>(live::Wanted::HoldOpen));
    feedback_->setSizeAdjustPolicy(QComboBox::AdjustToMinimumContentsLengthWithIcon);
    column->addWidget(feedback_);
    auto* band = new QHBoxLayout;
    from_ = new QDoubleSpinBox(inner);
    from_->setObjectName(QStringLiteral("bay_from"));
    from_->setAccessibleName(tr("Open from, degrees"));
    to_ = new QDoubleSpinBox(inner);
    to_->setObjectName(QStringLiteral("bay_to"));
    to_->setAccessibleName(tr("Open to, degrees"));
    for (QDoubleSpinBox* box : {from_, to_}) {
        box->setRange(-90.0, 120.0);
        box->setDecimals(0);
        box->setSuffix(tr("°"));
        box->setButtonSymbols(QAbstractSpinBox::NoButtons);
        band->addWidget(box);
    }
    from_->setValue(40.0);
    to_->setValue(50.0);
    voice_ = new QComboBox(inner);
    voice_->setObjectName(QStringLiteral("bay_voice"));
    voice_->setAccessibleName(tr("How it is told"));
    voice_->addItem(tr("by tones"), static_cast<int>(BaySounds::Voice::Tone));
    voice_->addItem(tr("by words"), static_cast<int>(BaySounds::Voice::Word));
    band->addWidget(voice_);
    column->addLayout(band);
    connect(feedback_, qOverload<int>(&QComboBox::currentIndexChanged), this,
            &BayRoom::set_feedback);
    for (QDoubleSpinBox* box : {from_, to_})
        connect(box, qOverload<double>(&QDoubleSpinBox::valueChanged), this,
                &BayRoom::set_feedback);
}

void BayRoom::add_commands(Commands& commands) {
    const auto add = [&](const char* menu, const char* name, const QString& words,
                         const QList<QKeySequence>& keys, std::function<void()> run) {
        return commands.add(
            QString::fromLatin1(menu),
            {QStringLiteral("bay.") + QLatin1String(name), words, keys, std::move(run)});
    };
    add("file", "record", tr("&Record all that arrives, or stop…"), {},
        [this] { record_session(); });
    add("file", "replay", tr("Play a recording again…"), {QKeySequence::Open},
        [this] { replay_session(); });
    commands.add_menu(QStringLiteral("bay"), tr("Ba&y"), QStringLiteral("view"));
    add("bay", "listen", tr("&Listen, or stop"), {QKeySequence(Qt::Key_L)},
        [this] { listen_->click(); });
    add("bay", "stand-in", tr("Start or stop the &stand-in"), {QKeySequence(Qt::Key_S)},
        [this] { stand_in_button_->click(); });
    add("bay", "mount", tr("&Mount the sensors"), {QKeySequence(Qt::Key_M)},
        [this] { mount_->click(); });
    add("bay", "forget-mounting", tr("Sensors sit &straight on their parts"), {},
        [this] { ear_.forget_mounting(); });
    add("bay", "keep", tr("&Keep the last movement as a swing"), {QKeySequence(Qt::Key_K)},
        [this] { ear_.keep_by_hand(); });
    add("bay", "drill", tr("&Drill, or full swings"), {QKeySequence(Qt::Key_D)},
        [this] { drill_box_->click(); });
    add("bay", "across", tr("For a screen a&cross the room, or back"), {QKeySequence(Qt::Key_F)},
        [this] { open_across(); });
}

void BayRoom::entered() {
    show_state();
}

void BayRoom::read_settings(const QSettings& settings) {
    set_place({settings.value(QStringLiteral("bay/address"), place_.address).toString(),
               settings.value(QStringLiteral("bay/port"), place_.port).toInt()});
    voice_->setCurrentIndex(settings.value(QStringLiteral("bay/voice"), 0).toInt());
    from_->setValue(settings.value(QStringLiteral("bay/from"), from_->value()).toDouble());
    to_->setValue(settings.value(QStringLiteral("bay/to"), to_->value()).toDouble());
}

void BayRoom::write_settings(QSettings& settings) const {
    settings.setValue(QStringLiteral("bay/address"), address_->text());
    settings.setValue(QStringLiteral("bay/port"), port_->value());
    settings.setValue(QStringLiteral("bay/voice"), voice_->currentIndex());
    settings.setValue(QStringLiteral("bay/from"), from_->value());
    settings.setValue(QStringLiteral("bay/to"), to_->value());
}

void BayRoom::set_place(const BayPlace& place) {
    place_ = place;
    address_->setText(place.address);
    port_->setValue(place.port);
}

void BayRoom::restyle() {
    page_->setFont(Theme::instance().font(14));
    side_->setFixedWidth(Theme::instance().scaled(320));
}

void BayRoom::open_across() {
    const bool alone = side_->isVisible();
    side_->setVisible(!alone);
    QWidget* window = shell_.widget();
    if (alone)
        window->showFullScreen();
    else
        window->showNormal();
}

} // namespace kite::app
