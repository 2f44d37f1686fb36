// The Film room, driven as an instructor would: film of a made-up swing is marked with clicks at
// the places that its lens knows, followed, and measured; what comes out is compared with the
// swing.

#include "app/rooms/film/film_player.h"
#include "app/rooms/film/film_room.h"
#include "app/rooms/film/film_view.h"
#include "app/rooms/film/frame_strip.h"
#include "app/window_test.h"
#include "film/filmed_swing.h"
#include "simulate/truth.h"

#include <QAbstractSpinBox>
#include <QDoubleSpinBox>
#include <QFile>
#include <QLabel>
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
    // Nothing that needs a film does anything without one.
    for (const char* command : {"follow", "propose", "accept", "next-picture", "take-back",
                                "to-bench", "play", "skip", "top"})
        window->commands().run(QStringLiteral("film.") + QLatin1String(command));
    EXPECT_TRUE(room()->path().isEmpty());
}

TEST_F(FilmTasks, ASwingIsMarkedWithFewClicksAndMeasuresAsItWas) {
    const FilmedSwing swing([](simulate::FilmCamera& camera, film::FilmLook& look) {
        camera.focal_px *= 1.8;
        camera.size_px *= 2.0;
        look.stored.stored_rate_hz = 30.0; // as phones store slow motion
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
