#include "app/charts/kite_view.h"

#include "app/theme/text.h"
#include "app/theme/theme.h"

#include <QPainter>

#include <cmath>

namespace kite::app {

namespace {

/// The part of the ground that is shown, metres against the pelvis at address. The way to the ball
/// is shortened: where the ball lies along the target line is what matters here.
constexpr double kLeft_m = -0.50;
constexpr double kRight_m = 0.56;
constexpr double kBall_m = -0.52;
constexpr double kFront_m = -0.58;
constexpr double kBack_m = 0.34;

} // namespace

KiteView::KiteView(ShownSwing* state, QWidget* parent) : QWidget(parent), state_(state) {
    setMinimumSize(220, 220);
    setAccessibleName(tr("Kite: hips and shoulders from above"));
    setToolTip(tr("Hip line and shoulder line from above, both through the pelvis; the target is "
                  "to the right.\n"
                  "The way to the ball is shortened."));
    connect(state_, &ShownSwing::cursor_changed, this, qOverload<>(&QWidget::update));
    connect(state_, &ShownSwing::swing_changed, this, [this] {
        hinge_way_ =
            state_->has_swing() ? calc_hinge_way(*state_->swing()) : std::vector<Eigen::Vector2d>{};
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
    const Theme& theme = Theme::instance();
    const Colours& c = colours();
    const KitePicture kite = calc_kite(*state_->swing(), state_->cursor_s());

    // Head line: separation now.
    const double pad = theme.scaled(14);
    const double head = theme.scaled(46);
    painter.setFont(theme.font(12));
    painter.setPen(c.soft);
    painter.drawText(QRectF(pad, theme.scaled(8), width() - 2.0 * pad, theme.scaled(17)),
                     Qt::AlignLeft | Qt::AlignVCenter,
                     before_impact_text(state_->ms_from_impact(state_->cursor_s())));
    if (std::isfinite(kite.separation_deg)) {
        painter.setFont(theme.font(22, Theme::Weight::Semibold));
        painter.setPen(c.ink);
        painter.drawText(QRectF(pad, theme.scaled(8), width() - 2.0 * pad, theme.scaled(24)),
                         Qt::AlignRight | Qt::AlignVCenter,
                         tr("%1°").arg(number_text(kite.separation_deg)));
        painter.setFont(theme.font(12));
        painter.setPen(c.soft);
        painter.drawText(QRectF(pad, theme.scaled(31), width() - 2.0 * pad, theme.scaled(15)),
                         Qt::AlignRight | Qt::AlignVCenter, tr("separation"));
    }

    const QRectF field(pad, head, width() - 2.0 * pad, height() - head - pad);
    const double scale =
        std::min(field.width() / (kRight_m - kLeft_m), field.height() / (kBack_m - kFront_m));
    const double x0 = field.center().x() - 0.5 * (kLeft_m + kRight_m) * scale;
    const double y0 = field.center().y() + 0.5 * (kBack_m + kFront_m) * scale;
    // The target is to the right, away from the ball is up.
    const auto place = [&](const Eigen::Vector2d& p_m) {
        return QPointF(x0 + p_m.x() * scale, y0 - p_m.y() * scale);
    };

    if (kite.ball_x_m) {
        const QPointF ball = place({*kite.ball_x_m, kBall_m});
        painter.setPen(QPen(c.line, 1.4, Qt::DashLine));
        painter.drawLine(QPointF(field.left(), ball.y()),
                         QPointF(field.right() - theme.scaled(4), ball.y()));
        painter.setPen(QPen(c.soft, 1.4));
        painter.drawPolyline(QPolygonF{{field.right() - 9.0, ball.y() - 4.5},
                                       {field.right() - 2.0, ball.y()},
                                       {field.right() - 9.0, ball.y() + 4.5}});
        painter.setFont(theme.font(12));
        painter.setPen(c.soft);
        painter.drawText(QRectF(field.left(), ball.y() - theme.scaled(19), field.width() - 2.0,
                                theme.scaled(16)),
                         Qt::AlignRight | Qt::AlignVCenter, tr("target"));
        painter.setPen(QPen(c.soft, 1.4));
        painter.setBrush(c.surface);
        painter.drawEllipse(ball, 5.0, 5.0);
    }
    painter.setBrush(Qt::NoBrush);
    painter.setPen(QPen(c.line, 1.6));
    for (const auto& foot : {kite.lead_foot_m, kite.trail_foot_m}) {
        if (!foot)
            continue;
        const QPointF at = place(*foot + Eigen::Vector2d(0.0, -0.07));
        painter.drawRoundedRect(
            QRectF(at.x() - 0.045 * scale, at.y() - 0.13 * scale, 0.09 * scale, 0.26 * scale),
            0.045 * scale, 0.045 * scale);
    }

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
        QPen pen(c.of(segment), is_double ? 5.0 : 4.5);
        pen.setCapStyle(Qt::RoundCap);
        painter.setPen(pen);
        painter.drawLine(place(line.trail_m), place(line.lead_m));
        if (is_double) {
            painter.setPen(QPen(c.surface, 2.0));
            painter.drawLine(place(line.trail_m), place(line.lead_m));
        }
        painter.setPen(QPen(c.of(segment), 2.0));
        painter.setBrush(c.surface);
        painter.drawEllipse(place(line.trail_m), 4.5, 4.5);
        painter.setBrush(c.of(segment));
        painter.drawEllipse(place(line.lead_m), 5.5, 5.5);
    };
    if (kite.shoulders)
        draw_line(*kite.shoulders, Segment::Torso, true);
    if (kite.hips)
        draw_line(*kite.hips, Segment::Pelvis, false);

    // Where the pelvis pivots, and the way it took through the downswing.
    painter.save();
    painter.setClipRect(field);
    QPolygonF way;
    for (const Eigen::Vector2d& p_m : hinge_way_)
        way << place(p_m);
    painter.setBrush(Qt::NoBrush);
    painter.setPen(QPen(c.of(Segment::Pelvis), 1.2, Qt::DotLine));
    painter.drawPolyline(way);
    const QRectF inner = field.adjusted(8.0, 8.0, -8.0, -8.0);
    if (kite.hinge_m && inner.contains(place(*kite.hinge_m))) {
        const QPointF at = place(*kite.hinge_m);
        painter.setPen(QPen(c.of(Segment::Pelvis), 1.8));
        painter.setBrush(c.surface);
        painter.drawEllipse(at, 6.5, 6.5);
        painter.drawLine(at - QPointF(3.0, 0.0), at + QPointF(3.0, 0.0));
        painter.drawLine(at - QPointF(0.0, 3.0), at + QPointF(0.0, 3.0));
    }
    painter.restore();

    // Turns in words, in the lines' own colours.
    painter.setFont(theme.font(13, Theme::Weight::Semibold));
    double y = y0 - kBall_m * scale - theme.scaled(46);
    const double key_px = theme.scaled(18); // a piece of the line itself before its name
    const auto say = [&](const std::optional<KitePicture::Line>& line, Segment segment,
                         const QString& name) {
        if (!line)
            return;
        const QLineF key(field.left(), y + key_px / 2.0, field.left() + key_px - 4.0,
                         y + key_px / 2.0);
        painter.setPen(QPen(c.of(segment), 4.5));
        painter.drawLine(key);
        if (segment == Segment::Torso) {
            painter.setPen(QPen(c.surface, 1.8));
            painter.drawLine(key);
        }
        painter.setPen(c.of(segment));
        painter.drawText(QRectF(field.left() + key_px, y, field.width(), theme.scaled(18)),
                         Qt::AlignLeft | Qt::AlignVCenter,
                         tr("%1 %2").arg(name, turn_text(line->turn_deg)));
        y += theme.scaled(18);
    };
    if (kite.hinge_m && inner.contains(place(*kite.hinge_m))) {
        painter.setFont(theme.font(12));
        painter.setPen(c.of(Segment::Pelvis));
        painter.drawText(QRectF(field.left(), y, field.width(), theme.scaled(18)),
                         Qt::AlignRight | Qt::AlignVCenter, tr("ring: hinge"));
        painter.setFont(theme.font(13, Theme::Weight::Semibold));
    }
    say(kite.shoulders, Segment::Torso, segment_name(Segment::Torso));
    say(kite.hips, Segment::Pelvis, segment_name(Segment::Pelvis));
}

} // namespace kite::app
