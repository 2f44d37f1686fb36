#pragma once

#include <QFrame>

class QLabel;
class QPushButton;
class QToolButton;

namespace kite::app {

/// A message in place, above what it is about. Stays until it is closed or the next one comes.
class MessageBar : public QFrame {
    Q_OBJECT
public:
    explicit MessageBar(QWidget* parent = nullptr);
    /// `action` is the text of a button that asks for a way out; empty: there is none.
    void show_message(const QString& title, const QString& text, const QString& action = {});
    QString text() const;

signals:
    void action_requested();

private:
    void restyle();
    QLabel* title_ = nullptr;
    QLabel* text_ = nullptr;
    QPushButton* action_ = nullptr;
    QToolButton* close_ = nullptr;
};

} // namespace kite::app
