// What goes out to files and in from them by the dialogs of the real window: each is opened by its
// command, a name is typed and accepted with the keyboard, and the file is looked at.

#include "app/rooms/practice/practice_room.h"
#include "app/rooms/references/references_room.h"
#include "app/window_test.h"
#include "formats/practice/plan_json.h"
#include "support/temporary_folder.h"

#include <QDialogButtonBox>
#include <QFileDialog>
#include <QLabel>
#include <QPrintDialog>
#include <QPrinter>
#include <QProcess>
#include <QTimer>

using namespace kite;
using namespace kite::app;

namespace {

class Dialogs : public WindowTest {
protected:
    /// Runs a command that opens a dialog, and does this with the dialog.
    template <class Dialog>
    void run_with(const char* command, const std::function<void(Dialog&)>& with) {
        bool came = false;
        QTimer look;
        QObject::connect(&look, &QTimer::timeout, [&] {
            auto* dialog = qobject_cast<Dialog*>(QApplication::activeModalWidget());
            if (dialog == nullptr || came)
                return;
            came = true;
            with(*dialog);
        });
        look.start(20);
        ASSERT_TRUE(window->commands().run(QString::fromLatin1(command)));
        EXPECT_TRUE(came) << command;
    }
    void type_name(const char* command, const QString& path) {
        run_with<QFileDialog>(command, [&](QFileDialog& dialog) {
            auto* name = dialog.findChild<QLineEdit*>(QStringLiteral("fileNameEdit"));
            ASSERT_NE(name, nullptr);
            EXPECT_TRUE(QTest::qWaitForWindowExposed(&dialog));
            name->selectAll();
            QTest::keyClicks(name, path);
            const auto* buttons = dialog.findChild<QDialogButtonBox*>();
            const bool saves = dialog.acceptMode() == QFileDialog::AcceptSave;
            QTest::mouseClick(
                buttons->button(saves ? QDialogButtonBox::Save : QDialogButtonBox::Open),
                Qt::LeftButton);
            if (dialog.isVisible()) {
                ADD_FAILURE() << "the dialog stays: " << name->text().toStdString();
                dialog.reject();
            }
        });
    }
    QString in_folder(const char* name) const {
        return QString::fromStdString(folder.path(name).string());
    }
    std::string read(const char* name) const {
        return test::TemporaryFolder::read(folder.path(name));
    }
    static QString tool(const QString& program, const QStringList& arguments) {
        QProcess process;
        process.start(program, arguments);
        process.waitForFinished();
        // Ligatures as letters.
        return QString::fromUtf8(process.readAllStandardOutput())
            .normalized(QString::NormalizationForm_KC);
    }
    void make_plan() {
        open_demo();
        window->select(0);
        window->enter(QStringLiteral("practice"));
        ASSERT_TRUE(window->commands().run(QStringLiteral("practice.make")));
        ASSERT_TRUE(plan());
    }
    const std::optional<Plan>& plan() const {
        return window->room<PracticeRoom>()->keeper().plan();
    }

    test::TemporaryFolder folder;
};

} // namespace

TEST_F(Dialogs, APlanIsKeptElsewhereAndOpenedAgain) {
    make_plan();
    type_name("practice.keep", in_folder("mine")); // the ending comes by itself
    const auto kept = formats::parse_plan(read("mine.json"));
    ASSERT_TRUE(kept.ok());
    EXPECT_EQ(kept.value.main_drill, plan()->main_drill);
    Plan other = kept.value;
    other.golfer = "Bo";
    folder.write("other.json", formats::to_json(other));
    type_name("practice.open", in_folder("other.json"));
    EXPECT_EQ(plan()->golfer, "Bo");
    // What is no plan is said, and the plan stays.
    folder.write("no.json", "{\"plan\": ");
    type_name("practice.open", in_folder("no.json"));
    EXPECT_EQ(plan()->golfer, "Bo");
    EXPECT_TRUE(window->findChild<QLabel*>(QStringLiteral("message_text"))->isVisible());
}

// pdftotext (poppler) reads it; python3-icalendar reads calendars in tests of the format.
TEST_F(Dialogs, APlanGoesOutAsPdfAndCalendarAndToThePrinter) {
    make_plan();
    type_name("practice.pdf", in_folder("plan"));
    const QString text =
        tool(QStringLiteral("pdftotext"), {in_folder("plan.pdf"), QStringLiteral("-")});
    EXPECT_TRUE(text.contains(QString::fromStdString(plan()->title))) << text.toStdString();
    EXPECT_TRUE(text.contains(QString::fromStdString(text_of(plan()->days.front().date))));
    type_name("practice.calendar", in_folder("days"));
    EXPECT_EQ(read("days.ics").rfind("BEGIN:VCALENDAR\r\n", 0), 0U);
    run_with<QPrintDialog>("practice.print", [&](QPrintDialog& dialog) {
        dialog.printer()->setOutputFormat(QPrinter::PdfFormat);
        dialog.printer()->setOutputFileName(in_folder("printed.pdf"));
        dialog.done(QDialog::Accepted);
    });
    EXPECT_EQ(tool(QStringLiteral("pdftotext"), {in_folder("printed.pdf"), QStringLiteral("-")})
                  .contains(QString::fromStdString(plan()->title)),
              true);
}

TEST_F(Dialogs, ASchoolGoesOutAndComesIn) {
    open_demo();
    window->enter(QStringLiteral("references"));
    type_name("references.export", in_folder("school"));
    const std::string out = read("school.json");
    ASSERT_NE(out.find("\"kite-hinge\": \"school 1\""), std::string::npos);
    const auto own = [] { return QDir(SchoolShelf::folder()).entryList(QDir::Files).size(); };
    const auto before = own();
    type_name("references.import", in_folder("school.json"));
    EXPECT_EQ(own(), before + 1);
    // One that a newer program wrote, or that is cut, is refused and nothing is made.
    std::string newer = out;
    newer.replace(newer.find("school 1"), 8, "school 9");
    folder.write("newer.json", newer);
    folder.write("cut.json", out.substr(0, out.size() / 2));
    for (const char* bad : {"newer.json", "cut.json"}) {
        type_name("references.import", in_folder(bad));
        EXPECT_EQ(own(), before + 1) << bad;
    }
    EXPECT_EQ(read("school.json"), out);
}

TEST_F(Dialogs, TheRecordIsBackedUpUnderANameOfItsKind) {
    window->enter(QStringLiteral("lesson"));
    type_name("lesson.backup", in_folder("spare"));
    ASSERT_TRUE(QTest::qWaitFor([&] { return window->jobs().is_idle(); }, 20000));
    EXPECT_EQ(read("spare.db").rfind("SQLite format 3", 0), 0U); // sqlite.org/fileformat.html
}

TEST_F(Dialogs, WhatCannotBeWrittenIsSaid) {
    make_plan();
    folder.write("taken", "");
    type_name("practice.pdf", in_folder("taken") + QStringLiteral("/plan.pdf"));
    EXPECT_EQ(read("taken"), "");
    auto* message = window->findChild<QLabel*>(QStringLiteral("message_text"));
    EXPECT_TRUE(message->isVisible());
    EXPECT_TRUE(message->text().contains(QStringLiteral("folder exists")))
        << message->text().toStdString();
}
