#pragma once

#include "app/rooms/lesson/lesson_room.h"
#include "app/session/days.h"
#include "app/test_window.h"

#include <QDir>
#include <QFileInfo>
#include <QLineEdit>
#include <QPushButton>
#include <QSettings>
#include <QTest>
#include <gtest/gtest.h>

#include <memory>

namespace kite::app {

/// The real window, offscreen, on clean settings.
class WindowTest : public testing::Test {
protected:
    void SetUp() override {
        QSettings().clear();
        QFile::remove(
            QFileInfo(QSettings().fileName()).dir().filePath(QStringLiteral("plan.json")));
        QDir(SchoolShelf::folder()).removeRecursively();
        open_window();
    }
    void open_window() {
        window = std::make_unique<TestWindow>();
        window->resize(1280, 800);
        window->show();
        window->activateWindow();
        ASSERT_TRUE(QTest::qWaitForWindowActive(window.get()));
    }
    void open_demo() {
        window->open_demo();
        ASSERT_TRUE(settle());
    }
    bool settle() {
        return QTest::qWaitFor([&] { return !window->model()->is_loading(); }, 20000);
    }
    void key(Qt::Key key, Qt::KeyboardModifiers modifiers = Qt::NoModifier) {
        QTest::keyClick(window.get(), key, modifiers);
        ASSERT_TRUE(settle());
    }

    /// The drill has a ball from here on: full swings count.
    static void pass_two_rungs(Plan& plan) {
        for (const int rung : {1, 2})
            plan.counts.push_back(
                {today(), plan.main_drill, rung, plan.pass_swings, plan.pass_swings});
    }
    /// A clean record, a golfer, and a lesson under way.
    void begin_lesson(const QString& name) {
        const QString data =
            QString::fromLocal8Bit(qgetenv("XDG_DATA_HOME")) + QStringLiteral("/kite-hinge");
        QDir(data).removeRecursively();
        open_window();
        window->enter(QStringLiteral("lesson"));
        const RecordKeeper& record = *window->room<LessonRoom>()->record();
        auto* golfer = window->findChild<QLineEdit*>(QStringLiteral("new_golfer"));
        QTest::keyClicks(golfer, name);
        QTest::keyClick(golfer, Qt::Key_Return);
        auto* begin = window->findChild<QPushButton*>(QStringLiteral("begin"));
        ASSERT_TRUE(QTest::qWaitFor([&] { return begin->isEnabled(); }, 10000));
        QTest::mouseClick(begin, Qt::LeftButton);
        ASSERT_TRUE(QTest::qWaitFor([&] { return !record.lesson().isEmpty(); }, 10000));
    }

    std::unique_ptr<TestWindow> window;
};

} // namespace kite::app
