#include "app/rooms/lesson/bin_sheet.h"

#include "app/theme/theme.h"

#include <QDateTime>
#include <QHBoxLayout>
#include <QLabel>
#include <QListWidget>
#include <QPushButton>
#include <QVBoxLayout>

namespace kite::app {

namespace {

QString when_text(const Row& row, const char* column) {
    const QDateTime time = QDateTime::fromString(text_in(row, column), Qt::ISODateWithMs);
    return QLocale().toString(time.toLocalTime(), QLocale::ShortFormat);
}

QString words_of(const Row& row) {
    const QString kind = text_in(row, "kind");
    const int swings = row.value("swings", 0);
    const QString with =
        swings > 0 ? BinSheet::tr(", with %n swing(s)", nullptr, swings) : QString();
    const QString golfer = text_in(row, "golfer");
    const QString of = golfer.isEmpty() ? QString() : BinSheet::tr(" of %1").arg(golfer);
    if (kind == QLatin1String("golfer"))
        return BinSheet::tr("Golfer %1%2").arg(text_in(row, "name"), with);
    if (kind == QLatin1String("lesson"))
        return BinSheet::tr("Lesson %1%2%3").arg(text_in(row, "name"), of, with);
    if (kind == QLatin1String("plan"))
        return BinSheet::tr("Plan%1, made %2").arg(of, when_text(row, "created"));
    return BinSheet::tr("Swing %1%2, kept %3")
        .arg(text_in(row, "file"), of, when_text(row, "created"));
}

} // namespace

BinSheet::BinSheet(RecordKeeper* keeper, QWidget* parent) : QDialog(parent), keeper_(keeper) {
    const Theme& theme = Theme::instance();
    setWindowTitle(tr("The bin"));
    setObjectName(QStringLiteral("bin_sheet"));
    resize(theme.scaled(620), theme.scaled(420));
    auto* layout = new QVBoxLayout(this);
    auto* about = new QLabel(tr("What was put into the bin stays here until it is emptied."), this);
    about->setWordWrap(true);
    layout->addWidget(about);
    list_ = new QListWidget(this);
    list_->setObjectName(QStringLiteral("bin_list"));
    list_->setAccessibleName(tr("In the bin"));
    list_->setSelectionMode(QAbstractItemView::ExtendedSelection);
    layout->addWidget(list_, 1);
    auto* row = new QHBoxLayout;
    back_ = new QPushButton(tr("Put back"), this);
    back_->setObjectName(QStringLiteral("bin_back"));
    back_->setDefault(true);
    empty_ = new QPushButton(tr("Delete all for good…"), this);
    empty_->setObjectName(QStringLiteral("bin_empty"));
    empty_->setAutoDefault(false);
    auto* close = new QPushButton(tr("Close"), this);
    close->setAutoDefault(false);
    row->addWidget(back_);
    row->addStretch(1);
    row->addWidget(empty_);
    row->addWidget(close);
    layout->addLayout(row);
    connect(back_, &QPushButton::clicked, this, &BinSheet::put_back);
    connect(list_, &QListWidget::itemActivated, this, &BinSheet::put_back);
    connect(close, &QPushButton::clicked, this, &QDialog::reject);
    connect(empty_, &QPushButton::clicked, this, [this] {
        hide();
        emit empty_wanted();
    });
    connect(list_, &QListWidget::itemSelectionChanged, this,
            [this] { back_->setEnabled(!list_->selectedItems().isEmpty()); });
    connect(keeper_, &RecordKeeper::changed, this, &BinSheet::show_bin);
    show_bin();
}

void BinSheet::show_bin() {
    QStringList chosen;
    for (const QListWidgetItem* item : list_->selectedItems())
        chosen << item->data(Qt::UserRole).toString();
    list_->clear();
    for (const Row& row : keeper_->view().in_bin) {
        auto* item = new QListWidgetItem(
            tr("%1  (into the bin %2)").arg(words_of(row), when_text(row, "deleted")), list_);
        item->setData(Qt::UserRole, text_in(row, "id"));
        item->setSelected(chosen.contains(text_in(row, "id")));
    }
    if (chosen.isEmpty() && list_->count() > 0)
        list_->setCurrentRow(0);
    back_->setEnabled(!list_->selectedItems().isEmpty());
    empty_->setEnabled(list_->count() > 0);
}

void BinSheet::put_back() {
    QStringList ids;
    for (const QListWidgetItem* item : list_->selectedItems())
        ids << item->data(Qt::UserRole).toString();
    if (!ids.isEmpty())
        keeper_->restore(ids);
}

} // namespace kite::app
