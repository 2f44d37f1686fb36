// Where what arrives goes, and that nothing is kept, mixed or lost in silence.

#include "app/record_tasks.h"
#include "app/rooms/practice/practice_room.h"
#include "app/session/folder_watch.h"
#include "formats/practice/plan_json.h"
#include "support/temporary_folder.h"

#include <QDate>
#include <QSignalSpy>
#include <QUndoStack>

#include <csignal>
#include <filesystem>
#include <sys/resource.h>

using namespace kite;
using namespace kite::app;

namespace {

class Arriving : public RecordTasks {
protected:
    QString message() const { return child<QLabel>("message_title")->text(); }
    QString caution() const { return child<QLabel>("caution")->text(); }
    QString today() const { return QDate::currentDate().toString(Qt::ISODate); }
    RecordKeeper& record() const { return *room()->record(); }
    /// A lesson of a day in the past, with a swing in it.
    QString old_lesson(const char* file) {
        QString id;
        record().make(QStringLiteral("lesson"),
                      {{"golfer_id", record().whose().toStdString()},
                       {"name", "2026-01-02"},
                       {"day", "2026-01-02"}},
                      [&](const QString& made) { id = made; });
        EXPECT_TRUE(kept());
        ToKeep swing;
        swing.path = QStringLiteral(KITE_DEMO_FOLDER "/") + QString::fromLatin1(file);
        swing.rules = rules_without_school();
        swing.in.lesson = id;
        record().keep(swing);
        EXPECT_TRUE(kept());
        return id;
    }
    std::vector<store::Row> swings_of(const QString& lesson) const {
        const auto opened = Record::open(Record::usual_place(), store::Opening::Read);
        return opened.value->swings_of_lesson(lesson.toStdString()).value;
    }
    int count(const char* kind) const {
        const auto opened = Record::open(Record::usual_place(), store::Opening::Read);
        return static_cast<int>(opened.value->rows(kind).value.size());
    }
    using Record = store::Record;
    test::TemporaryFolder folder;
};

} // namespace

TEST_F(Arriving, ACaptureBeginsTodaysLessonOfWhoeverIsChosen) {
    add_golfer("Ottoline");
    open_files({QStringLiteral("01-alva-iron.csv"), QStringLiteral("02-alva-iron.csv")});
    ASSERT_TRUE(QTest::qWaitFor([&] { return !record().lesson().isEmpty(); }, 10000));
    ASSERT_TRUE(kept());
    const auto rows = in_record();
    ASSERT_EQ(rows.size(), 2U);
    for (const auto& row : rows)
        EXPECT_EQ(row.at("golfer"), "Ottoline");
    EXPECT_EQ(rows[0].at("lesson_id"), rows[1].at("lesson_id")) << "one lesson, not two";
    EXPECT_EQ(text_in(*record().lesson_row(), "day"), today());
    EXPECT_EQ(table()->model()->rowCount(), 2);
    EXPECT_TRUE(message().contains(QStringLiteral("lesson of today"))) << message().toStdString();
}

TEST_F(Arriving, WhileAnOldLessonIsLookedAtItIsKeptInTodays) {
    add_golfer("Ottoline");
    const QString old = old_lesson("01-alva-iron.csv");
    record().go_on_with(old);
    ASSERT_TRUE(kept());
    ASSERT_EQ(record().lesson(), old);
    open_files({QStringLiteral("02-alva-iron.csv")});
    EXPECT_EQ(swings_of(old).size(), 1U) << "what is of before stays as it is";
    const auto rows = in_record();
    ASSERT_EQ(rows.size(), 2U);
    EXPECT_NE(rows[1].at("lesson_id").get<std::string>(), old.toStdString());
    EXPECT_EQ(record().lesson(), old) << "nobody is thrown out of what they look at";
    EXPECT_TRUE(message().contains(QStringLiteral("today's lesson"))) << message().toStdString();
    QTest::mouseClick(child<QPushButton>("message_action"), Qt::LeftButton);
    ASSERT_TRUE(kept());
    EXPECT_EQ(text_in(*record().lesson_row(), "day"), today());
}

TEST_F(Arriving, ALessonThatWasTakenBackReceivesNothing) {
    add_golfer("Ottoline");
    begin_lesson();
    const QString undone = record().lesson();
    key(Qt::Key_Z, Qt::ControlModifier);
    ASSERT_TRUE(kept());
    EXPECT_TRUE(record().lesson().isEmpty());
    open_files({QStringLiteral("01-alva-iron.csv")});
    EXPECT_TRUE(swings_of(undone).empty());
    ASSERT_TRUE(QTest::qWaitFor([&] { return !record().lesson().isEmpty(); }, 10000));
    ASSERT_TRUE(kept());
    EXPECT_EQ(table()->model()->rowCount(), 1) << "the list shows it";
}

// Opened for one golfer, then another is chosen: it stays the first one's.
TEST_F(Arriving, WhereItGoesIsSettledWhenItComes) {
    add_golfer("Ottoline");
    add_golfer("Bo");
    begin_lesson();
    const QString of_bo = record().lesson();
    window->open_paths({QStringLiteral(KITE_DEMO_FOLDER "/01-alva-iron.csv")});
    type(child<QLineEdit>("new_golfer"), QStringLiteral("Ottoline"));
    ASSERT_TRUE(settle());
    ASSERT_TRUE(kept());
    EXPECT_EQ(swings_of(of_bo).size(), 1U);
    EXPECT_EQ(in_record().size(), 1U);
}

TEST_F(Arriving, WhatCameBeforeAnybodyWasChosenIsOfferedAndNotFiledByItself) {
    open_files({QStringLiteral("01-alva-iron.csv"), QStringLiteral("02-alva-iron.csv")});
    EXPECT_TRUE(in_record().empty());
    add_golfer("Ottoline");
    begin_lesson();
    EXPECT_TRUE(message().contains(QStringLiteral("2 swings on the Bench are not kept")))
        << message().toStdString();
    EXPECT_TRUE(in_record().empty()) << "not before it is said";
    open_files({QStringLiteral("03-alva-iron.csv")});
    EXPECT_EQ(in_record().size(), 1U) << "the others do not come along";
    window->enter(QStringLiteral("lesson"));
    ASSERT_TRUE(window->commands().run(QStringLiteral("lesson.keep-open")));
    QTest::mouseClick(child<QPushButton>("message_action"), Qt::LeftButton);
    ASSERT_TRUE(kept());
    EXPECT_EQ(in_record().size(), 3U);
}

TEST_F(Arriving, SwingsThatSayTheyAreAnothersAreNotFiledHere) {
    add_golfer("Ottoline");
    begin_lesson();
    window->open_paths({QStringLiteral(KITE_DEMO_FOLDER)}); // a list that names golfers
    ASSERT_TRUE(settle());
    ASSERT_TRUE(kept());
    EXPECT_TRUE(in_record().empty());
    EXPECT_TRUE(message().contains(QStringLiteral("not kept here"))) << message().toStdString();
}

// No file may grow for a while, as on a full disk (setrlimit(2)).
TEST_F(Arriving, WhatCouldNotBeKeptIsSaidAndTriedAgain) {
    add_golfer("Ottoline");
    begin_lesson();
    rlimit before{};
    ASSERT_EQ(getrlimit(RLIMIT_FSIZE, &before), 0);
    std::signal(SIGXFSZ, SIG_IGN);
    rlimit full = before;
    full.rlim_cur = 1;
    ASSERT_EQ(setrlimit(RLIMIT_FSIZE, &full), 0);
    open_files({QStringLiteral("01-alva-iron.csv"), QStringLiteral("02-alva-iron.csv")});
    EXPECT_TRUE(in_record().empty());
    EXPECT_TRUE(caution().contains(QStringLiteral("2 swings are not in the record yet")))
        << caution().toStdString();
    EXPECT_TRUE(message().contains(QStringLiteral("could not be kept"))) << message().toStdString();
    // A note is said of one of them meanwhile; nothing of it is lost.
    window->enter(QStringLiteral("bench"));
    window->select(0);
    key(Qt::Key_G);
    ASSERT_EQ(setrlimit(RLIMIT_FSIZE, &before), 0);
    window->room<LessonRoom>()->desk().link().try_again();
    ASSERT_TRUE(kept());
    ASSERT_TRUE(QTest::qWaitFor([&] { return caution().isEmpty(); }, 10000));
    const auto rows = in_record();
    ASSERT_EQ(rows.size(), 2U);
    EXPECT_EQ(rows[0].at("mark"), "good");
}

TEST_F(Arriving, APartOfANameChoosesTheOneThatIsMeant) {
    add_golfer("Ruth Example");
    add_golfer("Bo");
    type(child<QLineEdit>("new_golfer"), QStringLiteral("Ruth"));
    EXPECT_EQ(count("golfer"), 2) << "no second golfer";
    EXPECT_EQ(text_in(*record().golfer(record().whose()), "name"), QStringLiteral("Ruth Example"));
    // Another of the name is added on purpose, and they are told apart.
    auto* line = child<QLineEdit>("new_golfer");
    line->setFocus();
    QTest::keyClicks(line, QStringLiteral("Ruth Example"));
    ASSERT_TRUE(window->commands().run(QStringLiteral("lesson.add-golfer")));
    ASSERT_TRUE(kept());
    EXPECT_EQ(count("golfer"), 3);
    auto* golfers = child<QListWidget>("golfers");
    QStringList names;
    for (int i = 0; i < golfers->count(); ++i)
        if (golfers->item(i)->text().startsWith(QStringLiteral("Ruth")))
            names << golfers->item(i)->text();
    ASSERT_EQ(names.size(), 2);
    EXPECT_TRUE(names[0].contains(QStringLiteral("since"))) << names[0].toStdString();
    type(line, QStringLiteral("Ruth"));
    EXPECT_EQ(count("golfer"), 3);
    EXPECT_TRUE(message().contains(QStringLiteral("Several are called so")));
}

TEST_F(Arriving, TheBinCanBeLookedIntoAfterARestart) {
    lesson_of_two();
    child<QListWidget>("lessons")->setFocus();
    QTest::keyClick(child<QListWidget>("lessons"), Qt::Key_Delete);
    ASSERT_TRUE(kept());
    EXPECT_TRUE(in_record().empty());
    open_window();
    window->enter(QStringLiteral("lesson"));
    ASSERT_TRUE(kept());
    ASSERT_TRUE(window->commands().run(QStringLiteral("lesson.look-into-bin")));
    auto* list = child<QListWidget>("bin_list");
    ASSERT_NE(list, nullptr);
    ASSERT_EQ(list->count(), 1) << "the lesson, not each of its swings";
    EXPECT_TRUE(list->item(0)->text().contains(QStringLiteral("with 2 swing")))
        << list->item(0)->text().toStdString();
    QTest::mouseClick(child<QPushButton>("bin_back"), Qt::LeftButton);
    ASSERT_TRUE(kept());
    EXPECT_EQ(in_record().size(), 2U);
    EXPECT_EQ(list->count(), 0);
}

TEST_F(Arriving, AGolferGoesIntoTheBinWithAllThatIsTheirsAndComesBack) {
    lesson_of_two();
    child<QListWidget>("golfers")->setFocus();
    QTest::keyClick(child<QListWidget>("golfers"), Qt::Key_Delete);
    ASSERT_TRUE(kept());
    EXPECT_TRUE(in_record().empty());
    EXPECT_EQ(count("golfer"), 0);
    EXPECT_TRUE(record().whose().isEmpty());
    // What comes now has nobody, and is not filed with who is in the bin.
    open_files({QStringLiteral("03-alva-iron.csv")});
    EXPECT_TRUE(in_record().empty());
    window->enter(QStringLiteral("lesson"));
    key(Qt::Key_Z, Qt::ControlModifier);
    ASSERT_TRUE(kept());
    EXPECT_EQ(in_record().size(), 2U);
    EXPECT_EQ(count("lesson"), 1);
}

TEST_F(Arriving, TheDemoTakesItsOwnWithIt) {
    lesson_of_two();
    const auto own = in_record();
    window->enter(QStringLiteral("bench"));
    open_demo();
    ASSERT_TRUE(kept());
    EXPECT_EQ(window->model()->rowCount(), 10) << "the demo's swings alone";
    window->enter(QStringLiteral("lesson"));
    ASSERT_TRUE(window->commands().run(QStringLiteral("lesson.own-record")));
    ASSERT_TRUE(kept());
    EXPECT_EQ(window->model()->rowCount(), 0);
    EXPECT_EQ(in_record(), own);
    // The record is used on: marks and swings are kept.
    type(child<QLineEdit>("new_golfer"), QStringLiteral("Ottoline"));
    open_files({QStringLiteral("03-alva-iron.csv")});
    ASSERT_EQ(in_record().size(), 3U);
    window->enter(QStringLiteral("bench"));
    window->select(0);
    key(Qt::Key_G);
    ASSERT_TRUE(kept());
    EXPECT_EQ(in_record()[2].at("mark"), "good");
}

TEST_F(Arriving, ABackupIsLookedIntoAndTheOwnRecordStays) {
    lesson_of_two();
    const auto copy = folder.path("backup.db");
    record().back_up(QString::fromStdString(copy.string()));
    ASSERT_TRUE(kept());
    QTest::mouseClick(table(), Qt::LeftButton);
    table()->selectAll();
    QTest::keyClick(table(), Qt::Key_Delete);
    ASSERT_TRUE(kept());
    ASSERT_TRUE(in_record().empty());
    const std::string before = test::TemporaryFolder::read(copy);
    QString why = QStringLiteral("not yet");
    window->room<LessonRoom>()->desk().use_copy_of(QString::fromStdString(copy.string()),
                                                   [&](const QString& said) { why = said; });
    ASSERT_TRUE(QTest::qWaitFor([&] { return why.isEmpty(); }, 10000)) << why.toStdString();
    ASSERT_TRUE(kept());
    EXPECT_EQ(record().view().golfers.size(), 1U);
    EXPECT_TRUE(child<QLabel>("hint")->text().contains(QStringLiteral("copy of a backup")));
    add_golfer("Somebody else");
    EXPECT_EQ(test::TemporaryFolder::read(copy), before);
    EXPECT_EQ(count("golfer"), 1);
    ASSERT_TRUE(window->commands().run(QStringLiteral("lesson.own-record")));
    ASSERT_TRUE(kept());
    EXPECT_TRUE(in_record().empty());
}

// ---- the next key means the same swing

TEST_F(Arriving, TheChosenSwingStaysChosenWhateverArrives) {
    lesson_of_two();
    table()->setFocus();
    table()->selectRow(1);
    QTest::keyClick(table(), Qt::Key_5);
    ASSERT_TRUE(kept());
    const QString flight = cell(1, SwingTable::Flight);
    ASSERT_FALSE(flight.isEmpty());
    open_files({QStringLiteral("03-alva-iron.csv")});
    ASSERT_EQ(table()->model()->rowCount(), 3);
    ASSERT_EQ(table()->selectionModel()->selectedRows().size(), 1);
    EXPECT_EQ(table()->selectionModel()->selectedRows()[0].row(), 1);
    table()->setFocus();
    QTest::keyClick(table(), Qt::Key_Down);
    QTest::keyClick(table(), Qt::Key_2);
    ASSERT_TRUE(kept());
    EXPECT_EQ(cell(1, SwingTable::Flight), flight) << "not erased";
    EXPECT_TRUE(cell(0, SwingTable::Flight).isEmpty());
    EXPECT_FALSE(cell(2, SwingTable::Flight).isEmpty());
}

TEST_F(Arriving, DigitsInFeltAreDegrees) {
    lesson_of_two();
    table()->setFocus();
    table()->setCurrentIndex(table()->model()->index(0, SwingTable::Guess));
    QTest::keyClick(table(), Qt::Key_3);
    auto* editor = table()->findChild<QLineEdit*>();
    ASSERT_NE(editor, nullptr) << "typing begins";
    QTest::keyClick(editor, Qt::Key_5);
    QTest::keyClick(editor, Qt::Key_Return);
    ASSERT_TRUE(kept());
    EXPECT_EQ(in_record()[0].at("guess_open_deg"), 35.0);
    EXPECT_TRUE(in_record()[0].at("flight").is_null());
}

TEST_F(Arriving, TheSheetOfCommandsNamesOnlyWhatCanBeDoneHere) {
    key(Qt::Key_F1);
    auto* line = child<QLineEdit>("command_line");
    QTest::keyClicks(line, QStringLiteral("eye"));
    auto* list = child<QListWidget>("command_list");
    for (int i = 0; i < list->count(); ++i) {
        const auto* action = list->item(i)->data(Qt::UserRole).value<QAction*>();
        EXPECT_TRUE(action->isVisible()) << action->objectName().toStdString();
    }
    line->clear();
    EXPECT_EQ(window->commands().find(QStringLiteral("bench.open"))->isVisible(), false);
    for (int i = 0; i < list->count(); ++i)
        EXPECT_NE(list->item(i)->data(Qt::UserRole).value<QAction*>()->objectName(),
                  QStringLiteral("bench.open"));
}

// ---- what is said while it is measured is measured

TEST_F(Arriving, AClubSaidWhileTheFileIsReadIsMeasured) {
    lesson_of_two();
    SwingListModel* swings = window->model();
    const int id = swings->id_of(0);
    // Measured again in another way, and said in the same breath.
    AnalysisOptions options = swings->options();
    options.convention = RateConvention::Plane;
    swings->set_options(options);
    SwingSaid said = swings->said_of(id);
    said.club = ClubKind::Driver;
    swings->say(id, said);
    ASSERT_TRUE(settle());
    EXPECT_EQ(swings->swing(0)->analysis.club, ClubKind::Driver);
    ASSERT_TRUE(kept());
    // The record is told, and how it was measured otherwise stays as it was kept.
    const auto row = in_record()[0];
    const auto told = store::Row::parse(store::text_in(row, "told"));
    EXPECT_EQ(told.value("club", ""), "driver");
    EXPECT_FALSE(told.contains("convention")) << told.dump();
    EXPECT_EQ(row.at("club"), "driver");
    const auto opened = Record::open(Record::usual_place(), store::Opening::Read);
    const auto result =
        store::Row::parse(opened.value->result(row.at("id").get<std::string>()).value.json);
    EXPECT_EQ(result.at("club"), "driver");
    EXPECT_EQ(result.at("convention"), "axis");
}
