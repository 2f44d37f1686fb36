// Whole tasks on the Bench, with clicks and keys in the real window: correct a moment, take it
// back, measure in another way, look at the body, copy and save.

#include "app/charts/body_strip.h"
#include "app/charts/chart_picture.h"
#include "app/charts/kite_view.h"
#include "app/charts/stair_chart.h"
#include "app/rooms/bench/bench_view.h"
#include "app/rooms/bench/measure_bar.h"
#include "app/rooms/bench/moment_table.h"
#include "app/session/swing_editor.h"
#include "app/shell/command_panel.h"
#include "app/window_test.h"
#include "support/temporary_folder.h"

#include <QApplication>
#include <QCheckBox>
#include <QClipboard>
#include <QDoubleSpinBox>
#include <QFile>
#include <QLabel>
#include <QLineEdit>
#include <QMenu>
#include <QPushButton>
#include <QTableWidget>
#include <QToolButton>
#include <QXmlStreamReader>
#include <gtest/gtest.h>

#include <cmath>
#include <memory>
#include <set>

using namespace kite;
using namespace kite::app;

namespace {

class BenchTasks : public WindowTest {
protected:
    void SetUp() override {
        WindowTest::SetUp();
        open_lesson();
    }
    void open_lesson() {
        open_demo();
        window->select(4);
        QCoreApplication::processEvents();
    }
    const Analysis& analysis() const { return window->state()->swing()->analysis; }
    double moment(Moment m) const { return analysis().moments.time_s(m); }
    bool moved(Moment m) const { return analysis().moments[m]->moved; }

    /// Where the flag of a moment stands in the stair.
    QPoint flag(Moment m) const {
        const TimeRange range = window->state()->range();
        const QCPAxisRect* lane = window->stair()->axisRect(0);
        const double share = (moment(m) - range.begin_s) / range.duration_s();
        return {static_cast<int>(std::lround(lane->left() + share * lane->width())) + 2,
                lane->top() + 4};
    }
    void drag(QPoint from, int pixels) {
        QWidget* stair = window->stair();
        QTest::mousePress(stair, Qt::LeftButton, {}, from);
        for (int i = 1; i <= 5; ++i) {
            const QPointF at(from.x() + pixels * i / 5.0, from.y());
            QMouseEvent move(QEvent::MouseMove, at, stair->mapToGlobal(at), Qt::NoButton,
                             Qt::LeftButton, Qt::NoModifier);
            QApplication::sendEvent(stair, &move);
        }
        QTest::mouseRelease(stair, Qt::LeftButton, {}, from + QPoint(pixels, 0));
        ASSERT_TRUE(settle());
    }
    void choose(const char* button, int entry) {
        auto* found = window->findChild<QToolButton*>(QString::fromLatin1(button));
        ASSERT_NE(found, nullptr) << button;
        found->menu()->actions().at(entry)->trigger();
        ASSERT_TRUE(settle());
    }
};

} // namespace

TEST_F(BenchTasks, AMomentIsDraggedSeenToBeMovedAndTakenBack) {
    const double found = moment(Moment::Top);
    const double backswing = analysis().tempo.backswing_s;
    const TimeRange shown = window->state()->range();
    const double s_per_pixel = shown.duration_s() / window->stair()->axisRect(0)->width();
    drag(flag(Moment::Top), -40);
    EXPECT_NEAR(moment(Moment::Top), found - 40 * s_per_pixel, 2.0 * s_per_pixel);
    EXPECT_TRUE(moved(Moment::Top));
    EXPECT_FALSE(moved(Moment::Impact));
    // What depends on it follows: the backswing is shorter by as much.
    EXPECT_NEAR(analysis().tempo.backswing_s, backswing + moment(Moment::Top) - found, 1e-9);
    EXPECT_NEAR(window->state()->cursor_s(), moment(Moment::Top), 1e-9);
    EXPECT_NEAR(window->state()->range().begin_s, shown.begin_s, 1e-9) << "the view stays";

    key(Qt::Key_Z, Qt::ControlModifier); // the whole drag is one step
    EXPECT_NEAR(moment(Moment::Top), found, 1e-12);
    EXPECT_FALSE(moved(Moment::Top));
    key(Qt::Key_Z, Qt::ControlModifier | Qt::ShiftModifier);
    EXPECT_TRUE(moved(Moment::Top));
    QTest::mouseDClick(window->stair(), Qt::LeftButton, {}, flag(Moment::Top));
    ASSERT_TRUE(settle());
    EXPECT_FALSE(moved(Moment::Top)) << "a double click puts it back where it was found";
}

TEST_F(BenchTasks, AMomentIsNudgedByKeyAndOtherSwingsStayAsTheyAre) {
    window->state()->choose_moment(Moment::Top);
    const double found = moment(Moment::Top);
    for (int i = 0; i < 3; ++i)
        key(Qt::Key_Right, Qt::AltModifier);
    EXPECT_NEAR(moment(Moment::Top), found + 3.0 / analysis().rate_hz, 1e-9);
    key(Qt::Key_PageDown);
    EXPECT_FALSE(moved(Moment::Top));
    key(Qt::Key_Right, Qt::AltModifier); // no moment is chosen here: nothing moves
    EXPECT_FALSE(moved(Moment::Top));
    // Undoing a step of another swing shows that swing.
    key(Qt::Key_Z, Qt::ControlModifier);
    EXPECT_EQ(window->state()->swing(), window->model()->swing(4));
    EXPECT_NEAR(moment(Moment::Top), found, 1e-12) << "a run of nudges is one step";
    window->state()->choose_moment(Moment::Top);
    key(Qt::Key_Left, Qt::AltModifier);
    EXPECT_TRUE(moved(Moment::Top));
    key(Qt::Key_Backspace);
    EXPECT_FALSE(moved(Moment::Top));
}

TEST_F(BenchTasks, AllSwingsAreMeasuredInTheWayChosen) {
    const double torso = analysis().sequence.find(Segment::Torso)->peak_deg_s;
    const double separation = analysis().separation->at_top_deg;
    choose("choose_rates", 2);
    EXPECT_EQ(analysis().options.convention, RateConvention::Plane);
    EXPECT_GT(std::abs(analysis().sequence.find(Segment::Torso)->peak_deg_s - torso), 5.0);
    EXPECT_TRUE(window->findChild<QToolButton*>(QStringLiteral("choose_rates"))
                    ->text()
                    .contains(QStringLiteral("swing plane")));
    choose("choose_separation", 1);
    EXPECT_NE(analysis().separation->at_top_deg, separation);
    for (int row = 0; row < window->model()->rowCount(); ++row)
        EXPECT_EQ(window->model()->swing(row)->analysis.options.convention, RateConvention::Plane);
    key(Qt::Key_Z, Qt::ControlModifier);
    key(Qt::Key_Z, Qt::ControlModifier);
    EXPECT_EQ(analysis().options.convention, RateConvention::Axis);
    EXPECT_NEAR(analysis().sequence.find(Segment::Torso)->peak_deg_s, torso, 1e-9);
}

TEST_F(BenchTasks, ACutOffIsFixedAndLeftToItselfAgain) {
    auto* bar = window->measure_bar();
    auto* fix = bar->findChild<QCheckBox*>(QStringLiteral("fix_3"));
    auto* value = bar->findChild<QDoubleSpinBox*>(QStringLiteral("cutoff_3"));
    ASSERT_TRUE(fix != nullptr && value != nullptr);
    const double own_hz = analysis().sequence.find(Segment::Club)->cutoff_hz;
    EXPECT_FALSE(value->isEnabled());
    fix->click();
    ASSERT_TRUE(settle());
    value->setValue(18.0);
    ASSERT_TRUE(settle());
    EXPECT_DOUBLE_EQ(analysis().sequence.find(Segment::Club)->cutoff_hz, 18.0);
    fix->click();
    ASSERT_TRUE(settle());
    EXPECT_NEAR(analysis().sequence.find(Segment::Club)->cutoff_hz, own_hz, 1e-9);
}

TEST_F(BenchTasks, TheTableIsCopiedForASpreadsheet) {
    key(Qt::Key_T);
    ASSERT_TRUE(window->bench()->is_table_shown());
    key(Qt::Key_C, Qt::ControlModifier);
    const QStringList lines = QApplication::clipboard()->text().split(QLatin1Char('\n'));
    ASSERT_EQ(lines.size(), 13) << "header, eleven moments, end";
    EXPECT_TRUE(lines[0].startsWith(QStringLiteral("moment\tFrom impact ms")));
    const QStringList top = lines[5].split(QLatin1Char('\t'));
    EXPECT_EQ(top[0], QStringLiteral("top"));
    EXPECT_NEAR(top[1].toDouble(), 1000.0 * (moment(Moment::Top) - moment(Moment::Impact)), 0.001);
    EXPECT_NEAR(top[3].toDouble(), analysis().position(Segment::Pelvis, Moment::Top).turn_deg,
                0.001);
    // A row leads the cursor to its moment.
    auto* table = window->table();
    const QRect cell = table->visualRect(table->model()->index(4, 0));
    QTest::mouseClick(table->viewport(), Qt::LeftButton, {}, cell.center());
    EXPECT_NEAR(window->state()->cursor_s(), moment(Moment::Top), 1e-9);
    key(Qt::Key_T);
    EXPECT_FALSE(window->bench()->is_table_shown());
}

TEST_F(BenchTasks, TheBodyStripShowsOneQuantityAfterAnother) {
    auto* body = window->body();
    const QString first = body->chosen();
    const QImage before = body->grab().toImage();
    key(Qt::Key_B);
    EXPECT_NE(body->chosen(), first);
    QCoreApplication::processEvents();
    EXPECT_NE(body->grab().toImage(), before);
    key(Qt::Key_B, Qt::ShiftModifier);
    EXPECT_EQ(body->chosen(), first);
    // Swing 5 is a pose file with everything but forces: a whole round passes what it has.
    std::set<QString> seen;
    for (std::size_t i = 0; i < all_quantities().size(); ++i) {
        seen.insert(body->chosen());
        key(Qt::Key_B);
    }
    for (const Quantity& one : all_quantities())
        EXPECT_EQ(seen.count(QString::fromLatin1(one.key)) > 0,
                  one.shown == Quantity::Shown::Everywhere && !one.curve(analysis()).empty())
            << one.key;
}

TEST_F(BenchTasks, ChartsAreSavedAsPictureAndAsDrawing) {
    test::TemporaryFolder folder;
    const QString png = QString::fromStdString(folder.path("a.png").string());
    ASSERT_TRUE(save_picture(window->bench()->charts(), png));
    const QImage picture(png);
    EXPECT_EQ(picture.size(), window->bench()->charts()->size() * 2);
    const QString svg = QString::fromStdString(folder.path("a.svg").string());
    ASSERT_TRUE(save_picture(window->bench()->charts(), svg));
    QFile file(svg);
    ASSERT_TRUE(file.open(QIODevice::ReadOnly));
    QXmlStreamReader xml(&file);
    int paths = 0;
    QString words;
    while (!xml.atEnd()) {
        xml.readNext();
        if (xml.isStartElement())
            paths += xml.name() == QLatin1String("path") || xml.name() == QLatin1String("polyline");
        if (xml.isCharacters())
            words += xml.text();
    }
    EXPECT_FALSE(xml.hasError()) << xml.errorString().toStdString();
    EXPECT_GT(paths, 8);
    EXPECT_TRUE(words.contains(QStringLiteral("Separation")));
    EXPECT_FALSE(save_picture(window->bench()->charts(), QStringLiteral("/no/such/folder/a.png")));
    EXPECT_FALSE(save_picture(window->bench()->charts(), QStringLiteral("/no/such/folder/a.svg")));
}

TEST_F(BenchTasks, ACommandIsFoundByAFewLettersAndRun) {
    key(Qt::Key_F1);
    auto* line = window->findChild<QLineEdit*>(QStringLiteral("command_line"));
    ASSERT_TRUE(line != nullptr && line->isVisible());
    QTest::keyClicks(line, QStringLiteral("table"));
    QTest::keyClick(line, Qt::Key_Return);
    EXPECT_TRUE(QTest::qWaitFor([&] { return window->bench()->is_table_shown(); }, 2000));
    EXPECT_FALSE(line->isVisible());
    key(Qt::Key_K, Qt::ControlModifier);
    EXPECT_TRUE(line->isVisible());
    QTest::keyClick(line, Qt::Key_Escape);
    EXPECT_FALSE(line->isVisible());
}

TEST_F(BenchTasks, TheWayOfMeasuringAndTheViewAreRemembered) {
    choose("choose_rates", 1);
    key(Qt::Key_B);
    key(Qt::Key_F);
    const QString body = window->body()->chosen();
    window->close();
    window.reset();
    open_window();
    open_lesson();
    EXPECT_EQ(analysis().options.convention, RateConvention::Resultant);
    EXPECT_EQ(window->body()->chosen(), body);
    EXPECT_EQ(window->bench()->picture(), 1);
}

TEST(OverlayClock, LaysMomentOnMomentAndBack) {
    const auto with = [](double takeaway, double top, double impact) {
        Analysis analysis;
        const auto put = [&](Moment m, double t_s) {
            analysis.moments[m] = MomentTime{t_s, 0.001, false};
        };
        put(Moment::Takeaway, takeaway);
        put(Moment::Top, top);
        put(Moment::Impact, impact);
        return analysis;
    };
    const Analysis shown = with(1.0, 1.9, 2.2);
    const Analysis other = with(0.5, 1.5, 1.75);
    const OverlayClock impact(shown, other, Alignment::Impact);
    EXPECT_DOUBLE_EQ(impact.shown_of(1.65), 2.1);
    const OverlayClock top(shown, other, Alignment::Top);
    EXPECT_DOUBLE_EQ(top.shown_of(1.65), 2.05);
    const OverlayClock stretched(shown, other, Alignment::Stretched);
    EXPECT_DOUBLE_EQ(stretched.shown_of(0.5), 1.0);
    EXPECT_DOUBLE_EQ(stretched.shown_of(1.5), 1.9);
    EXPECT_NEAR(stretched.shown_of(1.625), 2.05, 1e-12) << "half way down is half way down";
    EXPECT_NEAR(stretched.shown_of(1.80), 2.25, 1e-12) << "beyond impact time runs on";
    for (double t_s : {0.2, 0.7, 1.6, 1.9})
        EXPECT_NEAR(stretched.other_of(stretched.shown_of(t_s)), t_s, 1e-12);
    EXPECT_TRUE(OverlayClock(shown, Analysis{}, Alignment::Top).empty());
}

TEST_F(BenchTasks, ASecondSwingIsLaidUnderComparedAndSwapped) {
    window->select(0);
    key(Qt::Key_R); // the first swing, upper body first, under the others
    EXPECT_FALSE(window->state()->has_overlay()) << "under itself there is nothing to see";
    const auto first = window->state()->swing();
    window->select(4);
    ASSERT_TRUE(settle());
    ASSERT_TRUE(window->state()->has_overlay());
    EXPECT_EQ(window->state()->overlay().swing, first);
    QCoreApplication::processEvents();
    const QImage at_impact = window->stair()->grab().toImage();
    key(Qt::Key_A);
    EXPECT_EQ(window->state()->overlay().alignment, Alignment::Top);
    QCoreApplication::processEvents();
    EXPECT_NE(window->stair()->grab().toImage(), at_impact);
    key(Qt::Key_A);
    key(Qt::Key_A);
    EXPECT_EQ(window->state()->overlay().alignment, Alignment::Impact);

    // The table of changes: pelvis peak of both, and one less the other.
    auto* table = window->findChild<QTableWidget*>(QStringLiteral("differences"));
    ASSERT_NE(table, nullptr);
    const auto pelvis_ms = [](const LoadedSwing& swing) {
        return std::round(swing.analysis.sequence.find(Segment::Pelvis)->before_impact_ms);
    };
    const auto number = [&](int row, int column) {
        return table->item(row, column)->text().replace(QChar(0x2212), QLatin1Char('-')).toDouble();
    };
    int row = 0;
    while (table->item(row, 0)->text() != QStringLiteral("Pelvis peak, ms"))
        ASSERT_LT(++row, table->rowCount());
    EXPECT_EQ(number(row, 1), pelvis_ms(*window->state()->swing()));
    EXPECT_EQ(number(row, 2), pelvis_ms(*first));
    EXPECT_EQ(number(row, 3), number(row, 1) - number(row, 2));

    key(Qt::Key_X);
    EXPECT_EQ(window->state()->swing(), first);
    EXPECT_EQ(window->state()->overlay().swing, window->model()->swing(4));
    // Measured in another way, the second swing is too.
    choose("choose_rates", 2);
    EXPECT_EQ(window->state()->overlay().swing->analysis.options.convention, RateConvention::Plane);
    key(Qt::Key_R, Qt::ShiftModifier);
    EXPECT_FALSE(window->state()->has_overlay());
}
