#include "app/charts/figure_painter.h"

#include "app/theme/theme.h"

namespace kite::app {

void draw_figure(QPainter& painter, const Figure& figure,
                 const std::function<QPointF(const Eigen::Vector3d&)>& place, double scale) {
    const Colours& c = colours();
    const auto line = [&](const std::optional<Eigen::Vector3d>& a,
                          const std::optional<Eigen::Vector3d>& b, const QColor& colour,
                          double pen_width) {
        if (!a || !b)
            return;
        QPen pen(colour, scale * pen_width);
        pen.setCapStyle(Qt::RoundCap);
        painter.setPen(pen);
        painter.drawLine(place(*a), place(*b));
    };
    line(figure.trail_hip_m, figure.trail_knee_m, c.soft, 2.0);
    line(figure.trail_knee_m, figure.trail_ankle_m, c.soft, 2.0);
    line(figure.lead_hip_m, figure.lead_knee_m, c.soft, 2.6);
    line(figure.lead_knee_m, figure.lead_ankle_m, c.soft, 2.6);
    if (figure.lead_hip_m && figure.trail_hip_m) {
        const Eigen::Vector3d between_m = 0.5 * (*figure.lead_hip_m + *figure.trail_hip_m);
        line(between_m, figure.neck_m, c.soft, 2.0);
    }
    line(figure.trail_shoulder_m, figure.lead_shoulder_m, c.of(Segment::Torso), 4.0);
    line(figure.trail_hip_m, figure.lead_hip_m, c.of(Segment::Pelvis), 4.5);
    line(figure.lead_shoulder_m, figure.wrist_m, c.of(Segment::LeadArm), 3.4);
    line(figure.wrist_m, figure.head_m, c.of(Segment::Club), 2.6);
    painter.setPen(QPen(c.surface, 1.2 * scale));
    const double dot = 4.5 * scale;
    for (const auto& [point, segment] :
         {std::pair(figure.lead_shoulder_m, Segment::Torso),
          std::pair(figure.lead_hip_m, Segment::Pelvis), std::pair(figure.head_m, Segment::Club)}) {
        if (!point)
            continue;
        painter.setBrush(c.of(segment));
        painter.drawEllipse(place(*point), dot, dot);
    }
}

} // namespace kite::app
