// The Film room, driven as an instructor would: film of a made-up swing is marked with clicks at
// the places that its lens knows, followed, and measured; what comes out is compared with the
// swing.

#include "app/rooms/film/film_player.h"
#include "app/rooms/film/film_room.h"
#include "app/rooms/film/film_view.h"
#include "app/rooms/film/frame_strip.h"
#include "app/rooms/lesson/lesson_room.h"
#include "app/rooms/practice/practice_room.h"
#include "app/rooms/report/report_room.h"
#include "app/session/film_files.h"
#include "app/window_test.h"
#include "film/filmed_swing.h"
#include "formats/film/film_json.h"
#include "paper/pages.h"
#include "simulate/truth.h"
#include "store/film_beside.h"

#include <QAbstractSpinBox>
#include <QDoubleSpinBox>
#include <QFile>
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>
#include <QSignalSpy>
#include <QToolButton>

using namespace kite;
using namespace kite::app;
using kite::film::Point;
using kite::test::FilmedSwing;

namespace {

class FilmTasks : public WindowTest {
protected:
    FilmRoom* room() const { return window->room<FilmRoom>(); }
    FilmView* view(int index = 0) const {
        return window->findChild<FilmView*>(QStringLiteral("film_%1").arg(index));
    }
    QString next() const { return window->findChild<QLabel*>(QStringLiteral("film_next"))->text(); }
    void open_film(const std::filesystem::path& path) {
        QSignalSpy opened(room(), &FilmRoom::films_opened);
        window->open_paths({QString::fromStdString(path.string())});
        ASSERT_TRUE(!opened.isEmpty() || opened.wait(10000));
        ASSERT_TRUE(quiet());
    }
    /// Until the picture that is meant is the one that is shown and nothing goes on.
    bool quiet() {
        return QTest::qWaitFor([&] { return !room()->is_busy(); }, 60000);
    }
    /// Until both films show what they are meant to show.
    bool films_arrive() {
        return QTest::qWaitFor(
            [&] {
                for (int i = 0; i < static_cast<int>(room()->marking().views()); ++i)
                    if (view(i)->picture() !=
                        window->findChild<FrameStrip*>(QStringLiteral("frames_%1").arg(i))
                            ->picture())
                        return false;
                return true;
            },
            10000);
    }
    bool arrives(std::size_t picture) {
        return QTest::qWaitFor([&] { return room()->picture() == picture; }, 10000);
    }
    void press(Qt::Key key, Qt::KeyboardModifiers modifiers = Qt::NoModifier) {
        ++pressed_;
        QTest::keyClick(view(static_cast<int>(room()->active())), key, modifiers);
    }
    void click(const film::Pixel& at) {
        ++pressed_;
        FilmView* film = view(static_cast<int>(room()->active()));
        QTest::mouseClick(film, Qt::LeftButton, {}, film->on_widget(at).toPoint());
    }
    /// Clicks whatever is asked for in this picture, where it truly is.
    void click_what_is_asked(const FilmedSwing& swing) {
        const film::Pixel size = swing.setup.cameras.front().size_px;
        for (int i = 0; i < 10 && room()->asked(); ++i) {
            const film::Pixel at = swing.truth(*room()->asked(), seconds_of(room()->picture()));
            if ((at.array() < 2.0).any() || (at.array() > size.array() - 2.0).any())
                press(Qt::Key_S); // it has left the picture
            else
                click(at);
        }
    }
    double seconds_of(std::size_t picture) const {
        return room()->marking().times_s(room()->active()).at(picture);
    }
    void say(const char* field, double value) {
        auto* box = window->findChild<QDoubleSpinBox*>(QString::fromLatin1(field));
        box->setFocus();
        box->selectAll();
        const QString text = QLocale().toString(value, 'f', box->decimals());
        pressed_ += 1 + static_cast<int>(text.size());
        QTest::keyClicks(box, text);
        QTest::keyClick(box, Qt::Key_Tab);
    }

    int pressed_ = 0; ///< clicks and keys
};

} // namespace

TEST_F(FilmTasks, SaysWhatToDoWithoutFilm) {
    window->enter(QStringLiteral("film"));
    auto* open = window->findChild<QToolButton*>(QStringLiteral("film_open"));
    ASSERT_NE(open, nullptr);
    EXPECT_TRUE(open->isVisible());
    // The demo film is a click away; without it nothing that needs a film does anything.
    for (const char* command : {"follow", "propose", "accept", "next-picture", "take-back",
                                "to-bench", "play", "skip", "top"})
        window->commands().run(QStringLiteral("film.") + QLatin1String(command));
    EXPECT_TRUE(room()->path().isEmpty());
    QSignalSpy opened(room(), &FilmRoom::films_opened);
    QTest::mouseClick(window->findChild<QToolButton*>(QStringLiteral("film_demo")), Qt::LeftButton);
    ASSERT_TRUE(!opened.isEmpty() || opened.wait(10000));
    ASSERT_TRUE(quiet());
    EXPECT_TRUE(room()->shown().has_swing());
    EXPECT_TRUE(room()->marking().has_film(1));
}

TEST_F(FilmTasks, ASwingIsMarkedWithFewClicksAndMeasuresAsItWas) {
    const FilmedSwing swing([](simulate::FilmCamera& camera, film::FilmLook& look) {
        camera.focal_px *= 1.35;
        camera.size_px *= 1.5;
        camera.blur_s = 0.0005;
        look.stored.stored_rate_hz = 30.0; // as phones store slow motion
        look.with_sound = true;
    });
    open_film(swing.path);
    ASSERT_EQ(window->current(), room());
    EXPECT_TRUE(next().startsWith(QStringLiteral("First the moments"))) << next().toStdString();
    press(Qt::Key_P);
    ASSERT_TRUE(quiet());
    const film::View& view_now = room()->marking().view(0);
    ASSERT_EQ(view_now.moments_s.count(Moment::Impact), 1U);
    const double starts_s = swing.setup.cameras.front().starts_s;
    EXPECT_NEAR(view_now.moments_s.at(Moment::Impact), swing.times.impact_s - starts_s, 0.003);
    say("film_belt", 100.0);
    say("film_shoulders", 90.0);
    say("film_distance", 4.2);
    say("film_height", 1.1);
    view()->setFocus();
    ASSERT_TRUE(quiet());
    // The first picture by hand, then the program follows; what it loses is clicked.
    ASSERT_TRUE(arrives(room()->marking().plan(0).pictures.front()));
    for (int rounds = 0; rounds < 30; ++rounds) {
        click_what_is_asked(swing);
        ASSERT_TRUE(quiet());
        if (room()->picture() >= room()->marking().plan(0).pictures.back())
            break;
        if (rounds == 0)
            press(Qt::Key_F); // it goes on by itself where it stopped
        QTest::qWait(20);
        ASSERT_TRUE(quiet());
        QTest::qWait(20);
    }
    press(Qt::Key_Return, Qt::ShiftModifier);
    ASSERT_TRUE(quiet());
    EXPECT_EQ(next(), QStringLiteral("All pictures of this film are marked."));
    RecordProperty("clicks_and_keys", pressed_);
    EXPECT_LT(pressed_, 60);

    ASSERT_TRUE(room()->shown().has_swing());
    const Analysis& analysis = room()->shown().swing()->analysis;
    const simulate::Truth truth = simulate::calc_truth(swing.model);
    const double impact_s = analysis.moments.time_s(Moment::Impact);
    EXPECT_NEAR(impact_s, swing.times.impact_s - starts_s, 0.004);
    // Face-on alone with a belt stick: turn at impact within 6°.
    EXPECT_NEAR(analysis.trunk.at(Segment::Pelvis).angles.turn_deg.at(impact_s),
                truth.pelvis.at(Moment::Impact).turn_deg, 6.0);
    // The marks lie beside the film, as every command reads them.
    press(Qt::Key_Return, Qt::ControlModifier);
    ASSERT_TRUE(settle());
    EXPECT_EQ(window->current()->id(), QStringLiteral("bench"));
    EXPECT_TRUE(
        QFile::exists(QString::fromStdString(swing.folder.path("swing.film.json").string())));
    ASSERT_TRUE(window->state()->has_swing());
}

namespace {

/// Two phones that were not started together, marked as an instructor would, with their film.
struct TwoFilms {
    simulate::SwingModel model{FilmedSwing::short_swing()};
    simulate::FilmSetup setup =
        simulate::usual_phones({film::Side::FaceOn, film::Side::DownTheLine}, 240.0);
    test::TemporaryFolder folder;
    film::Marks marks;

    TwoFilms() {
        for (simulate::FilmCamera& camera : setup.cameras) {
            camera.size_px /= 6.0;
            camera.focal_px /= 7.0;
            film::FilmLook look;
            EXPECT_TRUE(
                film::film_swing(folder.path(name(camera)), model, setup, camera, look).empty());
        }
        setup.mark_error_px = 0.3;
        marks = simulate::mark_film(model, setup);
        for (std::size_t i = 0; i < marks.views.size(); ++i)
            marks.views[i].film = name(setup.cameras[i]);
    }
    static std::string name(const simulate::FilmCamera& camera) {
        return std::string(film::key_of(camera.side)) + ".mp4";
    }
    QString write(const char* file) const {
        return QString::fromStdString(
            folder.write(file, formats::write_film_marks(marks)).string());
    }
};

const TwoFilms& two_films() {
    static const TwoFilms films;
    return films;
}

} // namespace

TEST_F(FilmTasks, TwoFilmsGoInStepWithEachOtherAndWithTheStair) {
    window->enter(QStringLiteral("film"));
    open_film(two_films().write("pair.film.json").toStdString());
    ASSERT_TRUE(quiet());
    ASSERT_TRUE(room()->shown().has_swing());
    // Both phones show the same moment, however they were started.
    const double top_s = room()->shown().swing()->analysis.moments.time_s(Moment::Top);
    const auto number = [&](int index) { return view(index)->picture(); };
    ASSERT_TRUE(films_arrive());
    const double apart_s =
        static_cast<double>(number(1)) / 240.0 - static_cast<double>(number(0)) / 240.0;
    EXPECT_NEAR(apart_s,
                two_films().setup.cameras[0].starts_s - two_films().setup.cameras[1].starts_s,
                0.006);
    EXPECT_NEAR(seconds_of(number(0)), top_s, 0.003);
    EXPECT_NEAR(room()->shown().cursor_s(), top_s, 0.003);
    // The film goes where the stair's cursor is put, and the other way round.
    room()->shown().set_cursor_s(top_s + 0.1);
    const auto wanted = room()->marking().facts(0).nearest(top_s + 0.1, 240.0);
    ASSERT_TRUE(QTest::qWaitFor([&] { return number(0) == wanted; }, 5000));
    press(Qt::Key_Left);
    ASSERT_TRUE(films_arrive());
    EXPECT_NEAR(room()->shown().cursor_s(), seconds_of(wanted - 1), 1e-6);
    press(Qt::Key_V);
    EXPECT_EQ(room()->active(), 1U);
    press(Qt::Key_Space);
    ASSERT_TRUE(QTest::qWaitFor(
        [&] { return room()->shown().cursor_s() > seconds_of(0) + top_s + 0.11; }, 10000));
    press(Qt::Key_Space);
    ASSERT_TRUE(films_arrive());
    // By hand: this film a picture later, the other one stays.
    room()->go_to(300);
    ASSERT_TRUE(films_arrive());
    ASSERT_EQ(number(1), 300U);
    const std::size_t other = number(0);
    press(Qt::Key_Right, Qt::AltModifier);
    ASSERT_TRUE(films_arrive());
    EXPECT_EQ(number(1), 301U);
    EXPECT_EQ(number(0), other);
    press(Qt::Key_V);
    press(Qt::Key_Left, Qt::AltModifier);
    ASSERT_TRUE(films_arrive());
    EXPECT_EQ(number(0), other - 1);
    EXPECT_EQ(number(1), 301U);
    press(Qt::Key_Z, Qt::ControlModifier);
    press(Qt::Key_Z, Qt::ControlModifier);
    EXPECT_FALSE(room()->marking().view(1).offset_s.has_value());
    // The order is told from two sides.
    EXPECT_TRUE(window->findChild<QLabel*>(QStringLiteral("film_reading"))
                    ->text()
                    .startsWith(QStringLiteral("pelvis → torso → lead arm")));
}

// Marks come by mail, from anybody, and may name any file of this machine.
TEST_F(FilmTasks, ForeignMarksOpenOnlyFilmBesideThemWithoutAsking) {
    const test::TemporaryFolder folder;
    const std::string film = two_films().folder.path("face-on.mp4").string();
    const QString marks = QString::fromStdString(folder.path("foreign.film.json").string());
    const QString beside = QString::fromStdString(folder.path("face-on.mp4").string());
    EXPECT_EQ(film_named(marks, "face-on.mp4").path, beside);
    for (const char* name :
         {"", ".", "..", "../secret", "/etc/passwd", "a/../../b", "\\\\host\\x"}) {
        EXPECT_TRUE(film_named(marks, name).path.isEmpty()) << name;
        EXPECT_TRUE(film_named(marks, name).elsewhere.isEmpty()) << name << ": no film";
    }
    EXPECT_TRUE(film_named(marks, film).path.isEmpty());
    EXPECT_EQ(film_named(marks, film).elsewhere, QString::fromStdString(film));
    film::Marks foreign = two_films().marks;
    foreign.views.resize(1);
    foreign.views[0].film = film;
    folder.write("foreign.film.json", formats::write_film_marks(foreign));
    window->enter(QStringLiteral("film"));
    window->open_paths({marks});
    auto* bar = window->findChild<QPushButton*>(QStringLiteral("message_action"));
    ASSERT_NE(bar, nullptr);
    ASSERT_TRUE(QTest::qWaitFor([&] { return bar->isVisible(); }, 10000));
    QSignalSpy opened(room(), &FilmRoom::films_opened);
    EXPECT_FALSE(opened.wait(300)) << "it is asked first";
    QTest::mouseClick(bar, Qt::LeftButton);
    EXPECT_TRUE(!opened.isEmpty() || opened.wait(10000));
    EXPECT_EQ(film_named(marks, film).path, QString::fromStdString(film)) << "and remembered";
}

TEST_F(FilmTasks, EveryStepIsUndoneAndTheFileGoesWithIt) {
    window->enter(QStringLiteral("film"));
    const QString file = two_films().write("undo.film.json");
    open_film(file.toStdString());
    const film::Marks before = room()->marking().marks();
    const std::size_t at = room()->picture();
    // Dragged: one step, however many moves.
    const auto seen = room()->marking().seen(0, at, Point::BeltLead);
    ASSERT_TRUE(seen.at);
    const QPoint from = view()->on_widget(*seen.at).toPoint();
    QTest::mousePress(view(), Qt::LeftButton, {}, from);
    for (int i = 1; i <= 5; ++i)
        QTest::mouseMove(view(), from + QPoint(4 * i, 0));
    QTest::mouseRelease(view(), Qt::LeftButton, {}, from + QPoint(20, 0));
    const auto moved = room()->marking().seen(0, at, Point::BeltLead);
    ASSERT_TRUE(moved.at);
    EXPECT_GT((*moved.at - *seen.at).norm(), 3.0);
    EXPECT_EQ(room()->history()->count(), 1);
    press(Qt::Key_T); // the top is here
    say("film_arm", 61.0);
    view()->setFocus();
    press(Qt::Key_Backspace); // the last point of this picture
    EXPECT_EQ(room()->history()->count(), 4);
    EXPECT_EQ(room()->marking().marks().lengths_m.arm.value_or(0.0), 0.61);
    ASSERT_TRUE(quiet());
    QTest::qWait(900); // it is kept by itself
    ASSERT_TRUE(quiet());
    const auto kept = formats::read_film_marks(test::TemporaryFolder::read(file.toStdString()));
    ASSERT_TRUE(kept.ok());
    EXPECT_EQ(kept.value.lengths_m.arm.value_or(0.0), 0.61);
    for (int i = 0; i < 4; ++i)
        press(Qt::Key_Z, Qt::ControlModifier);
    EXPECT_EQ(formats::write_film_marks(room()->marking().marks()),
              formats::write_film_marks(before));
    press(Qt::Key_Z, Qt::ControlModifier | Qt::ShiftModifier);
    EXPECT_EQ(room()->marking().seen(0, at, Point::BeltLead).at, moved.at);
}

TEST_F(FilmTasks, MarksWithKeysAlone) {
    const FilmedSwing swing;
    open_film(swing.path);
    const auto put = [&](double film_s, Qt::Key moment) {
        room()->go_to(room()->marking().facts(0).nearest(film_s, 240.0));
        ASSERT_TRUE(arrives(room()->marking().facts(0).nearest(film_s, 240.0)));
        press(moment);
    };
    const double starts_s = swing.setup.cameras.front().starts_s;
    put(swing.times.takeaway_s - starts_s - 0.1, Qt::Key_A);
    put(swing.times.top_s - starts_s, Qt::Key_T);
    put(swing.times.impact_s - starts_s, Qt::Key_I);
    press(Qt::Key_PageUp);
    ASSERT_TRUE(QTest::qWaitFor([&] { return room()->asked().has_value(); }, 5000));
    EXPECT_EQ(*room()->asked(), Point::BeltLead);
    // The cross goes eight pixels a press, one with Shift; it begins in the middle.
    press(Qt::Key_Right, Qt::ControlModifier);
    press(Qt::Key_Right, Qt::ControlModifier | Qt::ShiftModifier);
    press(Qt::Key_Up, Qt::ControlModifier);
    press(Qt::Key_X);
    const auto seen = room()->marking().seen(0, room()->picture(), Point::BeltLead);
    ASSERT_TRUE(seen.at);
    EXPECT_EQ(*seen.at, film::Pixel(180.0 + 9.0, 320.0 - 8.0));
    EXPECT_FALSE(seen.guessed);
    EXPECT_EQ(*room()->asked(), Point::BeltTrail);
    press(Qt::Key_S);
    EXPECT_EQ(*room()->asked(), Point::ShoulderLead);
    // Legs are asked for where that is wanted, after the rest.
    EXPECT_EQ(room()->marking().plan(0).points.size(), 8U);
    ASSERT_TRUE(window->commands().run(QStringLiteral("film.with-legs")));
    EXPECT_EQ(room()->marking().plan(0).points.size(), 13U);
    EXPECT_EQ(room()->marking().plan(0).points.back(), Point::TrailAnkle);
}

TEST_F(FilmTasks, ACaptureRateThatIsNotToldIsAskedForAndAWrongOneIsFlagged) {
    const FilmedSwing swing([](simulate::FilmCamera&, film::FilmLook& look) {
        look.stored.stored_rate_hz = 30.0;
        look.stored.tells_capture_rate = false;
    });
    open_film(swing.path);
    EXPECT_TRUE(next().startsWith(QStringLiteral("Say at how many pictures")))
        << next().toStdString();
    const double starts_s = swing.setup.cameras.front().starts_s;
    // Somebody believes that it plays as it was filmed.
    say("film_rate", 30.0);
    const auto put = [&](double swing_s, Moment moment) {
        room()->go_to(static_cast<std::size_t>((swing_s - starts_s) * 240.0));
        ASSERT_TRUE(arrives(static_cast<std::size_t>((swing_s - starts_s) * 240.0)));
        press(moment == Moment::Top ? Qt::Key_T : Qt::Key_I);
    };
    view()->setFocus();
    put(swing.times.top_s, Moment::Top);
    put(swing.times.impact_s, Moment::Impact);
    auto* words = window->findChild<QLabel*>(QStringLiteral("film_rate_words"));
    EXPECT_TRUE(words->text().startsWith(QStringLiteral("No swing lasts like this")))
        << words->text().toStdString();
    const double slow_s = room()->marking().view(0).moments_s.at(Moment::Impact);
    // All times go with the rate.
    say("film_rate", 240.0);
    EXPECT_NEAR(room()->marking().view(0).moments_s.at(Moment::Impact), slow_s / 8.0, 1e-6);
    EXPECT_TRUE(words->text().startsWith(QStringLiteral("Slow motion")));
}

TEST_F(FilmTasks, WhatCannotBeOpenedIsSaidAndMarksAreShownWithoutTheirFilm) {
    const test::TemporaryFolder folder;
    folder.write("broken.mp4", "this is no film");
    window->open_paths({QString::fromStdString(folder.path("broken.mp4").string())});
    auto* message = window->findChild<QLabel*>(QStringLiteral("message_text"));
    ASSERT_NE(message, nullptr);
    ASSERT_TRUE(QTest::qWaitFor(
        [&] { return message->text().contains(QStringLiteral("cannot be opened as film")); },
        10000));
    // Damaged marks leave what is open as it is.
    folder.write("bad.film.json", "{\"kite-hinge\": \"film 1\", \"views\": 3}");
    ASSERT_TRUE(room()->open({QString::fromStdString(folder.path("bad.film.json").string())}));
    EXPECT_TRUE(room()->path().endsWith(QStringLiteral("broken.film.json")));
    // The film is gone, the marks are enough.
    const auto marks =
        folder.write("alone.film.json", formats::write_film_marks(two_films().marks));
    ASSERT_TRUE(room()->open({QString::fromStdString(marks.string())}));
    ASSERT_TRUE(quiet());
    EXPECT_TRUE(room()->shown().has_swing());
}

TEST_F(FilmTasks, TheCoveredFaceIsCoveredInTheStillToo) {
    window->enter(QStringLiteral("film"));
    open_film(two_films().write("still.film.json").toStdString());
    ASSERT_TRUE(QTest::qWaitFor([&] { return view()->picture() > 0; }, 5000));
    const QImage open = view()->still();
    window->commands().run(QStringLiteral("film.cover-face"));
    const QImage covered = view()->still();
    // The model's own head, by the lens that filmed it.
    const double film_s = seconds_of(room()->picture());
    const auto& camera = two_films().setup.cameras.front();
    const film::Pixel head = simulate::Lens(camera).see(simulate::points_of(
        two_films().model, two_films().setup)(Point::Head, camera.starts_s + film_s));
    EXPECT_EQ(covered.size(), QSize(180, 320));
    // Skin about the head's place, before and after.
    const auto skin = [&](const QImage& still) {
        int found = 0;
        for (int x = -9; x <= 9; ++x)
            for (int y = -9; y <= 9; ++y) {
                const QColor seen = still.pixelColor(static_cast<int>(head.x()) + x,
                                                     static_cast<int>(head.y()) + y);
                found += std::abs(seen.red() - 176) < 25 && std::abs(seen.green() - 140) < 25 &&
                                 std::abs(seen.blue() - 116) < 25
                             ? 1
                             : 0;
            }
        return found;
    };
    EXPECT_GT(skin(open), 20);
    EXPECT_EQ(skin(covered), 0);
}

TEST_F(FilmTasks, FilmIsKeptWithTheRecordWhereThatIsWanted) {
    begin_lesson(QStringLiteral("Ottoline"));
    RecordKeeper& record = *window->room<LessonRoom>()->record();
    window->enter(QStringLiteral("film"));
    ASSERT_TRUE(window->commands().run(QStringLiteral("film.keep-in-record")));
    // A plan, so that film from home joins its drill.
    window->open_paths({QStringLiteral(KITE_DEMO_FOLDER "/01-alva-iron.csv")});
    ASSERT_TRUE(settle());
    ASSERT_TRUE(window->commands().run(QStringLiteral("window.go-practice")));
    ASSERT_TRUE(window->commands().run(QStringLiteral("practice.make")));
    window->enter(QStringLiteral("film"));
    open_film(two_films().write("kept.film.json").toStdString());
    ASSERT_TRUE(window->commands().run(QStringLiteral("film.of-drill")));
    QSignalSpy kept(&record, &RecordKeeper::kept);
    press(Qt::Key_Return, Qt::ControlModifier);
    ASSERT_TRUE(settle());
    ASSERT_TRUE(!kept.isEmpty() || kept.wait(20000));
    const auto folder =
        store::film_folder(record.path().toStdString(), kept.back().at(1).toString().toStdString());
    ASSERT_TRUE(QTest::qWaitFor([&] { return std::filesystem::exists(folder); }, 10000));
    EXPECT_EQ(test::TemporaryFolder::read(folder / "face-on.mp4"),
              test::TemporaryFolder::read(two_films().folder.path("face-on.mp4")));
    EXPECT_TRUE(std::filesystem::exists(folder / "down-the-line.mp4"));
    EXPECT_TRUE(std::filesystem::exists(folder / "kept.film.json"));
    // … and it is marked with the plan's drill and rung, and counted.
    const QString id = kept.back().at(1).toString();
    ASSERT_TRUE(QTest::qWaitFor(
        [&] {
            for (const Row& swing : record.view().swings)
                if (text_in(swing, "id") == id)
                    return text_in(swing, "tags").endsWith(QStringLiteral(", rung 1"));
            return false;
        },
        10000));
    const auto& counts = window->room<PracticeRoom>()->keeper().plan()->counts;
    ASSERT_EQ(counts.size(), 1U);

    // Marks that are corrected later are the swing's from then on; it stays one swing.
    window->enter(QStringLiteral("film"));
    const std::string first = test::TemporaryFolder::read(folder / "kept.film.json");
    kept.clear();
    press(Qt::Key_Backspace); // a point of this picture goes
    ASSERT_TRUE(quiet());
    press(Qt::Key_Return, Qt::ControlModifier);
    ASSERT_TRUE(settle());
    ASSERT_TRUE(!kept.isEmpty() || kept.wait(20000));
    EXPECT_EQ(kept.back().at(1).toString(), id);
    ASSERT_EQ(record.view().swings.size(), 2U); // and that of the plan
    const auto inside = store::Record::open(record.path().toStdString(), store::Opening::Read);
    const auto row = inside.value->swing(id.toStdString());
    const std::string marks =
        test::TemporaryFolder::read(two_films().folder.path("kept.film.json"));
    EXPECT_EQ(inside.value->capture(row.value.at("sha256")).value, marks);
    EXPECT_TRUE(QTest::qWaitFor(
        [&] { return test::TemporaryFolder::read(folder / "kept.film.json") != first; }, 10000));
    EXPECT_EQ(counts.size(), 1U);
}

TEST_F(FilmTasks, AStillGoesIntoTheReport) {
    window->enter(QStringLiteral("film"));
    open_film(two_films().write("report.film.json").toStdString());
    ASSERT_TRUE(QTest::qWaitFor([&] { return view()->picture() > 0; }, 5000));
    press(Qt::Key_Return, Qt::ControlModifier);
    ASSERT_TRUE(settle());
    window->enter(QStringLiteral("film"));
    press(Qt::Key_R);
    auto* report = window->room<ReportRoom>();
    QSignalSpy made(report, &ReportRoom::made);
    window->enter(QStringLiteral("report"));
    ASSERT_TRUE(!made.isEmpty() || made.wait(20000));
    ASSERT_EQ(report->report().pages.size(), 3U);
    const std::string html = report::to_html(report->report());
    // The picture comes back out of the page as it was taken.
    const QByteArray page = QByteArray::fromStdString(html);
    const QByteArray begin = "src=\"data:image/png;base64,";
    const auto from = page.indexOf(begin) + begin.size();
    ASSERT_GE(from, begin.size());
    const QImage still = QImage::fromData(
        QByteArray::fromBase64(page.mid(from, page.indexOf('"', from) - from)), "PNG");
    EXPECT_EQ(still.size(), QSize(180, 320));
    EXPECT_NE(html.find("Face-on, "), std::string::npos);
    // On paper it takes a sheet of its own.
    EXPECT_EQ(paper::Pages(report->report()).count(), 3);
}

TEST_F(FilmTasks, FollowsBackwardsAndAsksThereForWhatItLost) {
    const FilmedSwing swing;
    open_film(swing.path);
    const double starts_s = swing.setup.cameras.front().starts_s;
    for (const auto& [swing_s, moment] :
         {std::pair(swing.times.top_s, Qt::Key_T), std::pair(swing.times.impact_s, Qt::Key_I)}) {
        const auto at = room()->marking().facts(0).nearest(swing_s - starts_s, 240.0);
        room()->go_to(at);
        ASSERT_TRUE(arrives(at));
        press(moment);
    }
    const film::MarkingPlan plan = room()->marking().plan(0);
    const std::size_t from = plan.pictures[plan.pictures.size() / 2];
    room()->go_to(from);
    ASSERT_TRUE(arrives(from));
    click_what_is_asked(swing);
    press(Qt::Key_F, Qt::ShiftModifier);
    ASSERT_TRUE(quiet());
    QTest::qWait(50);
    ASSERT_TRUE(films_arrive());
    // The belt as far as it goes, and where the lens has it.
    const std::size_t before = from - 5;
    const auto belt = room()->marking().seen(0, before, Point::BeltLead);
    ASSERT_TRUE(belt.at);
    EXPECT_TRUE(belt.guessed);
    EXPECT_LT((*belt.at - swing.truth(Point::BeltLead, seconds_of(before))).norm(), 3.0);
    EXPECT_FALSE(room()->marking().is_guessed(0, from + 1));
    // Either all was found to the first picture, or it stands where something was lost and asks.
    if (room()->picture() == plan.pictures.front()) {
        EXPECT_FALSE(room()->asked());
    } else {
        EXPECT_LT(room()->picture(), from);
        EXPECT_TRUE(room()->asked());
    }
}
