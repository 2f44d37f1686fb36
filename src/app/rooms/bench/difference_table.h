#pragma once

#include "app/session/shown_swing.h"

#include <QWidget>

class QLabel;
class QTableWidget;

namespace kite::app {

/// The shown swing against the one laid under it: a few measures, each with its difference.
class DifferenceTable : public QWidget {
    Q_OBJECT
public:
    explicit DifferenceTable(ShownSwing* state, QWidget* parent = nullptr);
    /// As shown, as CSV with decimal points; empty without a second swing.
    QString csv() const;

private:
    void rebuild();
    void restyle();

    ShownSwing* state_;
    QLabel* title_ = nullptr;
    QTableWidget* table_ = nullptr;
};

} // namespace kite::app
