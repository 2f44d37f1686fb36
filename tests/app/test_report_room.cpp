// The Report room, driven as a user would.

#include "app/rooms/report/report_room.h"
#include "app/window_test.h"
#include "paper/pages.h"

#include <QComboBox>
#include <QDir>
#include <QLabel>
#include <QLineEdit>
#include <QSignalSpy>

using namespace kite;
using namespace kite::app;

namespace {

class ReportTasks : public WindowTest {
protected:
    void SetUp() override {
        QDir(QString::fromLocal8Bit(qgetenv("XDG_DATA_HOME")) + QStringLiteral("/kite-hinge"))
            .removeRecursively();
        WindowTest::SetUp();
    }
    ReportRoom* room() const { return window->room<ReportRoom>(); }
    template <class Kind>
    Kind* child(const char* name) const {
        return window->findChild<Kind*>(QString::fromLatin1(name));
    }
    /// Does something and waits for the pages that come of it.
    template <class What>
    bool after(const What& what) {
        QSignalSpy made(room(), &ReportRoom::made);
        what();
        return !made.isEmpty() || made.wait(20000);
    }
    void type(const char* field, const QString& text) {
        auto* line = child<QLineEdit>(field);
        line->setFocus();
        line->selectAll();
        QTest::keyClicks(line, text);
        QTest::keyClick(line, Qt::Key_Return);
    }
    void choose(const char* box, const QString& entry) {
        auto* choice = child<QComboBox>(box);
        const int index = choice->findText(entry, Qt::MatchContains);
        ASSERT_GE(index, 0) << entry.toStdString();
        choice->setCurrentIndex(index);
        emit choice->activated(index);
    }
    int sheets() const {
        return static_cast<int>(window->findChildren<QLabel*>(QStringLiteral("sheet")).size());
    }
    std::string html() const { return report::to_html(room()->report()); }
};

} // namespace

TEST_F(ReportTasks, SaysWhatToDoWithoutSwings) {
    ASSERT_TRUE(after([&] { window->enter(QStringLiteral("report")); }));
    EXPECT_EQ(sheets(), 0);
    EXPECT_TRUE(child<QLabel>("report_hint")->text().startsWith(QStringLiteral("Open swings")));
}

TEST_F(ReportTasks, ShowsThePagesOfTheGolfersSwings) {
    open_demo();
    ASSERT_TRUE(after([&] { window->enter(QStringLiteral("report")); }));
    EXPECT_EQ(sheets(), paper::Pages(room()->report()).count());
    EXPECT_GE(sheets(), 2);
    EXPECT_NE(html().find("Alva"), std::string::npos);
    EXPECT_NE(html().find("5 swings"), std::string::npos);
    ASSERT_TRUE(after([&] { choose("report_swings", QStringLiteral("The swing on the Bench")); }));
    EXPECT_NE(html().find("one swing"), std::string::npos);
    EXPECT_NE(html().find("The upper body starts down first"), std::string::npos);
}

TEST_F(ReportTasks, TakesTitleColourAndOwnWordsAndRemembersTheFirstTwo) {
    open_demo();
    ASSERT_TRUE(after([&] { window->enter(QStringLiteral("report")); }));
    ASSERT_TRUE(after([&] { type("report_title", QStringLiteral("Heath Farm")); }));
    ASSERT_TRUE(after([&] { type("report_one_thing", QStringLiteral("Wait for the belt.")); }));
    ASSERT_TRUE(after([&] { type("report_colour", QStringLiteral("#1f5f8b")); }));
    EXPECT_EQ(room()->report().accent, "#1f5f8b");
    EXPECT_EQ(room()->report().title, "Heath Farm");
    EXPECT_NE(html().find("Wait for the belt."), std::string::npos);
    // One that cannot be read on paper is said in place, and the usual one stays.
    ASSERT_TRUE(after([&] { type("report_colour", QStringLiteral("#ffff00")); }));
    EXPECT_TRUE(child<QLabel>("colour_words")->isVisible());
    EXPECT_TRUE(child<QLabel>("colour_words")->text().contains(QStringLiteral("too light")));
    EXPECT_EQ(room()->report().accent, report::kUsualAccent);
    window->close();
    window.reset();
    open_window();
    EXPECT_EQ(child<QLineEdit>("report_title")->text(), QStringLiteral("Heath Farm"));
}

TEST_F(ReportTasks, ALessonOfTheRecordAgainstAnEarlierOne) {
    open_demo();
    ASSERT_TRUE(QTest::qWaitFor([&] { return window->jobs().is_idle(); }, 20000));
    window->enter(QStringLiteral("golfer"));
    ASSERT_TRUE(QTest::qWaitFor([&] { return window->jobs().is_idle(); }, 20000));
    ASSERT_TRUE(after([&] { window->enter(QStringLiteral("report")); }));
    ASSERT_TRUE(after([&] { choose("report_swings", QStringLiteral("2026-11-05")); }));
    ASSERT_TRUE(after([&] { choose("report_against", QStringLiteral("2026-09-17")); }));
    EXPECT_NE(html().find("What changed since Alva, 2026-09-17"), std::string::npos);
    EXPECT_NE(html().find("3 swings"), std::string::npos);
}
