// The rooms beside the Bench, driven as a user would: why, practice, references.

#include "app/rooms/practice/drill_finder.h"
#include "app/rooms/practice/drill_sheet.h"
#include "app/rooms/practice/practice_room.h"
#include "app/rooms/references/limit_table.h"
#include "app/rooms/references/references_room.h"
#include "app/rooms/why/cause_map.h"
#include "app/rooms/why/why_room.h"
#include "app/theme/theme.h"
#include "app/window_test.h"
#include "core/reading/why.h"
#include "formats/pose_csv/pose_csv.h"
#include "formats/practice/plan_json.h"
#include "formats/rules/rules_json.h"
#include "simulate/planted_faults.h"
#include "simulate/simulate.h"
#include "support/temporary_folder.h"

#include <QAbstractItemModelTester>
#include <QCheckBox>
#include <QComboBox>
#include <QLabel>
#include <QLineEdit>
#include <QListWidget>
#include <QPushButton>
#include <QRegularExpression>
#include <QSpinBox>
#include <QTableView>
#include <QTemporaryDir>
#include <QTextDocument>

using namespace kite;
using namespace kite::app;

namespace {

class Rooms : public WindowTest {
protected:
    template <class Kind>
    Kind* child(const char* name) const {
        return window->findChild<Kind*>(QString::fromLatin1(name));
    }
    QString text_of_label(const char* name) const { return child<QLabel>(name)->text(); }
    void click(QWidget* widget) { QTest::mouseClick(widget, Qt::LeftButton); }
    /// The demo's first swing has a first fix.
    void open_first() {
        open_demo();
        window->select(0);
        ASSERT_TRUE(reading().first_fix);
    }
    const Reading& reading() const { return window->state()->swing()->reading; }
    QString room() const { return window->current()->id(); }
};

TEST_F(Rooms, TheGolferGetsPlainWordsWithoutNumbers) {
    open_first();
    key(Qt::Key_W, Qt::ShiftModifier);
    const Fault& fix = *reading().find(*reading().first_fix);
    EXPECT_EQ(text_of_label("plain_title"), QString::fromStdString(fix.title));
    EXPECT_FALSE(text_of_label("plain_check").isEmpty());
    for (const char* name : {"plain_title", "plain_why", "plain_drill", "plain_feel"})
        EXPECT_FALSE(text_of_label(name).contains(QRegularExpression(QStringLiteral("[0-9]"))))
            << name;
    key(Qt::Key_W, Qt::ShiftModifier);
    EXPECT_EQ(child<QLabel>("plain_title"), nullptr);
    EXPECT_EQ(text_of_label("fix_title"), QString::fromStdString(fix.title));
}

TEST_F(Rooms, ASetBehindIsReadAsOne) {
    open_first();
    EXPECT_EQ(child<QLabel>("set_reading"), nullptr);
    key(Qt::Key_M); // good swings: none are marked
    EXPECT_EQ(child<QLabel>("set_reading"), nullptr);
    key(Qt::Key_M); // all of this golfer's
    ASSERT_TRUE(QTest::qWaitFor([&] { return child<QLabel>("set_reading") != nullptr; }, 5000));
    const auto& set = window->state()->reference()->swings;
    EXPECT_TRUE(text_of_label("set_reading").contains(QString::number(set.size())));
}

class Why : public Rooms {};

TEST_F(Why, TheCardLeadsToTheChainOfTheFirstFix) {
    open_first();
    QPushButton* why = nullptr;
    for (auto* link : window->bench()->findChildren<QPushButton*>(QStringLiteral("link")))
        if (link->property("leads_to") == QStringLiteral("why"))
            why = link;
    ASSERT_NE(why, nullptr);
    click(why);
    EXPECT_EQ(room(), QStringLiteral("why"));
    const Fault& fix = *reading().find(*reading().first_fix);
    EXPECT_EQ(text_of_label("why_title"), QString::fromStdString(fix.title));
    EXPECT_TRUE(text_of_label("why_verdict").contains(QStringLiteral("evidence")));
    // What would change it is the core's own sentence.
    const auto chain = explain(fix, reading(), window->state()->swing()->analysis);
    EXPECT_EQ(text_of_label("why_change"), QString::fromStdString(change_of(chain)));
    EXPECT_FALSE(text_of_label("why_change").isEmpty());
}

TEST_F(Why, AStepLeadsToItsMomentOnTheBench) {
    open_first();
    key(Qt::Key_2, Qt::ControlModifier);
    ASSERT_EQ(room(), QStringLiteral("why"));
    QPushButton* step = nullptr;
    for (auto* link : window->current()->view()->findChildren<QPushButton*>())
        if (link->property("why_step").toBool())
            step = link;
    ASSERT_NE(step, nullptr);
    window->state()->set_cursor_s(0.0);
    click(step);
    EXPECT_EQ(room(), QStringLiteral("bench"));
    EXPECT_GT(window->state()->cursor_s(), 0.0);
}

TEST_F(Why, EveryFaultIsReachedByClickAndByKeys) {
    open_first();
    key(Qt::Key_2, Qt::ControlModifier);
    auto* map = window->findChild<CauseMap*>();
    for (const Fault& fault : reading().faults) {
        const QRect box = map->place_of(fault.id);
        ASSERT_TRUE(map->rect().contains(box)) << fault.id;
        QTest::mouseClick(map, Qt::LeftButton, Qt::NoModifier, box.center());
        EXPECT_EQ(map->chosen(), fault.id);
        EXPECT_EQ(text_of_label("why_title"), QString::fromStdString(fault.title));
    }
    // Down a column and across.
    map->choose(reading().faults[0].id);
    map->setFocus();
    QTest::keyClick(map, Qt::Key_Down);
    EXPECT_EQ(map->chosen(), reading().faults[1].id);
    QTest::keyClick(map, Qt::Key_Up);
    EXPECT_EQ(map->chosen(), reading().faults[0].id);
    QTest::keyClick(map, Qt::Key_Right);
    EXPECT_EQ(reading().find(map->chosen())->phase, Phase::Transition);
    // From one that was found to the next, round and round.
    const auto listed = listed_faults(reading());
    map->choose(listed[0]->id);
    for (std::size_t i = 1; i <= listed.size(); ++i) {
        key(Qt::Key_N);
        EXPECT_EQ(map->chosen(), listed[i % listed.size()]->id);
    }
    key(Qt::Key_Escape);
    EXPECT_EQ(room(), QStringLiteral("bench"));
}

// A swing whose ball lies ahead of the lead foot (the stance stands behind it) and whose hips
// slide.
TEST_F(Why, ANoteOnTheSetUpLeadsToItsMomentAndStandsBeforeTheBackswing) {
    const test::TemporaryFolder folder;
    simulate::SwingParameters parameters;
    simulate::plant(parameters, "slide", 1.0);
    Take take = simulate::make_take(parameters);
    for (const BodyPoint point : {BodyPoint::LeadAnkle, BodyPoint::TrailAnkle})
        for (Eigen::Vector3d& place : take.points_lab_m.at(point))
            place.x() -= 0.15;
    window->open_paths({QString::fromStdString(
        folder.write("ahead.csv", formats::write_pose_csv(take)).string())});
    ASSERT_TRUE(settle());
    ASSERT_EQ(reading().noted().size(), 1U);
    EXPECT_EQ(reading().noted()[0]->id, "ball-forward");
    window->state()->set_cursor_s(window->state()->swing()->analysis.moments.time_s(Moment::Top));
    auto* note = child<QPushButton>("set_up_0");
    ASSERT_NE(note, nullptr);
    click(note);
    EXPECT_NEAR(window->state()->cursor_s(),
                window->state()->swing()->analysis.moments.time_s(Moment::Address), 1e-9);
    key(Qt::Key_2, Qt::ControlModifier);
    auto* map = window->findChild<CauseMap*>();
    const QRect box = map->place_of("ball-forward");
    ASSERT_TRUE(map->rect().contains(box));
    EXPECT_LT(box.right(), map->place_of("backswing-slide").left());
    QTest::mouseClick(map, Qt::LeftButton, Qt::NoModifier, box.center());
    EXPECT_EQ(text_of_label("why_title"), QStringLiteral("The ball lies far forward"));
}

TEST_F(Why, WithoutASwingItSaysWhatToDo) {
    key(Qt::Key_2, Qt::ControlModifier);
    EXPECT_EQ(text_of_label("why_head"), QStringLiteral("No swing is chosen"));
}

class Practice : public Rooms {
protected:
    PracticeRoom& practice() const { return *window->room<PracticeRoom>(); }
    const Plan& plan() const { return *practice().keeper().plan(); }
    void enter() {
        key(Qt::Key_3, Qt::ControlModifier);
        ASSERT_EQ(room(), QStringLiteral("practice"));
    }
    void make() {
        open_first();
        enter();
        click(child<QPushButton>("make_plan"));
        ASSERT_TRUE(practice().keeper().plan());
    }
};

TEST_F(Practice, AsksForWhatTheSwingNeedsAndMakesAPlan) {
    open_first();
    enter();
    auto* drills = child<QListWidget>("drills");
    const int fitting = drills->count();
    EXPECT_GT(fitting, 0);
    EXPECT_EQ(child<QComboBox>("drill_fault")->currentData().toString().toStdString(),
              *reading().first_fix);
    click(child<QPushButton>("make_plan"));
    ASSERT_TRUE(practice().keeper().plan());
    EXPECT_EQ(plan().fault, *reading().first_fix);
    EXPECT_EQ(plan().golfer, "Alva");
    EXPECT_EQ(child<QListWidget>("plan_days")->count(), static_cast<int>(plan().days.size()));
    EXPECT_TRUE(text_of_label("plan_cautions").contains(QStringLiteral("doctor")));
    EXPECT_EQ(child<QLabel>("plan_title")->font().pixelSize(), Theme::instance().scaled(17));
}

TEST_F(Practice, DrillsAreNarrowedByWordsPlaceMeansAndWhatIsSpared) {
    open_demo();
    enter();
    auto* drills = child<QListWidget>("drills");
    child<QComboBox>("drill_fault")->setCurrentIndex(0);
    const int all = drills->count();
    EXPECT_GE(all, 20);
    key(Qt::Key_F, Qt::ControlModifier);
    QTest::keyClicks(QApplication::focusWidget(), QStringLiteral("towel"));
    EXPECT_GT(drills->count(), 0);
    EXPECT_LT(drills->count(), all);
    child<QLineEdit>("drill_words")->clear();
    for (const char* box : {"drill_place", "drill_needs", "drill_caution"}) {
        child<QComboBox>(box)->setCurrentIndex(2);
        EXPECT_GT(drills->count(), 0) << box;
        EXPECT_LT(drills->count(), all) << box;
        child<QComboBox>(box)->setCurrentIndex(0);
        EXPECT_EQ(drills->count(), all);
    }
    drills->setCurrentRow(4);
    EXPECT_EQ(text_of_label("drill_title"), drills->item(4)->text());
    child<QLineEdit>("drill_words")->setText(QStringLiteral("nothing like this"));
    EXPECT_EQ(drills->count(), 0);
}

TEST_F(Practice, WhatIsChangedAndTickedIsKeptAndCanBeUndone) {
    make();
    const std::size_t practised = plan().days.size();
    click(child<QToolButton>("weekday_7"));
    EXPECT_TRUE(plan().wish.practises[6]);
    child<QSpinBox>("plan_minutes")->setValue(45);
    EXPECT_EQ(plan().wish.minutes, 45);
    EXPECT_EQ(plan().days.size(), practised);
    auto* days = child<QListWidget>("plan_days");
    days->item(0)->setCheckState(Qt::Checked);
    EXPECT_TRUE(QTest::qWaitFor([&] { return plan().days[0].done; }, 2000));
    click(child<QPushButton>("count"));
    EXPECT_TRUE(plan().counts.empty()) << "nothing was filled in beforehand";
    child<QSpinBox>("count_passed")->setValue(9);
    child<QSpinBox>("count_made")->setValue(10);
    click(child<QPushButton>("count"));
    ASSERT_EQ(plan().counts.size(), 1u);
    EXPECT_TRUE(text_of_label("rung").contains(QStringLiteral("rung 2")));
    // The file holds what is on screen, also after undo.
    const auto in_file = [&] {
        return formats::read_plan(practice().keeper().file().toStdString()).value;
    };
    EXPECT_EQ(formats::to_json(in_file()), formats::to_json(plan()));
    key(Qt::Key_Z, Qt::ControlModifier);
    EXPECT_TRUE(plan().counts.empty());
    EXPECT_EQ(formats::to_json(in_file()), formats::to_json(plan()));
    key(Qt::Key_Z, static_cast<Qt::KeyboardModifiers>(Qt::ControlModifier | Qt::ShiftModifier));
    EXPECT_EQ(plan().counts.size(), 1u);
    // The next start goes on where this one ended.
    const std::string before = formats::to_json(plan());
    open_window();
    EXPECT_FALSE(practice().keeper().plan()) << "the demo's plan is the demo's";
    open_demo();
    ASSERT_TRUE(practice().keeper().plan());
    EXPECT_EQ(formats::to_json(plan()), before);
    ASSERT_TRUE(window->commands().run(QStringLiteral("window.go-lesson")));
    ASSERT_TRUE(window->commands().run(QStringLiteral("lesson.own-record")));
    EXPECT_FALSE(practice().keeper().plan());
}

// What stands on sheet and paper is what swings are counted by, not the drill's own measure.
TEST_F(Practice, TheSheetSaysWhatTheFaultIsCountedBy) {
    make();
    const auto sheet = [&] {
        QString words;
        for (const QLabel* label : window->findChild<DrillSheet*>()->findChildren<QLabel*>())
            words += label->text() + QLatin1Char('\n');
        return words;
    };
    ASSERT_EQ(plan().fault, "upper-body-first");
    practice().finder()->ask_for_fault({});
    practice().finder()->choose(plan().main_drill);
    const QString counted = QStringLiteral("reversal of the torso");
    EXPECT_TRUE(sheet().contains(counted)) << sheet().toStdString();
    EXPECT_TRUE(practice().document()->toPlainText().contains(counted));
}

TEST_F(Practice, SwingsOnTheListAreMeasuredAgainstTheDrill) {
    make();
    click(child<QPushButton>("count_measured"));
    EXPECT_TRUE(plan().counts.empty()) << "full swings are no movements without a club";
    practice().keeper().change(QStringLiteral("x"), pass_two_rungs);
    click(child<QPushButton>("count_measured"));
    ASSERT_EQ(plan().counts.size(), 3u);
    const PlanCount& count = plan().counts[2];
    EXPECT_TRUE(count.measured);
    // Alva's swings alone.
    int own = 0;
    for (int row = 0; row < window->model()->rowCount(); ++row)
        own += window->model()->golfer_of(row) == QStringLiteral("Alva") ? 1 : 0;
    EXPECT_EQ(count.swings, own);
    EXPECT_GT(own, 0);
    EXPECT_LT(own, window->model()->rowCount());
}

TEST_F(Practice, AnotherDrillIsTakenAndAPlanIsPrintedWhole) {
    make();
    child<QComboBox>("drill_fault")->setCurrentIndex(0);
    child<QListWidget>("drills")->setCurrentRow(7);
    const std::string taken = practice().finder()->chosen();
    key(Qt::Key_D, Qt::ControlModifier);
    EXPECT_EQ(plan().main_drill, taken);
    const QString printed = practice().document()->toPlainText();
    EXPECT_TRUE(printed.contains(text_of_label("drill_title")));
    EXPECT_TRUE(printed.contains(QStringLiteral("doctor")));
    EXPECT_TRUE(printed.contains(QString::fromStdString(text_of(plan().days[0].date))));
}

TEST_F(Practice, ADamagedPlanIsNamedAndLeftAlone) {
    const QString path =
        QFileInfo(QSettings().fileName()).dir().filePath(QStringLiteral("plan.json"));
    QDir().mkpath(QFileInfo(path).path());
    const QByteArray damaged = "{\"kite-hinge\": \"plan 1\", \"days\": 3}";
    QFile file(path);
    ASSERT_TRUE(file.open(QIODevice::WriteOnly));
    file.write(damaged);
    file.close();
    open_window();
    EXPECT_FALSE(practice().keeper().plan());
    // A new plan goes elsewhere, and is there at the next start.
    window->open_paths({QStringLiteral(KITE_DEMO_FOLDER "/01-alva-iron.csv")});
    ASSERT_TRUE(settle());
    enter();
    ASSERT_TRUE(window->commands().run(QStringLiteral("practice.make")));
    EXPECT_NE(practice().keeper().file(), path);
    EXPECT_TRUE(QFileInfo::exists(practice().keeper().file()));
    ASSERT_TRUE(file.open(QIODevice::ReadOnly));
    EXPECT_EQ(file.readAll(), damaged);
    const std::string before = formats::to_json(plan());
    const QString kept = practice().keeper().file();
    open_window();
    ASSERT_TRUE(practice().keeper().plan());
    EXPECT_EQ(formats::to_json(plan()), before);
    QFile::remove(kept);
    // Where it cannot be written it is said, and it stays where it was.
    EXPECT_FALSE(practice().keeper().keep_in(QStringLiteral("/proc/no/plan.json")).empty());
    EXPECT_EQ(practice().keeper().file(), kept);
}

class References : public Rooms {
protected:
    ReferencesRoom& references() const { return *window->room<ReferencesRoom>(); }
    LimitTable& table() const { return *references().limits(); }
    void enter() {
        key(Qt::Key_4, Qt::ControlModifier);
        ASSERT_EQ(room(), QStringLiteral("references"));
    }
    QModelIndex cell(const char* name, const QString& source) const {
        for (int row = 0; row < table().rowCount(); ++row)
            if (table()
                    .index(row, LimitTable::NameColumn)
                    .data()
                    .toString()
                    .contains(QString::fromLatin1(name)))
                return table().index(row, table().column_of(source));
        return {};
    }
    QString copy(const char* name) {
        child<QLineEdit>("copy_name")->setText(QString::fromLatin1(name));
        click(child<QPushButton>("copy"));
        return references().chosen();
    }
    void type_into(const QModelIndex& index, const QString& words) {
        QTableView* view = references().table();
        view->setCurrentIndex(index);
        view->edit(index);
        auto* editor = view->viewport()->findChild<QLineEdit*>();
        ASSERT_NE(editor, nullptr);
        editor->setText(words);
        QTest::keyClick(editor, Qt::Key_Return);
        ASSERT_TRUE(settle());
    }
};

TEST_F(References, ShowEverySchoolBesideTheUsualLimits) {
    open_first();
    enter();
    const QAbstractItemModelTester tester(&table(),
                                          QAbstractItemModelTester::FailureReportingMode::Fatal);
    EXPECT_EQ(table().columnCount(), LimitTable::FirstSchoolColumn + 6);
    // Depth first: over-separation from 50° (common practice, no source).
    EXPECT_EQ(cell("above: greatest separation", QStringLiteral("none")).data().toString(),
              QStringLiteral("60°"));
    EXPECT_EQ(cell("above: greatest separation", QStringLiteral("depth-first")).data().toString(),
              QStringLiteral("50°"));
    EXPECT_EQ(cell("There is too little stretch", QStringLiteral("stretch")).data().toString(),
              QStringLiteral("× 2"));
    // Shipped ones stay as they are.
    EXPECT_FALSE(cell("above: greatest separation", QStringLiteral("none")).flags() &
                 Qt::ItemIsEditable);
}

TEST_F(References, ALimitChangedInAnOwnSchoolChangesTheVerdictAtOnceAndIsUndone) {
    open_first();
    enter();
    const QString own = copy("My way");
    ASSERT_NE(own, QStringLiteral("none"));
    click(child<QPushButton>("read_by"));
    ASSERT_EQ(window->model()->rules()->school.name, "My way");
    const Fault* fault = reading().find("over-separation");
    ASSERT_TRUE(fault->evidence && !fault->is_present());
    type_into(cell("above: greatest separation", own), QStringLiteral("5"));
    EXPECT_TRUE(reading().find("over-separation")->is_present());
    EXPECT_TRUE(text_of_label("effect").contains(QStringLiteral("read by it")));
    key(Qt::Key_Z, Qt::ControlModifier);
    EXPECT_FALSE(reading().find("over-separation")->is_present());
    // A weight of nought and a limit that is no number are refused with words; nothing is lost.
    type_into(cell("above: greatest separation", own), QStringLiteral("wide"));
    EXPECT_FALSE(reading().find("over-separation")->is_present());
    EXPECT_EQ(cell("above: greatest separation", own).data().toString(), QStringLiteral("60°"));
    // The next start knows it.
    window->close();
    open_window();
    EXPECT_EQ(window->model()->rules()->school.name, "My way");
}

TEST_F(References, WhatASchoolWouldChangeIsSaidBeforeItIsChosen) {
    open_first();
    enter();
    // Swing 1's first fix is the upper body; in a school where that is no fault it is another.
    const QString own = copy("Not that");
    references().choose(QStringLiteral("none"));
    EXPECT_TRUE(text_of_label("effect").contains(
        QString::fromStdString(reading().find(*reading().first_fix)->title)));
    type_into(cell("The upper body starts down first", own), QStringLiteral("0.1"));
    references().choose(own);
    EXPECT_TRUE(text_of_label("effect").contains(QStringLiteral("would be")) ||
                text_of_label("effect").contains(QStringLiteral("stays")));
    EXPECT_EQ(window->model()->rules()->school.id, "none") << "nothing was chosen yet";
}

TEST_F(References, OwnLimitsComeFromGoodSwingsOnlyWhereThereAreEnough) {
    open_first();
    enter();
    const QString own = copy("Alva's own");
    click(child<QPushButton>("baseline"));
    const auto limits = [&] { return window->bench_room().lesson().swings(); };
    EXPECT_EQ(formats::rules_with_school(own.toStdString()).value.school.limits.size(), 0u);
    for (int row = 0; row < limits()->rowCount(); ++row) {
        SwingMarks marks;
        marks.good = true;
        limits()->set_marks(limits()->id_of(row), marks);
    }
    click(child<QPushButton>("baseline"));
    int alva = 0;
    for (int row = 0; row < limits()->rowCount(); ++row)
        alva += limits()->golfer_of(row) == QStringLiteral("Alva") ? 1 : 0;
    const auto taken = formats::rules_with_school(own.toStdString()).value.school.limits;
    EXPECT_EQ(!taken.empty(), alva >= 5) << alva;
}

TEST_F(References, ADamagedOwnSchoolIsNamedAndTheOthersStay) {
    QDir().mkpath(SchoolShelf::folder());
    QFile file(QDir(SchoolShelf::folder()).filePath(QStringLiteral("mine.json")));
    ASSERT_TRUE(file.open(QIODevice::WriteOnly));
    file.write("{\"kite-hinge\": \"school 1\", \"id\": \"mine\"}");
    file.close();
    open_window();
    open_first();
    enter();
    ASSERT_EQ(table().columnCount(), LimitTable::FirstSchoolColumn + 7);
    references().choose(file.fileName());
    EXPECT_TRUE(text_of_label("about_school").contains(QStringLiteral("cannot be used")));
    click(child<QPushButton>("read_by"));
    EXPECT_EQ(window->model()->rules()->school.id, "none");
    ASSERT_TRUE(file.open(QIODevice::ReadOnly));
    EXPECT_TRUE(file.readAll().contains("mine")) << "the file is left as it is";
}

} // namespace
