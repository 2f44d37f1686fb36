#pragma once

#include "app/rooms/lesson/golfer_panel.h"
#include "app/rooms/lesson/lesson_room.h"
#include "app/rooms/lesson/swing_table.h"
#include "app/session/record_keeper.h"
#include "app/window_test.h"
#include "store/record.h"

#include <QDir>
#include <QLabel>
#include <QLineEdit>
#include <QListWidget>
#include <QPushButton>
#include <QTableView>

#include <fstream>
#include <vector>

namespace kite::app {

/// The window in the Lesson room, with an empty record.
class RecordTasks : public WindowTest {
protected:
    void SetUp() override {
        const QDir data(QString::fromLocal8Bit(qgetenv("XDG_DATA_HOME")) +
                        QStringLiteral("/kite-hinge"));
        QDir(data).removeRecursively();
        WindowTest::SetUp();
        window->enter(QStringLiteral("lesson"));
        ASSERT_TRUE(kept());
    }
    LessonRoom* room() const { return window->room<LessonRoom>(); }
    QTableView* table() const { return room()->table(); }
    template <class Kind>
    Kind* child(const char* name) const {
        return window->findChild<Kind*>(QString::fromLatin1(name));
    }
    /// All that was asked for is in the record.
    bool kept() {
        return QTest::qWaitFor([&] { return window->jobs().is_idle(); }, 20000);
    }
    void type(QWidget* into, const QString& text) {
        into->setFocus();
        if (auto* line = qobject_cast<QLineEdit*>(into))
            line->selectAll();
        QTest::keyClicks(into, text);
        QTest::keyClick(into, Qt::Key_Return);
        ASSERT_TRUE(kept());
    }
    void add_golfer(const char* name) {
        type(child<QLineEdit>("new_golfer"), QString::fromLatin1(name));
    }
    void begin_lesson() {
        QTest::mouseClick(child<QPushButton>("begin"), Qt::LeftButton);
        ASSERT_TRUE(kept());
    }
    void open_files(const QStringList& names) {
        QStringList paths;
        for (const QString& name : names)
            paths << QStringLiteral(KITE_DEMO_FOLDER "/") + name;
        window->open_paths(paths);
        ASSERT_TRUE(settle());
        ASSERT_TRUE(kept());
    }
    QString cell(int row, int column) const {
        return table()->model()->index(row, column).data().toString();
    }
    /// What another program would find in the file.
    static std::vector<store::Row> in_record() {
        const auto record = store::Record::open(store::Record::usual_place(), store::Opening::Read);
        return record.value ? record.value->swings({}).value : std::vector<store::Row>();
    }
    /// Writes a line for every swing that the window shows as kept, with its note.
    void connect_promises(std::ofstream& said) {
        const auto write = [this, &said] {
            for (int row = 0; row < table()->model()->rowCount(); ++row)
                said << static_cast<SwingTable*>(table()->model())
                            ->swing(row)
                            .at("id")
                            .get<std::string>()
                     << " " << cell(row, SwingTable::Note).toStdString() << "\n";
            said.flush();
        };
        QObject::connect(table()->model(), &QAbstractItemModel::dataChanged, window.get(), write);
        QObject::connect(table()->model(), &QAbstractItemModel::modelReset, window.get(), write);
        QObject::connect(table()->model(), &QAbstractItemModel::rowsInserted, window.get(), write);
    }
    void lesson_of_two() {
        add_golfer("Ottoline");
        begin_lesson();
        open_files({QStringLiteral("01-alva-iron.csv"), QStringLiteral("02-alva-iron.csv")});
        ASSERT_EQ(table()->model()->rowCount(), 2);
    }
};

} // namespace kite::app
