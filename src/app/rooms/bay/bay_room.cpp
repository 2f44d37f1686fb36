#include "app/rooms/bay/bay_room.h"

#include "app/rooms/bay/device_panel.h"
#include "app/session/days.h"
#include "app/theme/text.h"
#include "app/widgets/wrapped.h"
#include "core/reading/words.h"
#include "formats/practice/drills_json.h"
#include "live/listener.h"

#include <QCheckBox>
#include <QComboBox>
#include <QDateTime>
#include <QDir>
#include <QDoubleSpinBox>
#include <QFileDialog>
#include <QFileInfo>
#include <QLineEdit>
#include <QPushButton>
#include <QRegularExpression>
#include <QSpinBox>

#include <cmath>

namespace kite::app {

BayRoom::BayRoom(Shell& shell, std::shared_ptr<Desk> desk)
    : shell_(shell),
      desk_(std::move(desk)), place_{QString::fromLatin1(live::kLoopback), live::kUsualPort} {
    make_page();
    connect(&ear_, &BayEar::state_changed, this, &BayRoom::take_state);
    connect(&ear_, &BayEar::caught, this, &BayRoom::take_caught);
    connect(&ear_, &BayEar::whole, this,
            [this](int number, const std::shared_ptr<const std::string>& capture) {
                waiting_[number].capture = capture;
                keep_if_whole(number, true);
            });
    connect(&ear_, &BayEar::shot, this, &BayRoom::take_shot);
    connect(&ear_, &BayEar::cue, this, &BayRoom::take_cue);
    connect(&ear_, &BayEar::nothing_to_keep, this, [this] {
        shell_.show_message(tr("There is nothing to keep"),
                            tr("In the last half minute nothing moved that is not kept already."));
    });
    connect(&ear_, &BayEar::refused, this, [this](const QString& why) {
        shell_.show_message(tr("The recording cannot be played"), why);
    });
    connect(&desk_->record(), &RecordKeeper::kept, this,
            [this](int list_id, const QString& swing, bool is_new) {
                if (is_new)
                    tag_kept(list_id, swing);
            });
    connect(&desk_->plan(), &PlanKeeper::changed, this, &BayRoom::show_state);
    connect(&Theme::instance(), &Theme::changed, this, &BayRoom::restyle);
    restyle();
    set_feedback();
    show_state();
}

BayRoom::~BayRoom() {
    stand_in_.stop();
    ear_.stop();
    delete page_;
}

// ---- listening

void BayRoom::say(const std::vector<Finding>& findings, const QString& title) {
    if (!findings.empty())
        shell_.show_message(title, QString::fromStdString(text_of(findings.front())));
}

void BayRoom::listen() {
    place_ = {address_->text().trimmed(), port_->value()};
    const std::vector<Finding> findings = ear_.listen(place_);
    say(findings, tr("The bay cannot be listened to"));
    if (!has_errors(findings)) {
        shell_.hide_message();
        tell_ear();
        state_.listening = true;
        offer_to_clear();
    }
    show_state();
}

/// Captures that this room wrote long ago and that the record holds byte for byte may go into the
/// bin, if that is wanted. Nothing else is touched, and nothing without a word.
void BayRoom::offer_to_clear() {
    constexpr int kKeptDays = 30;
    QStringList old;
    const QDateTime before = QDateTime::currentDateTime().addDays(-kKeptDays);
    // As keep() names them: anything else there is somebody's own.
    static const QRegularExpression ours(
        QStringLiteral("^\\d{4}-\\d\\d-\\d\\d \\d\\d\\.\\d\\d\\.\\d\\d\\.\\d{3}\\.kitebay$"));
    for (const QFileInfo& file :
         QDir(folder()).entryInfoList({QStringLiteral("*.kitebay")}, QDir::Files))
        if (file.lastModified() < before && ours.match(file.fileName()).hasMatch())
            old << file.filePath();
    if (old.isEmpty())
        return;
    desk_->record().find_kept(old, [this](const QStringList& kept) {
        if (kept.isEmpty())
            return;
        shell_.show_message(
            kept.size() == 1 ? tr("One old capture of the bay is in the record")
                             : tr("%1 old captures of the bay are in the record").arg(kept.size()),
            tr("Their files are older than %1 days and need not stay beside it.").arg(kKeptDays),
            tr("Put them into the bin of this computer"), [this, kept] {
                int moved = 0;
                for (const QString& file : kept)
                    moved += QFile::moveToTrash(file) ? 1 : 0;
                shell_.show_message(tr("%1 of %2 files are in the bin").arg(moved).arg(kept.size()),
                                    moved == kept.size()
                                        ? QString()
                                        : tr("The others stay: there is no bin for them here."));
            });
    });
}

void BayRoom::stop() {
    stand_in_.stop();
    ear_.stop();
    state_.listening = false;
    show_state();
}

void BayRoom::start_stand_in(const simulate::BayPlan& plan) {
    if (!ear_.is_listening())
        listen();
    if (!ear_.is_listening())
        return;
    simulate::BayPlan sent = plan;
    sent.slow = sent.slow || in_drill_;
    stand_in_.start(sent, ear_.port());
    show_state();
}

void BayRoom::tell_ear() {
    const int hand = hand_->currentData().toInt();
    const int club = club_->currentData().toInt();
    ear_.set_golfer(hand < 0 ? std::nullopt : std::optional(static_cast<Handedness>(hand)),
                    club < 0 ? std::nullopt : std::optional(static_cast<ClubKind>(club)));
    ear_.set_drill(in_drill_);
    set_feedback();
}

void BayRoom::take_state(const BayState& state) {
    const bool ended = state_.listening && !state.listening;
    const bool mounted = state.mounted && !state_.mounted;
    const bool failed = state.recording_failed && !state_.recording_failed;
    state_ = state;
    if (ended)
        ear_.stop();
    devices_->set_state(state);
    if (mounted)
        shell_.show_message(tr("The sensors are mounted"),
                            tr("From now on it is checked before every swing whether they still "
                               "sit as they did."));
    if (failed)
        shell_.show_message(tr("The recording has stopped"),
                            tr("The disk takes no more. Listening goes on."));
    show_state();
}

void BayRoom::record_session() {
    const QString file =
        shell_.ask_for_new_file(tr("Record all that arrives"), tr("Recording (*.kitebay)"));
    if (file.isEmpty())
        ear_.stop_recording();
    else
        say(ear_.record_to(file), tr("The recording cannot be made"));
}

void BayRoom::replay_session() {
    const QString file = QFileDialog::getOpenFileName(shell_.widget(), tr("Play a recording again"),
                                                      QString(), tr("Recording (*.kitebay)"));
    if (file.isEmpty())
        return;
    ear_.replay(file);
    show_state();
}

// ---- feedback

void BayRoom::set_feedback() {
    const int wanted = feedback_->currentData().toInt();
    const bool hold = wanted == static_cast<int>(live::Wanted::HoldOpen);
    from_->setVisible(hold);
    to_->setVisible(hold);
    voice_->setVisible(wanted >= 0);
    sound_words_->setVisible(wanted >= 0 && !sounds_.can_sound());
    if (wanted < 0) {
        ear_.set_feedback(std::nullopt);
        return;
    }
    sounds_.prepare();
    live::Feedback::Rule rule;
    rule.wanted = static_cast<live::Wanted>(wanted);
    rule.from_deg = hold ? from_->value() : 0.0;
    rule.to_deg = to_->value();
    if (hand_->currentData().toInt() == static_cast<int>(Handedness::Left))
        rule.handed = Handedness::Left;
    ear_.set_feedback(rule);
}

void BayRoom::take_cue(live::Cue cue) {
    sounds_.play(cue, static_cast<BaySounds::Voice>(voice_->currentData().toInt()));
    AcrossPicture picture = across_->picture();
    switch (cue) {
    case live::Cue::Good:
        picture.state = tr("Pelvis first: good");
        break;
    case live::Cue::Early:
        picture.state = tr("Arms too early");
        break;
    case live::Cue::Inside:
        picture.state = tr("Hold");
        break;
    case live::Cue::Outside:
        picture.state = tr("Outside");
        break;
    }
    picture.busy = cue == live::Cue::Early || cue == live::Cue::Outside;
    across_->set_picture(std::move(picture));
    // What was heard stays to be read.
    constexpr int kReadable_ms = 1500;
    idle_.setSingleShot(true);
    idle_.start(kReadable_ms);
    emit heard(cue);
}

// ---- what stands on the screen

QString BayRoom::mounting_words() const {
    if (!state_.mount_step)
        return {};
    switch (*state_.mount_step) {
    case live::MountGuide::Step::Upright:
        return tr("Mounting, 1 of 3. Stand upright, arms hanging, the club hanging in line with "
                  "the lead arm. Still, for five seconds.");
    case live::MountGuide::Step::Address:
        return tr("Mounting, 2 of 3. Take your address: bent forward, still.");
    case live::MountGuide::Step::Turn:
        return tr("Mounting, 3 of 3. Turn slowly away, through to the other side and back, all in "
                  "one piece: hips, chest, arms and club together.");
    case live::MountGuide::Step::Failed:
        return tr("That did not do. %1").arg(state_.mount_problems.join(QLatin1Char(' ')));
    case live::MountGuide::Step::Done:
        break;
    }
    return {};
}

QString BayRoom::advice() const {
    // The last swing stays to be looked at.
    if (!ear_.is_listening() && shown_ && shown_->ok)
        return {};
    if (!ear_.is_listening())
        return tr("Nobody is listened to. Listen (L), or see how it works with the stand-in (S): "
                  "made-up golfers with made-up sensors.");
    if (QString words = mounting_words(); !words.isEmpty())
        return words;
    if (!is_heard())
        return tr("Nothing is heard on %1, port %2. Are the sensors awake and charged? Do they "
                  "send to this computer, to this port? The stand-in (S) shows what it would be "
                  "like.")
            .arg(place_.address)
            .arg(ear_.port());
    if (!shown_)
        return tr("Swing. Nothing need be touched: the reading comes by itself.");
    if (!shown_->ok) {
        for (const Finding& finding : shown_->findings)
            if (finding.severity == Finding::Severity::Error)
                return tr("This swing cannot be read. %1")
                    .arg(QString::fromStdString(text_of(finding)));
    }
    return {};
}

bool BayRoom::is_heard() const {
    return std::any_of(state_.devices.begin(), state_.devices.end(),
                       [this](const live::DeviceFacts& facts) {
                           return state_.now_s - facts.heard_at_s < kSilent_s;
                       });
}

QString BayRoom::state_words() const {
    if (!ear_.is_listening() && !shown_)
        return tr("Not listening");
    if (reading_ != 0)
        return tr("Reading…");
    if (state_.swinging)
        return tr("Swing");
    if (shown_) {
        if (in_drill_)
            return tr("Movement %1").arg(swings_);
        return shown_caught_.practice ? tr("Practice swing") : tr("Swing %1").arg(swings_);
    }
    return is_heard() ? tr("Ready") : tr("Waiting");
}

void BayRoom::show_state() {
    const bool listening = ear_.is_listening();
    where_->setText(listening ? tr("Listening on %1, port %2").arg(place_.address).arg(ear_.port())
                              : tr("Not listening"));
    const bool open = listening && !state_.loopback;
    open_warning_->setVisible(open);
    // All the time, in every room.
    shell_.show_caution(id(), open ? tr("Open to the network") : QString());
    address_->setEnabled(!listening);
    port_->setEnabled(!listening);
    listen_->setText(listening ? tr("Stop") : tr("Listen"));
    stand_in_button_->setText(stand_in_.is_sending() ? tr("Stop the stand-in")
                                                     : tr("Start the stand-in"));
    const auto& plan = desk_->plan().plan();
    const Drill* of_plan = plan ? main_drill_of(*plan, formats::shipped_drills()) : nullptr;
    drill_box_->setText(of_plan != nullptr ? tr("%1, rung %2")
                                                 .arg(said(of_plan->title))
                                                 .arg(rung_on(*plan, *of_plan, today()).rung)
                                           : tr("Drill: every movement counts"));
    drill_box_->setToolTip(tr("In a drill slow swings, without ball or club, with holds and steps "
                              "are found; only the drill's measure is judged."));
    if (idle_.isActive())
        return; // a cue is being read
    AcrossPicture picture;
    picture.state = state_words();
    picture.busy = reading_ != 0 || state_.swinging;
    if (open)
        picture.counts = tr("open to the network · ");
    picture.counts += in_drill_ ? tr("movements: %1").arg(swings_) : tr("swings: %1").arg(swings_);
    if (practices_ > 0)
        picture.counts += tr(" · practice: %1").arg(practices_);
    picture.advice = advice();
    if (state_.mount_step && !picture.advice.isEmpty())
        picture.advice_share = state_.mount_share;
    picture.swing = shown_;
    // In a drill only its measure is judged.
    if (shown_ && shown_->ok && !in_drill_) {
        const ReadingWords words = write_words(shown_->analysis, shown_->reading, language());
        picture.reading = QString::fromStdString(words.fix_title);
    }
    picture.launch = launch_words_;
    if (const Drill* here = drill()) {
        const Language words = language();
        picture.drill = QString::fromStdString(name_of(here->measure, words));
        picture.value = drill_value_;
        picture.unit = QString::fromUtf8(std::string(unit_of(here->measure)).c_str());
        const DrillBand& band = shown_caught_.practice ? here->rehearsal : here->swing;
        picture.band_words = QString::fromStdString(text_of(band, here->measure, words));
        picture.passed = drill_passed_;
    }
    picture.last = last_;
    across_->set_picture(std::move(picture));
}

} // namespace kite::app
