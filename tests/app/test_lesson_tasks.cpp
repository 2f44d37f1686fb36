// Whole tasks with many swings, with clicks and keys in the real window: find, sort, mark, average,
// bring in a folder, watch one, say what a strange file is, ask what a measure means.

#include "app/charts/body_strip.h"
#include "app/charts/chart_picture.h"
#include "app/charts/kite_view.h"
#include "app/charts/separation_strip.h"
#include "app/charts/stair_chart.h"
#include "app/rooms/bench/bench_view.h"
#include "app/rooms/bench/difference_table.h"
#include "app/rooms/bench/import_assistant.h"
#include "app/rooms/bench/measure_help.h"
#include "app/rooms/bench/measure_sketch.h"
#include "app/rooms/bench/moment_table.h"
#include "app/rooms/bench/swing_panel.h"
#include "app/session/folder_watch.h"
#include "app/session/reference.h"
#include "app/session/swing_editor.h"
#include "app/theme/theme.h"
#include "app/theme/units.h"
#include "app/widgets/search_sheet.h"
#include "app/window_test.h"
#include "core/catalogue/measure.h"
#include "core/motion/rotation.h"
#include "core/sets/swing_set.h"
#include "formats/pose_csv/pose_csv.h"
#include "simulate/simulate.h"
#include "support/played_twice.h"
#include "support/swing_files.h"
#include "support/temporary_folder.h"

#include <QAbstractButton>
#include <QApplication>
#include <QButtonGroup>
#include <QCheckBox>
#include <QClipboard>
#include <QComboBox>
#include <QContextMenuEvent>
#include <QHelpEvent>
#include <QLabel>
#include <QLineEdit>
#include <QListView>
#include <QListWidget>
#include <QMenu>
#include <QPushButton>
#include <QTableWidget>
#include <QTimer>
#include <QToolButton>
#include <QToolTip>
#include <gtest/gtest.h>

#include <cmath>
#include <memory>
#include <set>

using namespace kite;
using namespace kite::app;

namespace {

class LessonTasks : public WindowTest {
protected:
    void SetUp() override {
        // What is said about files is kept in a folder that goes with the test.
        qputenv("XDG_CONFIG_HOME", QByteArray::fromStdString(config.path("config").string()));
        WindowTest::SetUp();
    }
    void TearDown() override {
        Units::instance().set(Units::Length::Centimetres, Units::Speed::MetresPerSecond);
        Theme::instance().set_text_scale(1.0);
    }
    bool settle_reference() {
        return QTest::qWaitFor([&] { return !window->reference()->is_busy(); }, 20000);
    }
    template <class Widget>
    Widget* find(const char* name) {
        auto* found = window->findChild<Widget*>(QString::fromLatin1(name));
        EXPECT_NE(found, nullptr) << name;
        return found;
    }
    SwingPanel* panel() { return window->findChild<SwingPanel*>(); }
    int rows_on_screen() { return panel()->filter()->rowCount(); }
    SwingMarks marks(int row) { return window->model()->marks_of(window->model()->id_of(row)); }
    QString title_line() {
        QString out;
        for (const QLabel* label : window->bench()->findChildren<QLabel*>())
            out += label->text() + QLatin1Char('\n');
        return out;
    }

    test::TemporaryFolder config;
};

} // namespace

TEST_F(LessonTasks, WordsNarrowTheListDownAndKeysFollowWhatIsSeen) {
    open_demo();
    window->select(0);
    key(Qt::Key_F, Qt::ControlModifier);
    auto* words = find<QLineEdit>("swing_words");
    ASSERT_TRUE(words->hasFocus());
    QTest::keyClicks(words, QStringLiteral("jonas left"));
    EXPECT_EQ(rows_on_screen(), 3) << "letters are typed, no command is run";
    key(Qt::Key_PageDown);
    EXPECT_GE(panel()->selected(), 5);
    EXPECT_LE(panel()->selected(), 7);
    QTest::keyClick(words, Qt::Key_Escape);
    EXPECT_EQ(rows_on_screen(), 10);
    EXPECT_TRUE(panel()->list()->hasFocus());
    // A swing that is asked for is seen, whatever the words.
    QTest::keyClicks(words, QStringLiteral("priska"));
    EXPECT_EQ(rows_on_screen(), 2);
    window->select(0);
    EXPECT_EQ(panel()->selected(), 0);
    EXPECT_EQ(rows_on_screen(), 10);
}

TEST_F(LessonTasks, TheListIsSorted) {
    open_demo();
    auto* sort = find<QToolButton>("sort");
    const auto order = [&] {
        std::vector<int> out;
        for (int i = 0; i < rows_on_screen(); ++i)
            out.push_back(panel()->filter()->mapToSource(panel()->filter()->index(i, 0)).row());
        return out;
    };
    const auto speed = [&](int row) {
        return window->model()->swing(row)->analysis.speed.club_head_m_s;
    };
    sort->menu()->actions().at(3)->trigger(); // fastest club head first
    const auto fastest = order();
    for (std::size_t i = 1; i < fastest.size(); ++i)
        EXPECT_GE(speed(fastest[i - 1]), speed(fastest[i]));
    window->select(fastest[0]);
    key(Qt::Key_N);
    EXPECT_EQ(panel()->selected(), fastest[1]) << "the next one is the next on screen";
    sort->menu()->actions().at(2)->trigger(); // surest order first
    const auto surest = order();
    const auto certainty = [&](int row) {
        return window->model()->swing(row)->analysis.sequence.order_certainty;
    };
    for (std::size_t i = 1; i < surest.size(); ++i)
        EXPECT_GE(certainty(surest[i - 1]), certainty(surest[i]));
    window->select(7);
    key(Qt::Key_G);
    sort->menu()->actions().at(4)->trigger(); // good ones first
    EXPECT_EQ(order().front(), 7);
    sort->menu()->actions().at(0)->trigger();
    EXPECT_EQ(order(), (std::vector<int>{0, 1, 2, 3, 4, 5, 6, 7, 8, 9}));
}

TEST_F(LessonTasks, ASwingIsMarkedLeftOutAndNotedAndAllOfItIsTakenBack) {
    open_demo();
    window->select(2);
    key(Qt::Key_G);
    EXPECT_TRUE(marks(2).good);
    key(Qt::Key_E);
    EXPECT_TRUE(marks(2).excluded);
    key(Qt::Key_F2);
    auto* note = find<QLineEdit>("swing_note");
    ASSERT_TRUE(note->isVisible() && note->hasFocus());
    EXPECT_EQ(note->text(), QStringLiteral("Waited for the hips"));
    QTest::keyClicks(note, QStringLiteral("Ge quiet head")); // G is a letter here
    QTest::keyClick(note, Qt::Key_Return);
    EXPECT_EQ(marks(2).note, QStringLiteral("Ge quiet head"));
    EXPECT_TRUE(title_line().contains(QStringLiteral("Ge quiet head")));
    EXPECT_TRUE(window->model()
                    ->index(2)
                    .data(Qt::AccessibleTextRole)
                    .toString()
                    .contains(QStringLiteral("marked as good, left out")));
    // Going on while a note is being written keeps what was typed; Esc does not.
    key(Qt::Key_F2);
    QTest::keyClicks(note, QStringLiteral("kept"));
    window->select(3);
    EXPECT_EQ(marks(2).note, QStringLiteral("kept"));
    EXPECT_FALSE(note->isVisible());
    window->select(2);
    key(Qt::Key_F2);
    QTest::keyClicks(note, QStringLiteral("thrown away"));
    QTest::keyClick(note, Qt::Key_Escape);
    EXPECT_EQ(marks(2).note, QStringLiteral("kept"));
    for (int i = 0; i < 4; ++i)
        key(Qt::Key_Z, Qt::ControlModifier);
    EXPECT_EQ(marks(2), (SwingMarks{false, false, QStringLiteral("Waited for the hips")}));
    key(Qt::Key_Z, Qt::ControlModifier | Qt::ShiftModifier);
    EXPECT_TRUE(marks(2).good);
}

TEST_F(LessonTasks, TheMeanOfTheGoodSwingsLiesBehind) {
    open_demo();
    window->select(4);
    QCoreApplication::processEvents();
    const QImage without = window->stair()->grab().toImage();
    key(Qt::Key_M);
    ASSERT_TRUE(settle_reference());
    ASSERT_NE(window->state()->reference(), nullptr);
    EXPECT_TRUE(window->state()->reference()->empty()) << "none is marked yet";
    EXPECT_TRUE(find<QLabel>("message_text")->text().contains(QStringLiteral("G marks one")));
    for (int row : {3, 4, 5}) { // the last one is another golfer's
        window->select(row);
        key(Qt::Key_G);
    }
    window->select(4);
    ASSERT_TRUE(settle_reference());
    const auto good = window->state()->reference();
    ASSERT_EQ(good->swings.size(), 2u);
    // The mean by hand.
    const auto pelvis_ms = [&](int row) {
        return window->model()
            ->swing(row)
            ->analysis.sequence.find(Segment::Pelvis)
            ->before_impact_ms;
    };
    EXPECT_NEAR(good->peaks[0].from_impact_s.mean, -0.0005 * (pelvis_ms(3) + pelvis_ms(4)), 1e-9);
    QCoreApplication::processEvents();
    EXPECT_NE(window->stair()->grab().toImage(), without);

    key(Qt::Key_M); // all of this golfer's with this club
    ASSERT_TRUE(settle_reference());
    EXPECT_EQ(window->state()->reference()->swings.size(), 5u);
    window->select(0);
    key(Qt::Key_E); // left out
    ASSERT_TRUE(settle_reference());
    EXPECT_EQ(window->state()->reference()->swings.size(), 4u);
    // Measured in another way, the mean is too.
    window->findChild<QToolButton*>(QStringLiteral("choose_rates"))
        ->menu()
        ->actions()
        .at(2)
        ->trigger();
    ASSERT_TRUE(settle());
    ASSERT_TRUE(settle_reference());
    for (const auto& swing : window->state()->reference()->swings)
        EXPECT_EQ(swing->analysis.options.convention, RateConvention::Plane);
    key(Qt::Key_M);
    ASSERT_TRUE(settle_reference());
    EXPECT_EQ(window->state()->reference(), nullptr);
}

TEST_F(LessonTasks, TheGolfersBestSwingIsLaidUnder) {
    open_demo();
    window->select(1);
    key(Qt::Key_G); // good, though not the surest
    window->select(0);
    key(Qt::Key_L);
    ASSERT_TRUE(window->state()->has_overlay());
    EXPECT_EQ(window->state()->overlay().swing, window->model()->swing(1));
    const QString csv = window->differences()->csv();
    EXPECT_EQ(csv.split(QLatin1Char('\n')).first(), QStringLiteral("measure,this,other,change"));
    EXPECT_EQ(csv.count(QLatin1Char('\n')), 14);
    EXPECT_TRUE(csv.contains(QStringLiteral("\"Club speed, °/s\",")));
}

TEST_F(LessonTasks, LengthsAndSpeedsAreShownInTheUnitChosen) {
    open_demo();
    window->select(4);
    key(Qt::Key_T);
    const auto* table = window->table()->model();
    int sway = 0;
    while (!table->headerData(sway, Qt::Horizontal, Qt::DisplayRole)
                .toString()
                .startsWith(QStringLiteral("Sway")))
        ASSERT_LT(++sway, table->columnCount());
    const auto value = [&] { return table->index(7, sway).data(Qt::EditRole).toDouble(); };
    const auto unit = [&] {
        return table->headerData(sway, Qt::Horizontal, Qt::DisplayRole)
            .toString()
            .section(QLatin1Char('\n'), 1);
    };
    EXPECT_EQ(unit(), QStringLiteral("cm"));
    const double cm = value();
    for (int i = 0; i < 3; ++i)
        key(Qt::Key_U);
    EXPECT_EQ(unit(), QStringLiteral("in"));
    EXPECT_NEAR(value(), cm / 2.54, 1e-9);
    // 1 mph = 0.44704 m/s exactly (NIST SP 811).
    EXPECT_NEAR(Units::instance().of("m/s").factor, 1.0 / 0.44704, 1e-12);
    EXPECT_EQ(Units::instance().of("°").name, QStringLiteral("°"));
    window->close(); // remembered
    Units::instance().set(Units::Length::Centimetres, Units::Speed::MetresPerSecond);
    window.reset();
    open_window();
    EXPECT_EQ(Units::instance().length(), Units::Length::Inches);
}

TEST_F(LessonTasks, EveryMeasureSaysWhatItIs) {
    open_demo();
    window->select(4);
    key(Qt::Key_I);
    MeasureHelp* help = window->measure_help();
    ASSERT_TRUE(help->isVisible());
    EXPECT_EQ(help->shown(), QStringLiteral("order"));
    auto* line = find<QLineEdit>("measure_line");
    QTest::keyClicks(line, QStringLiteral("pelvis sway"));
    EXPECT_EQ(help->shown(), QStringLiteral("pelvis_sway"));
    EXPECT_TRUE(find<QLabel>("measure_definition")->text().contains(QStringLiteral("target line")));
    QTest::keyClick(line, Qt::Key_Escape);
    EXPECT_FALSE(help->isVisible());
    // Of the chart with the focus, and of the table's column.
    window->body()->setFocus();
    key(Qt::Key_I);
    EXPECT_EQ(help->shown(), window->body()->chosen());
    QTest::keyClick(line, Qt::Key_Escape);
    key(Qt::Key_T);
    window->table()->setCurrentIndex(window->table()->model()->index(4, 4));
    key(Qt::Key_I);
    EXPECT_EQ(help->shown(), QStringLiteral("separation"));
    // Every picture shows something of its own, or the same moments differently.
    auto* list = find<QListWidget>("measure_list");
    QTest::keyClick(line, Qt::Key_Escape);
    key(Qt::Key_I);
    auto* sketch = help->findChild<MeasureSketch*>();
    std::vector<QImage> pictures;
    for (int row = 0; row < list->count(); ++row) {
        list->setCurrentRow(row);
        const QImage picture = sketch->grab().toImage();
        EXPECT_EQ(std::count(pictures.begin(), pictures.end(), picture), 0)
            << list->item(row)->text().toStdString();
        pictures.push_back(picture);
    }
}

TEST_F(LessonTasks, ASingleChartIsCopiedByItsMenu) {
    open_demo();
    window->select(4);
    QWidget* kite = window->kite();
    QContextMenuEvent ask(QContextMenuEvent::Mouse, QPoint(40, 40),
                          kite->mapToGlobal(QPoint(40, 40)));
    QApplication::sendEvent(kite, &ask);
    auto* menu = kite->findChild<QMenu*>(QStringLiteral("chart_menu"));
    ASSERT_NE(menu, nullptr);
    menu->actions().at(1)->trigger();
    EXPECT_EQ(QApplication::clipboard()->pixmap().size(), kite->size() * 2);
    menu->actions().at(0)->trigger();
    EXPECT_EQ(window->measure_help()->shown(), QStringLiteral("hinge_path"));
    test::TemporaryFolder folder;
    const QString svg = QString::fromStdString(folder.path("kite.svg").string());
    ASSERT_TRUE(save_picture(kite, svg));
    EXPECT_NE(test::TemporaryFolder::read(svg.toStdString()).find("<text"), std::string::npos)
        << "a drawing with words, not a picture of one";
}

TEST_F(LessonTasks, TracesAreDrawnOnRequest) {
    open_demo();
    window->select(4);
    window->bench()->show_picture(1);
    QCoreApplication::processEvents();
    const QImage without = window->bench()->grab().toImage();
    key(Qt::Key_H);
    EXPECT_NE(window->bench()->grab().toImage(), without);
    key(Qt::Key_H);
    EXPECT_EQ(window->bench()->grab().toImage(), without);
}

TEST_F(LessonTasks, TextGrowsAndNothingIsLost) {
    open_demo();
    window->select(4);
    const QFont usual = panel()->findChild<QLineEdit*>(QStringLiteral("swing_words"))->font();
    for (int i = 0; i < 6; ++i) // beyond the largest nothing happens
        key(Qt::Key_Plus, Qt::ControlModifier);
    EXPECT_DOUBLE_EQ(Theme::instance().text_scale(), 1.5);
    QCoreApplication::processEvents();
    EXPECT_EQ(panel()->findChild<QLineEdit*>(QStringLiteral("swing_words"))->font().pixelSize(),
              static_cast<int>(std::lround(usual.pixelSize() * 1.5)));
    for (int i = 0; i < 4; ++i)
        key(Qt::Key_Minus, Qt::ControlModifier);
    EXPECT_DOUBLE_EQ(Theme::instance().text_scale(), 1.0);
    EXPECT_EQ(window->minimumSize(), QSize(1024, 700));
}

TEST_F(LessonTasks, AFolderIsReadInSightAndCanBeCancelled) {
    test::TemporaryFolder folder;
    const std::string bytes =
        test::TemporaryFolder::read(std::filesystem::path(KITE_DEMO_FOLDER) / "01-alva-iron.csv");
    std::filesystem::create_directories(folder.path("many"));
    for (int i = 0; i < 60; ++i)
        folder.write("many/" + std::to_string(100 + i) + ".csv", bytes);
    window->open_paths({QString::fromStdString(folder.path("many").string())});
    EXPECT_EQ(window->model()->rowCount(), 60);
    auto* cancel = find<QPushButton>("cancel_reading");
    ASSERT_TRUE(QTest::qWaitFor([&] { return cancel->isVisible(); }, 5000));
    QTest::mouseClick(cancel, Qt::LeftButton);
    ASSERT_TRUE(settle());
    const int kept = window->model()->rowCount();
    EXPECT_LT(kept, 60);
    for (int row = 0; row < kept; ++row)
        EXPECT_EQ(window->model()->state(row), SwingListModel::State::Ready);
    EXPECT_FALSE(cancel->isVisible());
    // After that everything can be read as before.
    window->open_paths({QString::fromStdString(folder.path("many").string())});
    ASSERT_TRUE(settle());
    EXPECT_EQ(window->model()->rowCount(), kept + 60);
}

TEST_F(LessonTasks, NewCapturesInAWatchedFolderAppear) {
    test::TemporaryFolder folder;
    const std::string bytes =
        test::TemporaryFolder::read(std::filesystem::path(KITE_DEMO_FOLDER) / "05-alva-iron.csv");
    folder.write("old.csv", bytes);
    window->folder_watch()->watch(QString::fromStdString(folder.path("").string()));
    auto* stop = find<QPushButton>("stop_watching");
    EXPECT_TRUE(stop->isVisible());
    // Half a file is not read before the other half is there.
    folder.write("new.csv", bytes.substr(0, bytes.size() / 2));
    folder.write("new.csv", bytes);
    folder.write("notes.md", "nothing to read");
    ASSERT_TRUE(QTest::qWaitFor([&] { return window->model()->rowCount() > 0; }, 8000));
    ASSERT_TRUE(settle());
    QTest::qWait(1000);
    ASSERT_EQ(window->model()->rowCount(), 1) << "what was there before is not new";
    EXPECT_EQ(window->model()->state(0), SwingListModel::State::Ready);
    EXPECT_EQ(panel()->selected(), 0);
    QTest::mouseClick(stop, Qt::LeftButton);
    EXPECT_TRUE(window->folder_watch()->folder().isEmpty());
    EXPECT_FALSE(stop->isVisible());
}

TEST_F(LessonTasks, AFolderThatGoesAwayEndsItsWatchInWords) {
    auto folder = std::make_unique<test::TemporaryFolder>();
    window->open_demo();
    ASSERT_TRUE(settle());
    window->folder_watch()->watch(QString::fromStdString(folder->path("").string()));
    folder.reset();
    EXPECT_TRUE(QTest::qWaitFor([&] { return window->folder_watch()->folder().isEmpty(); }, 5000));
    EXPECT_TRUE(find<QLabel>("message_text")->isVisible());
}

TEST_F(LessonTasks, TheAssistantReadsAStrangeTableAndRemembersIt) {
    // Our rates under other names, the clock in ms, the arm in rad/s, the hips the other way round.
    std::string text = test::rates_csv({});
    std::string strange = "Nr;Ticks;Hips;Chest rate;Arm rate (rad/s);Shaft rate\n";
    std::istringstream lines(text);
    std::string line;
    std::getline(lines, line);
    for (int i = 0; std::getline(lines, line); ++i) {
        std::array<double, 5> v{};
        std::istringstream fields(line);
        std::string field;
        for (double& value : v) {
            std::getline(fields, field, ',');
            value = std::stod(field);
        }
        strange += std::to_string(i) + ";" + fixed(1000.0 * v[0], 3) + ";" + fixed(-v[1], 3) + ";" +
                   fixed(v[2], 3) + ";" + fixed(rad_from_deg(v[3]), 6) + ";" + fixed(v[4], 3) +
                   "\n";
    }
    test::TemporaryFolder folder;
    const auto first = QString::fromStdString(folder.write("first.csv", strange).string());
    const auto second = QString::fromStdString(folder.write("second.csv", strange).string());
    window->open_paths({first});
    ASSERT_TRUE(settle());
    auto* way_out = find<QPushButton>("message_action");
    ASSERT_TRUE(way_out->isVisible());
    QTest::mouseClick(way_out, Qt::LeftButton);
    ImportAssistant* assistant = window->assistant();
    const auto ready = [&] {
        return QTest::qWaitFor(
            [&] { return assistant->subject() != nullptr && !assistant->is_busy(); }, 10000);
    };
    ASSERT_TRUE(ready());
    auto* table = find<QTableWidget>("import_table");
    ASSERT_EQ(table->rowCount(), 6);
    const auto choose = [&](int row, int column, const QString& text_of_entry) {
        auto* box = qobject_cast<QComboBox*>(table->cellWidget(row, column));
        const int index = box->findText(text_of_entry);
        ASSERT_GE(index, 0) << text_of_entry.toStdString();
        box->setCurrentIndex(index);
        emit box->activated(index);
    };
    const auto chosen = [&](int row) {
        return qobject_cast<QComboBox*>(table->cellWidget(row, 1))->currentText();
    };
    // What the words tell is guessed; the rest is said.
    EXPECT_EQ(chosen(3), QStringLiteral("torso rotation speed"));
    EXPECT_EQ(chosen(1), QStringLiteral("not used"));
    choose(1, 1, QStringLiteral("time"));
    choose(1, 2, QStringLiteral("ms"));
    choose(2, 1, QStringLiteral("pelvis rotation speed"));
    qobject_cast<QCheckBox*>(table->cellWidget(2, 3))->click();
    ASSERT_TRUE(ready());
    QPushButton* take = nullptr;
    for (QPushButton* button : assistant->findChildren<QPushButton*>())
        if (button->objectName() == QLatin1String("primary"))
            take = button;
    ASSERT_TRUE(take != nullptr && take->isEnabled())
        << find<QLabel>("import_result")->text().toStdString();
    QTest::mouseClick(take, Qt::LeftButton);
    ASSERT_TRUE(settle());
    ASSERT_TRUE(window->state()->has_swing());
    // The model's own peaks: they come through whatever they are called.
    const Sequence& sequence = window->state()->swing()->analysis.sequence;
    EXPECT_NEAR(sequence.find(Segment::Pelvis)->peak_deg_s, 450.0, 6.0);
    EXPECT_EQ(sequence.order, (std::vector<Segment>{kSequence.begin(), kSequence.end()}));
    // The next file of the kind is read without a question, also by another window.
    window->open_paths({second});
    ASSERT_TRUE(settle());
    EXPECT_EQ(window->model()->state(1), SwingListModel::State::Ready);
    window.reset();
    open_window();
    window->open_paths({second});
    ASSERT_TRUE(settle());
    EXPECT_EQ(window->model()->state(0), SwingListModel::State::Ready);
}

TEST_F(LessonTasks, TheAssistantLearnsMarkerNamesAndAxes) {
    MarkerTake markers = simulate::make_markers({});
    const std::vector<std::string> ours = markers.labels;
    for (std::size_t i = 0; i < markers.labels.size(); ++i)
        if (markers.labels[i] == "LASI" || markers.labels[i] == "CLB1")
            markers.labels[i] = "Point " + std::to_string(i);
    test::TemporaryFolder folder;
    const auto file =
        QString::fromStdString(folder.write("rig.c3d", formats::write_c3d(markers).value).string());
    window->open_paths({file});
    ASSERT_TRUE(settle());
    const auto has_pelvis = [&] {
        const auto swing = window->model()->swing(0);
        return swing && swing->ok && swing->take->find(Segment::Pelvis) != nullptr;
    };
    EXPECT_FALSE(has_pelvis());
    ASSERT_NO_FATAL_FAILURE(key(Qt::Key_F1));
    auto* line = find<QLineEdit>("command_line");
    QTest::keyClicks(line, QStringLiteral("say what is in"));
    QTest::keyClick(line, Qt::Key_Return);
    ImportAssistant* assistant = window->assistant();
    ASSERT_TRUE(QTest::qWaitFor([&] { return assistant->isVisible(); }, 5000));
    ASSERT_TRUE(QTest::qWaitFor(
        [&] { return assistant->subject() != nullptr && !assistant->is_busy(); }, 10000));
    auto* table = find<QTableWidget>("import_table");
    ASSERT_EQ(table->rowCount(), static_cast<int>(ours.size()));
    for (int row = 0; row < table->rowCount(); ++row) {
        auto* box = qobject_cast<QComboBox*>(table->cellWidget(row, 1));
        if (box->currentIndex() != 0 ||
            !table->item(row, 0)->text().startsWith(QLatin1String("Point")))
            continue;
        const int index =
            box->findText(QString::fromStdString(ours[static_cast<std::size_t>(row)]));
        box->setCurrentIndex(index);
        emit box->activated(index);
    }
    ASSERT_TRUE(QTest::qWaitFor([&] { return !assistant->is_busy(); }, 10000));
    auto* target = find<QComboBox>("import_target");
    EXPECT_EQ(target->itemText(0), QStringLiteral("as found: +x"));
    EXPECT_EQ(find<QComboBox>("import_up")->itemText(0), QStringLiteral("as found: +z"));
    EXPECT_EQ(assistant->answer().markers.size(), 2u) << "what is known anyway is not kept";
    target->setCurrentIndex(target->findData(QStringLiteral("+x")));
    emit target->activated(target->currentIndex());
    ASSERT_TRUE(QTest::qWaitFor([&] { return !assistant->is_busy(); }, 10000));
    for (QPushButton* button : assistant->findChildren<QPushButton*>())
        if (button->objectName() == QLatin1String("primary"))
            QTest::mouseClick(button, Qt::LeftButton);
    ASSERT_TRUE(settle());
    EXPECT_TRUE(has_pelvis());
    EXPECT_EQ(window->model()->request(0).axes.target, (SignedAxis{0, +1}));
    for (const Finding& finding : window->model()->swing(0)->findings)
        EXPECT_NE(finding.code, "target-from-golfer") << "the target was said, not guessed";
}

TEST_F(LessonTasks, TheBodyIsChosenByMouseWhatMattersFirst) {
    open_demo();
    window->select(0); // the upper body starts down first
    BodyStrip* body = window->body();
    const auto offered = body->offered();
    ASSERT_GE(offered.size(), 8u);
    EXPECT_STREQ(offered[0]->key, "pelvis_sway");
    EXPECT_STREQ(offered[1]->key, "pelvis_lift");
    EXPECT_STREQ(offered[2]->key, "torso_sway");
    QTest::mouseClick(body, Qt::LeftButton, {}, QPoint(30, body->height() / 2));
    auto* menu = body->findChild<QMenu*>(QStringLiteral("body_menu"));
    ASSERT_NE(menu, nullptr);
    ASSERT_EQ(menu->actions().size(), static_cast<int>(offered.size()));
    EXPECT_TRUE(menu->actions()[0]->isChecked());
    menu->actions()[2]->trigger();
    EXPECT_EQ(body->chosen(), QStringLiteral("torso_sway"));
    menu->close();
}

TEST_F(LessonTasks, UnitsStandInTheBarAndAreChosenThere) {
    open_demo();
    window->select(4);
    auto* units = find<QToolButton>("choose_units");
    EXPECT_EQ(units->accessibleName(), QStringLiteral("Units: cm, m/s"));
    units->menu()->actions().at(3)->trigger();
    EXPECT_EQ(units->accessibleName(), QStringLiteral("Units: in, mph"));
    EXPECT_EQ(Units::instance().length(), Units::Length::Inches);
}

// WCAG 2.1, 4.1.2 (name, role, value) and 2.1.1 (keyboard): whatever can have the focus has a name
// for a screen reader, and Tab comes to all of it and round again.
TEST_F(LessonTasks, EverythingHasANameAndIsReachedByTab) {
    open_demo();
    window->select(0);
    const auto can_have_focus = [&](const QWidget* widget) {
        // Of buttons that exclude each other Tab comes to the chosen one, arrows to the others.
        const auto* button = qobject_cast<const QAbstractButton*>(widget);
        if (button != nullptr && button->group() != nullptr && !button->isChecked())
            return false;
        return widget->isVisibleTo(window.get()) && widget->isEnabled() &&
               (widget->focusPolicy() & Qt::TabFocus) != 0;
    };
    std::set<const QWidget*> wanted;
    for (const QWidget* widget : window->findChildren<QWidget*>()) {
        if (!can_have_focus(widget))
            continue;
        wanted.insert(widget);
        QString name = widget->accessibleName();
        if (const auto* button = qobject_cast<const QAbstractButton*>(widget))
            name += button->text();
        EXPECT_FALSE(name.isEmpty())
            << widget->metaObject()->className() << " " << widget->objectName().toStdString();
    }
    EXPECT_GT(wanted.size(), 20u);
    panel()->list()->setFocus();
    std::set<const QWidget*> reached;
    for (std::size_t i = 0; i < 2 * wanted.size(); ++i) {
        reached.insert(QApplication::focusWidget());
        QTest::keyClick(QApplication::focusWidget(), Qt::Key_Tab);
    }
    for (const QWidget* widget : wanted)
        EXPECT_EQ(reached.count(widget), 1u)
            << widget->metaObject()->className() << " " << widget->objectName().toStdString() << " "
            << widget->accessibleName().toStdString();
}

TEST_F(LessonTasks, ASwingTakenOffTheListComesBackWithAllThatWasSaid) {
    open_demo();
    window->select(3);
    key(Qt::Key_G);
    const auto swing = window->model()->swing(3);
    key(Qt::Key_Delete);
    EXPECT_EQ(window->model()->rowCount(), 9);
    EXPECT_NE(window->model()->swing(3), swing);
    // Meanwhile everything is measured in another way.
    window->findChild<QToolButton*>(QStringLiteral("choose_rates"))
        ->menu()
        ->actions()
        .at(2)
        ->trigger();
    ASSERT_TRUE(settle());
    window->editor()->history()->undo(); // the way of measuring
    ASSERT_TRUE(settle());
    key(Qt::Key_Z, Qt::ControlModifier);
    EXPECT_EQ(window->model()->rowCount(), 10);
    EXPECT_EQ(window->model()->swing(3), swing);
    EXPECT_TRUE(marks(3).good);
    EXPECT_EQ(panel()->selected(), 3) << "what comes back is seen";
    key(Qt::Key_Z, Qt::ControlModifier);
    EXPECT_FALSE(marks(3).good) << "steps before it are still there";
    key(Qt::Key_Z, Qt::ControlModifier | Qt::ShiftModifier);
    key(Qt::Key_Z, Qt::ControlModifier | Qt::ShiftModifier);
    EXPECT_EQ(window->model()->rowCount(), 9);
}

TEST_F(LessonTasks, HoveringSaysTheValueItsUnitAndItsUncertainty) {
    open_demo();
    window->select(4);
    QCoreApplication::processEvents();
    auto* stair = window->stair();
    const auto& analysis = window->state()->swing()->analysis;
    const auto* pelvis = analysis.sequence.find(Segment::Pelvis);
    const auto hover = [&](QWidget* chart, QPoint at) {
        QToolTip::hideText();
        QHelpEvent help(QEvent::ToolTip, at, chart->mapToGlobal(at));
        QApplication::sendEvent(chart, &help);
        return QToolTip::text();
    };
    const QCPAxisRect* lane = stair->axisRect(3); // the pelvis is the lowest
    const auto x_of = [&](double t_s) {
        return static_cast<int>(std::lround(
            lane->axis(QCPAxis::atBottom)->coordToPixel(window->state()->ms_from_impact(t_s))));
    };
    const auto y_of = [&](double rate) {
        return static_cast<int>(std::lround(lane->axis(QCPAxis::atLeft)->coordToPixel(rate)));
    };
    const QString peak = hover(stair, {x_of(pelvis->peak_t_s), y_of(pelvis->peak_deg_s)});
    EXPECT_TRUE(peak.contains(
        QStringLiteral("pelvis peaks at %1 °/s").arg(std::lround(pelvis->peak_deg_s))))
        << peak.toStdString();
    EXPECT_TRUE(peak.contains(QStringLiteral("ms (95 %)"))) << peak.toStdString();
    const QString value = hover(stair, {x_of(pelvis->peak_t_s - 0.05), lane->bottom() - 3});
    EXPECT_TRUE(value.contains(QStringLiteral("°/s ±"))) << value.toStdString();
    auto* separation = window->separation();
    const QString degrees = hover(
        separation, {x_of(analysis.moments.time_s(Moment::Impact)), separation->height() / 2});
    EXPECT_TRUE(degrees.startsWith(QStringLiteral("at impact: separation")))
        << degrees.toStdString();
    EXPECT_TRUE(degrees.contains(QStringLiteral("° ±"))) << degrees.toStdString();
    const QString sway = hover(window->body(), {x_of(analysis.moments.time_s(Moment::Impact)),
                                                window->body()->height() / 2});
    EXPECT_TRUE(sway.contains(QStringLiteral("cm to target"))) << sway.toStdString();
}

TEST_F(LessonTasks, ClubAndHandAreSaidByAClickAndTakenBack) {
    test::TemporaryFolder folder;
    // A pose file in which nobody said club or hand.
    const auto file = folder.write("unsaid.csv", formats::write_pose_csv([] {
                                       Take take = simulate::make_take(simulate::SwingParameters{});
                                       take.handed_said = take.club_said = false;
                                       return take;
                                   }()));
    window->open_paths({QString::fromStdString(file.string())});
    ASSERT_TRUE(settle());
    window->select(0);
    auto* golfer = find<QToolButton>("choose_golfer");
    ASSERT_FALSE(window->model()->swing(0)->analysis.club_said);
    const QString unsaid = golfer->text();
    QAction* driver = golfer->menu()->actions().first();
    // The click waits until the menu is gone: somebody must answer it meanwhile.
    QTimer answer;
    QObject::connect(&answer, &QTimer::timeout, [&, menu = golfer->menu()] {
        if (!menu->isVisible())
            return;
        answer.stop();
        menu->setActiveAction(driver);
        QTest::keyClick(menu, Qt::Key_Return);
    });
    answer.start(20);
    QTest::mouseClick(golfer, Qt::LeftButton);
    ASSERT_TRUE(QTest::qWaitFor(
        [&] { return settle() && window->model()->swing(0)->analysis.club_said; }, 5000));
    EXPECT_EQ(window->model()->swing(0)->analysis.club, ClubKind::Driver);
    EXPECT_TRUE(driver->isChecked());
    EXPECT_NE(golfer->text(), unsaid);
    // Offscreen nobody hands the keyboard back when a popup closes (under X it comes back by
    // itself).
    QApplication::setActiveWindow(window.get());
    key(Qt::Key_Z, Qt::ControlModifier);
    ASSERT_TRUE(QTest::qWaitFor(
        [&] { return settle() && !window->model()->swing(0)->analysis.club_said; }, 5000));
    EXPECT_EQ(golfer->text(), unsaid);
}

TEST_F(LessonTasks, AnotherSwingOfTheTakeIsShownByAClick) {
    const Take once = simulate::make_take(simulate::SwingParameters{});
    Take twice = test::twice(once);
    twice.contact_s.reset();
    test::TemporaryFolder folder;
    const auto file = folder.write("two.csv", formats::write_pose_csv(twice));
    window->open_paths({QString::fromStdString(file.string())});
    ASSERT_TRUE(settle());
    window->select(0);
    const auto number = [&] { return window->model()->swing(0)->analysis.swing_number; };
    const auto impact_s = [&] {
        return window->model()->swing(0)->analysis.moments.time_s(Moment::Impact);
    };
    ASSERT_EQ(window->model()->swing(0)->analysis.swings_in_take, 2);
    const int first = number();
    const double first_s = impact_s();
    QTest::mouseClick(find<QPushButton>("mend_number"), Qt::LeftButton);
    ASSERT_TRUE(QTest::qWaitFor([&] { return settle() && number() != first; }, 5000));
    EXPECT_NEAR(std::abs(impact_s() - first_s),
                static_cast<double>(once.frames) / once.rate_hz + test::kWayBack_s, 0.005);
    key(Qt::Key_Z, Qt::ControlModifier);
    EXPECT_TRUE(QTest::qWaitFor([&] { return settle() && number() == first; }, 5000));
}

TEST_F(LessonTasks, OneSheetLiesOverTheWindowAtATime) {
    open_demo();
    const auto open = [&] {
        QStringList out;
        for (const SearchSheet* sheet : window->findChildren<SearchSheet*>())
            if (sheet->isVisible())
                out << sheet->accessibleName();
        return out;
    };
    key(Qt::Key_I);
    ASSERT_EQ(open().size(), 1);
    const QString first = open().front();
    for (QAction* action : window->actions())
        if (action->text().remove(QLatin1Char('&')) == QStringLiteral("All commands and keys"))
            action->trigger();
    QCoreApplication::processEvents();
    ASSERT_EQ(open().size(), 1);
    EXPECT_NE(open().front(), first);
}

// A hidden stretch is hatched: along a line through it the picture changes colour again and again,
// beside it but where a grid line is crossed.
TEST_F(LessonTasks, WhatWasNotSeenIsHatched) {
    simulate::SwingParameters parameters;
    Take take = simulate::make_take(parameters);
    const double hidden_s = 0.15;
    const Outcome<Analysis> whole = analyse(take, {});
    const double from_s = whole.value.moments.time_s(Moment::Top) - 0.15;
    PoseSeries& pelvis = take.segments.at(Segment::Pelvis);
    for (std::size_t i = 0; i < take.frames; ++i)
        if (take.time_of(i) > from_s && take.time_of(i) < from_s + hidden_s)
            pelvis.q_lab_segment[i] = missing_rotation();
    test::TemporaryFolder folder;
    const auto file = folder.write("hidden.csv", formats::write_pose_csv(take));
    window->open_paths({QString::fromStdString(file.string())});
    ASSERT_TRUE(settle());
    window->select(0);
    auto* stair = window->stair();
    // Laid out for this swing, and drawn: the panels beside it find their size first.
    int height = 0;
    ASSERT_TRUE(QTest::qWaitFor(
        [&] {
            const bool settled = stair->height() == height && stair->axisRect(3)->bottom() < height;
            height = stair->height();
            QTest::qWait(50);
            return settled;
        },
        3000));
    stair->replot(QCustomPlot::rpImmediateRefresh);
    const QImage picture = stair->grab().toImage();
    ASSERT_GT(picture.height(), stair->axisRect(3)->bottom());
    const double ratio = static_cast<double>(picture.width()) / stair->width();
    const auto changes = [&](const QCPAxisRect* lane, double begin_s, double end_s) {
        const auto x_of = [&](double t_s) {
            return static_cast<int>(
                ratio *
                lane->axis(QCPAxis::atBottom)->coordToPixel(window->state()->ms_from_impact(t_s)));
        };
        const int y = static_cast<int>(ratio * (lane->bottom() - 4));
        int count = 0;
        for (int x = x_of(begin_s) + 1; x < x_of(end_s); ++x)
            count += picture.pixel(x, y) != picture.pixel(x - 1, y) ? 1 : 0;
        return count;
    };
    const QCPAxisRect* lane = stair->axisRect(3);
    const int hatched = changes(lane, from_s + 0.06, from_s + hidden_s);
    const int seen = changes(lane, from_s + hidden_s + 0.05, from_s + 2.0 * hidden_s);
    EXPECT_GT(hatched, 12);
    EXPECT_LT(seen, hatched / 2);
}

TEST_F(LessonTasks, WordsThatFindNothingAndAnEmptyListSayWhatToDo) {
    open_demo();
    window->select(0);
    key(Qt::Key_F, Qt::ControlModifier);
    QTest::keyClicks(find<QLineEdit>("swing_words"), QStringLiteral("nobody at all"));
    auto* title = find<QLabel>("blank_title");
    EXPECT_TRUE(QTest::qWaitFor([&] { return title->isVisible(); }, 2000));
    EXPECT_FALSE(title->text().isEmpty());
    QTest::keyClick(find<QLineEdit>("swing_words"), Qt::Key_Escape);
    window->select(0);
    EXPECT_FALSE(title->isVisible());
    key(Qt::Key_Delete);
    bool counted = false;
    for (const QLabel* label : window->findChildren<QLabel*>())
        counted = counted || label->text().contains(QStringLiteral("Swing 1 of 9"));
    EXPECT_TRUE(counted);
    for (int k = 0; k < 9; ++k)
        key(Qt::Key_Delete);
    EXPECT_EQ(rows_on_screen(), 0);
    EXPECT_TRUE(title->isVisible());
}

TEST_F(LessonTasks, ACaptureWrittenAgainUnderItsNameIsReadAgain) {
    test::TemporaryFolder folder;
    simulate::SwingParameters parameters;
    const auto write = [&] {
        folder.write("swing.csv", formats::write_pose_csv(simulate::make_take(parameters)));
    };
    window->folder_watch()->watch(QString::fromStdString(folder.path("").string()));
    write();
    ASSERT_TRUE(QTest::qWaitFor(
        [&] { return settle() && window->model()->rowCount() == 1 && window->model()->swing(0); },
        10000));
    const double first_s = window->model()->swing(0)->analysis.duration_s;
    QTest::qWait(1100); // file clocks may count whole seconds
    parameters.lead_in_s += 0.5;
    write();
    EXPECT_TRUE(QTest::qWaitFor(
        [&] {
            const int last = window->model()->rowCount() - 1;
            return settle() && window->model()->swing(last) &&
                   window->model()->swing(last)->analysis.duration_s > first_s + 0.4;
        },
        10000));
}

// The school changes what is mended first and what counts, never a number; undo brings it back.
TEST_F(LessonTasks, TheSchoolIsChosenByKeyAndKept) {
    open_demo();
    window->select(0);
    const double lead_ms = window->state()->swing()->analysis.transition.pelvis_lead_ms;
    const auto read_by = [&]() -> QString {
        auto* label = window->findChild<QLabel*>(QStringLiteral("read_by"));
        return label == nullptr ? QString() : label->text();
    };
    EXPECT_EQ(read_by(), QString());
    key(Qt::Key_S);
    ASSERT_TRUE(QTest::qWaitFor([&] { return !read_by().isEmpty(); }, 5000));
    EXPECT_EQ(read_by(), QStringLiteral("Read by: Stretch"));
    EXPECT_EQ(window->state()->swing()->rules->school.id, "stretch");
    EXPECT_DOUBLE_EQ(window->state()->swing()->analysis.transition.pelvis_lead_ms, lead_ms);
    key(Qt::Key_S, Qt::ShiftModifier);
    ASSERT_TRUE(QTest::qWaitFor(
        [&] { return read_by().endsWith(QStringLiteral("shut club face")); }, 5000));
    // A shut face needs 45° and more at impact: these 39° are too few now.
    const Fault* square = window->state()->swing()->reading.find("square-hips");
    EXPECT_GT(square->evidence.value(), 0.9);
    key(Qt::Key_Z, Qt::ControlModifier);
    key(Qt::Key_Z, Qt::ControlModifier);
    EXPECT_TRUE(QTest::qWaitFor([&] { return read_by().isEmpty(); }, 5000));
    EXPECT_LT(window->state()->swing()->reading.find("square-hips")->evidence.value(), 0.1);
    key(Qt::Key_S);
    window->close();
    open_window();
    EXPECT_EQ(window->model()->rules()->school.id, "stretch");
}

// A torso that tips late is fastest at another time about its own axis than as a whole: a click on
// the words says what each choice gives, and one of them chooses it.
TEST_F(LessonTasks, WhatEachChoiceOfRatesGivesIsSaidOnAClick) {
    const simulate::SwingParameters parameters;
    Take take = simulate::make_take(parameters);
    const double impact_s = simulate::SwingModel(parameters).impact_s();
    auto& torso = take.segments[Segment::Torso].q_lab_segment;
    for (std::size_t i = 0; i < torso.size(); ++i)
        torso[i] =
            torso[i] * exp_of(Eigen::Vector3d(
                           0.0, 0.6 * std::tanh((take.time_of(i) - impact_s + 0.005) / 0.03), 0.0));
    test::TemporaryFolder folder;
    const auto file = folder.write("tipping.csv", formats::write_pose_csv(take));
    window->open_paths({QString::fromStdString(file.string())});
    ASSERT_TRUE(settle());
    auto* note = find<QPushButton>("order_note");
    ASSERT_TRUE(note->isVisible());
    QTest::mouseClick(note, Qt::LeftButton);
    auto* menu = window->findChild<QMenu*>(QStringLiteral("orders"));
    ASSERT_NE(menu, nullptr);
    ASSERT_EQ(menu->actions().size(), 3);
    const QString axis = menu->actions()[0]->text();
    const QString whole = menu->actions()[1]->text();
    EXPECT_TRUE(axis.startsWith(QStringLiteral("own axis: ")));
    EXPECT_NE(axis.mid(axis.indexOf(QLatin1Char(':'))), whole.mid(whole.indexOf(QLatin1Char(':'))));
    EXPECT_TRUE(menu->actions()[0]->isChecked());
    menu->actions()[1]->trigger();
    menu->close();
    ASSERT_TRUE(settle());
    EXPECT_EQ(window->model()->options().convention, RateConvention::Resultant);
}
