#pragma once

#include <QFrame>
#include <QList>

class QAction;
class QLineEdit;
class QListWidget;

namespace kite::app {

/// Every command with its keys, as a sheet over the window: typing narrows it down, Enter runs.
class CommandPanel : public QFrame {
    Q_OBJECT
public:
    CommandPanel(QList<QAction*> actions, QWidget* parent);

    void open();
    bool eventFilter(QObject* watched, QEvent* event) override;

protected:
    void keyPressEvent(QKeyEvent* event) override;

private:
    void fill(const QString& wanted);
    void run();
    void restyle();

    QList<QAction*> actions_;
    QLineEdit* line_ = nullptr;
    QListWidget* list_ = nullptr;
};

} // namespace kite::app
