#include "app/rooms/lesson/whole_record.h"

#include "app/session/desk.h"
#include "app/shell/commands.h"
#include "app/shell/room.h"

#include <QFileDialog>

namespace kite::app {

WholeRecord::WholeRecord(Shell& shell, Desk& desk, QObject* parent)
    : QObject(parent), shell_(shell), desk_(desk) {}

void WholeRecord::add_commands(Commands& commands) {
    const auto add = [&](const char* id, const QString& words, const std::function<void()>& run) {
        commands.add(QStringLiteral("file"),
                     {QStringLiteral("lesson.") + QLatin1String(id), words, {}, run});
    };
    RecordKeeper& record = desk_.record();
    add("export", tr("E&xport this golfer's whole record…"), [this, &record] {
        const Row* golfer = record.golfer(golfer_);
        if (golfer == nullptr) {
            shell_.show_message(tr("Nobody is chosen"), tr("Choose a golfer at the left."));
            return;
        }
        const QString name = text_in(*golfer, "name");
        const QString file =
            shell_.ask_for_new_file(tr("Export %1").arg(name), tr("Golfer's record (*.zip)"), name);
        if (!file.isEmpty())
            record.export_golfer(name, file);
    });
    add("import", tr("&Import a golfer's record…"), [this, &record] {
        const QString file = QFileDialog::getOpenFileName(
            shell_.widget(), tr("Import a golfer's record"), {}, tr("Golfer's record (*.zip)"));
        if (!file.isEmpty())
            record.import_golfers(file);
    });
    add("backup", tr("Back &up the whole record…"), [this, &record] {
        const QString file = shell_.ask_for_new_file(tr("Back up the record"), tr("Record (*.db)"),
                                                     tr("record backup"));
        if (!file.isEmpty())
            record.back_up(file);
    });
    add("empty-bin", tr("Empty the bin for &good"), [this, &record] {
        if (record.view().in_bin == 0) {
            shell_.show_message(tr("The bin is empty"), tr("There is nothing to delete."));
            return;
        }
        shell_.show_message(tr("Delete for good?"),
                            tr("%n swing(s) would be deleted, in the backups too. This cannot be "
                               "undone.",
                               nullptr, static_cast<int>(record.view().in_bin)),
                            tr("Delete for good"), [this, &record] {
                                emit emptied(); // what is gone cannot come back
                                record.empty_bin();
                            });
    });
    connect(&record, &RecordKeeper::long_work, this,
            [this, &record](const QString& words, int done, int of) {
                shell_.show_message(words, of == 0 ? QString() : tr("%1 of %2").arg(done).arg(of),
                                    tr("Give up"), [&record] { record.give_up(); });
            });
    connect(&record, &RecordKeeper::finished, this, [this](const QString& words) {
        if (!words.isEmpty())
            shell_.show_message(tr("Done"), words);
    });
}

} // namespace kite::app
