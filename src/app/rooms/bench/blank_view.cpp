#include "app/rooms/bench/blank_view.h"

#include "app/theme/theme.h"

#include <QLabel>
#include <QVBoxLayout>

namespace kite::app {

BlankView::BlankView(QWidget* parent)
    : QWidget(parent), title_(new QLabel(this)), text_(new QLabel(this)) {
    auto* layout = new QVBoxLayout(this);
    layout->setSpacing(Theme::instance().scaled(8));
    layout->addStretch(2);
    title_->setObjectName(QStringLiteral("blank_title"));
    title_->setAlignment(Qt::AlignCenter);
    text_->setObjectName(QStringLiteral("soft"));
    text_->setAlignment(Qt::AlignCenter);
    text_->setWordWrap(true);
    layout->addWidget(title_);
    layout->addWidget(text_);
    layout->addStretch(3);
    connect(&Theme::instance(), &Theme::changed, this, &BlankView::restyle);
    restyle();
}

void BlankView::show_words(const QString& title, const QString& text) {
    title_->setText(title);
    text_->setText(text);
}

void BlankView::restyle() {
    title_->setFont(Theme::instance().font(22, Theme::Weight::Bold));
    text_->setFont(Theme::instance().font(15));
}

} // namespace kite::app
