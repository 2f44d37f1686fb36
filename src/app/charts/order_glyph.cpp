#include "app/charts/order_glyph.h"

#include "app/theme/theme.h"
#include "report/pictures/stair_steps.h"

#include <algorithm>
#include <cmath>

namespace kite::app {

using report::stair_of_peaks;
using report::StairStep;

void draw_order_glyph(QPainter& painter, const QRectF& box, const Sequence& sequence,
                      const Reading& reading) {
    const std::vector<StairStep> steps = stair_of_peaks(sequence, reading);
    if (steps.size() < 2)
        return;
    const auto [first, last] = std::minmax_element(
        steps.begin(), steps.end(), [](const auto& a, const auto& b) { return a.t_s < b.t_s; });
    // At least 60 ms wide, so that a bunched sequence looks bunched.
    constexpr double kLeast_s = 0.06;
    const double span = std::max(kLeast_s, last->t_s - first->t_s);
    const double from = 0.5 * (first->t_s + last->t_s - span);
    const double radius = box.height() * 0.075;
    const QRectF inner = box.adjusted(radius * 1.6, radius * 1.6, -radius * 1.6, -radius * 1.6);
    const auto place = [&](const StairStep& step) {
        return QPointF(inner.left() + (step.t_s - from) / span * inner.width(),
                       inner.bottom() -
                           static_cast<double>(index_of(step.segment)) / 3.0 * inner.height());
    };
    painter.save();
    painter.setRenderHint(QPainter::Antialiasing);
    for (std::size_t i = 1; i < steps.size(); ++i) {
        const QPointF a = place(steps[i - 1]);
        const QPointF b = place(steps[i]);
        QPen pen(steps[i].is_named ? colours().accent : colours().soft,
                 steps[i].is_named ? 2.2 : 1.4);
        pen.setCapStyle(Qt::RoundCap);
        pen.setJoinStyle(Qt::RoundJoin);
        if (steps[i].is_tied)
            pen.setDashPattern({1.5, 2.2});
        painter.setPen(pen);
        painter.drawPolyline(QPolygonF{a, QPointF(b.x(), a.y()), b});
    }
    painter.setPen(Qt::NoPen);
    for (const StairStep& step : steps) {
        painter.setBrush(colours().of(step.segment));
        painter.drawEllipse(place(step), radius * 1.5, radius * 1.5);
    }
    painter.restore();
}

} // namespace kite::app
