#pragma once

#include "report/pictures/body_figure.h"

#include <QPainter>

#include <functional>

namespace kite::app {

using report::Figure;

/// Draws a golfer as lines; `place` says where a point of the lab lies on the painter. `scale` is
/// that of the pens.
void draw_figure(QPainter& painter, const Figure& figure,
                 const std::function<QPointF(const Eigen::Vector3d&)>& place, double scale = 1.0);

} // namespace kite::app
