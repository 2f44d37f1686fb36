// The window without the rooms of the program: with two made up here, it must know nothing of what
// they show.

#include "app/shell/command_panel.h"
#include "app/shell/commands.h"
#include "app/shell/shell_window.h"

#include <QAction>
#include <QLabel>
#include <QLineEdit>
#include <QListWidget>
#include <QMenuBar>
#include <QPushButton>
#include <QSettings>
#include <QTest>
#include <QUndoStack>
#include <QVBoxLayout>
#include <gtest/gtest.h>

using namespace kite::app;

namespace {

class CountingStep : public QUndoCommand {
public:
    explicit CountingStep(int& count) : QUndoCommand(QStringLiteral("count")), count_(count) {}
    void redo() override { ++count_; }
    void undo() override { --count_; }

private:
    int& count_;
};

/// Counts what is done in it; takes files whose names begin with its own.
class CountingRoom : public Room {
public:
    CountingRoom(Shell& shell, QString id) : shell_(shell), id_(std::move(id)) {
        auto* layout = new QVBoxLayout(view_);
        layout->addWidget(new QLabel(id_, view_));
    }
    QString id() const override { return id_; }
    QString name() const override { return id_.toUpper(); }
    QWidget* view() override { return view_; }
    void add_commands(Commands& commands) override {
        commands.add_menu(id_, id_);
        commands.add(id_, {id_ + QStringLiteral(".count"),
                           QStringLiteral("Count in ") + id_,
                           {QKeySequence(Qt::Key_C)},
                           [this] { history_.push(new CountingStep(count)); }});
    }
    QUndoStack* history() override { return &history_; }
    bool open(const QStringList& paths) override {
        if (!paths.first().startsWith(id_))
            return false;
        opened << paths;
        return true;
    }
    void read_settings(const QSettings& settings) override {
        count = settings.value(id_ + QStringLiteral("/count"), 0).toInt();
    }
    void write_settings(QSettings& settings) const override {
        settings.setValue(id_ + QStringLiteral("/count"), count);
    }

    int count = 0;
    QStringList opened;

private:
    Shell& shell_;
    QString id_;
    QWidget* view_ = new QWidget;
    QUndoStack history_;
};

class TwoRooms : public testing::Test {
protected:
    void SetUp() override {
        QSettings().clear();
        make_window();
    }
    void make_window() {
        window = std::make_unique<ShellWindow>();
        auto mill = std::make_unique<CountingRoom>(*window, QStringLiteral("mill"));
        auto yard = std::make_unique<CountingRoom>(*window, QStringLiteral("yard"));
        first = mill.get();
        second = yard.get();
        window->add_room(std::move(mill));
        window->add_room(std::move(yard));
        window->furnish();
        window->show();
        window->activateWindow();
        ASSERT_TRUE(QTest::qWaitForWindowActive(window.get()));
    }
    void go(const char* name) {
        for (QPushButton* word : window->menuBar()->findChildren<QPushButton*>())
            if (word->text() == QLatin1String(name))
                QTest::mouseClick(word, Qt::LeftButton);
    }
    void key(Qt::Key key, Qt::KeyboardModifiers modifiers = Qt::NoModifier) {
        QTest::keyClick(window.get(), key, modifiers);
    }

    std::unique_ptr<ShellWindow> window;
    CountingRoom* first = nullptr;
    CountingRoom* second = nullptr;
};

} // namespace

TEST_F(TwoRooms, AreEnteredByTheirNamesInTheRowOfTheMenu) {
    EXPECT_TRUE(first->view()->isVisible());
    EXPECT_FALSE(second->view()->isVisible());
    go("YARD");
    EXPECT_FALSE(first->view()->isVisible());
    EXPECT_TRUE(second->view()->isVisible());
    key(Qt::Key_Tab, Qt::ControlModifier);
    EXPECT_TRUE(first->view()->isVisible());
}

// One key, two rooms: it does what the room on screen means by it, and the other's menu is away.
TEST_F(TwoRooms, HaveTheirCommandsWhileTheyAreOnScreen) {
    key(Qt::Key_C);
    EXPECT_EQ(first->count, 1);
    EXPECT_EQ(second->count, 0);
    go("YARD");
    key(Qt::Key_C);
    key(Qt::Key_C);
    EXPECT_EQ(first->count, 1);
    EXPECT_EQ(second->count, 2);
    EXPECT_FALSE(window->commands().run(QStringLiteral("mill.count")));
    EXPECT_FALSE(window->commands().run(QStringLiteral("nobody.count")));
    QStringList menus;
    for (const QAction* menu : window->menuBar()->actions())
        if (menu->isVisible())
            menus << menu->text();
    EXPECT_TRUE(menus.contains(QStringLiteral("yard")));
    EXPECT_FALSE(menus.contains(QStringLiteral("mill")));
}

TEST_F(TwoRooms, UndoEachTheirOwn) {
    key(Qt::Key_C);
    go("YARD");
    key(Qt::Key_C);
    key(Qt::Key_Z, Qt::ControlModifier);
    EXPECT_EQ(second->count, 0);
    key(Qt::Key_Z, Qt::ControlModifier);
    EXPECT_EQ(first->count, 1) << "the other room's steps are not undone from here";
    go("MILL");
    key(Qt::Key_Z, Qt::ControlModifier);
    EXPECT_EQ(first->count, 0);
}

TEST_F(TwoRooms, AreOpenedByFilesThatAreForThem) {
    window->open_paths({QStringLiteral("yard-7.csv")});
    EXPECT_EQ(second->opened, QStringList{QStringLiteral("yard-7.csv")});
    EXPECT_TRUE(second->view()->isVisible());
    EXPECT_TRUE(first->opened.isEmpty());
}

TEST_F(TwoRooms, SayWhatGoesOnInTheOther) {
    const auto said = [&] {
        return window->findChild<QLabel*>(QStringLiteral("jobs_elsewhere"))->text();
    };
    window->jobs().report(QStringLiteral("yard"), QStringLiteral("reading"), 3, 10);
    EXPECT_EQ(said(), QStringLiteral("reading 3 of 10"));
    go("YARD");
    EXPECT_EQ(said(), QString()) << "here it is seen without words";
    go("MILL");
    window->jobs().end(QStringLiteral("yard"));
    EXPECT_EQ(said(), QString());
    EXPECT_TRUE(window->jobs().is_idle());
}

TEST_F(TwoRooms, GetAMessageAnsweredAndLoseItOnLeaving) {
    bool answered = false;
    window->show_message(QStringLiteral("The mill stands still"), QStringLiteral("No wind."),
                         QStringLiteral("Wait"), [&] { answered = true; });
    auto* action = window->findChild<QPushButton*>(QStringLiteral("message_action"));
    ASSERT_TRUE(action->isVisible());
    QTest::mouseClick(action, Qt::LeftButton);
    EXPECT_TRUE(answered);
    go("YARD");
    EXPECT_FALSE(action->isVisible());
}

TEST_F(TwoRooms, KeepTheirSettingsForTheNextTime) {
    key(Qt::Key_C);
    key(Qt::Key_C);
    window->close();
    make_window();
    EXPECT_EQ(first->count, 2);
    EXPECT_EQ(second->count, 0);
}
