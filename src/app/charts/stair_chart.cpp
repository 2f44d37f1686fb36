#include "app/charts/stair_chart.h"

#include "app/theme/text.h"
#include "app/theme/theme.h"
#include "core/base/normal.h"
#include "core/base/units.h"
#include "core/signal/noise.h"
#include "report/pictures/stair_steps.h"

#include <QHelpEvent>
#include <QMouseEvent>
#include <QToolTip>

#include <algorithm>
#include <cmath>

namespace kite::app {

using report::landing_deg_s;
using report::stair_of_peaks;
using report::stair_of_reversals;
using report::StairStep;

namespace {

constexpr double kDim = 0.35;      ///< of a part that is not lit
constexpr double kHeadroom = 1.30; ///< lane's top over the peak
constexpr double kBelow = 0.26;    ///< share of the lane's top shown below zero: the backswing

/// Moments in the order in which their names get room.
constexpr std::array kNamedFirst{Moment::Impact,
                                 Moment::Top,
                                 Moment::LeadArmLevelDown,
                                 Moment::ShaftLevelDown,
                                 Moment::Address,
                                 Moment::Takeaway,
                                 Moment::Finish,
                                 Moment::ShaftLevelBack,
                                 Moment::LeadArmLevelBack,
                                 Moment::ShaftLevelThrough,
                                 Moment::TrailArmLevelThrough};

QColor faded(QColor colour, double alpha) {
    colour.setAlphaF(static_cast<float>(colour.alphaF() * alpha));
    return colour;
}

} // namespace

StairChart::StairChart(ShownSwing* state, QWidget* parent) : TimeChart(state, parent) {
    setAccessibleName(tr("Stair: rotation speeds of pelvis, torso, lead arm and club"));
    setMouseTracking(true);
    set_bands(40, 22);
    for (int i = 0; i < 4; ++i)
        add_lane();
    lanes().back()->axis(QCPAxis::atBottom)->setTicks(true);
    lanes().back()->axis(QCPAxis::atBottom)->setTickLabels(true);
    for (Segment segment : kSequence) {
        QCPAxisRect* lane = lane_of(segment);
        bands_[index_of(segment)] = add_band(lane);
        overlays_[index_of(segment)] =
            addGraph(lane->axis(QCPAxis::atBottom), lane->axis(QCPAxis::atLeft));
        QCPGraph* graph = addGraph(lane->axis(QCPAxis::atBottom), lane->axis(QCPAxis::atLeft));
        graph->setAdaptiveSampling(true);
        graphs_[index_of(segment)] = graph;
    }
    connect(state, &ShownSwing::chosen_changed, this, [this] { repaint_soon(); });
    rebuild();
}

void StairChart::set_common_scale(bool common) {
    common_scale_ = common;
    rebuild();
    repaint_soon();
}

void StairChart::rebuild() {
    const LoadedSwing* shown = swing();
    double highest = 1.0;
    if (shown != nullptr)
        for (Segment segment : kSequence)
            if (const auto* part = shown->analysis.sequence.find(segment))
                highest =
                    std::max(highest, std::isfinite(part->peak_deg_s) ? part->peak_deg_s : 0.0);
    for (Segment segment : kSequence) {
        QCPGraph* graph = graphs_[index_of(segment)];
        const double strength = state()->is_lit(segment) ? 1.0 : kDim;
        graph->setPen(QPen(faded(colours().of(segment), strength), 1.6));
        graph->setBrush(faded(colours().of(segment), 0.20 * strength));
        QCPGraph* under = overlays_[index_of(segment)];
        under->setPen(overlay_pen(colours().of(segment)));
        under->data()->clear();
        const Band band =
            reference() == nullptr ? Band{} : reference()->rates_deg_s[index_of(segment)];
        show_band(bands_[index_of(segment)], band, 1.0, colours().of(segment));
        if (shown == nullptr) {
            graph->data()->clear();
            continue;
        }
        if (overlay() != nullptr)
            under->setData(overlay_data_of(overlay()->analysis.rate_deg_s[index_of(segment)]));
        graph->setData(data_of(shown->analysis.rate_deg_s[index_of(segment)]));
        const auto* part = shown->analysis.sequence.find(segment);
        double own = part != nullptr && std::isfinite(part->peak_deg_s) ? part->peak_deg_s : 0.0;
        // Without a peak the lane fits what was seen of it.
        if (own == 0.0)
            if (const auto seen = shown->analysis.rate_deg_s[index_of(segment)].find_max(
                    {shown->analysis.moments.time_s(Moment::Top),
                     shown->analysis.moments.window_end_s}))
                own = std::max(own, seen->value);
        own = std::max(own, 1.0);
        const auto* other =
            overlay() == nullptr ? nullptr : overlay()->analysis.sequence.find(segment);
        // The second swing and the set behind must fit in too.
        const double most = std::max(
            {own, other != nullptr && std::isfinite(other->peak_deg_s) ? other->peak_deg_s : own,
             top_of(band)});
        const double top = (common_scale_ ? std::max(highest, most) : most) * kHeadroom;
        lane_of(segment)->axis(QCPAxis::atLeft)->setRange(-kBelow * top, top);
    }
}

double StairChart::y_pixel(Segment segment, double rate_deg_s) const {
    const QRect rect = lane_of(segment)->rect();
    return std::clamp(lane_of(segment)->axis(QCPAxis::atLeft)->coordToPixel(rate_deg_s),
                      static_cast<double>(rect.top()), static_cast<double>(rect.bottom()));
}

void StairChart::paint_decoration(QCPPainter* painter) {
    if (swing() == nullptr)
        return;
    painter->setAntialiasing(true);
    for (Segment segment : kSequence) {
        const SegmentMotion* motion = swing()->analysis.find_motion(segment);
        paint_unseen(painter, lane_of(segment)->rect(),
                     swing()->analysis.rate_deg_s[index_of(segment)],
                     motion == nullptr ? std::vector<TimeRange>{} : bridged_stretches(*motion));
    }
    paint_wanted_times(painter);
    paint_moments(painter);
    paint_names(painter);
    paint_reference(painter);
    paint_reversals(painter);
    paint_overlay(painter);
    paint_at_impact(painter);
    paint_peaks(painter);
}

void StairChart::paint_wanted_times(QCPPainter* painter) const {
    QColor quiet = colours().soft;
    quiet.setAlphaF(0.2F);
    const int height = Theme::instance().scaled(6);
    for (const WantedTime& wanted : wanted_times(*swing()->rules, swing()->analysis)) {
        const QRect lane = lane_of(wanted.part)->rect();
        const double left =
            std::isfinite(wanted.from_s) ? pixel_of(wanted.from_s) : double(lane.left());
        const double right =
            std::isfinite(wanted.to_s) ? pixel_of(wanted.to_s) : double(lane.right());
        painter->fillRect(
            QRectF(left, lane.bottom() - height, right - left, height).intersected(QRectF(lane)),
            quiet);
    }
}

void StairChart::paint_names(QCPPainter* painter) const {
    const Theme& theme = Theme::instance();
    const int x = theme.scaled(14);
    const int width = left_margin() - x - theme.scaled(6);
    for (Segment segment : kSequence) {
        const QRect lane = lane_of(segment)->rect();
        const auto* part = swing()->analysis.sequence.find(segment);
        const double strength = state()->is_lit(segment) ? 1.0 : kDim;
        // Low lanes have the name and the speed on one line.
        const bool low = lane.height() < theme.scaled(64);
        double y = lane.bottom() - theme.scaled(low ? 42 : 62);
        const auto line = [&](const QString& text, const QFont& font, const QColor& colour) {
            painter->setFont(font);
            painter->setPen(faded(colour, strength));
            const double height = QFontMetricsF(font).height();
            painter->drawText(QRectF(x, y, width, height), Qt::AlignLeft | Qt::AlignVCenter, text);
            y += height;
        };
        QString name = segment_name(segment);
        name[0] = name[0].toUpper();
        const QFont speed_font = theme.font(low ? 13 : 14, Theme::Weight::Semibold);
        if (low && part != nullptr && std::isfinite(part->peak_deg_s)) {
            painter->setFont(speed_font);
            painter->setPen(faded(colours().ink, strength));
            painter->drawText(QRectF(x, y, width, QFontMetricsF(speed_font).height()),
                              Qt::AlignRight | Qt::AlignVCenter,
                              tr("%1 °/s").arg(number_text(part->peak_deg_s)));
        }
        line(name, theme.font(low ? 13 : 15, Theme::Weight::Bold), colours().of(segment));
        if (part == nullptr || !std::isfinite(part->peak_deg_s)) {
            line(part == nullptr ? tr("not available") : tr("peak not told"), theme.font(12),
                 colours().soft);
            continue;
        }
        if (!low)
            line(tr("%1 °/s").arg(number_text(part->peak_deg_s)), speed_font, colours().ink);
        line(before_impact_text(-part->before_impact_ms), theme.font(12), colours().soft);
    }
}

void StairChart::paint_moments(QCPPainter* painter) const {
    const Theme& theme = Theme::instance();
    const double top = lanes().front()->rect().top();
    const double bottom = lanes().back()->rect().bottom();
    painter->setFont(theme.font(12));
    const QFontMetricsF metrics(painter->font());
    // Names stand in two rows, so that close moments do not write over each other; where there is
    // no room the less telling names give way.
    std::array<std::vector<std::pair<double, double>>, 2> taken;
    for (Moment moment : kNamedFirst) {
        const double t = swing()->analysis.moments.time_s(moment);
        if (!is_visible_time(t))
            continue;
        const bool impact = moment == Moment::Impact;
        const double x = pixel_of(t);
        const QString name = moment_name(moment);
        const double across = metrics.horizontalAdvance(name);
        const double left = std::min(x - across / 2.0, width() - across - 4.0);
        for (std::size_t row = 0; row < taken.size(); ++row) {
            const bool free =
                std::none_of(taken[row].begin(), taken[row].end(), [&](const auto& span) {
                    return left < span.second + 10.0 && span.first < left + across + 10.0;
                });
            if (!free)
                continue;
            taken[row].emplace_back(left, left + across);
            const double y = top - 9.0 - (static_cast<double>(row) + 1.0) * metrics.height();
            painter->setPen(impact ? colours().ink : colours().soft);
            painter->drawText(QRectF(left, y, across + 1.0, metrics.height()), Qt::AlignCenter,
                              name);
            break;
        }
        painter->setPen(QPen(impact ? colours().ink : colours().line, impact ? 1.2 : 1.0,
                             impact ? Qt::SolidLine : Qt::DashLine));
        painter->drawLine(QLineF(x, top - 6.0, x, bottom));
        // The flag to take it by: filled where the user put it, with an edge while keys move it.
        const bool moved = swing()->analysis.moments[moment]->moved;
        const bool chosen = state()->chosen_moment() == moment;
        painter->setPen(QPen(chosen ? colours().accent : colours().soft, chosen ? 2.0 : 1.0));
        painter->setBrush(moved ? colours().ink : colours().surface);
        painter->drawPolygon(QPolygonF{{x, top}, {x + 8.0, top + 4.0}, {x, top + 8.0}});
    }
}

std::optional<Moment> StairChart::flag_at(QPointF at) const {
    constexpr double kNear_px = 7.0;
    if (swing() == nullptr || at.y() > lanes().front()->rect().top() + 12.0)
        return std::nullopt;
    std::optional<Moment> best;
    double nearest = kNear_px;
    for (Moment moment : kAllMoments) {
        const double t = swing()->analysis.moments.time_s(moment);
        if (!is_visible_time(t))
            continue;
        const double off = std::abs(pixel_of(t) + 2.0 - at.x());
        if (off <= nearest) {
            nearest = off;
            best = moment;
        }
    }
    return best;
}

QString StairChart::flag_text(Moment moment) const {
    const auto& at = swing()->analysis.moments[moment];
    QString text =
        tr("%1, %2").arg(moment_name(moment), before_impact_text(state()->ms_from_impact(at->t_s)));
    if (at->moved)
        return text + QStringLiteral("\n") +
               tr("Put by hand; double-click to put it back where it was found.");
    if (std::isfinite(at->u_s))
        text += QStringLiteral("\n") + tr("known to ± %1 ms").arg(number_text(1000.0 * at->u_s, 1));
    return text + QStringLiteral("\n") + tr("Drag to correct it.");
}

void StairChart::mousePressEvent(QMouseEvent* event) {
    held_ = event->button() == Qt::LeftButton ? flag_at(event->position()) : std::nullopt;
    if (!held_) {
        TimeChart::mousePressEvent(event);
        return;
    }
    dragged_ = false;
    pressed_x_ = event->position().x();
    gesture_ = state()->next_gesture();
    state()->set_playing(false);
    state()->choose_moment(*held_);
    repaint_soon();
    event->accept();
}

void StairChart::mouseMoveEvent(QMouseEvent* event) {
    constexpr double kBegins_px = 3.0;
    if (!held_) {
        setCursor(flag_at(event->position()) ? Qt::SizeHorCursor : Qt::ArrowCursor);
        TimeChart::mouseMoveEvent(event);
        return;
    }
    dragged_ = dragged_ || std::abs(event->position().x() - pressed_x_) >= kBegins_px;
    if (dragged_)
        state()->request_move(*held_,
                              std::clamp(time_at(event->position().x()), state()->range().begin_s,
                                         state()->range().end_s),
                              gesture_);
    event->accept();
}

void StairChart::mouseReleaseEvent(QMouseEvent* event) {
    held_.reset();
    TimeChart::mouseReleaseEvent(event);
}

void StairChart::mouseDoubleClickEvent(QMouseEvent* event) {
    if (const auto flag = flag_at(event->position())) {
        emit state()->reset_requested(*flag);
        event->accept();
        return;
    }
    TimeChart::mouseDoubleClickEvent(event);
}

QString StairChart::text_at(QPointF at) const {
    if (const auto flag = flag_at(at))
        return flag_text(*flag);
    constexpr double kNear_px = 9.0;
    const double t_s = time_at(at.x());
    for (Segment segment : kSequence) {
        if (!lane_of(segment)->rect().contains(at.toPoint()))
            continue;
        const QString name = segment_name(segment);
        const auto* part = swing()->analysis.sequence.find(segment);
        const auto is_near = [&](double there_s, double rate_deg_s) {
            return std::isfinite(there_s) &&
                   QLineF(at, QPointF(pixel_of(there_s), y_pixel(segment, rate_deg_s))).length() <
                       kNear_px;
        };
        const auto when = [&](double there_s, double u_s) {
            return tr("%1, ± %2 ms (95 %)")
                .arg(before_impact_text(state()->ms_from_impact(there_s)),
                     number_text(kCover95 * 1000.0 * u_s, 1));
        };
        if (part != nullptr && is_near(part->peak_t_s, part->peak_deg_s))
            return tr("%1 peaks at %2 °/s\n%3")
                .arg(name, number_text(part->peak_deg_s), when(part->peak_t_s, part->peak_t_u_s));
        if (part != nullptr && is_near(part->reversal_t_s, 0.0))
            return tr("%1 turns back\n%2").arg(name, when(part->reversal_t_s, part->reversal_u_s));
        const double rate = swing()->analysis.rate_deg_s[index_of(segment)].at(t_s);
        if (!std::isfinite(rate) || !is_visible_time(t_s))
            return {};
        QString value = tr("%1 %2 °/s").arg(name, number_text(rate));
        if (const auto* motion = swing()->analysis.find_motion(segment)) {
            const double noise_rad =
                feels_impact(segment) ? motion->noise_across_rad() : motion->angle_noise_rad.z();
            const double u = deg_from_rad(noise_rad) *
                             calc_noise_gain(motion->cutoff_hz, motion->rate_hz).first_derivative;
            if (std::isfinite(u))
                value += tr(" ± %1 (95 %)").arg(number_text(kCover95 * u, 1));
        }
        return value_text_at(t_s, value);
    }
    return {};
}

void StairChart::paint_reversals(QCPPainter* painter) const {
    const std::vector<StairStep> steps =
        stair_of_reversals(swing()->analysis.sequence, swing()->reading);
    const auto place = [&](const StairStep& step) {
        return QPointF(pixel_of(step.t_s), y_pixel(step.segment, 0.0));
    };
    painter->save();
    painter->setClipRect(
        QRectF(lanes().front()->rect().topLeft(), lanes().back()->rect().bottomRight()));
    painter->setBrush(Qt::NoBrush);
    for (std::size_t i = 1; i < steps.size(); ++i) {
        const QPointF a = place(steps[i - 1]);
        const QPointF b = place(steps[i]);
        painter->setPen(
            QPen(steps[i].is_named ? colours().accent : colours().soft, 1.2, Qt::DotLine));
        painter->drawPolyline(QPolygonF{a, QPointF(b.x(), a.y()), b});
    }
    for (const StairStep& step : steps) {
        painter->setPen(QPen(colours().of(step.segment), 1.6));
        painter->setBrush(colours().surface);
        painter->drawEllipse(place(step), 3.5, 3.5);
    }
    painter->restore();
}

void StairChart::paint_reference(QCPPainter* painter) const {
    if (reference() == nullptr)
        return;
    painter->save();
    painter->setClipRect(
        QRectF(lanes().front()->rect().topLeft(), lanes().back()->rect().bottomRight()));
    for (Segment segment : kSequence) {
        const PeakSummary& peaks = reference()->peaks[index_of(segment)];
        if (peaks.from_impact_s.count < 2)
            continue;
        const double t_s = state()->impact_s() + peaks.from_impact_s.mean;
        const double half_s = peaks.from_impact_s.sd;
        const QRectF box(QPointF(pixel_of(t_s - half_s),
                                 y_pixel(segment, peaks.peak_deg_s.mean + peaks.peak_deg_s.sd)),
                         QPointF(pixel_of(t_s + half_s),
                                 y_pixel(segment, peaks.peak_deg_s.mean - peaks.peak_deg_s.sd)));
        painter->setPen(QPen(faded(colours().of(segment), 0.8), 1.2, Qt::DotLine));
        painter->setBrush(faded(colours().of(segment), 0.18));
        painter->drawRect(box);
    }
    painter->restore();
}

void StairChart::paint_overlay(QCPPainter* painter) const {
    if (overlay() == nullptr)
        return;
    painter->save();
    painter->setClipRect(
        QRectF(lanes().front()->rect().topLeft(), lanes().back()->rect().bottomRight()));
    QPolygonF stair;
    for (const StairStep& step : stair_of_peaks(overlay()->analysis.sequence, overlay()->reading)) {
        const QPointF at(pixel_of(state()->overlay_clock().shown_of(step.t_s)),
                         y_pixel(step.segment, landing_deg_s(overlay()->analysis, step.segment)));
        if (!stair.isEmpty())
            stair << QPointF(at.x(), stair.last().y());
        stair << at;
    }
    painter->setBrush(Qt::NoBrush);
    painter->setPen(overlay_pen(colours().ink));
    painter->drawPolyline(stair);
    painter->setBrush(colours().surface);
    for (const StairStep& step :
         stair_of_reversals(overlay()->analysis.sequence, overlay()->reading)) {
        const QPointF at(pixel_of(state()->overlay_clock().shown_of(step.t_s)),
                         y_pixel(step.segment, 0.0));
        painter->drawPolygon(QPolygonF{{at.x() - 3.5, at.y()},
                                       {at.x(), at.y() - 3.5},
                                       {at.x() + 3.5, at.y()},
                                       {at.x(), at.y() + 3.5}});
    }
    for (qsizetype i = 0; i < stair.size(); i += 2) {
        const QPointF& at = stair[i];
        painter->drawPolygon(QPolygonF{{at.x() - 4.5, at.y()},
                                       {at.x(), at.y() - 4.5},
                                       {at.x() + 4.5, at.y()},
                                       {at.x(), at.y() + 4.5}});
    }
    painter->restore();
}

void StairChart::paint_at_impact(QCPPainter* painter) const {
    const double impact = state()->impact_s();
    if (!is_visible_time(impact))
        return;
    const double x = pixel_of(impact);
    for (Segment segment : kSequence) {
        const auto* part = swing()->analysis.sequence.find(segment);
        if (part == nullptr || !std::isfinite(part->at_impact_deg_s) ||
            !(part->slowdown_pct >= 2.0)) // or not known
            continue;
        const double strength = state()->is_lit(segment) ? 1.0 : kDim;
        const QColor colour = faded(colours().of(segment), strength);
        const double y = y_pixel(segment, part->at_impact_deg_s);
        painter->setPen(Qt::NoPen);
        painter->setBrush(colour);
        painter->drawRect(QRectF(x - 1.0, y - 1.5, 7.0, 3.0));
        draw_plate(painter, {x + 2.0, y - 11.0}, tr("−%1 %").arg(number_text(part->slowdown_pct)),
                   colour, true);
    }
}

void StairChart::paint_peaks(QCPPainter* painter) const {
    const std::vector<StairStep> steps =
        stair_of_peaks(swing()->analysis.sequence, swing()->reading);
    const auto place = [&](const StairStep& step) {
        return QPointF(pixel_of(step.t_s),
                       y_pixel(step.segment, landing_deg_s(swing()->analysis, step.segment)));
    };
    painter->save();
    painter->setClipRect(QRectF(lanes().front()->rect().topLeft(),
                                lanes().back()->rect().bottomRight() + QPointF(right_margin(), 0)));
    // The stair: tread to the next part's time, then riser up to its peak.
    for (std::size_t i = 1; i < steps.size(); ++i) {
        const QPointF a = place(steps[i - 1]);
        const QPointF b = place(steps[i]);
        const bool back = steps[i].is_named;
        QPen pen(back ? colours().accent : colours().ink, back ? 3.4 : 2.4);
        pen.setJoinStyle(Qt::RoundJoin);
        pen.setCapStyle(Qt::RoundCap);
        if (steps[i].is_tied)
            pen.setDashPattern({0.6, 2.0});
        painter->setPen(pen);
        painter->setBrush(Qt::NoBrush);
        painter->drawPolyline(QPolygonF{a, QPointF(b.x(), a.y()), b});
    }
    for (const StairStep& step : steps) {
        const QPointF at = place(step);
        const double strength = state()->is_lit(step.segment) ? 1.0 : kDim;
        // 95 % of where the peak may be, as a width.
        const double half = std::abs(pixel_of(step.t_s + 2.0 * step.u_s) - at.x());
        painter->setPen(Qt::NoPen);
        QColor width_colour = colours().of(step.segment);
        width_colour.setAlphaF(static_cast<float>(0.45 * strength));
        painter->setBrush(width_colour);
        painter->drawRoundedRect(QRectF(at.x() - half, at.y() - 3.5, 2.0 * half, 7.0), 3.5, 3.5);
        painter->setBrush(faded(colours().of(step.segment), strength));
        painter->setPen(QPen(colours().surface, 1.4));
        painter->drawEllipse(at, 5.0, 5.0);
    }
    // How long each step takes, beside its riser.
    step_plates_.clear();
    for (std::size_t i = 1; i < steps.size(); ++i) {
        const QPointF a = place(steps[i - 1]);
        const QPointF b = place(steps[i]);
        const double ms = std::round(steps[i].after_below_ms);
        const QString text =
            steps[i].is_tied
                ? tr("tied")
                : tr("%1%2 ms").arg(ms > 0.0 ? QStringLiteral("+") : QString(), number_text(ms));
        const double y = 0.5 * (a.y() + b.y());
        step_plates_.push_back(draw_plate(painter, {b.x(), y}, text,
                                          steps[i].is_named ? colours().accent : colours().ink,
                                          false));
    }
    painter->restore();
}

void StairChart::paint_cursor_readings(QCPPainter* painter, double x) {
    const double t = state()->cursor_s();
    for (Segment segment : kSequence) {
        const double rate = swing()->analysis.rate_deg_s[index_of(segment)].at(t);
        if (!std::isfinite(rate))
            continue;
        const QRect lane = lane_of(segment)->rect();
        const double y = y_pixel(segment, rate);
        painter->setPen(QPen(colours().surface, 1.2));
        painter->setBrush(colours().of(segment));
        painter->drawEllipse(QPointF(x, y), 3.6, 3.6);
        const QString text = tr("%1 °/s").arg(number_text(rate));
        const QPointF at(x, lane.bottom() - 11.0);
        const auto is_free = [&](bool right) {
            const QRectF plate = plate_of(at, text, right);
            return plate.left() >= lane.left() &&
                   std::none_of(step_plates_.begin(), step_plates_.end(),
                                [&](const QRectF& step) { return step.intersects(plate); });
        };
        const bool has_room = x < lane.right() - Theme::instance().scaled(90);
        draw_plate(painter, at, text, colours().of(segment),
                   has_room ? is_free(true) || !is_free(false) : !is_free(false));
    }
}

} // namespace kite::app
