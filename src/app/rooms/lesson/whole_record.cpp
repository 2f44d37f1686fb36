#include "app/rooms/lesson/whole_record.h"

#include "app/rooms/lesson/bin_sheet.h"
#include "app/session/desk.h"
#include "app/shell/commands.h"
#include "app/shell/room.h"
#include "app/theme/text.h"
#include "store/backups.h"

#include <QFileDialog>
#include <QFileInfo>

#include <algorithm>

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
            record.export_golfer(golfer_, file);
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
    add("open-backup", tr("Look into a bac&kup…"), [this] { open_backup(); });
    add("look-into-bin", tr("&Look into the bin…"), [this] { look_into_bin(); });
    add("empty-bin", tr("Empty the bin for &good"), [this] { ask_and_empty(); });
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

void WholeRecord::look_into_bin() {
    if (desk_.record().view().in_bin.empty()) {
        shell_.show_message(tr("The bin is empty"), tr("Nothing was put into it."));
        return;
    }
    auto* sheet = new BinSheet(&desk_.record(), shell_.widget());
    sheet->setAttribute(Qt::WA_DeleteOnClose);
    connect(sheet, &BinSheet::empty_wanted, this, [this, sheet] {
        sheet->deleteLater();
        ask_and_empty();
    });
    sheet->open();
}

void WholeRecord::ask_and_empty() {
    RecordKeeper& record = desk_.record();
    if (record.view().in_bin.empty()) {
        shell_.show_message(tr("The bin is empty"), tr("There is nothing to delete."));
        return;
    }
    QStringList what;
    constexpr std::size_t kNamed = 4;
    const auto& bin = record.view().in_bin;
    for (std::size_t i = 0; i < std::min(kNamed, bin.size()); ++i)
        what << text_in(bin[i], bin[i].contains("name") ? "name" : "file");
    what.removeAll(QString());
    shell_.show_message(tr("Delete for good?"),
                        tr("%n thing(s) would be deleted with all that is theirs, in the backups "
                           "too: %1. This cannot be undone.",
                           nullptr, static_cast<int>(bin.size()))
                            .arg(bin.size() > kNamed
                                     ? what.join(QStringLiteral(", ")) + QStringLiteral(", …")
                                     : what.join(QStringLiteral(", "))),
                        tr("Delete for good"), [this, &record] {
                            emit emptied(); // what is gone cannot come back
                            record.empty_bin();
                        });
}

void WholeRecord::open_backup() {
    const QString folder =
        QString::fromStdString(store::backup_folder(path_of(desk_.own_record())).string());
    const QString file = QFileDialog::getOpenFileName(
        shell_.widget(), tr("Look into a backup"),
        QFileInfo::exists(folder) ? folder : QFileInfo(desk_.own_record()).path(),
        tr("Record (*.db)"));
    if (file.isEmpty())
        return;
    desk_.use_copy_of(file, [this, file](const QString& why) {
        if (!why.isEmpty()) {
            shell_.show_message(tr("This backup cannot be looked into"), why);
            return;
        }
        shell_.show_message(tr("A copy of %1").arg(QFileInfo(file).fileName()),
                            tr("Your own record is untouched, and nothing that is done here stays. "
                               "To take a golfer "
                               "back, export them here and import the file into your own record."),
                            tr("Back to your own record"), [this] { desk_.use_own_record(); });
    });
}

} // namespace kite::app
