#include "app/shell/message_bar.h"

#include "app/theme/icons.h"
#include "app/theme/theme.h"

#include <QHBoxLayout>
#include <QLabel>
#include <QPushButton>
#include <QToolButton>
#include <QVBoxLayout>

namespace kite::app {

MessageBar::MessageBar(QWidget* parent) : QFrame(parent) {
    setObjectName(QStringLiteral("message"));
    const Theme& theme = Theme::instance();
    auto* layout = new QHBoxLayout(this);
    layout->setContentsMargins(theme.scaled(14), theme.scaled(10), theme.scaled(8),
                               theme.scaled(10));
    auto* words = new QVBoxLayout;
    words->setSpacing(theme.scaled(2));
    title_ = new QLabel(this);
    text_ = new QLabel(this);
    title_->setObjectName(QStringLiteral("message_title"));
    text_->setObjectName(QStringLiteral("message_text"));
    for (QLabel* label : {title_, text_}) {
        label->setTextFormat(Qt::PlainText);
        label->setWordWrap(true);
        label->setTextInteractionFlags(Qt::TextSelectableByMouse);
        words->addWidget(label);
    }
    layout->addLayout(words, 1);
    action_ = new QPushButton(this);
    action_->setObjectName(QStringLiteral("message_action"));
    connect(action_, &QPushButton::clicked, this, &MessageBar::action_requested);
    layout->addWidget(action_, 0, Qt::AlignTop);
    close_ = new QToolButton(this);
    close_->setObjectName(QStringLiteral("message_close"));
    close_->setAccessibleName(tr("Close the message"));
    close_->setToolTip(tr("Close the message"));
    connect(close_, &QToolButton::clicked, this, &QWidget::hide);
    layout->addWidget(close_, 0, Qt::AlignTop);
    connect(&Theme::instance(), &Theme::changed, this, &MessageBar::restyle);
    restyle();
    hide();
}

void MessageBar::restyle() {
    const Theme& theme = Theme::instance();
    title_->setFont(theme.font(14, Theme::Weight::Bold));
    text_->setFont(theme.font(13));
    close_->setIcon(icon(Icon::Close, colours().ink));
    setStyleSheet(
        QStringLiteral(
            "QFrame#message { background: %1; border: 1px solid %2; border-left: 4px solid %3; "
            "border-radius: 6px; }")
            .arg(colours().surface.name(), colours().line.name(), colours().accent.name()));
}

void MessageBar::show_message(const QString& title, const QString& text, const QString& action) {
    action_->setText(action);
    action_->setVisible(!action.isEmpty());
    title_->setText(title);
    text_->setText(text);
    setAccessibleName(title + QLatin1Char(' ') + text);
    show();
}

QString MessageBar::text() const {
    return text_->text();
}

} // namespace kite::app
