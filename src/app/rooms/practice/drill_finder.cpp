#include "app/rooms/practice/drill_finder.h"

#include "app/theme/text.h"
#include "app/theme/theme.h"

#include <QComboBox>
#include <QLineEdit>
#include <QListWidget>
#include <QSignalBlocker>
#include <QVBoxLayout>

#include <set>

namespace kite::app {

DrillFinder::DrillFinder(const DrillBook* book, const RuleBook* rules, QWidget* parent)
    : QWidget(parent), book_(book) {
    auto* layout = new QVBoxLayout(this);
    layout->setContentsMargins(0, 0, 0, 0);
    words_ = new QLineEdit(this);
    words_->setObjectName(QStringLiteral("drill_words"));
    words_->setPlaceholderText(tr("Find drills by words"));
    words_->setAccessibleName(tr("Find drills by words"));
    words_->setClearButtonEnabled(true);
    layout->addWidget(words_);
    const auto choice = [&](const char* object, const QString& name, const QString& any) {
        auto* box = new QComboBox(this);
        box->setObjectName(QString::fromLatin1(object));
        box->setAccessibleName(name);
        box->addItem(any, QString());
        box->setSizeAdjustPolicy(QComboBox::AdjustToMinimumContentsLengthWithIcon);
        layout->addWidget(box);
        connect(box, &QComboBox::currentIndexChanged, this, &DrillFinder::find);
        return box;
    };
    fault_ = choice("drill_fault", tr("For which fault"), tr("For any fault"));
    for (const FaultRule& fault : rules->faults)
        fault_->addItem(said(fault.title), QString::fromStdString(fault.id));
    place_ = choice("drill_place", tr("Where"), tr("Indoors or on the range"));
    place_->addItem(tr("Indoors"), QStringLiteral("indoors"));
    place_->addItem(tr("On the range"), QStringLiteral("range"));
    needs_ = choice("drill_needs", tr("With what"), tr("With whatever is needed"));
    needs_->addItem(tr("With nothing"), QStringLiteral("nothing"));
    std::set<std::string> means;
    for (const Drill& drill : book_->drills)
        means.insert(drill.needs.begin(), drill.needs.end());
    for (const std::string& one : means)
        needs_->addItem(tr("With %1").arg(said(one)), QString::fromStdString(one));
    caution_ = choice("drill_caution", tr("Caution"), tr("Nothing to spare"));
    for (const auto& [key, name] : book_->limits)
        caution_->addItem(tr("Spares: %1").arg(said(name)), QString::fromStdString(key));
    list_ = new QListWidget(this);
    list_->setObjectName(QStringLiteral("drills"));
    list_->setAccessibleName(tr("Drills"));
    list_->setWordWrap(true);
    list_->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    layout->addWidget(list_, 1);
    connect(words_, &QLineEdit::textChanged, this, &DrillFinder::find);
    connect(list_, &QListWidget::currentRowChanged, this, &DrillFinder::chosen_changed);
    connect(&Theme::instance(), &Theme::changed, this, &DrillFinder::restyle);
    restyle();
    find();
}

void DrillFinder::restyle() {
    const Theme& theme = Theme::instance();
    for (QWidget* widget : {static_cast<QWidget*>(words_), static_cast<QWidget*>(fault_),
                            static_cast<QWidget*>(place_), static_cast<QWidget*>(needs_),
                            static_cast<QWidget*>(caution_), static_cast<QWidget*>(list_)})
        widget->setFont(theme.font(13));
    setFixedWidth(theme.scaled(250));
}

void DrillFinder::find() {
    DrillWish wish;
    wish.words = words_->text().toStdString();
    wish.fault = fault_->currentData().toString().toStdString();
    wish.place = find_practice_place(place_->currentData().toString().toStdString());
    wish.needs = needs_->currentData().toString().toStdString();
    if (const QString limit = caution_->currentData().toString(); !limit.isEmpty())
        wish.limits = {limit.toStdString()};
    const std::string before = chosen();
    {
        const QSignalBlocker quiet(list_);
        list_->clear();
        for (const Drill* drill : find_drills(*book_, wish)) {
            auto* item = new QListWidgetItem(said(drill->title), list_);
            item->setData(Qt::UserRole, QString::fromStdString(drill->id));
            item->setToolTip(said(drill->purpose));
            if (drill->id == before)
                list_->setCurrentItem(item);
        }
        if (list_->currentRow() < 0 && list_->count() > 0)
            list_->setCurrentRow(0);
    }
    emit chosen_changed();
}

std::string DrillFinder::chosen() const {
    const QListWidgetItem* item = list_->currentItem();
    return item == nullptr ? std::string() : item->data(Qt::UserRole).toString().toStdString();
}

void DrillFinder::choose(const std::string& id) {
    for (int row = 0; row < list_->count(); ++row)
        if (list_->item(row)->data(Qt::UserRole).toString().toStdString() == id)
            list_->setCurrentRow(row);
}

void DrillFinder::ask_for_fault(const std::string& id) {
    fault_->setCurrentIndex(std::max(0, fault_->findData(QString::fromStdString(id))));
}

std::string DrillFinder::fault() const {
    return fault_->currentData().toString().toStdString();
}

void DrillFinder::focus_words() {
    words_->setFocus();
    words_->selectAll();
}

void DrillFinder::choose_next(int direction) {
    if (list_->count() > 0)
        list_->setCurrentRow(std::clamp(list_->currentRow() + direction, 0, list_->count() - 1));
}

} // namespace kite::app
