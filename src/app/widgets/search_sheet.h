#pragma once

#include <QFrame>

class QLineEdit;
class QListWidget;

namespace kite::app {

/// A sheet over the window with a line to type in and the list that it narrows down: arrows choose,
/// Enter takes, Esc closes. While it is open its keys are its own, not the window's commands.
class SearchSheet : public QFrame {
    Q_OBJECT
public:
    explicit SearchSheet(QWidget* parent);

protected:
    /// In the middle of the window, no larger than this (in pixels of 100 % text).
    void open_over_window(int across, int high);
    virtual void fill(const QString& wanted) = 0;
    /// Enter, or a click on an entry.
    virtual void take() = 0;

    QLineEdit* line() const { return line_; }
    QListWidget* list() const { return list_; }

private:
    bool eventFilter(QObject* watched, QEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;

    QLineEdit* line_;
    QListWidget* list_;
};

} // namespace kite::app
