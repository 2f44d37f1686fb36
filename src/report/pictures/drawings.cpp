#include "report/pictures/drawings.h"

#include "core/base/names.h"
#include "core/base/units.h"
#include "report/pictures/drill_body.h"
#include "report/pictures/ink_of.h"
#include "report/pictures/stair_steps.h"

#include <algorithm>
#include <cmath>
#include <functional>

namespace kite::report {

using Eigen::Vector2d;
using Eigen::Vector3d;

namespace {

// ---- the stair

/// Where time and speed lie; each part has a lane of its own, the ground lowest.
struct Lanes {
    double left_mm, right_mm, top_mm, lane_mm;
    double from_s, to_s;
    std::array<double, kSequence.size()> most_deg_s{};

    double x(double t_s) const {
        return left_mm + (t_s - from_s) / (to_s - from_s) * (right_mm - left_mm);
    }
    double floor(std::size_t part) const {
        return top_mm + lane_mm * static_cast<double>(kSequence.size() - part);
    }
    double y(std::size_t part, double deg_s) const {
        constexpr double kFilled = 0.8; // of the lane, by the fastest
        return floor(part) - kFilled * lane_mm * deg_s / most_deg_s[part];
    }
};

void draw_curve(Drawing& out, const Lanes& lanes, std::size_t part, const Curve& curve) {
    constexpr int kPoints = 160;
    std::vector<Spot> piece;
    const auto end = [&] {
        if (piece.size() > 1)
            out.line(piece, ink_of(kSequence[part]), 0.45);
        piece.clear();
    };
    for (int i = 0; i <= kPoints; ++i) {
        const double t_s = lanes.from_s + (lanes.to_s - lanes.from_s) * i / kPoints;
        const double rate = curve.at(t_s);
        if (std::isfinite(rate) && rate >= 0.0)
            piece.push_back({lanes.x(t_s), lanes.y(part, rate)});
        else
            end();
    }
    end();
}

void draw_steps(Drawing& out, const Lanes& lanes, const std::vector<StairStep>& steps,
                const Analysis& analysis, const Language& language) {
    const auto place = [&](const StairStep& step) {
        return Spot{lanes.x(step.t_s),
                    lanes.y(index_of(step.segment), landing_deg_s(analysis, step.segment))};
    };
    for (std::size_t i = 1; i < steps.size(); ++i) {
        const Spot a = place(steps[i - 1]);
        const Spot b = place(steps[i]);
        const Ink ink = steps[i].is_named ? Ink::Accent : Ink::Text;
        out.line({a, {b.x_mm, a.y_mm}, b}, ink, steps[i].is_named ? 0.9 : 0.6).dotted =
            steps[i].is_tied;
        const double ms = std::round(steps[i].after_below_ms);
        const std::string text =
            steps[i].is_tied ? language.translate(KITE_TR("tied"))
                             : filled(KITE_TR("{1} ms"),
                                      {(ms > 0.0 ? "+" : "") + written(ms, 0, language)}, language);
        out.words({b.x_mm + 1.2, 0.5 * (a.y_mm + b.y_mm) + 1.0}, text, 2.9, ink, Anchor::Start,
                  true);
    }
    for (const StairStep& step : steps) {
        const Spot at = place(step);
        const double half = lanes.x(step.t_s + 2.0 * step.u_s) - at.x_mm;
        if (std::isfinite(half)) {
            Shape& width = out.line({{at.x_mm - half, at.y_mm}, {at.x_mm + half, at.y_mm}},
                                    ink_of(step.segment), 1.5);
            width.opacity = 0.45;
        }
        out.disc(at, 1.1, ink_of(step.segment), Ink::Paper, 0.3);
    }
}

} // namespace

Drawing stair_drawing(const Analysis& analysis, const Reading& reading, double width_mm,
                      double height_mm, const Language& language) {
    Drawing out{width_mm, height_mm, {}, {}};
    const auto steps = stair_of_peaks(analysis.sequence, reading);
    const double impact = analysis.moments.reference_s();
    if (steps.empty() || !std::isfinite(impact)) {
        out.height_mm = 6.0;
        out.says = language.translate(KITE_TR("The order of the parts could not be measured."));
        out.words({0.0, 4.0}, out.says, 3.2, Ink::Soft);
        return out;
    }
    Lanes lanes{24.0,          width_mm - 14.0, 1.0, (height_mm - 7.0) / 4.0,
                impact - 0.30, impact + 0.05,   {}};
    for (const StairStep& step : steps)
        lanes.from_s = std::min(lanes.from_s, step.t_s - 0.05);
    for (std::size_t part = 0; part < kSequence.size(); ++part) {
        const auto* found = analysis.sequence.find(kSequence[part]);
        lanes.most_deg_s[part] =
            found != nullptr && found->peak_deg_s > 0.0 ? found->peak_deg_s : 1.0;
        const double y = lanes.floor(part);
        out.line({{lanes.left_mm, y}, {lanes.right_mm, y}}, Ink::Line, 0.2);
        out.words({0.0, y - 4.4}, part_name(kSequence[part], language), 3.0,
                  ink_of(kSequence[part]), Anchor::Start, true);
        out.words(
            {0.0, y - 0.9},
            found != nullptr && std::isfinite(found->peak_deg_s)
                ? filled(KITE_TR("{1} °/s"), {written(found->peak_deg_s, 0, language)}, language)
                : language.translate(KITE_TR("not measured")),
            2.7, Ink::Soft);
        draw_curve(out, lanes, part, analysis.rate_deg_s[part]);
    }
    const double bottom = lanes.floor(0);
    out.line({{lanes.x(impact), lanes.top_mm}, {lanes.x(impact), bottom}}, Ink::Soft, 0.3);
    out.words({lanes.x(impact), bottom + 3.6}, language.translate(KITE_TR("impact")), 2.7,
              Ink::Soft, Anchor::Middle);
    for (int ms = 100; impact - 1e-3 * ms > lanes.from_s; ms += 100) {
        const double x = lanes.x(impact - 1e-3 * ms);
        out.line({{x, bottom}, {x, bottom + 1.0}}, Ink::Line, 0.3);
        out.words({x, bottom + 3.6},
                  filled(KITE_TR("{1} ms"), {written(-ms, 0, language)}, language), 2.7, Ink::Soft,
                  Anchor::Middle);
    }
    draw_steps(out, lanes, steps, analysis, language);
    std::string words;
    for (const StairStep& step : steps)
        words += (words.empty() ? "" : ", ") +
                 filled(KITE_TR("{1} {2} ms before impact"),
                        {part_name(step.segment, language),
                         written(ms_from_s(impact - step.t_s), 0, language)},
                        language);
    out.says = filled(KITE_TR("Fastest moments: {1}."), {words}, language);
    return out;
}

// ---- the kite

Drawing kite_drawing(const MeasuredSwing& swing, double t_s, const std::string& when,
                     double width_mm, double height_mm, const Language& language) {
    Drawing out{width_mm, height_mm, {}, {}};
    const KitePicture kite = calc_kite(swing, t_s);
    out.words({0.0, 3.4}, when, 3.0, Ink::Text, Anchor::Start, true);
    if (!kite.hips || !kite.shoulders) {
        out.says = language.translate(KITE_TR("Hips and shoulders were not both measured then."));
        out.words({0.0, 8.0}, out.says, 2.7, Ink::Soft);
        return out;
    }
    constexpr double kSee_m = 0.66;     // from edge to edge
    constexpr double kAbove_mm = 4.5;   // words above the kite …
    constexpr double kAround_mm = 12.5; // … and above and below
    const double scale = std::min(width_mm, height_mm - kAround_mm) / kSee_m;
    const Vector2d middle_m = 0.5 * (kite.hips->lead_m + kite.hips->trail_m);
    const auto place = [&](const Vector2d& p_m) {
        const Vector2d at = (p_m - middle_m) * scale;
        return Spot{0.5 * width_mm + at.x(), kAbove_mm + 0.5 * (height_mm - kAround_mm) - at.y()};
    };
    // The way to the target, below.
    const double y = height_mm - 8.1;
    out.line({{0.5 * width_mm - 8.0, y}, {0.5 * width_mm + 8.0, y}}, Ink::Line, 0.3);
    out.line({{0.5 * width_mm + 6.6, y - 0.9},
              {0.5 * width_mm + 8.0, y},
              {0.5 * width_mm + 6.6, y + 0.9}},
             Ink::Soft, 0.3);
    out.words({0.5 * width_mm + 9.0, y + 0.9}, language.translate(KITE_TR("target")), 2.5,
              Ink::Soft);
    Shape& kite_area = out.area({place(kite.hips->trail_m), place(kite.shoulders->trail_m),
                                 place(kite.hips->lead_m), place(kite.shoulders->lead_m)},
                                Ink::Text, Ink::Soft, 0.25);
    kite_area.opacity = 0.07;
    const auto draw_line = [&](const KitePicture::Line& line, Ink ink, bool is_double) {
        out.line({place(line.trail_m), place(line.lead_m)}, ink, 1.2);
        if (is_double)
            out.line({place(line.trail_m), place(line.lead_m)}, Ink::Paper, 0.5);
        out.disc(place(line.trail_m), 1.0, Ink::Paper, ink, 0.45);
        out.disc(place(line.lead_m), 1.2, ink);
    };
    draw_line(*kite.shoulders, Ink::Torso, true);
    draw_line(*kite.hips, Ink::Pelvis, false);
    const auto turned = [&](Segment segment, double deg) {
        const char* words = std::abs(deg) < 0.5 ? KITE_TR("{1} square")
                            : deg > 0.0         ? KITE_TR("{1} {2}° open")
                                                : KITE_TR("{1} {2}° closed");
        return filled(words, {part_name(segment, language), written(std::abs(deg), 0, language)},
                      language);
    };
    const std::string hips = turned(Segment::Pelvis, kite.hips->turn_deg);
    const std::string shoulders = turned(Segment::Torso, kite.shoulders->turn_deg);
    out.words({0.0, height_mm - 4.0}, hips, 2.7, Ink::Pelvis, Anchor::Start, true);
    out.words({0.0, height_mm - 0.5}, shoulders, 2.7, Ink::Torso, Anchor::Start, true);
    std::string apart;
    if (std::isfinite(kite.separation_deg)) {
        const std::string deg = written(std::abs(kite.separation_deg), 0, language);
        apart = kite.separation_deg < -0.5 ? filled(KITE_TR("torso {1}° ahead"), {deg}, language)
                                           : filled(KITE_TR("{1}° apart"), {deg}, language);
        out.words({0.0, 7.2}, apart, 3.0, Ink::Text);
    }
    out.says = when + ": " + hips + ", " + shoulders + (apart.empty() ? "" : ", " + apart) + ".";
    return out;
}

// ---- a drill

namespace {

/// The golfer as lines; `place` says where a point of the lab lies.
void draw_body(Drawing& out, const Figure& figure, double scale,
               const std::function<Spot(const Vector3d&)>& place) {
    const auto line = [&](const std::optional<Vector3d>& a, const std::optional<Vector3d>& b,
                          Ink ink, double width_mm) {
        if (a && b)
            out.line({place(*a), place(*b)}, ink, width_mm);
    };
    line(figure.trail_hip_m, figure.trail_knee_m, Ink::Soft, 0.4);
    line(figure.trail_knee_m, figure.trail_ankle_m, Ink::Soft, 0.4);
    line(figure.lead_hip_m, figure.lead_knee_m, Ink::Soft, 0.55);
    line(figure.lead_knee_m, figure.lead_ankle_m, Ink::Soft, 0.55);
    const Vector3d hips = 0.5 * (*figure.lead_hip_m + *figure.trail_hip_m);
    line(hips, figure.neck_m, Ink::Soft, 0.4);
    line(figure.trail_shoulder_m, figure.lead_shoulder_m, Ink::Torso, 0.85);
    line(figure.trail_hip_m, figure.lead_hip_m, Ink::Pelvis, 0.95);
    line(figure.lead_shoulder_m, figure.wrist_m, Ink::LeadArm, 0.7);
    line(figure.wrist_m, figure.head_m, Ink::Club, 0.55);
    out.disc(place(*figure.lead_shoulder_m), 0.95, Ink::Torso, Ink::Paper);
    out.disc(place(*figure.lead_hip_m), 0.95, Ink::Pelvis, Ink::Paper);
    if (figure.head_m)
        out.disc(place(*figure.head_m), 0.95, Ink::Club, Ink::Paper);
    // The head goes on from the spine.
    const Vector3d head = *figure.neck_m + 0.17 * (*figure.neck_m - hips).normalized();
    out.disc(place(head), 1.0, Ink::Paper, Ink::Soft, 0.35).size = {0.095 * scale, 0.115 * scale};
}

void draw_prop(Drawing& out, const DrillProp& prop,
               const std::function<Spot(const Vector3d&)>& place) {
    const Spot at = place(Vector3d(prop.at_cm[0], prop.at_cm[1], prop.at_cm[2]) / 100.0);
    const Spot to = place(Vector3d(prop.to_cm[0], prop.to_cm[1], prop.to_cm[2]) / 100.0);
    switch (prop.shape) {
    case DrillProp::Shape::Line:
        out.line({at, to}, Ink::Soft, 0.5);
        break;
    case DrillProp::Shape::Ball:
        out.disc(at, 0.75, Ink::Line, Ink::Soft, 0.5);
        break;
    case DrillProp::Shape::Block:
        out.area({at, {to.x_mm, at.y_mm}, to, {at.x_mm, to.y_mm}}, Ink::Line, Ink::Soft, 0.5);
        break;
    }
}

/// One pose and what stands around it, `scale` millimetres a metre, on the ground below `foot`.
void draw_pose(Drawing& out, const DrillFigure& figure, const DrillPose& pose, Spot foot,
               double scale) {
    const bool face_on = figure.view == DrillFigure::View::FaceOn;
    const auto place = [&](const Vector3d& p_m) {
        const double right_m = face_on ? p_m.x() : -p_m.y() - 0.25;
        return Spot{foot.x_mm + right_m * scale, foot.y_mm - p_m.z() * scale};
    };
    for (const DrillProp& prop : figure.props)
        draw_prop(out, prop, place);
    draw_body(out, figure_of(pose), scale, place);
}

} // namespace

Drawing drill_drawing(const DrillFigure& figure, double width_mm, double height_mm) {
    Drawing out{width_mm, height_mm, {}, {}};
    if (figure.poses.empty())
        return out;
    // A golfer is drawn so large as has room; smaller where a club reaches far out.
    double left_m = 0.95;
    double right_m = 0.95;
    double high_m = 2.19;
    double low_m = 0.06;
    constexpr double kEdge_m = 0.07; // of discs and lines
    Drawing metres;
    for (const DrillPose& pose : figure.poses)
        draw_pose(metres, figure, pose, {}, 1.0);
    for (const Shape& shape : metres.shapes)
        for (const Spot& spot : shape.points) {
            left_m = std::max(left_m, kEdge_m - spot.x_mm);
            right_m = std::max(right_m, spot.x_mm + kEdge_m);
            high_m = std::max(high_m, kEdge_m - spot.y_mm);
            low_m = std::max(low_m, spot.y_mm + kEdge_m);
        }
    const double each_mm = width_mm / static_cast<double>(figure.poses.size());
    const double scale = std::min(each_mm / (left_m + right_m), height_mm / (high_m + low_m));
    const double ground = height_mm - low_m * scale;
    for (std::size_t i = 0; i < figure.poses.size(); ++i) {
        const double middle = (static_cast<double>(i) + 0.5) * each_mm;
        out.line({{middle - 0.47 * each_mm, ground}, {middle + 0.47 * each_mm, ground}}, Ink::Line,
                 0.3);
        const double foot = middle + 0.5 * (left_m - right_m) * scale;
        draw_pose(out, figure, figure.poses[i], {foot, ground}, scale);
    }
    return out;
}

} // namespace kite::report
