#pragma once

#include "core/catalogue/topic.h"

#include <QWidget>

namespace kite::app {

/// The little picture beside a measure's definition: where it is taken and which way is positive.
class MeasureSketch : public QWidget {
    Q_OBJECT
public:
    explicit MeasureSketch(QWidget* parent = nullptr);
    void show_measure(const Topic& measure);
    QSize sizeHint() const override;

protected:
    void paintEvent(QPaintEvent* event) override;

private:
    const Topic* measure_ = nullptr;
};

} // namespace kite::app
