// The Golfer room and launch numbers, driven as a user would.

#include "app/rooms/golfer/golfer_room.h"
#include "app/rooms/lesson/launch_joiner.h"
#include "app/rooms/lesson/lesson_room.h"
#include "app/rooms/lesson/swing_table.h"
#include "app/theme/units.h"
#include "app/widgets/drawing_view.h"
#include "app/window_test.h"
#include "support/temporary_folder.h"

#include <QAbstractItemModelTester>
#include <QComboBox>
#include <QDir>
#include <QLabel>
#include <QListWidget>
#include <QTableView>
#include <QUndoStack>

#include <cmath>

using namespace kite;
using namespace kite::app;

namespace {

class GolferTasks : public WindowTest {
protected:
    void SetUp() override {
        QDir(QString::fromLocal8Bit(qgetenv("XDG_DATA_HOME")) + QStringLiteral("/kite-hinge"))
            .removeRecursively();
        WindowTest::SetUp();
    }
    bool kept() {
        return QTest::qWaitFor([&] { return window->jobs().is_idle(); }, 20000);
    }
    template <class Kind>
    Kind* child(const char* name) const {
        return window->findChild<Kind*>(QString::fromLatin1(name));
    }
    GolferRoom* room() const { return window->room<GolferRoom>(); }
    /// The demo with its earlier lessons, in the Golfer room.
    void look_at(const QString& golfer) {
        open_demo();
        ASSERT_TRUE(kept());
        window->enter(QStringLiteral("golfer"));
        ASSERT_TRUE(kept());
        auto* list = child<QListWidget>("history_golfers");
        for (int i = 0; i < list->count(); ++i)
            if (list->item(i)->text() == golfer)
                list->setCurrentRow(i);
        ASSERT_TRUE(kept());
        ASSERT_EQ(child<QLabel>("history_title")->text(), golfer);
    }
    std::string drawn() const {
        std::string out;
        for (const auto& shape : child<DrawingView>("history_picture")->drawing(190, 160).shapes)
            if (!shape.words.empty())
                out += shape.words + "\n";
        return out;
    }
    QTableView* lesson_table() const { return window->room<LessonRoom>()->table(); }
    QString lesson_cell(int row, int column) const {
        return lesson_table()->model()->index(row, column).data().toString();
    }
    /// A golfer with a lesson of two swings, in the Lesson room.
    void lesson_of_two() {
        window->enter(QStringLiteral("lesson"));
        ASSERT_TRUE(kept());
        QTest::keyClicks(child<QWidget>("new_golfer"), QStringLiteral("Ottoline"));
        QTest::keyClick(child<QWidget>("new_golfer"), Qt::Key_Return);
        ASSERT_TRUE(kept());
        ASSERT_TRUE(window->commands().run(QStringLiteral("lesson.begin")));
        ASSERT_TRUE(kept());
        window->open_paths({QStringLiteral(KITE_DEMO_FOLDER "/01-alva-iron.csv"),
                            QStringLiteral(KITE_DEMO_FOLDER "/02-alva-iron.csv")});
        ASSERT_TRUE(settle());
        ASSERT_TRUE(kept());
        ASSERT_EQ(lesson_table()->model()->rowCount(), 2);
    }
    test::TemporaryFolder folder;
};

/// Rows of swings whose files were written so many seconds after ten.
std::vector<Row> rows_at(const std::vector<int>& seconds) {
    std::vector<Row> out;
    for (const int s : seconds)
        out.push_back({{"id", "swing " + std::to_string(out.size())},
                       {"launch", nullptr},
                       {"file_time", QDateTime(QDate(2026, 11, 26), QTime(10, 0), Qt::UTC)
                                         .addSecs(s)
                                         .toString(Qt::ISODate)
                                         .toStdString()}});
    return out;
}

LaunchNumbers shot_of(double carry_m, double time_s = kMissing) {
    LaunchNumbers out;
    out.carry_m = carry_m;
    out.time_s = time_s;
    return out;
}

} // namespace

TEST_F(GolferTasks, SaysWhatToDoWhileTheRecordIsEmpty) {
    window->enter(QStringLiteral("golfer"));
    ASSERT_TRUE(kept());
    EXPECT_EQ(child<QLabel>("history_title")->text(), QStringLiteral("Nobody is chosen"));
    EXPECT_TRUE(child<QLabel>("history_hint")->text().contains(QStringLiteral("Lesson room")));
    EXPECT_FALSE(child<QWidget>("history_picture")->isVisible());
}

TEST_F(GolferTasks, ShowsLessonsOnOneLineOfDays) {
    look_at(QStringLiteral("Alva"));
    EXPECT_EQ(room()->history().swings.size(), 14U) << "nine earlier ones and five of today";
    EXPECT_EQ(room()->history().lessons.size(), 4U);
    const std::string words = drawn();
    for (const char* shown : {"17 Sep", "8 Oct", "5 Nov", "Felt less measured, °", "first lesson"})
        EXPECT_NE(words.find(shown), std::string::npos) << shown << " in\n" << words;
    // Opened once more the earlier swings are the same ones, with what was said of them since.
    auto& record = *window->room<LessonRoom>()->record();
    const QString first = text_in(room()->history().swings.front(), "id");
    record.change(QStringLiteral("swing"), first, {{"flight", "hook"}});
    ASSERT_TRUE(kept());
    open_demo();
    ASSERT_TRUE(kept());
    ASSERT_EQ(room()->history().swings.size(), 14U);
    EXPECT_EQ(text_in(room()->history().swings.front(), "flight"), QStringLiteral("hook"));
}

TEST_F(GolferTasks, MeasuresAreChosenByTickingAndRemembered) {
    look_at(QStringLiteral("Alva"));
    auto* choice = child<QListWidget>("history_measures");
    auto* backswing = choice->findItems(QStringLiteral("Backswing"), Qt::MatchExactly).value(0);
    ASSERT_NE(backswing, nullptr);
    EXPECT_EQ(drawn().find("Backswing"), std::string::npos);
    choice->setCurrentItem(backswing);
    choice->setFocus();
    QTest::keyClick(choice, Qt::Key_Space);
    EXPECT_NE(drawn().find("Backswing"), std::string::npos);
    window->close();
    window.reset();
    open_window();
    const auto again = child<QListWidget>("history_measures")
                           ->findItems(QStringLiteral("Backswing"), Qt::MatchExactly)
                           .value(0);
    EXPECT_EQ(again->checkState(), Qt::Checked);
}

TEST_F(GolferTasks, RelationsNeedSwingsAndNameNoCause) {
    look_at(QStringLiteral("Alva"));
    auto* table = child<QTableView>("relations");
    ASSERT_TRUE(table->isVisible());
    const QAbstractItemModelTester tester(table->model());
    EXPECT_GT(table->model()->rowCount(), 20);
    EXPECT_TRUE(child<QLabel>("relation_caution")->text().contains(QStringLiteral("no cause")));
    // Made-up scatter of the demo's monitor has nothing to do with the motion.
    for (int row = 0; row < table->model()->rowCount(); ++row)
        EXPECT_EQ(table->model()->index(row, 5).data().toString(), QStringLiteral("not shown"))
            << table->model()->index(row, 0).data().toString().toStdString();
    look_at(QStringLiteral("Jonas"));
    EXPECT_FALSE(table->isVisible()) << "no shot of his is known";
}

TEST(LaunchJoiner, JoinsByTimeWhereBothHaveOne) {
    const auto swings = rows_at({0, 40, 95});
    const double noon = 12.0 * 3600.0; // the monitor's clock is set otherwise
    const auto joined = join_shots({shot_of(150, noon + 1), shot_of(160, noon + 94)}, swings);
    ASSERT_EQ(joined.by_swing.size(), 2U);
    EXPECT_EQ(joined.by_swing[0].first, QStringLiteral("swing 0"));
    EXPECT_EQ(joined.by_swing[1].first, QStringLiteral("swing 2"));
    EXPECT_EQ(joined.by_swing[1].second.carry_m, 160.0);
    EXPECT_TRUE(joined.words.contains(QStringLiteral("by their times")));
}

TEST(LaunchJoiner, JoinsInOrderWhereTimesSayNothing) {
    // All files of one second, as after copying.
    const auto joined =
        join_shots({shot_of(150, 10), shot_of(160, 50), shot_of(170, 90)}, rows_at({0, 0}));
    ASSERT_EQ(joined.by_swing.size(), 2U);
    EXPECT_TRUE(joined.words.contains(QStringLiteral("in their order")));
    EXPECT_TRUE(joined.words.contains(QStringLiteral("3 shots and 2 swings")));
    EXPECT_TRUE(joined.words.contains(QStringLiteral("left out")));
}

TEST(LaunchJoiner, MovesWhatDoesNotBelongAndLosesNothing) {
    auto swings = rows_at({0, 40, 95});
    swings[0]["launch"] = R"({"carry_m":150.0})";
    swings[1]["launch"] = R"({"carry_m":160.0})";
    const auto down = moved_shots(swings, 1, 1);
    ASSERT_EQ(down.size(), 2U);
    EXPECT_FALSE(down[0].second.has_value());
    EXPECT_EQ(down[1].second->carry_m, 160.0);
    EXPECT_TRUE(moved_shots(swings, 1, -1).empty()) << "150 would be lost";
    EXPECT_TRUE(moved_shots(swings, 7, 1).empty());
    swings[0]["launch"] = nullptr;
    const auto up = moved_shots(swings, 1, -1);
    ASSERT_EQ(up.size(), 3U);
    EXPECT_EQ(up[0].second->carry_m, 160.0);
    EXPECT_FALSE(up[1].second.has_value());
}

TEST_F(GolferTasks, LaunchNumbersComeFromAFileAreCorrectedAndTakenBack) {
    lesson_of_two();
    const auto file = folder.write("shots.csv", "club_speed_mph,carry_yd\n80,150\n82,155\n");
    window->open_paths({QString::fromStdString(file.string())});
    ASSERT_TRUE(QTest::qWaitFor(
        [&] { return lesson_cell(1, SwingTable::FirstLaunch + 2) == QStringLiteral("142"); }, 5000))
        << "155 yards are 141.7 m (1 yard is 0.9144 m, NIST SP 811)";
    ASSERT_TRUE(kept());
    EXPECT_TRUE(lesson_table()->isColumnHidden(SwingTable::Guess));
    EXPECT_FALSE(lesson_table()->isColumnHidden(SwingTable::FirstLaunch));
    // 80 mile an hour are 35.8 m/s (0.44704, NIST SP 811).
    EXPECT_EQ(lesson_cell(0, SwingTable::FirstLaunch), QStringLiteral("35.8"));
    // A slip of the hand is refused, a number typed in the unit on screen is kept.
    auto* model = lesson_table()->model();
    const QModelIndex carry = model->index(0, SwingTable::FirstLaunch + 2);
    EXPECT_FALSE(model->setData(carry, QStringLiteral("9999"), Qt::EditRole));
    EXPECT_FALSE(model->setData(carry, QStringLiteral("far"), Qt::EditRole));
    EXPECT_TRUE(model->setData(carry, QStringLiteral("140"), Qt::EditRole));
    ASSERT_TRUE(kept());
    EXPECT_EQ(carry.data().toString(), QStringLiteral("140"));
    Units::instance().set(Units::Length::Inches, Units::Speed::MilesPerHour);
    EXPECT_EQ(carry.data().toString(), QStringLiteral("153")) << "140 m in yards";
    Units::instance().set(Units::Length::Centimetres, Units::Speed::MetresPerSecond);
    auto* history = window->room<LessonRoom>()->history();
    history->undo();
    history->undo();
    ASSERT_TRUE(kept());
    EXPECT_EQ(carry.data().toString(), QString());
}
