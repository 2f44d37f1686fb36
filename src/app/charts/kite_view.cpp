#include "app/charts/kite_view.h"

#include "app/theme/text.h"
#include "app/theme/theme.h"

#include <QPainter>

#include <cmath>

namespace kite::app {

namespace {

/// The part of the ground that is shown, metres against the pelvis at address: as much as pelvis,
/// shoulders and feet of a grown golfer need. The way to the ball is shortened: where the ball lies
/// along the target line is what matters here.
constexpr double kLeft_m = -0.37;
constexpr double kRight_m = 0.43;
constexpr double kBall_m = -0.33;
constexpr double kFront_m = -0.36;
constexpr double kBack_m = 0.26;

} // namespace

/// Where things of the ground lie in the widget: the target is to the right, away from the ball up.
struct KiteView::Ground {
    QRectF field;
    double scale = 1.0; ///< pixels a metre
    double x0 = 0.0;
    double y0 = 0.0;

    explicit Ground(const QRectF& area) : field(area) {
        scale =
            std::min(field.width() / (kRight_m - kLeft_m), field.height() / (kBack_m - kFront_m));
        x0 = field.center().x() - 0.5 * (kLeft_m + kRight_m) * scale;
        y0 = field.center().y() + 0.5 * (kBack_m + kFront_m) * scale;
    }
    QPointF place(const Eigen::Vector2d& p_m) const {
        return {x0 + p_m.x() * scale, y0 - p_m.y() * scale};
    }
};

KiteView::KiteView(ShownSwing* state, QWidget* parent) : QWidget(parent), state_(state) {
    setMinimumSize(220, 220);
    setAccessibleName(tr("Kite: hips and shoulders from above"));
    setToolTip(tr("Hip line and shoulder line from above, both through the pelvis; the target is "
                  "to the right.\n"
                  "The way to the ball is shortened."));
    connect(state_, &ShownSwing::cursor_changed, this, qOverload<>(&QWidget::update));
    connect(state_, &ShownSwing::swing_changed, this, [this] {
        hinge_way_ = state_->has_swing() ? calc_hinge_way(measured(*state_->swing()))
                                         : std::vector<Eigen::Vector2d>{};
        update();
    });
    connect(&Theme::instance(), &Theme::changed, this, qOverload<>(&QWidget::update));
}

QSize KiteView::sizeHint() const {
    return {330, 330};
}

void KiteView::paintEvent(QPaintEvent* /*event*/) {
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing);
    if (!state_->has_swing())
        return;
    const KitePicture kite = calc_kite(measured(*state_->swing()), state_->cursor_s());
    const Theme& theme = Theme::instance();
    const double pad = theme.scaled(12);
    const double legend_px = paint_legend(painter, kite, pad);
    const double head_px = theme.scaled(30);
    const Ground ground(
        QRectF(pad, head_px, width() - 2.0 * pad, height() - head_px - legend_px - pad));
    paint_ground(painter, kite, ground);
    paint_kite(painter, kite, ground);
    paint_hinge(painter, kite, ground);
    paint_head(painter, kite, pad);
}

/// When this is, and the separation then.
void KiteView::paint_head(QPainter& painter, const KitePicture& kite, double pad) const {
    const Theme& theme = Theme::instance();
    painter.setFont(theme.font(12));
    painter.setPen(colours().soft);
    painter.drawText(QRectF(pad, theme.scaled(8), width() - 2.0 * pad, theme.scaled(17)),
                     Qt::AlignLeft | Qt::AlignVCenter,
                     before_impact_text(state_->ms_from_impact(state_->cursor_s())));
    if (!std::isfinite(kite.separation_deg))
        return;
    painter.setFont(theme.font(22, Theme::Weight::Semibold));
    painter.setPen(colours().ink);
    painter.drawText(QRectF(pad, theme.scaled(8), width() - 2.0 * pad, theme.scaled(24)),
                     Qt::AlignRight | Qt::AlignVCenter,
                     tr("%1°").arg(number_text(kite.separation_deg)));
    painter.setFont(theme.font(12));
    painter.setPen(colours().soft);
    painter.drawText(QRectF(pad, theme.scaled(31), width() - 2.0 * pad, theme.scaled(15)),
                     Qt::AlignRight | Qt::AlignVCenter, tr("separation"));
}

/// The turns in words, in the lines' own colours, below the picture: in one row where there is
/// room. Returns how high it is.
double KiteView::paint_legend(QPainter& painter, const KitePicture& kite, double pad) const {
    const Theme& theme = Theme::instance();
    const double row_px = theme.scaled(18);
    const double key_px = theme.scaled(18); // a piece of the line itself before its name
    struct Entry {
        Segment segment;
        QString text;
        double across = 0.0;
    };
    std::vector<Entry> entries;
    painter.setFont(theme.font(13, Theme::Weight::Semibold));
    double across = 0.0;
    const auto add = [&](const std::optional<KitePicture::Line>& line, Segment segment) {
        if (!line)
            return;
        Entry entry{segment, tr("%1 %2").arg(segment_name(segment), turn_text(line->turn_deg))};
        entry.across = key_px + painter.fontMetrics().horizontalAdvance(entry.text);
        across += entry.across + (entries.empty() ? 0.0 : pad);
        entries.push_back(entry);
    };
    add(kite.shoulders, Segment::Torso);
    add(kite.hips, Segment::Pelvis);
    const bool one_row = across <= width() - 2.0 * pad;
    const double high = row_px * (one_row ? 1.0 : static_cast<double>(entries.size()));
    double x = pad;
    double y = height() - theme.scaled(8) - high;
    for (const Entry& entry : entries) {
        const QLineF key(x, y + row_px / 2.0, x + key_px - 4.0, y + row_px / 2.0);
        painter.setPen(QPen(colours().of(entry.segment), 4.5));
        painter.drawLine(key);
        if (entry.segment == Segment::Torso) {
            painter.setPen(QPen(colours().surface, 1.8));
            painter.drawLine(key);
        }
        painter.setPen(colours().of(entry.segment));
        painter.drawText(QRectF(x + key_px, y, width(), row_px), Qt::AlignLeft | Qt::AlignVCenter,
                         entry.text);
        if (one_row)
            x += entry.across + pad;
        else
            y += row_px;
    }
    return high;
}

/// Target line, ball and feet.
void KiteView::paint_ground(QPainter& painter, const KitePicture& kite,
                            const Ground& ground) const {
    const Theme& theme = Theme::instance();
    const Colours& c = colours();
    if (kite.ball_x_m) {
        const QRectF& field = ground.field;
        const QPointF ball = ground.place({*kite.ball_x_m, kBall_m});
        painter.setPen(QPen(c.line, 1.4, Qt::DashLine));
        painter.drawLine(QPointF(field.left(), ball.y()),
                         QPointF(field.right() - theme.scaled(4), ball.y()));
        painter.setPen(QPen(c.soft, 1.4));
        painter.drawPolyline(QPolygonF{{field.right() - 9.0, ball.y() - 4.5},
                                       {field.right() - 2.0, ball.y()},
                                       {field.right() - 9.0, ball.y() + 4.5}});
        painter.setFont(theme.font(12));
        painter.drawText(QRectF(field.left(), ball.y() - theme.scaled(19), field.width() - 2.0,
                                theme.scaled(16)),
                         Qt::AlignRight | Qt::AlignVCenter, tr("target"));
        painter.setBrush(c.surface);
        painter.drawEllipse(ball, 5.0, 5.0);
    }
    painter.setBrush(Qt::NoBrush);
    painter.setPen(QPen(c.line, 1.6));
    for (const auto& foot : {kite.lead_foot_m, kite.trail_foot_m}) {
        if (!foot)
            continue;
        const QPointF at = ground.place(*foot + Eigen::Vector2d(0.0, -0.07));
        const double scale = ground.scale;
        painter.drawRoundedRect(
            QRectF(at.x() - 0.045 * scale, at.y() - 0.13 * scale, 0.09 * scale, 0.26 * scale),
            0.045 * scale, 0.045 * scale);
    }
}

void KiteView::paint_kite(QPainter& painter, const KitePicture& kite, const Ground& ground) const {
    const Colours& c = colours();
    const auto place = [&](const Eigen::Vector2d& p_m) { return ground.place(p_m); };
    if (kite.hips && kite.shoulders) {
        QColor fill = c.ink;
        fill.setAlphaF(0.07F);
        painter.setPen(QPen(c.soft, 1.2));
        painter.setBrush(fill);
        painter.drawPolygon(QPolygonF{place(kite.hips->trail_m), place(kite.shoulders->trail_m),
                                      place(kite.hips->lead_m), place(kite.shoulders->lead_m)});
    }
    // The hips are one thick line, the shoulders two fine ones: told apart without colour too.
    const auto draw_line = [&](const KitePicture::Line& line, Segment segment, bool is_double) {
        QPen pen(c.of(segment), is_double ? 6.0 : 5.4);
        pen.setCapStyle(Qt::RoundCap);
        painter.setPen(pen);
        painter.drawLine(place(line.trail_m), place(line.lead_m));
        if (is_double) {
            painter.setPen(QPen(c.surface, 2.4));
            painter.drawLine(place(line.trail_m), place(line.lead_m));
        }
        painter.setPen(QPen(c.of(segment), 2.0));
        painter.setBrush(c.surface);
        painter.drawEllipse(place(line.trail_m), 5.0, 5.0);
        painter.setBrush(c.of(segment));
        painter.drawEllipse(place(line.lead_m), 6.0, 6.0);
    };
    if (kite.shoulders)
        draw_line(*kite.shoulders, Segment::Torso, true);
    if (kite.hips)
        draw_line(*kite.hips, Segment::Pelvis, false);
}

/// Where the pelvis pivots, and the way it took through the downswing.
void KiteView::paint_hinge(QPainter& painter, const KitePicture& kite, const Ground& ground) const {
    const Theme& theme = Theme::instance();
    const QColor& colour = colours().of(Segment::Pelvis);
    painter.save();
    painter.setClipRect(ground.field);
    QPolygonF way;
    for (const Eigen::Vector2d& p_m : hinge_way_)
        way << ground.place(p_m);
    painter.setBrush(Qt::NoBrush);
    painter.setPen(QPen(colour, 1.2, Qt::DotLine));
    painter.drawPolyline(way);
    const QRectF inner = ground.field.adjusted(8.0, 8.0, -8.0, -8.0);
    if (kite.hinge_m && inner.contains(ground.place(*kite.hinge_m))) {
        const QPointF at = ground.place(*kite.hinge_m);
        painter.setPen(QPen(colour, 1.8));
        painter.setBrush(colours().surface);
        painter.drawEllipse(at, 6.5, 6.5);
        painter.drawLine(at - QPointF(3.0, 0.0), at + QPointF(3.0, 0.0));
        painter.drawLine(at - QPointF(0.0, 3.0), at + QPointF(0.0, 3.0));
        painter.setFont(theme.font(12));
        // Beside the ring, on the side away from the body's middle.
        const bool leads = at.x() >= ground.place({0.0, 0.0}).x();
        const QRectF word(leads ? at.x() + 10.0 : at.x() - 70.0, at.y() + 4.0, 60.0,
                          theme.scaled(16));
        painter.drawText(word, (leads ? Qt::AlignLeft : Qt::AlignRight) | Qt::AlignVCenter,
                         tr("hinge"));
    }
    painter.restore();
}

} // namespace kite::app
