#include "app/charts/separation_strip.h"

#include "app/theme/text.h"
#include "app/theme/theme.h"
#include "core/base/normal.h"
#include "core/base/units.h"
#include "core/signal/noise.h"

#include <algorithm>
#include <cmath>

namespace kite::app {

SeparationStrip::SeparationStrip(ShownSwing* state, QWidget* parent) : TimeChart(state, parent) {
    setAccessibleName(tr("Separation: pelvis turn minus torso turn over time"));
    set_bands(14, 42);
    QCPAxisRect* lane = add_lane();
    QCPAxis* time = lane->axis(QCPAxis::atBottom);
    time->setTicks(true);
    time->setTickLabels(true);
    time->setLabel(tr("ms from impact"));
    time->setLabelPadding(2);
    band_ = add_band(lane);
    overlay_ = addGraph(time, lane->axis(QCPAxis::atLeft));
    other_ = addGraph(time, lane->axis(QCPAxis::atLeft));
    graph_ = addGraph(time, lane->axis(QCPAxis::atLeft));
    rebuild();
}

void SeparationStrip::rebuild() {
    QColor fill = colours().ink;
    fill.setAlphaF(0.08F);
    graph_->setPen(QPen(colours().ink, 1.6));
    graph_->setBrush(fill);
    other_->setPen(QPen(colours().soft, 1.1, Qt::DashLine));
    // With a second swing the other method gives way: two dashed lines would be one too many.
    overlay_->setPen(overlay_pen(colours().ink));
    overlay_->data()->clear();
    show_band(band_, reference() == nullptr ? Band{} : reference()->separation_deg, 1.0,
              colours().ink);
    if (overlay() != nullptr)
        overlay_->setData(overlay_data_of(overlay()->analysis.separation_deg));
    if (swing() != nullptr)
        lanes()
            .front()
            ->axis(QCPAxis::atBottom)
            ->setLabel(swing()->analysis.moments[Moment::Impact]
                           ? tr("ms from impact")
                           : tr("ms from the fastest moment"));
    if (swing() == nullptr || swing()->analysis.separation_deg.empty()) {
        graph_->data()->clear();
        other_->data()->clear();
        return;
    }
    if (overlay() == nullptr)
        other_->setData(data_of(swing()->analysis.other_separation_deg));
    else
        other_->data()->clear();
    const Curve& curve = swing()->analysis.separation_deg;
    graph_->setData(data_of(curve));
    const TimeRange whole{0.0, curve.duration_s()};
    const auto most = curve.find_max(whole);
    const auto least = curve.find_min(whole);
    const double high = most ? std::max(20.0, most->value) : 20.0;
    const double low = least ? std::min(0.0, least->value) : 0.0;
    lanes()
        .front()
        ->axis(QCPAxis::atLeft)
        ->setRange(low - 0.08 * (high - low), high + 0.32 * (high - low));
}

void SeparationStrip::paint_decoration(QCPPainter* painter) {
    if (swing() == nullptr)
        return;
    painter->setAntialiasing(true);
    const QRect lane = lanes().front()->rect();
    const auto& analysis = swing()->analysis;
    if (!analysis.separation) {
        paint_caption(painter, tr("Separation"), {tr("not available")});
        return;
    }
    paint_unseen(painter, lane, analysis.separation_deg, {});
    const auto wanted = wanted_ranges(*swing()->rules, analysis, "separation");
    paint_wanted(painter, lane, lanes().front()->axis(QCPAxis::atLeft), wanted, 1.0);
    const bool joint = analysis.options.separation == SeparationMethod::Joint;
    QStringList lines{tr("pelvis − torso turn"), joint ? tr("about the spine") : tr("from above"),
                      overlay() != nullptr ? tr("dashed: other swing")
                      : joint              ? tr("dashed: from above")
                                           : tr("dashed: by the spine")};
    if (!wanted.empty())
        lines << wanted_by();
    paint_caption(painter, tr("Separation"), lines);
    QCPAxis* axis = lanes().front()->axis(QCPAxis::atLeft);
    const double zero = axis->coordToPixel(0.0);
    painter->setPen(QPen(colours().line, 1));
    painter->drawLine(QLineF(lane.left(), zero, lane.right(), zero));
    const double impact_x = pixel_of(state()->impact_s());
    if (is_visible_time(state()->impact_s())) {
        painter->setPen(QPen(colours().ink, 1.2));
        painter->drawLine(QLineF(impact_x, lane.top(), impact_x, lane.bottom()));
    }
    const Separation& separation = *analysis.separation;
    const auto mark = [&](double t_s, double value, const QString& text, bool to_right,
                          double lift) {
        if (!is_visible_time(t_s) || !std::isfinite(value))
            return;
        const QPointF at(pixel_of(t_s), axis->coordToPixel(value));
        painter->setPen(QPen(colours().surface, 1.4));
        painter->setBrush(colours().ink);
        painter->drawEllipse(at, 4.0, 4.0);
        draw_plate(painter, at + QPointF(0.0, lift), text, colours().ink, to_right);
    };
    const double top = analysis.moments.time_s(Moment::Top);
    mark(top, separation.at_top_deg, tr("%1° at top").arg(number_text(separation.at_top_deg)),
         false, -6.0);
    if (separation.stretch_deg >= 0.5)
        mark(separation.max_t_s, separation.max_deg,
             tr("stretch +%1°").arg(number_text(separation.stretch_deg)), true, -10.0);
    mark(state()->impact_s(), separation.at_impact_deg,
         tr("%1° at impact").arg(number_text(separation.at_impact_deg)), true, -10.0);
}

QString SeparationStrip::text_at(QPointF at) const {
    const double t_s = time_at(at.x());
    const Analysis& analysis = swing()->analysis;
    const double value = analysis.separation_deg.at(t_s);
    if (!std::isfinite(value) || !is_visible_time(t_s) || at.x() < left_margin())
        return {};
    QString text = tr("separation %1°").arg(number_text(value, 1));
    double variance = 0.0;
    for (Segment segment : {Segment::Pelvis, Segment::Torso})
        if (const auto* motion = analysis.find_motion(segment)) {
            const double u = deg_from_rad(motion->angle_noise_rad.z()) *
                             calc_noise_gain(motion->cutoff_hz, motion->rate_hz).value;
            variance += u * u;
        }
    if (std::isfinite(variance))
        text += tr(" ± %1 (95 %)").arg(number_text(kCover95 * std::sqrt(variance), 1));
    return value_text_at(t_s, text);
}

void SeparationStrip::paint_cursor_readings(QCPPainter* painter, double x) {
    const double value = swing()->analysis.separation_deg.at(state()->cursor_s());
    if (!std::isfinite(value))
        return;
    const QRect lane = lanes().front()->rect();
    painter->setPen(QPen(colours().surface, 1.2));
    painter->setBrush(colours().ink);
    painter->drawEllipse(QPointF(x, lanes().front()->axis(QCPAxis::atLeft)->coordToPixel(value)),
                         3.6, 3.6);
    const auto& separation = swing()->analysis.separation;
    if (is_cursor_at(state()->impact_s()) ||
        is_cursor_at(swing()->analysis.moments.time_s(Moment::Top)) ||
        (separation && is_cursor_at(separation->max_t_s)))
        return;
    draw_plate(painter, {x, lane.bottom() - 11.0}, tr("%1°").arg(number_text(value)), colours().ink,
               x < lane.right() - Theme::instance().scaled(60));
}

} // namespace kite::app
