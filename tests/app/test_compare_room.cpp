// The Compare room, driven as a user would.

#include "app/rooms/compare/change_table.h"
#include "app/rooms/compare/compare_room.h"
#include "app/rooms/compare/set_picker.h"
#include "app/theme/units.h"
#include "app/widgets/drawing_view.h"
#include "app/window_test.h"

#include <QAbstractItemModelTester>
#include <QClipboard>
#include <QComboBox>
#include <QGuiApplication>
#include <QLabel>
#include <QListView>
#include <QLocale>
#include <QSignalSpy>
#include <QTableView>

#include <cmath>

using namespace kite;
using namespace kite::app;

namespace {

class CompareTasks : public WindowTest {
protected:
    CompareRoom* room() const { return window->room<CompareRoom>(); }
    QListView* list() const { return window->findChild<QListView*>(QStringLiteral("set_list")); }
    QString text_of_label(const char* name) const {
        return window->findChild<QLabel*>(QString::fromLatin1(name))->text();
    }
    void press_on(int row, Qt::Key pressed) {
        list()->setCurrentIndex(list()->model()->index(row, 0));
        ASSERT_TRUE(after([&] { QTest::keyClick(list(), pressed); }));
    }
    /// Does something and waits for what a worker makes of it.
    template <class What>
    bool after(const What& what) const {
        QSignalSpy compared(room(), &CompareRoom::compared);
        what();
        return !compared.isEmpty() || compared.wait(20000);
    }
    bool after_command(const char* id) const {
        return after([&] { window->commands().run(QString::fromLatin1(id)); });
    }
    QString cell(int row, int column) const {
        return room()->changes()->index(row, column).data().toString();
    }
    /// A number as it stands in a cell, without what follows it.
    static double number_in(const QString& text) {
        QString first = text.split(QStringLiteral(" ±")).first();
        bool ok = false;
        const double out = QLocale().toDouble(
            first.replace(QChar(0x2212), QLatin1Char('-')).remove(QLatin1Char('+')), &ok);
        return ok ? out : std::nan("");
    }
    void expect_differences_agree() const {
        ASSERT_GT(room()->changes()->rowCount(), 20);
        for (int row = 0; row < room()->changes()->rowCount(); ++row) {
            const double first = number_in(cell(row, ChangeTable::Before));
            const double second = number_in(cell(row, ChangeTable::After));
            ASSERT_TRUE(std::isfinite(first) && std::isfinite(second)) << row;
            EXPECT_NEAR(number_in(cell(row, ChangeTable::Difference)), second - first, 1e-6)
                << cell(row, ChangeTable::Name).toStdString();
        }
    }
};

} // namespace

TEST_F(CompareTasks, SaysWhatToDoBeforeThereAreSets) {
    window->enter(QStringLiteral("compare"));
    EXPECT_TRUE(
        text_of_label("compare_caution").startsWith(QStringLiteral("Open swings on the Bench")));
    window->enter(QStringLiteral("bench"));
    open_demo();
    window->enter(QStringLiteral("compare"));
    EXPECT_TRUE(
        text_of_label("compare_caution").startsWith(QStringLiteral("Choose swings at the left")));
    EXPECT_EQ(room()->changes()->rowCount(), 0);
}

TEST_F(CompareTasks, SetsAreChosenByKeysAndTheTableIsCopied) {
    open_demo();
    window->enter(QStringLiteral("compare"));
    for (const int row : {0, 1, 2})
        press_on(row, Qt::Key_1);
    for (const int row : {3, 4})
        press_on(row, Qt::Key_2);
    EXPECT_EQ(text_of_label("compare_title"), QStringLiteral("3 swings against 2"));
    EXPECT_TRUE(text_of_label("compare_caution").contains(QStringLiteral("few swings")));
    expect_differences_agree();
    press_on(2, Qt::Key_0);
    EXPECT_EQ(text_of_label("compare_title"), QStringLiteral("2 swings against 2"));
    EXPECT_EQ(room()->picker()->set_of(2), SetPicker::Set::Neither);
    ASSERT_TRUE(window->commands().run(QStringLiteral("compare.copy")));
    const QStringList copied = QGuiApplication::clipboard()->text().split(QLatin1Char('\n'));
    EXPECT_EQ(copied.size(), room()->changes()->rowCount() + 2) << "a head, the rows, and the end";
    EXPECT_EQ(copied[1].split(QLatin1Char(',')).size(), 12);
}

// Whose sessions lie how far apart is in the record: with three lessons of theirs it counts.
TEST_F(CompareTasks, TheGolfersOwnSessionsCountWhereTheRecordHasThree) {
    open_demo();
    window->enter(QStringLiteral("compare"));
    ASSERT_TRUE(after_command("compare.split"));
    EXPECT_TRUE(QTest::qWaitFor(
        [&] {
            return text_of_label("compare_caution")
                .contains(QStringLiteral("between this golfer's sessions"));
        },
        20000))
        << text_of_label("compare_caution").toStdString();
    // Said to be of one session, nothing between sessions counts.
    window->findChild<QComboBox*>(QStringLiteral("sessions"))->setCurrentIndex(1);
    EXPECT_TRUE(QTest::qWaitFor(
        [&] { return !text_of_label("compare_caution").contains(QStringLiteral("sessions")); },
        20000));
    // The question is the one that is chosen.
    auto* question = window->findChild<QComboBox*>(QStringLiteral("question"));
    question->setCurrentIndex(question->findText(QStringLiteral("Tempo")));
    EXPECT_TRUE(QTest::qWaitFor(
        [&] { return text_of_label("compare_caution").contains(QStringLiteral("Tempo")); }, 20000));
}

TEST_F(CompareTasks, TheDifferencesAgreeInOtherUnitsToo) {
    open_demo();
    window->enter(QStringLiteral("compare"));
    ASSERT_TRUE(after_command("compare.split"));
    EXPECT_EQ(text_of_label("compare_title"), QStringLiteral("3 swings against 2"));
    Units::instance().set(Units::Length::Inches, Units::Speed::MilesPerHour);
    expect_differences_agree();
    Units::instance().set(Units::Length::Centimetres, Units::Speed::MetresPerSecond);
}

TEST_F(CompareTasks, LeavesOutWhatIsLeftOutAndSaysWhenClubsDiffer) {
    open_demo();
    window->editor()->set_marks(0, {false, true, {}}, QStringLiteral("leave out"));
    window->enter(QStringLiteral("compare"));
    for (const int row : {0, 1, 2})
        press_on(row, Qt::Key_1);
    for (const int row : {5, 6})
        press_on(row, Qt::Key_2);
    EXPECT_EQ(text_of_label("compare_title"), QStringLiteral("2 swings against 2"));
    EXPECT_TRUE(text_of_label("compare_caution").contains(QStringLiteral("The clubs differ")));
}

TEST_F(CompareTasks, TheClubsOfAGolferAreTwoSets) {
    open_demo();
    window->enter(QStringLiteral("compare"));
    // The golfer on the Bench has swings with one club alone: there is no second set.
    ASSERT_TRUE(after_command("compare.clubs"));
    EXPECT_EQ(text_of_label("compare_title"), QStringLiteral("Two sets of swings"));
    window->enter(QStringLiteral("bench"));
    SwingSaid said;
    said.club = ClubKind::Wedge;
    window->editor()->say(4, said, QStringLiteral("say the club"));
    ASSERT_TRUE(settle());
    window->enter(QStringLiteral("compare"));
    ASSERT_TRUE(after_command("compare.clubs"));
    EXPECT_EQ(text_of_label("compare_title"), QStringLiteral("4 swings against 1"));
    EXPECT_TRUE(text_of_label("compare_caution").contains(QStringLiteral("The clubs differ")));
}

TEST_F(CompareTasks, TheStairShowsBothSets) {
    open_demo();
    window->enter(QStringLiteral("compare"));
    auto* picture = window->findChild<DrawingView*>(QStringLiteral("sets_picture"));
    EXPECT_FALSE(picture->isVisible());
    ASSERT_TRUE(after_command("compare.split"));
    EXPECT_TRUE(picture->isVisible());
    int filled = 0;
    int dotted = 0;
    for (const auto& shape : picture->drawing(160, 60).shapes) {
        filled += shape.opacity < 1.0 && shape.fill != report::Ink::None ? 1 : 0;
        dotted += shape.dotted ? 1 : 0;
    }
    EXPECT_EQ(filled, 4) << "a band a part of the second set";
    EXPECT_EQ(dotted, 9) << "two edges a part of the first set, and its stair";
}

TEST_F(CompareTasks, ModelsKeepTheirRules) {
    const QAbstractItemModelTester picker(room()->picker(),
                                          QAbstractItemModelTester::FailureReportingMode::Fatal);
    const QAbstractItemModelTester changes(room()->changes(),
                                           QAbstractItemModelTester::FailureReportingMode::Fatal);
    open_demo();
    window->enter(QStringLiteral("compare"));
    ASSERT_TRUE(after_command("compare.split"));
    EXPECT_GT(room()->changes()->rowCount(), 0);
    ASSERT_TRUE(after([&] { window->editor()->remove(0); }));
    EXPECT_EQ(text_of_label("compare_title"), QStringLiteral("2 swings against 2"));
}
