#pragma once

#include "app/session/shown_swing.h"

#include <QLabel>

namespace kite::app {

/// One line that ends in "…" where there is no room, and says the whole on hovering.
class ElidedLabel : public QLabel {
    Q_OBJECT
public:
    explicit ElidedLabel(QWidget* parent = nullptr);
    QSize minimumSizeHint() const override;

protected:
    void paintEvent(QPaintEvent* event) override;
};

/// Where the cursor is: ms from impact, and which moments lie around it.
class PlaceLabel : public QWidget {
    Q_OBJECT
public:
    explicit PlaceLabel(ShownSwing* state, QWidget* parent = nullptr);

private:
    void restyle();
    void show_place();

    ShownSwing* state_;
    QLabel* place_ = nullptr;
    QLabel* between_ = nullptr;
};

} // namespace kite::app
