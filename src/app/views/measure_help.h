#pragma once

#include <QFrame>

class QLabel;
class QLineEdit;
class QListWidget;

namespace kite::app {

class MeasureSketch;

/// "What is this?": every measure with its definition, sign, picture and source, as a sheet over
/// the window. Typing narrows the list down, Esc closes.
class MeasureHelp : public QFrame {
    Q_OBJECT
public:
    explicit MeasureHelp(QWidget* parent);

    /// Opens at a measure; an unknown key opens at the first.
    void open(const QString& key);
    QString shown() const; ///< key of the measure shown

private:
    bool eventFilter(QObject* watched, QEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;
    void fill(const QString& wanted);
    void show_current();
    void restyle();

    QLineEdit* line_ = nullptr;
    QListWidget* list_ = nullptr;
    QLabel* name_ = nullptr;
    QLabel* definition_ = nullptr;
    QLabel* sign_ = nullptr;
    QLabel* source_ = nullptr;
    MeasureSketch* sketch_ = nullptr;
};

} // namespace kite::app
