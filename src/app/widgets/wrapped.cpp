#include "app/widgets/wrapped.h"

#include <QVBoxLayout>

namespace kite::app {

namespace {

constexpr int kUsualWidth = 280;
constexpr int kLeastWidth = 40;

} // namespace

WrappedText::WrappedText(const QString& text, const QFont& font, QWidget* parent)
    : QLabel(text, parent) {
    setFont(font);
    setWordWrap(true);
}

int WrappedText::heightForWidth(int width) const {
    if (measured_ != text()) {
        measured_ = text();
        heights_.clear();
    }
    auto& height = heights_[width];
    if (height == 0)
        height = QLabel::heightForWidth(width);
    return height;
}

QSize WrappedText::sizeHint() const {
    return {kUsualWidth, heightForWidth(kUsualWidth)};
}

QSize WrappedText::minimumSizeHint() const {
    return {kLeastWidth, 0};
}

QLabel* make_label(const QString& text, const QFont& font, const char* tone, QWidget* parent) {
    auto* label = new WrappedText(text, font, parent);
    label->setTextFormat(Qt::PlainText);
    label->setProperty("tone", QString::fromLatin1(tone));
    return label;
}

LinkButton::LinkButton(const QString& text, QWidget* parent) : QPushButton(parent) {
    setObjectName(QStringLiteral("link"));
    setAccessibleName(text);
    setCursor(Qt::PointingHandCursor);
    auto* layout = new QVBoxLayout(this);
    layout->setContentsMargins(10, 3, 6, 3);
    label_ = make_label(text, Theme::instance().font(13), "", this);
    label_->setAttribute(Qt::WA_TransparentForMouseEvents);
    layout->addWidget(label_);
    QSizePolicy policy(QSizePolicy::Preferred, QSizePolicy::Minimum);
    policy.setHeightForWidth(true);
    setSizePolicy(policy);
}

QSize LinkButton::sizeHint() const {
    return layout()->sizeHint();
}

QSize LinkButton::minimumSizeHint() const {
    return {kLeastWidth, layout()->minimumSize().height()};
}

int LinkButton::heightForWidth(int width) const {
    return layout()->heightForWidth(width);
}

} // namespace kite::app
