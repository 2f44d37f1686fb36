#include "app/charts/figure_view.h"

#include "app/charts/figure_painter.h"
#include "app/theme/text.h"
#include "app/theme/theme.h"

#include <QPainter>

#include <algorithm>
#include <cmath>

namespace kite::app {

namespace {

constexpr double kLowest_m = -0.06;
constexpr double kEdge_m = 0.08;

} // namespace

FigureView::FigureView(ShownSwing* state, From from, QWidget* parent)
    : QWidget(parent), state_(state), from_(from) {
    setMinimumSize(220, 220);
    setAccessibleName(from == From::FaceOn ? tr("Figure, face-on") : tr("Figure, down the line"));
    setToolTip(from == From::FaceOn ? tr("Seen from the ball; the target is to the right.")
                                    : tr("Seen along the target line; the ball is to the right."));
    connect(state_, &ShownSwing::cursor_changed, this, qOverload<>(&QWidget::update));
    connect(state_, &ShownSwing::swing_changed, this, &FigureView::swing_changed);
    connect(&Theme::instance(), &Theme::changed, this, qOverload<>(&QWidget::update));
}

double FigureView::across_of(const Eigen::Vector3d& p_m) const {
    // Face-on, from the ball: the target is to the right. Down the line: the ball is.
    return from_ == From::FaceOn ? p_m.x() : -p_m.y();
}

void FigureView::swing_changed() {
    traces_ = state_->has_swing() ? calc_traces(measured(*state_->swing())) : FigureTraces{};
    left_m_ = -0.5;
    right_m_ = 0.5;
    highest_m_ = 1.7;
    for (const auto* path : {&traces_.head_m, &traces_.wrist_m, &traces_.lead_hip_m})
        for (const Eigen::Vector3d& p_m : *path) {
            left_m_ = std::min(left_m_, across_of(p_m) - kEdge_m);
            right_m_ = std::max(right_m_, across_of(p_m) + kEdge_m);
            highest_m_ = std::max(highest_m_, p_m.z() + kEdge_m);
        }
    update();
}

void FigureView::show_traces(bool shown) {
    traces_shown_ = shown;
    update();
}

QSize FigureView::sizeHint() const {
    return {330, 330};
}

void FigureView::paintEvent(QPaintEvent* /*event*/) {
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing);
    if (!state_->has_swing())
        return;
    const Theme& theme = Theme::instance();
    const Colours& c = colours();
    const Figure figure = calc_figure(measured(*state_->swing()), state_->cursor_s());
    const double pad = theme.scaled(14);
    const double head = theme.scaled(28);
    painter.setFont(theme.font(12));
    painter.setPen(c.soft);
    painter.drawText(QRectF(pad, theme.scaled(8), width() - 2.0 * pad, theme.scaled(17)),
                     Qt::AlignLeft | Qt::AlignVCenter,
                     figure.empty()
                         ? tr("This source has no positions.")
                         : before_impact_text(state_->ms_from_impact(state_->cursor_s())));
    if (figure.empty())
        return;

    const QRectF field(pad, head, width() - 2.0 * pad, height() - head - pad);
    const double scale =
        std::min(field.width() / (right_m_ - left_m_), field.height() / (highest_m_ - kLowest_m));
    const double middle_m = 0.5 * (left_m_ + right_m_);
    const auto place = [&](const Eigen::Vector3d& p_m) {
        return QPointF(field.center().x() + (across_of(p_m) - middle_m) * scale,
                       field.bottom() - (p_m.z() - kLowest_m) * scale);
    };
    painter.setPen(QPen(c.line, 1.4));
    const double ground = field.bottom() + kLowest_m * scale;
    painter.drawLine(QPointF(field.left(), ground), QPointF(field.right(), ground));

    const auto trace = [&](const std::vector<Eigen::Vector3d>& path, const QColor& colour) {
        QPolygonF line;
        line.reserve(static_cast<qsizetype>(path.size()));
        for (const Eigen::Vector3d& p_m : path)
            line << place(p_m);
        QColor faint = colour;
        faint.setAlphaF(0.45F);
        painter.setPen(QPen(faint, 1.2));
        painter.setBrush(Qt::NoBrush);
        painter.drawPolyline(line);
    };
    if (traces_shown_) {
        trace(traces_.head_m, c.of(Segment::Club));
        trace(traces_.wrist_m, c.of(Segment::LeadArm));
        trace(traces_.lead_hip_m, c.of(Segment::Pelvis));
        trace(traces_.trail_hip_m, c.of(Segment::Pelvis));
    }
    draw_figure(painter, figure, place);
}

} // namespace kite::app
