#include "app/views/measure_help.h"

#include "app/theme/theme.h"
#include "app/views/measure_sketch.h"
#include "app/views/measure_texts.h"

#include <QCoreApplication>
#include <QHBoxLayout>
#include <QKeyEvent>
#include <QLabel>
#include <QLineEdit>
#include <QListWidget>
#include <QToolButton>
#include <QVBoxLayout>

#include <algorithm>

namespace kite::app {

namespace {

QString tr_measure(const char* text) {
    return QCoreApplication::translate("measure", text);
}

} // namespace

MeasureHelp::MeasureHelp(QWidget* parent) : QFrame(parent) {
    setObjectName(QStringLiteral("card"));
    setAccessibleName(tr("What is this?"));
    auto* layout = new QHBoxLayout(this);
    layout->setContentsMargins(14, 14, 14, 14);
    layout->setSpacing(16);
    auto* left = new QVBoxLayout;
    line_ = new QLineEdit(this);
    line_->setObjectName(QStringLiteral("measure_line"));
    line_->setPlaceholderText(tr("What is …?"));
    line_->setAccessibleName(tr("Search measures"));
    line_->installEventFilter(this);
    list_ = new QListWidget(this);
    list_->setObjectName(QStringLiteral("measure_list"));
    list_->setAccessibleName(tr("Measures"));
    list_->setSpacing(2);
    list_->installEventFilter(this);
    left->addWidget(line_);
    left->addWidget(list_, 1);
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
    connect(line_, &QLineEdit::textChanged, this, &MeasureHelp::fill);
    connect(list_, &QListWidget::currentRowChanged, this, &MeasureHelp::show_current);
    connect(&Theme::instance(), &Theme::changed, this, &MeasureHelp::restyle);
    restyle();
    hide();
}

void MeasureHelp::restyle() {
    const Theme& theme = Theme::instance();
    line_->setFont(theme.font(14));
    list_->setFont(theme.font(13));
    name_->setFont(theme.font(19, Theme::Weight::Bold));
    definition_->setFont(theme.font(14));
    sign_->setFont(theme.font(14));
    source_->setFont(theme.font(12));
}

void MeasureHelp::open(const QString& key) {
    const Theme& theme = Theme::instance();
    const QSize room = parentWidget()->size();
    const int across = std::min(room.width() - theme.scaled(40), theme.scaled(720));
    const int high = std::min(room.height() - theme.scaled(80), theme.scaled(470));
    setGeometry((room.width() - across) / 2, (room.height() - high) / 2, across, high);
    line_->clear();
    fill({});
    for (int row = 0; row < list_->count(); ++row)
        if (list_->item(row)->data(Qt::UserRole).toString() == key)
            list_->setCurrentRow(row);
    show();
    raise();
    line_->setFocus();
}

QString MeasureHelp::shown() const {
    const QListWidgetItem* item = list_->currentItem();
    return item == nullptr ? QString() : item->data(Qt::UserRole).toString();
}

void MeasureHelp::fill(const QString& wanted) {
    list_->clear();
    for (const MeasureText& text : all_measure_texts()) {
        const QString name = tr_measure(text.name);
        if (!name.contains(wanted, Qt::CaseInsensitive) &&
            !tr_measure(text.definition).contains(wanted, Qt::CaseInsensitive))
            continue;
        auto* item = new QListWidgetItem(name, list_);
        item->setData(Qt::UserRole, QString::fromLatin1(text.key));
    }
    list_->setCurrentRow(0);
}

void MeasureHelp::show_current() {
    const MeasureText* text = find_measure_text(shown());
    if (text == nullptr)
        return;
    name_->setText(tr_measure(text->name));
    definition_->setText(tr_measure(text->definition));
    sign_->setText(tr_measure(text->sign));
    source_->setText(tr("Source: %1").arg(tr_measure(text->source)));
    sketch_->show_measure(*text);
    sketch_->setAccessibleName(tr("Picture: %1").arg(tr_measure(text->name)));
}

bool MeasureHelp::eventFilter(QObject* watched, QEvent* event) {
    // While the sheet is open its keys are its own.
    if (event->type() == QEvent::ShortcutOverride) {
        event->accept();
        return true;
    }
    if (event->type() != QEvent::KeyPress)
        return QFrame::eventFilter(watched, event);
    const int key = static_cast<QKeyEvent*>(event)->key();
    if (watched == line_ && (key == Qt::Key_Down || key == Qt::Key_Up)) {
        const int row = list_->currentRow() + (key == Qt::Key_Down ? 1 : -1);
        list_->setCurrentRow(std::clamp(row, 0, std::max(0, list_->count() - 1)));
        return true;
    }
    if (key == Qt::Key_Escape) {
        hide();
        return true;
    }
    return QFrame::eventFilter(watched, event);
}

void MeasureHelp::keyPressEvent(QKeyEvent* event) {
    if (event->key() == Qt::Key_Escape)
        hide();
    else
        QFrame::keyPressEvent(event);
}

} // namespace kite::app
