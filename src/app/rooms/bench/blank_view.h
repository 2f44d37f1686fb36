#pragma once

#include <QWidget>

class QLabel;

namespace kite::app {

/// The page where no swing stands: says why, and what to do.
class BlankView : public QWidget {
    Q_OBJECT
public:
    explicit BlankView(QWidget* parent = nullptr);
    void show_words(const QString& title, const QString& text);

private:
    void restyle();

    QLabel* title_;
    QLabel* text_;
};

} // namespace kite::app
