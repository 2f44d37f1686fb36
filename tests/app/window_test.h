#pragma once

#include "app/test_window.h"

#include <QDir>
#include <QFileInfo>
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

    std::unique_ptr<TestWindow> window;
};

} // namespace kite::app
