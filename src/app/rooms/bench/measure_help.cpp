#include "app/rooms/bench/measure_help.h"

#include "app/rooms/bench/measure_sketch.h"
#include "app/theme/theme.h"
#include "core/catalogue/measure.h"

#include <QCoreApplication>
#include <QHBoxLayout>
#include <QLabel>
#include <QLineEdit>
#include <QListWidget>
#include <QToolButton>
#include <QVBoxLayout>

namespace kite::app {

namespace {

QString tr_measure(const char* text) {
    return QCoreApplication::translate("measure", text);
}

} // namespace

MeasureHelp::MeasureHelp(QWidget* parent) : SearchSheet(parent) {
    setAccessibleName(tr("What is this?"));
    auto* layout = new QHBoxLayout(this);
    layout->setContentsMargins(14, 14, 14, 14);
    layout->setSpacing(16);
    auto* left = new QVBoxLayout;
    line()->setObjectName(QStringLiteral("measure_line"));
    line()->setPlaceholderText(tr("What is …?"));
    line()->setAccessibleName(tr("Search measures"));
    list()->setObjectName(QStringLiteral("measure_list"));
    list()->setAccessibleName(tr("Measures"));
    list()->setSpacing(2);
    left->addWidget(line());
    left->addWidget(list(), 1);
    layout->addLayout(left, 2);
    auto* right = new QVBoxLayout;
    auto* head = new QHBoxLayout;
    name_ = new QLabel(this);
    name_->setObjectName(QStringLiteral("measure_name"));
    auto* close = new QToolButton(this);
    close->setText(tr("Close"));
    close->setToolTip(tr("Close (Esc)"));
    connect(close, &QToolButton::clicked, this, &QWidget::hide);
    head->addWidget(name_, 1);
    head->addWidget(close);
    right->addLayout(head);
    sketch_ = new MeasureSketch(this);
    right->addWidget(sketch_, 1);
    for (QLabel** label : {&definition_, &sign_, &source_}) {
        *label = new QLabel(this);
        (*label)->setWordWrap(true);
        (*label)->setTextInteractionFlags(Qt::TextSelectableByMouse);
        right->addWidget(*label);
    }
    definition_->setObjectName(QStringLiteral("measure_definition"));
    source_->setObjectName(QStringLiteral("soft"));
    layout->addLayout(right, 3);
    connect(list(), &QListWidget::currentRowChanged, this, &MeasureHelp::show_current);
    connect(&Theme::instance(), &Theme::changed, this, &MeasureHelp::restyle);
    restyle();
}

void MeasureHelp::restyle() {
    const Theme& theme = Theme::instance();
    line()->setFont(theme.font(14));
    list()->setFont(theme.font(13));
    name_->setFont(theme.font(19, Theme::Weight::Bold));
    definition_->setFont(theme.font(14));
    sign_->setFont(theme.font(14));
    source_->setFont(theme.font(12));
}

void MeasureHelp::open(const QString& asked) {
    open_over_window(720, 470);
    const Topic* topic = find_topic_for(asked.toStdString());
    const QString key = topic == nullptr ? asked : QString::fromLatin1(topic->key);
    for (int row = 0; row < list()->count(); ++row)
        if (list()->item(row)->data(Qt::UserRole).toString() == key)
            list()->setCurrentRow(row);
}

QString MeasureHelp::shown() const {
    const QListWidgetItem* item = list()->currentItem();
    return item == nullptr ? QString() : item->data(Qt::UserRole).toString();
}

void MeasureHelp::fill(const QString& wanted) {
    list()->clear();
    for (const Topic& text : all_topics()) {
        const QString name = tr_measure(text.name);
        if (!name.contains(wanted, Qt::CaseInsensitive) &&
            !tr_measure(text.definition).contains(wanted, Qt::CaseInsensitive))
            continue;
        auto* item = new QListWidgetItem(name, list());
        item->setData(Qt::UserRole, QString::fromLatin1(text.key));
    }
    list()->setCurrentRow(0);
}

void MeasureHelp::show_current() {
    const Topic* text = find_topic_for(shown().toStdString());
    if (text == nullptr)
        return;
    name_->setText(tr_measure(text->name));
    definition_->setText(tr_measure(text->definition));
    sign_->setText(tr_measure(text->sign));
    source_->setText(tr("Source: %1").arg(tr_measure(text->source)));
    sketch_->show_measure(*text);
    sketch_->setAccessibleName(tr("Picture: %1").arg(tr_measure(text->name)));
}

} // namespace kite::app
