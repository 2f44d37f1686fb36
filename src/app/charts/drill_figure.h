#pragma once

#include "core/practice/drill.h"

#include <QImage>
#include <QWidget>

namespace kite::app {

QImage picture_of_drill(const DrillFigure& drawing, const QSize& pixels);

class DrillFigureView : public QWidget {
    Q_OBJECT
public:
    explicit DrillFigureView(QWidget* parent = nullptr);
    void show_drill(const Drill* drill);
    QSize sizeHint() const override { return {420, 240}; }

protected:
    void paintEvent(QPaintEvent* event) override;

private:
    DrillFigure drawing_;
};

} // namespace kite::app
