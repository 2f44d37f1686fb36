// The real window, driven by clicks and keys through whole tasks. Runs offscreen, and once more on
// an X server (window_under_xvfb).

#include "app/charts/kite_view.h"
#include "app/charts/separation_strip.h"
#include "app/charts/stair_chart.h"
#include "app/rooms/bench/bench_view.h"
#include "app/test_window.h"
#include "app/theme/theme.h"
#include "support/temporary_folder.h"

#include <QApplication>
#include <QDropEvent>
#include <QLabel>
#include <QListView>
#include <QMimeData>
#include <QPushButton>
#include <QSignalSpy>
#include <QTest>
#include <QToolButton>
#include <QWheelEvent>
#include <gtest/gtest.h>

#include <cmath>

using namespace kite;
using namespace kite::app;

namespace {

class Window : public testing::Test {
protected:
    void SetUp() override {
        window.resize(1280, 800);
        window.show();
        // Without a window manager nobody else makes it the active one, and keys need that.
        window.activateWindow();
        ASSERT_TRUE(QTest::qWaitForWindowActive(&window));
    }

    template <class T>
    T* child(const char* name) {
        T* found = window.findChild<T*>(QString::fromLatin1(name));
        EXPECT_NE(found, nullptr) << name;
        return found;
    }
    void click(QWidget* widget) { QTest::mouseClick(widget, Qt::LeftButton); }
    void key(Qt::Key key, Qt::KeyboardModifiers modifiers = Qt::NoModifier) {
        QTest::keyClick(&window, key, modifiers);
    }
    bool wait_loaded() {
        return QTest::qWaitFor(
            [&] { return window.model()->rowCount() > 0 && !window.model()->is_loading(); }, 20000);
    }
    void open_demo() {
        click(child<QPushButton>("demo"));
        ASSERT_TRUE(wait_loaded());
    }
    QString label(const char* name) { return child<QLabel>(name)->text(); }
    double moment(Moment m) const { return window.state()->swing()->analysis.moments.time_s(m); }
    /// A picture of a widget after pending paints.
    static QImage picture(QWidget* widget) {
        QCoreApplication::processEvents();
        return widget->grab().toImage();
    }

    TestWindow window;
};

} // namespace

TEST_F(Window, BeginsEmptyAndOpensTheDemoOnRequestOnly) {
    EXPECT_EQ(window.model()->rowCount(), 0);
    EXPECT_FALSE(window.bench()->isVisible());
    open_demo();
    EXPECT_EQ(window.model()->rowCount(), 10);
    EXPECT_TRUE(window.bench()->isVisible());
    EXPECT_EQ(label("swing_title"), QStringLiteral("Alva — iron, right-handed"));
    EXPECT_EQ(label("fix_title"), QStringLiteral("The upper body starts down first"));
    for (int row = 0; row < 10; ++row)
        EXPECT_EQ(window.model()->state(row), SwingListModel::State::Ready) << row;
}

TEST_F(Window, WalksThroughTheSwingsByKey) {
    open_demo();
    for (int i = 0; i < 4; ++i)
        key(Qt::Key_PageDown);
    EXPECT_EQ(label("fix_title"), QStringLiteral("Nothing to mend here"));
    EXPECT_EQ(label("order_title"), QStringLiteral("Peaks in order"));
    for (int i = 0; i < 4; ++i)
        key(Qt::Key_N);
    EXPECT_EQ(label("order_title"), QStringLiteral("Peaks out of order"));
    EXPECT_EQ(label("swing_title"), QStringLiteral("Priska — wedge, right-handed"));
    key(Qt::Key_P);
    EXPECT_EQ(label("swing_title"), QStringLiteral("Jonas — driver, left-handed"));
    for (int i = 0; i < 20; ++i)
        key(Qt::Key_PageUp);
    EXPECT_EQ(window.state()->swing(), window.model()->swing(0));
}

TEST_F(Window, AClickOnTheListShowsThatSwing) {
    open_demo();
    auto* list = child<QListView>("swings");
    const QRect row = list->visualRect(list->model()->index(8, 0));
    QTest::mouseClick(list->viewport(), Qt::LeftButton, {}, row.center());
    EXPECT_EQ(window.state()->swing(), window.model()->swing(8));
}

TEST_F(Window, DraggingInAChartMovesTheCursorOfAll) {
    open_demo();
    auto* stair = window.stair();
    auto* strip = window.separation();
    const QImage kite_before = picture(window.kite());
    const QImage strip_before = picture(strip);
    const int y = stair->height() / 2;
    QTest::mousePress(stair, Qt::LeftButton, {}, QPoint(400, y));
    const double first = window.state()->cursor_s();
    QTest::mouseMove(stair, QPoint(300, y));
    QMouseEvent move(QEvent::MouseMove, QPointF(300, y), stair->mapToGlobal(QPointF(300, y)),
                     Qt::NoButton, Qt::LeftButton, Qt::NoModifier);
    QApplication::sendEvent(stair, &move);
    QTest::mouseRelease(stair, Qt::LeftButton, {}, QPoint(300, y));
    EXPECT_LT(window.state()->cursor_s(), first);
    EXPECT_NE(picture(window.kite()), kite_before);
    EXPECT_NE(picture(strip), strip_before);

    // The left end of the lane is the left end of the shown stretch, the right end the right one.
    QTest::mouseClick(stair, Qt::LeftButton, {}, QPoint(2, y));
    EXPECT_NEAR(window.state()->cursor_s(), window.state()->range().begin_s, 1e-9);
    QTest::mouseClick(strip, Qt::LeftButton, {}, QPoint(strip->width() - 2, 20));
    EXPECT_NEAR(window.state()->cursor_s(), window.state()->range().end_s, 1e-9);
}

TEST_F(Window, StepsByFrameAndByMoment) {
    open_demo();
    EXPECT_EQ(label("place"), QStringLiteral("at impact"));
    key(Qt::Key_Left, Qt::ShiftModifier);
    EXPECT_NEAR(window.state()->cursor_s(), moment(Moment::ShaftLevelDown), 1e-9);
    key(Qt::Key_Left, Qt::ShiftModifier);
    key(Qt::Key_Left, Qt::ShiftModifier);
    EXPECT_NEAR(window.state()->cursor_s(), moment(Moment::Top), 1e-9);
    const double top = window.state()->cursor_s();
    key(Qt::Key_Right);
    EXPECT_NEAR(window.state()->cursor_s() - top, 1.0 / 240.0, 0.5 / 240.0);
    click(child<QToolButton>("frame_back"));
    click(child<QToolButton>("moment_forward"));
    EXPECT_GT(window.state()->cursor_s(), top - 0.005);
}

TEST_F(Window, AReasonLeadsToItsMomentAndLightsItsCurves) {
    open_demo();
    QList<QPushButton*> links = window.bench()->findChildren<QPushButton*>(QStringLiteral("link"));
    links.removeIf([](const QPushButton* link) { return link->property("leads_to").isValid(); });
    ASSERT_GE(links.size(), 2);
    EXPECT_TRUE(links[0]->accessibleName().startsWith(QStringLiteral("The torso starts down ")));
    const QImage before = picture(window.stair());
    click(links[0]);
    const auto& sequence = window.state()->swing()->analysis.sequence;
    EXPECT_NEAR(window.state()->cursor_s(), sequence.find(Segment::Torso)->reversal_t_s, 1e-9);
    EXPECT_TRUE(window.state()->is_lit(Segment::Torso));
    EXPECT_FALSE(window.state()->is_lit(Segment::Club));
    EXPECT_NE(picture(window.stair()), before);
    key(Qt::Key_Escape);
    EXPECT_TRUE(window.state()->is_lit(Segment::Club));
}

TEST_F(Window, PlaysSlowlyAndStopsAtTheEnd) {
    open_demo();
    key(Qt::Key_3);
    EXPECT_NEAR(window.state()->speed(), 1.0 / 30.0, 1e-9);
    key(Qt::Key_1);
    window.state()->set_cursor_s(window.state()->range().begin_s);
    const double from = window.state()->cursor_s();
    key(Qt::Key_Space);
    EXPECT_TRUE(window.state()->is_playing());
    EXPECT_TRUE(QTest::qWaitFor([&] { return window.state()->cursor_s() > from + 0.01; }, 5000));
    key(Qt::Key_Space);
    EXPECT_FALSE(window.state()->is_playing());
    window.state()->set_cursor_s(window.state()->range().end_s - 0.004);
    click(child<QToolButton>("play"));
    EXPECT_TRUE(QTest::qWaitFor([&] { return !window.state()->is_playing(); }, 5000));
    EXPECT_NEAR(window.state()->cursor_s(), window.state()->range().end_s, 1e-9);
}

TEST_F(Window, ZoomsWithTheWheelAndComesBack) {
    open_demo();
    const double before = window.state()->range().duration_s();
    auto* stair = window.stair();
    QWheelEvent wheel(QPointF(400, 200), stair->mapToGlobal(QPointF(400, 200)), QPoint(),
                      QPoint(0, 240), Qt::NoButton, Qt::NoModifier, Qt::NoScrollPhase, false);
    QApplication::sendEvent(stair, &wheel);
    EXPECT_LT(window.state()->range().duration_s(), before);
    QTest::mouseDClick(stair, Qt::LeftButton, {}, QPoint(400, 200));
    EXPECT_NEAR(window.state()->range().duration_s(), before, 1e-9);
    key(Qt::Key_W);
    EXPECT_TRUE(window.state()->is_whole());
    key(Qt::Key_PageDown);
    EXPECT_TRUE(window.state()->is_whole()) << "the next swing is looked at in the same way";
    key(Qt::Key_W);
    EXPECT_FALSE(window.state()->is_whole());
}

TEST_F(Window, ABadFileIsSaidInPlaceAndTheRestStaysUsable) {
    open_demo();
    test::TemporaryFolder folder;
    const auto bad = folder.write("broken.csv",
                                  "time_s,pelvis_qw,pelvis_qx,pelvis_qy,pelvis_qz\n0,1,0,0,tree\n");
    window.open_paths({QString::fromStdString(bad.string())});
    ASSERT_TRUE(wait_loaded());
    EXPECT_EQ(window.model()->state(10), SwingListModel::State::Failed);
    auto* text = child<QLabel>("message_text");
    EXPECT_TRUE(text->isVisible());
    EXPECT_TRUE(text->text().contains(
        QStringLiteral("line 2, column pelvis_qz: \"tree\" is not a number.")))
        << text->text().toStdString();
    EXPECT_FALSE(window.bench()->isVisible());
    key(Qt::Key_PageUp);
    EXPECT_FALSE(text->isVisible());
    EXPECT_TRUE(window.bench()->isVisible());
    key(Qt::Key_PageDown);
    key(Qt::Key_Delete);
    EXPECT_EQ(window.model()->rowCount(), 10);
    EXPECT_TRUE(window.bench()->isVisible());
}

TEST_F(Window, OpensWhatIsDropped) {
    test::TemporaryFolder folder;
    std::filesystem::copy_file(std::filesystem::path(KITE_DEMO_FOLDER) / "05-alva-iron.csv",
                               folder.path("mine.csv"));
    folder.write("note.md", "not a swing");
    QMimeData mime;
    mime.setUrls({QUrl::fromLocalFile(QString::fromStdString(folder.path("").string()))});
    QDragEnterEvent enter(QPoint(500, 300), Qt::CopyAction, &mime, Qt::LeftButton, Qt::NoModifier);
    QApplication::sendEvent(&window, &enter);
    EXPECT_TRUE(enter.isAccepted());
    QDropEvent drop(QPointF(500, 300), Qt::CopyAction, &mime, Qt::LeftButton, Qt::NoModifier);
    QApplication::sendEvent(&window, &drop);
    ASSERT_TRUE(wait_loaded());
    ASSERT_EQ(window.model()->rowCount(), 1) << "a folder gives its swing files";
    EXPECT_EQ(label("swing_title"), QStringLiteral("mine.csv — iron, right-handed"));
}

TEST_F(Window, ChangesItsTheme) {
    open_demo();
    const QImage light = picture(window.stair());
    key(Qt::Key_T, Qt::ControlModifier);
    EXPECT_EQ(Theme::instance().kind(), ThemeKind::Dark);
    const QImage dark = picture(window.stair());
    EXPECT_LT(qGray(dark.pixel(3, 3)), 60);
    EXPECT_GT(qGray(light.pixel(3, 3)), 200);
    click(child<QToolButton>("theme"));
    EXPECT_EQ(Theme::instance().kind(), ThemeKind::Light);
}

TEST_F(Window, TellsScreenReadersWhatTheGlyphShows) {
    open_demo();
    const QString text = window.model()->index(8).data(Qt::AccessibleTextRole).toString();
    EXPECT_EQ(text, QStringLiteral("Swing 9, Priska, pelvis → lead arm → torso → club"));
}

TEST_F(Window, ClosesWhileFilesAreStillLoading) {
    auto* other = new ::kite::app::TestWindow;
    other->open_demo();
    delete other; // waits for its workers, touches nothing afterwards
    QCoreApplication::processEvents();
    EXPECT_EQ(window.model()->rowCount(), 0);
}
