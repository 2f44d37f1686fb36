#include "app/rooms/bay/bay_room.h"

#include "app/rooms/bay/device_panel.h"
#include "app/session/days.h"
#include "app/session/plan_counting.h"
#include "app/session/workers.h"
#include "app/theme/text.h"
#include "app/widgets/wrapped.h"
#include "core/reading/words.h"
#include "formats/practice/drills_json.h"
#include "formats/text/bytes.h"
#include "live/capture.h"
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
#include <QSpinBox>
#include <QtConcurrent>

#include <cmath>

namespace kite::app {

namespace {

constexpr int kLaunchWait_ms = 7000;
constexpr std::size_t kGlyphs = 10;
constexpr double kSilent_s = 2.0;
constexpr int kKeptDays = 30;

} // namespace

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
    workers().waitForDone();
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
        // Captures that the record has had for long.
        const QDir kept(folder());
        const QDateTime old = QDateTime::currentDateTime().addDays(-kKeptDays);
        for (const QFileInfo& file : kept.entryInfoList({QStringLiteral("*.kitebay")}, QDir::Files))
            if (file.lastModified() < old)
                QFile::remove(file.filePath());
    }
    show_state();
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
    const QString file = QFileDialog::getSaveFileName(
        shell_.widget(), tr("Record all that arrives"), QString(), tr("Recording (*.kitebay)"));
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

// ---- swings

void BayRoom::take_caught(const BayCatch& caught) {
    Waiting& waiting = waiting_[caught.number];
    waiting.caught = caught;
    if (const Drill* here = drill())
        waiting.drill_tag = drill_tag(*desk_->plan().plan(), *here);
    reading_ = caught.number;
    show_state();
    const AnalysisOptions options = desk_->lesson().swings()->options();
    const RulesInUse rules = desk_->rules();
    auto* watcher = new QFutureWatcher<std::shared_ptr<const LoadedSwing>>(this);
    connect(watcher, &QFutureWatcherBase::finished, this, [this, watcher, caught] {
        take_reading(caught.number, watcher->result());
        watcher->deleteLater();
    });
    watcher->setFuture(QtConcurrent::run(&workers(), [caught, options, rules] {
        return swing_of(live::take_of(*caught.heard), options, rules);
    }));
}

void BayRoom::take_reading(int number, const std::shared_ptr<const LoadedSwing>& swing) {
    Waiting& waiting = waiting_[number];
    waiting.swing = swing;
    const BayCatch& caught = waiting.caught;
    if (reading_ == number)
        reading_ = 0;
    state_.swinging = false; // until it is heard of anew
    ++(caught.practice && !in_drill_ ? practices_ : swings_);
    shown_ = swing;
    shown_caught_ = caught;
    launch_words_.clear();
    drill_value_ = {};
    drill_passed_.reset();
    if (swing->ok)
        count_for_drill(*swing, caught.practice);
    last_.push_back({swings_, caught.practice && !in_drill_, swing->ok, swing->analysis.sequence,
                     swing->reading, drill_passed_});
    if (last_.size() > kGlyphs)
        last_.pop_front();
    if (!caught.findings.empty())
        say(caught.findings, tr("A sensor does not sit as it did"));
    show_state();
    emit read(number);
    keep_if_whole(number, true);
}

void BayRoom::take_shot(int number, const LaunchNumbers& numbers) {
    const auto waiting = waiting_.find(number);
    if (waiting == waiting_.end())
        return;
    waiting->second.launch = numbers;
    if (shown_caught_.number == number) {
        QStringList words;
        for (const LaunchField& field : kLaunchFields)
            if (const double value = numbers.*field.member; std::isfinite(value))
                words << QStringLiteral("%1 %2 %3")
                             .arg(said(field.name), number_text(value, field.decimals),
                                  QString::fromUtf8(field.unit));
        launch_words_ = words.mid(0, 3).join(QStringLiteral(", "));
        show_state();
    }
    keep_if_whole(number, false);
}

void BayRoom::keep_if_whole(int number, bool wait_for_launch) {
    const auto found = waiting_.find(number);
    if (found == waiting_.end() || !found->second.capture || !found->second.swing)
        return;
    // Launch numbers come some seconds after the shot.
    if (wait_for_launch && state_.waits_for_launch && !found->second.caught.practice &&
        !found->second.launch) {
        QTimer::singleShot(kLaunchWait_ms, this, [this, number] { keep_if_whole(number, false); });
        return;
    }
    keep(number);
}

QString BayRoom::folder() const {
    return QFileInfo(desk_->record().path()).dir().filePath(QStringLiteral("bay"));
}

void BayRoom::keep(int number) {
    const Waiting waiting = std::move(waiting_.at(number));
    waiting_.erase(number);
    const QString stamp =
        QDateTime::fromMSecsSinceEpoch(static_cast<qint64>(1000.0 * waiting.caught.reference_s))
            .toString(QStringLiteral("yyyy-MM-dd hh.mm.ss.zzz"));
    const QString file = QDir(folder()).filePath(stamp + QStringLiteral(".kitebay"));
    const bool practice = waiting.caught.practice && !waiting.launch && waiting.drill_tag.isEmpty();
    auto* watcher = new QFutureWatcher<std::vector<Finding>>(this);
    connect(watcher, &QFutureWatcherBase::finished, this, [this, watcher, waiting, file, practice] {
        const std::vector<Finding> findings = watcher->result();
        watcher->deleteLater();
        if (has_errors(findings)) {
            say(findings, tr("A swing of the bay cannot be kept"));
            return;
        }
        SwingRequest request;
        request.path = file;
        request.golfer = desk_->golfer_meant();
        // A practice swing is kept and marked, and not counted among the shots.
        if (practice) {
            request.marks.excluded = true;
            request.marks.note = tr("practice swing");
        }
        if (!waiting.drill_tag.isEmpty())
            tags_[file] = waiting.drill_tag;
        emit kept(desk_->lesson().swings()->open({request}));
    });
    watcher->setFuture(
        QtConcurrent::run(&workers(), [capture = waiting.capture, launch = waiting.launch,
                                       path = std::filesystem::path(file.toStdString())] {
            std::error_code ignored; // the writing says what is wrong
            std::filesystem::create_directories(path.parent_path(), ignored);
            return formats::write_bytes(path,
                                        launch ? live::with_launch(*capture, *launch) : *capture);
        }));
}

void BayRoom::tag_kept(int list_id, const QString& swing) {
    const SwingListModel* swings = desk_->lesson().swings();
    const int row = swings->row_of(list_id);
    if (row < 0)
        return;
    const auto tag = tags_.find(swings->request(row).path);
    if (tag == tags_.end())
        return;
    desk_->record().change(QStringLiteral("swing"), swing, {{"tags", tag->second.toStdString()}});
    tags_.erase(tag);
}

// ---- the drill

const Drill* BayRoom::drill() const {
    const auto& plan = desk_->plan().plan();
    return in_drill_ && plan ? formats::shipped_drills().find(plan->main_drill) : nullptr;
}

void BayRoom::set_drill(bool on) {
    in_drill_ = on;
    checks_.clear();
    counting_ = false;
    ear_.set_drill(on);
    if (on && drill() == nullptr)
        shell_.show_message(
            tr("There is no drill yet"),
            tr("Movements are found all the same; what counts is said by a plan (Practice room)."));
    show_state();
}

void BayRoom::count_for_drill(const LoadedSwing& swing, bool practice) {
    const Drill* here = drill();
    if (here == nullptr)
        return;
    // Without a ball it is the exaggerated, slow one that is asked for.
    const PlanCheck check = check_swing(*here, swing.analysis, practice);
    drill_value_ = check.value;
    drill_passed_ = check.passed;
    if (!check.passed)
        return;
    checks_.push_back(check);
    const bool closed =
        count_running(desk_->plan(), *here, checks_, counting_, tr("count a swing of the bay"));
    counting_ = !closed;
    if (closed)
        checks_.clear();
}

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
    shell_.show_caution(open ? tr("Open to the network") : QString());
    address_->setEnabled(!listening);
    port_->setEnabled(!listening);
    listen_->setText(listening ? tr("Stop") : tr("Listen"));
    stand_in_button_->setText(stand_in_.is_sending() ? tr("Stop the stand-in")
                                                     : tr("Start the stand-in"));
    const auto& plan = desk_->plan().plan();
    const Drill* of_plan = plan ? formats::shipped_drills().find(plan->main_drill) : nullptr;
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
    picture.practice = shown_caught_.practice;
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
        picture.band = shown_caught_.practice ? here->rehearsal : here->swing;
        picture.band_words = QString::fromStdString(text_of(picture.band, here->measure, words));
        picture.passed = drill_passed_;
    }
    picture.last = last_;
    across_->set_picture(std::move(picture));
}

} // namespace kite::app
