// What leaves the Bench: pictures and tables, by file and by clipboard.

#include "app/charts/chart_picture.h"
#include "app/rooms/bench/bench_room.h"
#include "app/rooms/bench/bench_view.h"
#include "formats/results/measures_csv.h"
#include "formats/text/bytes.h"

#include <QApplication>
#include <QClipboard>

namespace kite::app {

namespace {

/// An older file stays whole if this fails.
bool write_text(const QString& path, const QString& text) {
    return !has_errors(formats::write_bytes(path.toStdString(), text.toStdString()));
}

} // namespace

void BenchRoom::save_shown() {
    if (!shown_.has_swing())
        return;
    if (bench_->is_table_shown())
        shell_.ask_and_save(tr("Save the table"), tr("Table (*.csv)"), [this](const QString& path) {
            return write_text(path, bench_->table_csv());
        });
    else
        shell_.ask_and_save(
            tr("Save the charts"), tr("Picture (*.png);;Drawing (*.svg)"),
            [this](const QString& path) { return save_picture(bench_->charts(), path); });
}

void BenchRoom::save_change() {
    const QString csv = bench_->change_csv();
    if (csv.isEmpty()) {
        shell_.show_message(tr("There is no second swing"),
                            tr("R lays the swing shown under the others."));
        return;
    }
    shell_.ask_and_save(tr("Save the change"), tr("Table (*.csv)"),
                        [csv](const QString& path) { return write_text(path, csv); });
}

void BenchRoom::save_measures() {
    const SwingListModel& swings = *lesson_.swings();
    std::string csv = formats::measures_csv_header();
    for (int row = 0; row < swings.rowCount(); ++row)
        if (const auto swing = swings.swing(row); swing && swing->ok)
            csv += formats::measures_csv_row(
                swings.index(row).data(SwingListModel::FileRole).toString().toStdString(),
                swing->analysis);
    shell_.ask_and_save(tr("Save the measures"), tr("Table (*.csv)"), [csv](const QString& path) {
        return write_text(path, QString::fromStdString(csv));
    });
}

void BenchRoom::copy_shown() {
    if (!shown_.has_swing())
        return;
    if (bench_->is_table_shown())
        bench_->copy_table();
    else
        QApplication::clipboard()->setPixmap(picture_of(bench_->charts()));
}

} // namespace kite::app
