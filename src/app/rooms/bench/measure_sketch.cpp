#include "app/rooms/bench/measure_sketch.h"

#include "app/theme/theme.h"

#include <QPainter>
#include <QPainterPath>

#include <cmath>

namespace kite::app {

namespace {

/// All sketches are drawn in a box of 240 × 170.
constexpr double kAcross = 240.0;
constexpr double kHigh = 170.0;

struct Pens {
    QPen pelvis;
    QPen torso;
    QPen arm;
    QPen club;
    QPen soft;
    QPen fine;
    QPen accent;

    Pens() {
        const Colours& c = colours();
        const auto pen = [](const QColor& colour, double width) {
            QPen out(colour, width);
            out.setCapStyle(Qt::RoundCap);
            return out;
        };
        pelvis = pen(c.of(Segment::Pelvis), 5.0);
        torso = pen(c.of(Segment::Torso), 4.0);
        arm = pen(c.of(Segment::LeadArm), 3.2);
        club = pen(c.of(Segment::Club), 2.6);
        soft = pen(c.soft, 2.0);
        fine = QPen(c.line, 1.2, Qt::DashLine);
        accent = pen(c.accent, 2.0);
    }
};

void draw_arrow(QPainter& painter, QPointF from, QPointF to, const QPen& pen) {
    painter.setPen(pen);
    painter.drawLine(from, to);
    const double angle = std::atan2(to.y() - from.y(), to.x() - from.x());
    for (double side : {2.6, -2.6})
        painter.drawLine(to, to + 9.0 * QPointF(std::cos(angle + side), std::sin(angle + side)));
}

QPointF turned(QPointF about, double length, double degrees) {
    const double angle = degrees * 3.14159265358979 / 180.0;
    return about + length * QPointF(std::cos(angle), -std::sin(angle));
}

bool is_one_of(const QString& key, std::initializer_list<const char*> keys) {
    for (const char* one : keys)
        if (key == QLatin1String(one))
            return true;
    return false;
}

/// Target to the right, ball below.
void draw_from_above(QPainter& painter, const QString& key, const Pens& pens) {
    const QPointF middle(118, 78);
    painter.setPen(pens.fine);
    painter.drawLine(QPointF(14, 140), QPointF(226, 140));
    painter.drawLine(middle - QPointF(88, 0), middle + QPointF(88, 0));
    painter.setPen(Qt::NoPen);
    painter.setBrush(colours().soft);
    painter.drawEllipse(QPointF(118, 140), 4, 4);
    painter.setBrush(Qt::NoBrush);
    constexpr double kPelvis = 38.0;
    constexpr double kTorso = -12.0;
    const bool torso = key != QLatin1String("pelvis_turn") && key != QLatin1String("hinge_path");
    const bool pelvis = key != QLatin1String("torso_turn");
    if (torso) {
        painter.setPen(pens.torso);
        painter.drawLine(turned(middle, -66, kTorso), turned(middle, 66, kTorso));
    }
    if (pelvis) {
        painter.setPen(pens.pelvis);
        painter.drawLine(turned(middle, -48, kPelvis), turned(middle, 48, kPelvis));
    }
    const auto arc = [&](double from, double to, double radius) {
        painter.setPen(pens.accent);
        const QRectF box(middle.x() - radius, middle.y() - radius, 2 * radius, 2 * radius);
        painter.drawArc(box, static_cast<int>(from * 16), static_cast<int>((to - from) * 16));
    };
    if (key == QLatin1String("separation"))
        arc(kTorso, kPelvis, 58);
    else if (key == QLatin1String("torso_turn"))
        arc(kTorso, 0.0, 56);
    else if (key == QLatin1String("pelvis_turn"))
        arc(0.0, kPelvis, 56);
    if (key == QLatin1String("hinge_path")) {
        const QPointF hinge = turned(middle, 24, kPelvis) + QPointF(5, -12);
        QPainterPath path(middle + QPointF(-22, 6));
        path.quadTo(middle + QPointF(2, -20), hinge);
        painter.setPen(pens.accent);
        painter.drawPath(path);
        painter.setBrush(colours().accent);
        painter.drawEllipse(hinge, 4.5, 4.5);
        painter.setBrush(Qt::NoBrush);
    }
}

/// The golfer as lines. Face-on the target is to the right; down the line the ball is.
void draw_golfer(QPainter& painter, const QString& key, const Pens& pens, bool face_on) {
    const QPointF hips(face_on ? 120 : 104, 88);
    const QPointF neck = hips + (face_on ? QPointF(-6, -52) : QPointF(26, -46));
    painter.setPen(pens.fine);
    painter.drawLine(QPointF(40, 152), QPointF(200, 152));
    painter.setPen(pens.soft);
    if (face_on) {
        painter.drawPolyline(QPolygonF{hips + QPointF(-20, 4), {90, 120}, {86, 152}});
        painter.drawPolyline(QPolygonF{hips + QPointF(20, -4), {154, 118}, {150, 152}});
    } else {
        painter.drawPolyline(QPolygonF{hips, {118, 120}, {104, 152}});
    }
    painter.drawLine(hips, neck);
    painter.drawEllipse(neck + (face_on ? QPointF(0, -14) : QPointF(8, -13)), 10, 10);
    painter.setPen(pens.torso);
    painter.drawLine(neck + QPointF(face_on ? -32 : -7, face_on ? 14 : 0),
                     neck + QPointF(face_on ? 32 : 7, face_on ? 2 : 12));
    painter.setPen(pens.pelvis);
    if (face_on)
        painter.drawLine(hips + QPointF(-24, 5), hips + QPointF(24, -5));
    else
        painter.drawLine(hips + QPointF(-9, -9), hips + QPointF(9, 6));
    const bool torso = key.startsWith(QLatin1String("torso"));
    const QPointF at = torso ? neck : hips;
    if (key.endsWith(QLatin1String("sway")))
        draw_arrow(painter, at + QPointF(34, 0), at + QPointF(76, 0), pens.accent);
    else if (key.endsWith(QLatin1String("lift")))
        draw_arrow(painter, at + QPointF(44, 10), at + QPointF(44, -32), pens.accent);
    else if (key.endsWith(QLatin1String("depth")))
        draw_arrow(painter, at + QPointF(-18, 0), at + QPointF(-60, 0), pens.accent);
    else if (key.endsWith(QLatin1String("tilt"))) {
        const double tilt = torso ? 11.0 : 12.0;
        painter.setPen(pens.fine);
        painter.drawLine(at, at + QPointF(70, 0));
        painter.setPen(pens.accent);
        painter.drawArc(QRectF(at.x() - 56, at.y() - 56, 112, 112), 0, static_cast<int>(tilt * 16));
    } else if (key.endsWith(QLatin1String("bend"))) {
        painter.setPen(pens.fine);
        painter.drawLine(hips, hips + QPointF(0, -62));
        painter.setPen(pens.accent);
        // The torso leans along the spine; the pelvis has an upright of its own.
        const double lean = torso ? 29.0 : 15.0;
        const double reach = torso ? 44.0 : 30.0;
        if (!torso)
            painter.drawLine(hips, turned(hips, 46.0, 90.0 - lean));
        painter.drawArc(QRectF(hips.x() - reach, hips.y() - reach, 2 * reach, 2 * reach),
                        static_cast<int>((90.0 - lean) * 16), static_cast<int>(lean * 16));
    } else if (key == QLatin1String("lead_knee")) {
        painter.setPen(pens.fine);
        painter.drawLine(QPointF(154, 118), QPointF(163, 150));
        painter.setPen(pens.accent);
        painter.drawArc(QRectF(154 - 22, 118 - 22, 44, 44), 261 * 16, 24 * 16);
    } else if (key == QLatin1String("recentre")) {
        draw_arrow(painter, hips + QPointF(-60, 0), hips + QPointF(-34, 0), pens.accent);
        draw_arrow(painter, hips + QPointF(-34, -14), hips + QPointF(-60, -14), pens.soft);
    } else if (key == QLatin1String("hip_drop")) {
        draw_arrow(painter, hips + QPointF(40, -22), hips + QPointF(40, 12), pens.accent);
    } else if (key == QLatin1String("force")) {
        for (double x : {86.0, 150.0})
            draw_arrow(painter, QPointF(x, 168), QPointF(x, 126), pens.accent);
    } else if (key == QLatin1String("pressure")) {
        draw_arrow(painter, QPointF(150, 166), QPointF(150, 130), pens.accent);
        draw_arrow(painter, QPointF(86, 166), QPointF(86, 148), pens.soft);
    }
    if (!face_on) {
        painter.setPen(Qt::NoPen);
        painter.setBrush(colours().soft);
        painter.drawEllipse(QPointF(196, 148), 4, 4);
        painter.setBrush(Qt::NoBrush);
    }
}

void draw_peaks(QPainter& painter, const QString& key, const Pens& pens) {
    const std::array<const QPen*, 4> pen{&pens.pelvis, &pens.torso, &pens.arm, &pens.club};
    QPolygonF stair;
    for (int i = 0; i < 4; ++i) {
        const double base = 152.0 - 36.0 * i;
        const double x = 96.0 + 30.0 * i;
        QPainterPath ridge(QPointF(20, base));
        ridge.cubicTo(QPointF(x - 40, base), QPointF(x - 22, base - 30), QPointF(x, base - 30));
        ridge.cubicTo(QPointF(x + 22, base - 30), QPointF(x + 26, base - 12),
                      QPointF(226, base - 6));
        QPen thin = *pen[static_cast<std::size_t>(i)];
        thin.setWidthF(2.0);
        painter.setPen(thin);
        painter.drawPath(ridge);
        stair << QPointF(x, base - 30);
    }
    painter.setPen(pens.accent);
    if (is_one_of(key, {"order", "peak"})) {
        if (key == QLatin1String("order"))
            painter.drawPolyline(stair);
        for (const QPointF& at : stair)
            painter.drawEllipse(at, 4, 4);
    } else if (key == QLatin1String("at_ball")) {
        painter.drawEllipse(stair.last(), 6, 6);
        painter.drawLine(QPointF(stair.last().x(), 8), QPointF(stair.last().x(), 160));
    } else if (key == QLatin1String("lead")) {
        painter.drawLine(QPointF(34, 161), QPointF(58, 161));
        for (double x : {34.0, 58.0})
            painter.drawLine(QPointF(x, 156), QPointF(x, 166));
        painter.drawEllipse(QPointF(34, 151), 4, 4);
        painter.drawEllipse(QPointF(58, 43), 4, 4);
    } else if (key == QLatin1String("reversal")) {
        for (int i = 0; i < 4; ++i)
            painter.drawEllipse(QPointF(34.0 + 8.0 * i, 151.0 - 36.0 * i), 4, 4);
    } else if (key == QLatin1String("slow_down")) {
        draw_arrow(painter, QPointF(212, 122), QPointF(212, 144), pens.accent);
    } else {
        draw_arrow(painter, QPointF(40, 60), QPointF(40, 22), pens.accent);
    }
}

void draw_moments(QPainter& painter, const QString& key, const Pens& pens) {
    painter.setPen(pens.soft);
    painter.drawLine(QPointF(16, 96), QPointF(224, 96));
    for (double x : {30.0, 90.0, 150.0, 176.0, 198.0}) {
        painter.drawLine(QPointF(x, 70), QPointF(x, 104));
        painter.drawPolygon(QPolygonF{{x, 70}, {x + 11, 75}, {x, 80}});
    }
    painter.setPen(pens.accent);
    if (key == QLatin1String("tempo")) {
        painter.drawLine(QPointF(30, 124), QPointF(149, 124));
        painter.drawLine(QPointF(151, 136), QPointF(198, 136));
    } else {
        painter.drawEllipse(QPointF(150, 75), 12, 12);
    }
}

void draw_wrist(QPainter& painter, const QString& key, const Pens& pens) {
    const QPointF wrist(110, 90);
    painter.setPen(pens.arm);
    painter.drawLine(QPointF(52, 26), wrist);
    painter.setPen(pens.club);
    const QPointF head = wrist + QPointF(92, -40);
    painter.drawLine(wrist, head);
    painter.setPen(pens.fine);
    painter.drawLine(wrist, wrist + QPointF(45, 50));
    painter.setPen(pens.accent);
    if (key == QLatin1String("wrist_hinge"))
        painter.drawArc(QRectF(wrist.x() - 34, wrist.y() - 34, 68, 68), -48 * 16, 71 * 16);
    else if (key == QLatin1String("wrist_kept"))
        for (double reach : {30.0, 40.0})
            painter.drawArc(QRectF(wrist.x() - reach, wrist.y() - reach, 2 * reach, 2 * reach),
                            -48 * 16, static_cast<int>((reach - 5.0) * 2 * 16));
    else
        draw_arrow(painter, head, head + QPointF(20, 46), pens.accent);
}

/// What of a picture a topic means, where a line or an arrow is enough.
struct Mark {
    const char* key;
    QPointF from;
    QPointF to;
    enum class Kind { Arrow, Line, Ring } kind; ///< Ring: about `from`, through `to`
};

void draw_marks(QPainter& painter, const QString& key, const Pens& pens) {
    static const std::array kMarks{Mark{"trail_knee", {90, 120}, {104, 120}, Mark::Kind::Ring},
                                   Mark{"lead_elbow", {152, 70}, {162, 70}, Mark::Kind::Ring},
                                   Mark{"lead_elbow", {146, 38}, {152, 70}, Mark::Kind::Line},
                                   Mark{"lead_elbow", {152, 70}, {136, 96}, Mark::Kind::Line},
                                   Mark{"hand_height", {60, 40}, {60, 8}, Mark::Kind::Arrow},
                                   Mark{"head", {128, 22}, {164, 22}, Mark::Kind::Arrow},
                                   Mark{"head", {114, 8}, {114, -8}, Mark::Kind::Line},
                                   Mark{"spine_lean", {120, 88}, {120, 24}, Mark::Kind::Line},
                                   Mark{"spine_lean", {120, 34}, {116, 34}, Mark::Kind::Ring},
                                   Mark{"shaft_lean", {132, 98}, {118, 150}, Mark::Kind::Line},
                                   Mark{"shaft_lean", {118, 150}, {118, 98}, Mark::Kind::Line},
                                   Mark{"attack", {84, 132}, {140, 148}, Mark::Kind::Arrow},
                                   Mark{"low_point", {132, 149}, {137, 149}, Mark::Kind::Ring},
                                   Mark{"low_point", {118, 160}, {132, 160}, Mark::Kind::Arrow},
                                   Mark{"stance", {86, 162}, {150, 162}, Mark::Kind::Line},
                                   Mark{"stance", {126, 150}, {130, 150}, Mark::Kind::Ring},
                                   Mark{"pelvis_lean", {104, 88}, {104, 30}, Mark::Kind::Line},
                                   Mark{"pelvis_lean", {104, 44}, {112, 44}, Mark::Kind::Ring},
                                   Mark{"arm_across", {168, 64}, {96, 40}, Mark::Kind::Arrow},
                                   Mark{"hip_places", {92, 98}, {92, 62}, Mark::Kind::Arrow},
                                   Mark{"hip_places", {148, 84}, {148, 52}, Mark::Kind::Arrow},
                                   Mark{"path", {70, 150}, {180, 132}, Mark::Kind::Arrow},
                                   Mark{"start_back", {26, 150}, {31, 150}, Mark::Kind::Ring},
                                   Mark{"start_back", {26, 42}, {31, 42}, Mark::Kind::Ring}};
    for (const Mark& mark : kMarks) {
        if (key != QLatin1String(mark.key))
            continue;
        painter.setPen(pens.accent);
        const double reach = QLineF(mark.from, mark.to).length();
        switch (mark.kind) {
        case Mark::Kind::Arrow:
            draw_arrow(painter, mark.from, mark.to, pens.accent);
            break;
        case Mark::Kind::Line:
            painter.drawLine(mark.from, mark.to);
            break;
        case Mark::Kind::Ring:
            painter.drawEllipse(mark.from, reach, reach);
            break;
        }
    }
}

} // namespace

MeasureSketch::MeasureSketch(QWidget* parent) : QWidget(parent) {
    setMinimumHeight(Theme::instance().scaled(150));
}

void MeasureSketch::show_measure(const Topic& measure) {
    measure_ = &measure;
    update();
}

QSize MeasureSketch::sizeHint() const {
    return {static_cast<int>(kAcross), static_cast<int>(kHigh)};
}

void MeasureSketch::paintEvent(QPaintEvent* /*event*/) {
    if (measure_ == nullptr)
        return;
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing);
    const double scale = std::min(width() / kAcross, height() / kHigh);
    painter.translate((width() - kAcross * scale) / 2.0, (height() - kHigh * scale) / 2.0);
    painter.scale(scale, scale);
    const Pens pens;
    const QString key = QString::fromLatin1(measure_->key);
    switch (measure_->picture) {
    case Picture::FromAbove:
        draw_from_above(painter, key, pens);
        break;
    case Picture::FaceOn:
    case Picture::DownTheLine:
        draw_golfer(painter, key, pens, measure_->picture == Picture::FaceOn);
        break;
    case Picture::Peaks:
        draw_peaks(painter, key, pens);
        break;
    case Picture::Phases:
        draw_moments(painter, key, pens);
        break;
    case Picture::Wrist:
        draw_wrist(painter, key, pens);
        break;
    }
    draw_marks(painter, key, pens);
}

} // namespace kite::app
