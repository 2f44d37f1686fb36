#pragma once

#include "app/theme/theme.h"

#include <QLabel>
#include <QPushButton>

#include <map>

namespace kite::app {

/// Text that wraps. Layouts ask for its height at the same few widths over and over: the answers
/// are kept, because shaping the text is most of the time that showing a swing takes.
class WrappedText : public QLabel {
    Q_OBJECT
public:
    WrappedText(const QString& text, const QFont& font, QWidget* parent);
    bool hasHeightForWidth() const override { return true; }
    int heightForWidth(int width) const override;
    QSize sizeHint() const override;
    QSize minimumSizeHint() const override;

private:
    mutable std::map<int, int> heights_; ///< of the text as it was measured
    mutable QString measured_;
};

/// `tone` is one of the style sheet's: nothing (ink), "soft" or "accent".
QLabel* make_label(const QString& text, const QFont& font, const char* tone, QWidget* parent);

/// A push button whose text wraps: something that can be followed.
class LinkButton : public QPushButton {
    Q_OBJECT
public:
    LinkButton(const QString& text, QWidget* parent);
    QSize sizeHint() const override;
    QSize minimumSizeHint() const override;
    bool hasHeightForWidth() const override { return true; }
    int heightForWidth(int width) const override;

private:
    QLabel* label_ = nullptr;
};

} // namespace kite::app
