#include "app/charts/drill_figure.h"

#include "app/charts/figure_painter.h"
#include "app/theme/theme.h"
#include "core/base/units.h"

#include <Eigen/Geometry>
#include <QPainter>

#include <algorithm>
#include <cmath>

namespace kite::app {

using Eigen::AngleAxisd;
using Eigen::Matrix3d;
using Eigen::Vector3d;

namespace {

// Of a body of 1.78 m: usual shares, for drawing only.
constexpr double kHip_m = 0.90;
constexpr double kHalfHips_m = 0.11;
constexpr double kShank_m = 0.43;
constexpr double kAnkle_m = 0.08;
constexpr double kSpine_m = 0.52;
constexpr double kHalfShoulders_m = 0.20;
constexpr double kArms_m = 0.60;
constexpr double kClub_m = 0.90;

Matrix3d about(double deg, const Vector3d& axis) {
    return AngleAxisd(rad_from_deg(deg), axis).toRotationMatrix();
}

/// The knee of a leg that bends towards the ball; straight where hip and ankle are too far apart.
Vector3d knee_between(const Vector3d& hip, const Vector3d& ankle) {
    const Vector3d along = ankle - hip;
    const double length = along.norm();
    const double half = 0.5 * length;
    const double bow = std::sqrt(std::max(0.0, kShank_m * kShank_m - half * half));
    Vector3d front(0.0, -1.0, 0.0);
    front -= front.dot(along) / (length * length) * along;
    return hip + 0.5 * along + bow * front.normalized();
}

} // namespace

Figure figure_of(const DrillPose& pose) {
    Figure out;
    // Turning open takes the trail hip to the ball: seen from above, the lead side goes back.
    const Vector3d up = Vector3d::UnitZ();
    const Vector3d hips(0.01 * pose.sway_cm, 0.01 * pose.depth_cm, kHip_m + 0.01 * pose.lift_cm);
    const Vector3d across = about(pose.pelvis_turn_deg, up) * Vector3d::UnitX();
    out.lead_hip_m = hips + kHalfHips_m * across;
    out.trail_hip_m = hips - kHalfHips_m * across;
    out.lead_ankle_m = Vector3d(0.01 * pose.lead_foot_cm, 0.0, kAnkle_m);
    out.trail_ankle_m = Vector3d(0.01 * pose.trail_foot_cm, 0.0, kAnkle_m);
    out.lead_knee_m = knee_between(*out.lead_hip_m, *out.lead_ankle_m);
    out.trail_knee_m = knee_between(*out.trail_hip_m, *out.trail_ankle_m);

    // The spine leans towards the ball, and away from the target where it is tilted.
    const Matrix3d lean = about(-pose.side_tilt_deg, Vector3d::UnitY()) *
                          about(pose.forward_bend_deg, Vector3d::UnitX());
    const Vector3d spine = lean * up;
    const Vector3d neck = hips + kSpine_m * spine;
    out.neck_m = neck;
    const Matrix3d torso = about(pose.torso_turn_deg, spine) * lean;
    out.lead_shoulder_m = neck + kHalfShoulders_m * (torso * Vector3d::UnitX());
    out.trail_shoulder_m = neck - kHalfShoulders_m * (torso * Vector3d::UnitX());
    if (pose.arms_crossed) {
        out.wrist_m = neck + torso * Vector3d(-0.08, -0.10, -0.14);
        return out;
    }
    const auto hanging = [&](double deg, double front) {
        const double a = rad_from_deg(deg);
        // In the plane of the chest at address: turning brings the arms there by itself.
        return Vector3d(lean * Vector3d(std::sin(a), -front, -std::cos(a))).normalized();
    };
    out.wrist_m = neck + kArms_m * hanging(pose.arms_deg, 0.45);
    if (pose.hinge_deg) {
        // The club lags behind on the way back and leads on the way through.
        const double side = pose.arms_deg < 0.0 ? -1.0 : 1.0;
        out.head_m = *out.wrist_m + kClub_m * hanging(pose.arms_deg + side * *pose.hinge_deg, 0.35);
    }
    return out;
}

void draw_drill(QPainter& painter, const QRectF& field, const DrillFigure& drawing) {
    if (drawing.poses.empty())
        return;
    const Colours& c = colours();
    const auto count = static_cast<double>(drawing.poses.size());
    const double width = field.width() / count;
    constexpr double kWide_m = 1.9;
    constexpr double kHigh_m = 2.25;
    const double scale = std::min(width / kWide_m, field.height() / kHigh_m);
    for (std::size_t i = 0; i < drawing.poses.size(); ++i) {
        const double middle = field.left() + (static_cast<double>(i) + 0.5) * width;
        const double ground = field.bottom() - 0.06 * scale;
        const bool face_on = drawing.view == DrillFigure::View::FaceOn;
        const auto place = [&](const Vector3d& p_m) {
            // As the golfer is seen on the Bench: the target, or the ball, to the right.
            const double right_m = face_on ? p_m.x() : -p_m.y() - 0.25;
            return QPointF(middle + right_m * scale, ground - p_m.z() * scale);
        };
        painter.setPen(QPen(c.line, 1.4));
        painter.drawLine(QPointF(middle - 0.47 * width, ground),
                         QPointF(middle + 0.47 * width, ground));
        for (const DrillProp& prop : drawing.props) {
            const Vector3d at = Vector3d(prop.at_cm[0], prop.at_cm[1], prop.at_cm[2]) / 100.0;
            const Vector3d to = Vector3d(prop.to_cm[0], prop.to_cm[1], prop.to_cm[2]) / 100.0;
            painter.setPen(QPen(c.soft, 2.4));
            painter.setBrush(c.line);
            if (prop.shape == DrillProp::Shape::Line)
                painter.drawLine(place(at), place(to));
            else if (prop.shape == DrillProp::Shape::Ball)
                painter.drawEllipse(place(at), 3.5, 3.5);
            else
                painter.drawRect(QRectF(place(at), place(to)).normalized());
        }
        const Figure figure = figure_of(drawing.poses[i]);
        draw_figure(painter, figure, place);
        // The head goes on from the spine.
        const Vector3d hips = 0.5 * (*figure.lead_hip_m + *figure.trail_hip_m);
        const Vector3d head = *figure.neck_m + 0.17 * (*figure.neck_m - hips).normalized();
        painter.setPen(QPen(c.soft, 1.6));
        painter.setBrush(c.surface);
        painter.drawEllipse(place(head), 0.095 * scale, 0.115 * scale);
    }
}

QImage picture_of_drill(const DrillFigure& drawing, const QSize& pixels) {
    QImage out(pixels, QImage::Format_ARGB32_Premultiplied);
    out.fill(Qt::transparent);
    QPainter painter(&out);
    painter.setRenderHint(QPainter::Antialiasing);
    draw_drill(painter, QRectF(QPointF(0, 0), QSizeF(pixels)), drawing);
    return out;
}

DrillFigureView::DrillFigureView(QWidget* parent) : QWidget(parent) {
    setObjectName(QStringLiteral("drill_figure"));
    setMinimumHeight(200);
    connect(&Theme::instance(), &Theme::changed, this, qOverload<>(&QWidget::update));
}

void DrillFigureView::show_drill(const Drill* drill) {
    drawing_ = drill == nullptr ? DrillFigure{} : drill->figure;
    setAccessibleName(
        drill == nullptr ? QString() : tr("Drawing: %1").arg(QString::fromStdString(drill->title)));
    update();
}

void DrillFigureView::paintEvent(QPaintEvent* /*event*/) {
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing);
    draw_drill(painter, QRectF(rect()).adjusted(6, 4, -6, -4), drawing_);
}

} // namespace kite::app
