#pragma once

#include <QFrame>

class QLabel;
class QToolButton;

namespace kite::app {

/// A message in place, above what it is about. Stays until it is closed or the next one comes.
class MessageBar : public QFrame {
    Q_OBJECT
public:
    explicit MessageBar(QWidget* parent = nullptr);
    void show_message(const QString& title, const QString& text);
    QString text() const;

private:
    void restyle();
    QLabel* title_ = nullptr;
    QLabel* text_ = nullptr;
    QToolButton* close_ = nullptr;
};

} // namespace kite::app
