#pragma once

#include "app/charts/figure_geometry.h"
#include "core/practice/drill.h"

#include <QImage>
#include <QWidget>

namespace kite::app {

/// A body of usual size in a pose: lab frame as in Figure. For drawing only.
Figure figure_of(const DrillPose& pose);

/// The drawing of a drill: its poses side by side, with what stands around.
void draw_drill(QPainter& painter, const QRectF& field, const DrillFigure& drawing);
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
