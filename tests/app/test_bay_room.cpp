// The live bay as an instructor uses it: over real UDP on loopback, and from recordings.

#include "app/rooms/bay/bay_room.h"
#include "app/rooms/bay/device_panel.h"
#include "app/rooms/lesson/lesson_room.h"
#include "app/rooms/practice/practice_room.h"
#include "app/window_test.h"
#include "live/listener.h"
#include "live/osc_packet.h"
#include "live/raw_file.h"
#include "support/temporary_folder.h"

#include <QCheckBox>
#include <QComboBox>
#include <QDoubleSpinBox>
#include <QElapsedTimer>
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>
#include <QSignalSpy>
#include <QSpinBox>

#include <filesystem>
#include <fstream>

using namespace kite;
using namespace kite::app;

namespace {

class BayTasks : public WindowTest {
protected:
    void SetUp() override {
        WindowTest::SetUp();
        window->enter(QStringLiteral("bay"));
        child<QSpinBox>("bay_port")->setValue(0); // any that is free
    }
    BayRoom* room() const { return window->room<BayRoom>(); }
    const AcrossPicture& picture() const { return room()->picture(); }
    template <class Kind>
    Kind* child(const char* name) const {
        return window->findChild<Kind*>(QString::fromLatin1(name));
    }
    void click(const char* name) { QTest::mouseClick(child<QPushButton>(name), Qt::LeftButton); }
    bool reads(int count, int most_ms = 60000) {
        return QTest::qWaitFor([&] { return read_->size() >= count; }, most_ms);
    }
    void watch_readings() { read_ = std::make_unique<QSignalSpy>(room(), &BayRoom::read); }
    bool told(const QString& words) const {
        for (const QLabel* label : window->findChildren<QLabel*>())
            if (label->isVisible() && label->text().contains(words))
                return true;
        return false;
    }
    /// A session as a recording, made in simulated time.
    QString recording(const simulate::BayPlan& plan) {
        simulate::BaySender sender(plan);
        std::string out = live::raw_head("{}");
        while (const auto sent = sender.next())
            live::append(out, {live::RawRecord::Kind::Packet,
                               1700000000000000000 + static_cast<std::int64_t>(1e9 * sent->at_s),
                               live::encode({sent->message})});
        const auto path = folder.path("session.kitebay");
        std::ofstream(path, std::ios::binary) << out;
        return QString::fromStdString(path.string());
    }
    void replay(const simulate::BayPlan& plan) {
        watch_readings();
        room()->ear().replay(recording(plan));
    }

    test::TemporaryFolder folder;
    std::unique_ptr<QSignalSpy> read_;
};

} // namespace

TEST_F(BayTasks, SwingsOfTheStandInArriveByThemselves) {
    EXPECT_TRUE(picture().advice.contains(QStringLiteral("stand-in")));
    watch_readings();
    QSignalSpy kept(room(), &BayRoom::kept);
    simulate::BayPlan plan;
    plan.swings = 1;
    plan.practice_share = 1.0;
    plan.between = false;
    room()->start_stand_in(plan);
    ASSERT_TRUE(room()->ear().is_listening());
    EXPECT_EQ(child<QPushButton>("bay_stand_in")->text(), QStringLiteral("Stop the stand-in"));
    ASSERT_TRUE(QTest::qWaitFor([&] { return room()->state().devices.size() == 6; }, 10000));
    ASSERT_TRUE(QTest::qWaitFor(
        [&] {
            return child<DevicePanel>("bay_devices")
                ->text()
                .contains(QStringLiteral("500 a second"));
        },
        10000));
    EXPECT_TRUE(child<DevicePanel>("bay_devices")->text().contains(QStringLiteral("hip-1")));
    EXPECT_TRUE(child<DevicePanel>("bay_devices")->text().contains(QStringLiteral("battery")));
    // The practice swing is shown as such and does not count.
    ASSERT_TRUE(reads(1));
    EXPECT_EQ(picture().state, QStringLiteral("Practice swing"));
    EXPECT_TRUE(picture().counts.contains(QStringLiteral("swings: 0")));
    ASSERT_TRUE(reads(2));
    EXPECT_EQ(picture().state, QStringLiteral("Swing 1"));
    ASSERT_TRUE(picture().swing && picture().swing->ok);
    EXPECT_EQ(picture().swing->analysis.sequence.order.size(), 4u);
    EXPECT_EQ(picture().last.size(), 2u);
    // Launch numbers find their swing, and it comes onto the list with them.
    ASSERT_TRUE(QTest::qWaitFor([&] { return kept.size() == 2; }, 15000));
    ASSERT_TRUE(settle());
    EXPECT_TRUE(picture().launch.contains(QStringLiteral("m/s")));
    SwingListModel* swings = window->model();
    ASSERT_EQ(swings->rowCount(), 2);
    EXPECT_TRUE(swings->marks_of(swings->id_of(0)).excluded);
    EXPECT_FALSE(swings->marks_of(swings->id_of(1)).excluded);
    ASSERT_TRUE(swings->swing(1)->ok);
    EXPECT_TRUE(swings->swing(1)->analysis.launch);
    // With the finish, which the first reading did not wait for.
    EXPECT_TRUE(swings->swing(1)->analysis.moments[Moment::Finish]);
    click("bay_listen");
    EXPECT_FALSE(room()->ear().is_listening());
    EXPECT_TRUE(told(QStringLiteral("Not listening")));
    EXPECT_EQ(picture().state, QStringLiteral("Swing 1")); // it stays to be looked at
}

TEST_F(BayTasks, NothingHeardSaysWhatToCheck) {
    click("bay_listen");
    ASSERT_TRUE(QTest::qWaitFor([&] { return room()->ear().port() > 0; }, 5000));
    EXPECT_EQ(picture().state, QStringLiteral("Waiting"));
    EXPECT_TRUE(picture().advice.contains(QString::number(room()->ear().port())));
    EXPECT_TRUE(picture().advice.contains(QStringLiteral("awake")));
    EXPECT_FALSE(child<QLabel>("bay_open_warning")->isVisible());
    // The same port once more, in another program.
    EXPECT_FALSE(live::Listener::open(live::kLoopback, room()->ear().port()).ok());
    // Nothing moved: nothing can be kept.
    QTest::keyClick(window.get(), Qt::Key_K);
    EXPECT_TRUE(
        QTest::qWaitFor([&] { return told(QStringLiteral("There is nothing to keep")); }, 5000));
    // What is no packet of a bay is counted and named, as plain text.
    const auto sender = live::Sender::open(live::kLoopback, room()->ear().port());
    sender.value->send("<b>strange</b>");
    EXPECT_TRUE(QTest::qWaitFor(
        [&] { return told(QStringLiteral("1 messages were not understood")); }, 5000));
}

TEST_F(BayTasks, ListeningToTheNetworkIsSaidAllTheTime) {
    auto* address = child<QLineEdit>("bay_address");
    address->selectAll();
    QTest::keyClicks(address, QStringLiteral("0.0.0.0"));
    click("bay_listen");
    ASSERT_TRUE(room()->ear().is_listening());
    EXPECT_TRUE(
        QTest::qWaitFor([&] { return child<QLabel>("bay_open_warning")->isVisible(); }, 5000));
    EXPECT_TRUE(picture().counts.contains(QStringLiteral("open to the network")));
    // In every room.
    window->enter(QStringLiteral("bench"));
    auto* caution = child<QLabel>("caution");
    EXPECT_TRUE(caution->isVisible());
    EXPECT_EQ(caution->text(), QStringLiteral("Open to the network"));
    window->enter(QStringLiteral("bay"));
    click("bay_listen");
    EXPECT_FALSE(child<QLabel>("bay_open_warning")->isVisible());
    EXPECT_EQ(caution->text(), QString());
    address->selectAll();
    QTest::keyClicks(address, QStringLiteral("nowhere"));
    click("bay_listen");
    EXPECT_FALSE(room()->ear().is_listening());
    EXPECT_TRUE(told(QStringLiteral("is no address")));
}

TEST_F(BayTasks, SwingsGoIntoTheLessonWithTheirPackets) {
    begin_lesson(QStringLiteral("Rosalind"));
    RecordKeeper& record = *window->room<LessonRoom>()->record();
    window->enter(QStringLiteral("bay"));
    QSignalSpy in_record(&record, &RecordKeeper::kept);
    simulate::BayPlan plan;
    plan.swings = 1;
    plan.practice_share = 0.0;
    plan.between = false;
    plan.makes = "a maker's";
    QSignalSpy kept(room(), &BayRoom::kept);
    replay(plan);
    ASSERT_TRUE(reads(1));
    ASSERT_TRUE(QTest::qWaitFor([&] { return kept.size() == 1; }, 15000));
    ASSERT_TRUE(settle());
    const SwingListModel* swings = window->model();
    const auto file = swings->request(0).path;
    EXPECT_TRUE(file.endsWith(QStringLiteral(".kitebay")));
    // The reading of the file is the reading of the moment.
    const auto shown = picture().swing;
    for (Segment segment : kSequence) {
        const auto& live = shown->analysis.sequence.parts[index_of(segment)];
        const auto& file_part = swings->swing(0)->analysis.sequence.parts[index_of(segment)];
        ASSERT_TRUE(live && file_part);
        EXPECT_NEAR(live->before_impact_ms, file_part->before_impact_ms, 2.0);
    }
    // … and the record has it, of this golfer, by itself.
    ASSERT_TRUE(!in_record.isEmpty() || in_record.wait(20000));
    EXPECT_EQ(swings->request(0).golfer, QStringLiteral("Rosalind"));
    ASSERT_TRUE(QTest::qWaitFor([&] { return record.view().swings.size() == 1; }, 10000));
}

TEST_F(BayTasks, WhatTheStandInMadeUpIsNobodys) {
    begin_lesson(QStringLiteral("Rosalind"));
    RecordKeeper& record = *window->room<LessonRoom>()->record();
    window->enter(QStringLiteral("bay"));
    QSignalSpy in_record(&record, &RecordKeeper::kept);
    QSignalSpy kept(room(), &BayRoom::kept);
    simulate::BayPlan plan;
    plan.swings = 1;
    plan.practice_share = 0.0;
    plan.between = false;
    replay(plan);
    ASSERT_TRUE(reads(1));
    ASSERT_TRUE(QTest::qWaitFor([&] { return kept.size() == 1; }, 15000));
    ASSERT_TRUE(settle());
    // The file says so too, whoever opens it later.
    const QString file = window->model()->request(0).path;
    window->open_paths({file});
    ASSERT_TRUE(settle());
    EXPECT_TRUE(holds(window->model()->swing(1)->findings, "made-up"));
    record.go_on_with(record.lesson());
    bool done = false;
    record.when_done([&] { done = true; });
    ASSERT_TRUE(QTest::qWaitFor([&] { return done; }, 10000));
    QCoreApplication::processEvents();
    EXPECT_TRUE(in_record.isEmpty());
    EXPECT_TRUE(record.view().swings.empty());
}

// Of four old files one is ours and in the record: that one is offered to the bin, nothing else is
// touched, and nothing before it was asked for.
TEST_F(BayTasks, OldCapturesStayUnlessTheRecordHasThemAndItIsWanted) {
    begin_lesson(QStringLiteral("Rosalind"));
    RecordKeeper& record = *window->room<LessonRoom>()->record();
    const QString bay = QFileInfo(record.path()).dir().filePath(QStringLiteral("bay"));
    QDir().mkpath(bay);
    const auto old_file = [&](const QString& name, const QByteArray& bytes) {
        const QString path = QDir(bay).filePath(name);
        QFile file(path);
        EXPECT_TRUE(file.open(QIODevice::WriteOnly));
        file.write(bytes);
        file.flush();
        EXPECT_TRUE(file.setFileTime(QDateTime::currentDateTime().addDays(-40),
                                     QFileDevice::FileModificationTime));
        return path;
    };
    QFile capture(QStringLiteral(KITE_DEMO_FOLDER "/01-alva-iron.csv"));
    ASSERT_TRUE(capture.open(QIODevice::ReadOnly));
    const QByteArray bytes = capture.readAll();
    const QString kept = old_file(QStringLiteral("2026-01-02 10.11.12.123.kitebay"), bytes);
    const QString alone = old_file(QStringLiteral("2026-01-02 10.11.13.123.kitebay"), "only copy");
    const QString mine = old_file(QStringLiteral("my own.kitebay"), bytes);
    const QString other = old_file(QStringLiteral("notes.txt"), bytes);
    QSignalSpy in_record(&record, &RecordKeeper::kept);
    window->open_paths({capture.fileName()});
    ASSERT_TRUE(!in_record.isEmpty() || in_record.wait(20000));
    window->enter(QStringLiteral("bay"));
    child<QSpinBox>("bay_port")->setValue(0);
    QTest::keyClick(window.get(), Qt::Key_L);
    auto* action = window->findChild<QPushButton*>(QStringLiteral("message_action"));
    ASSERT_TRUE(QTest::qWaitFor([&] { return action->isVisible(); }, 10000));
    for (const QString& file : {kept, alone, mine, other})
        EXPECT_TRUE(QFileInfo::exists(file)) << file.toStdString();
    QTest::mouseClick(action, Qt::LeftButton);
    EXPECT_FALSE(QFileInfo::exists(kept));
    for (const QString& file : {alone, mine, other})
        EXPECT_TRUE(QFileInfo::exists(file)) << file.toStdString();
}

TEST_F(BayTasks, ADrillCountsSlowSwingsOnItsRung) {
    window->open_paths({QStringLiteral(KITE_DEMO_FOLDER "/01-alva-iron.csv")});
    ASSERT_TRUE(settle());
    ASSERT_TRUE(window->commands().run(QStringLiteral("window.go-practice")));
    ASSERT_TRUE(window->commands().run(QStringLiteral("practice.make")));
    window->enter(QStringLiteral("bay"));
    auto* box = child<QCheckBox>("bay_drill");
    EXPECT_TRUE(box->text().contains(QStringLiteral("rung 1")));
    child<QComboBox>("bay_hand")->setCurrentIndex(1); // right
    QTest::keyClick(window.get(), Qt::Key_D);
    EXPECT_TRUE(box->isChecked());
    simulate::BayPlan plan;
    plan.swings = 2;
    plan.slow = true;
    plan.between = false;
    replay(plan);
    ASSERT_TRUE(reads(2));
    EXPECT_TRUE(picture().state.contains(QStringLiteral("Movement")));
    EXPECT_FALSE(picture().drill.isEmpty());
    EXPECT_FALSE(picture().band_words.isEmpty());
    const auto& counts = window->room<PracticeRoom>()->keeper().plan()->counts;
    // One count of both, not two of one.
    ASSERT_EQ(counts.size(), std::isfinite(picture().value.value) ? 1u : 0u);
    if (!counts.empty()) {
        EXPECT_TRUE(counts[0].measured);
        EXPECT_GE(counts[0].swings, 1);
        EXPECT_EQ(counts[0].rung, 1);
    }
    // A count that somebody made meanwhile is no part of it and stays.
    PlanKeeper& keeper = window->room<PracticeRoom>()->keeper();
    PlanCount by_hand;
    by_hand.date = Date(2026, 1, 5);
    by_hand.drill = keeper.plan()->main_drill;
    by_hand.swings = 3;
    const std::size_t before = counts.size();
    keeper.change(QStringLiteral("count"),
                  [&](Plan& changed) { changed.counts.push_back(by_hand); });
    plan.swings = 1;
    std::filesystem::remove(folder.path("session.kitebay"));
    replay(plan);
    ASSERT_TRUE(reads(1));
    ASSERT_GE(counts.size(), before + 1);
    EXPECT_EQ(keeper.plan()->counts[before].date, by_hand.date);
    EXPECT_EQ(keeper.plan()->counts[before].swings, 3);
}

// The first one's last words arrive when the second has begun, and do not end it.
TEST_F(BayTasks, ARecordingPlayedRightAfterAnotherIsHeardToItsEnd) {
    simulate::BayPlan plan;
    plan.swings = 1;
    plan.practice_share = 0.0;
    plan.between = false;
    const QString file = recording(plan);
    room()->ear().replay(file);
    room()->ear().stop();
    watch_readings();
    QSignalSpy caught(&room()->ear(), &BayEar::caught);
    room()->ear().replay(file);
    ASSERT_TRUE(reads(1, 20000));
    EXPECT_TRUE(QTest::qWaitFor([&] { return !room()->ear().is_listening(); }, 20000))
        << "its own end is one";
    // Played once more, its swing is another: what belongs to the one is not joined to the other.
    room()->ear().replay(file);
    ASSERT_TRUE(reads(2, 20000));
    EXPECT_NE(caught[0][0].value<BayCatch>().number, caught[1][0].value<BayCatch>().number);
    room()->ear().replay(file);
    room()->ear().stop();
    room()->listen();
    QTest::qWait(300);
    EXPECT_TRUE(room()->ear().is_listening());
}

TEST_F(BayTasks, WithoutADrillSlowMovementsAreKeptByHand) {
    simulate::BayPlan plan;
    plan.swings = 1;
    plan.slow = true;
    plan.between = false;
    replay(plan);
    ASSERT_TRUE(QTest::qWaitFor([&] { return !room()->ear().is_listening(); }, 20000));
    EXPECT_EQ(read_->size(), 0);
    QTest::keyClick(window.get(), Qt::Key_K);
    ASSERT_TRUE(reads(1));
}

TEST_F(BayTasks, WhatIsNoRecordingIsRefused) {
    room()->ear().replay(QStringLiteral(KITE_DEMO_FOLDER "/01-alva-iron.csv"));
    EXPECT_TRUE(
        QTest::qWaitFor([&] { return told(QStringLiteral("no recording of a bay")); }, 10000));
    EXPECT_TRUE(QTest::qWaitFor([&] { return !room()->ear().is_listening(); }, 10000));
}

TEST_F(BayTasks, MountingIsGuidedStepByStep) {
    simulate::BayPlan plan;
    plan.seed = 21;
    plan.swings = 1;
    plan.practice_share = 0.0;
    plan.between = false;
    plan.mounting = true;
    room()->start_stand_in(plan);
    click("bay_mount");
    for (const char* words : {"1 of 3", "2 of 3", "3 of 3"})
        ASSERT_TRUE(
            QTest::qWaitFor([&] { return picture().advice.contains(QLatin1String(words)); }, 20000))
            << words;
    ASSERT_TRUE(QTest::qWaitFor([&] { return room()->state().mounted; }, 20000));
    EXPECT_TRUE(told(QStringLiteral("The sensors are mounted")));
}

TEST_F(BayTasks, FeedbackComesWhileMoving) {
    auto* feedback = child<QComboBox>("bay_feedback");
    feedback->setCurrentIndex(2); // held open
    EXPECT_TRUE(child<QDoubleSpinBox>("bay_from")->isVisible());
    click("bay_listen");
    const auto sender = live::Sender::open(live::kLoopback, room()->ear().port());
    QSignalSpy heard(room(), &BayRoom::heard);
    // A pelvis that rests, then opens at 40° a second, at 500 samples a second.
    std::int32_t number = 0;
    const auto send = [&](double t_s, double rate_deg_s) {
        live::Imu imu;
        imu.number = number++;
        imu.gyro_deg_s = {0.0, 0.0, rate_deg_s};
        imu.force_g = {0.0, 0.0, 1.0};
        sender.value->send(live::encode({{"p", t_s, imu}}));
    };
    sender.value->send(
        live::encode({{"p", 0.0, live::About{live::Role::Pelvis, "m", 500.0, 1.0}}}));
    QElapsedTimer clock;
    clock.start();
    for (int i = 0; i < 1250 && heard.isEmpty(); ++i) {
        const double t_s = 0.002 * i;
        while (clock.elapsed() < 2 * i)
            QCoreApplication::processEvents();
        send(t_s, t_s < 1.0 ? 0.0 : 40.0);
    }
    ASSERT_FALSE(heard.isEmpty());
    EXPECT_EQ(heard[0][0].value<live::Cue>(), live::Cue::Inside);
    EXPECT_EQ(picture().state, QStringLiteral("Hold"));
}
