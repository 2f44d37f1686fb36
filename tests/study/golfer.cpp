#include "study/golfer.h"

#include "core/base/units.h"
#include "core/motion/rotation.h"

#include <Eigen/Eigenvalues>

#include <algorithm>
#include <cmath>
#include <functional>

namespace kite::study {

using Eigen::AngleAxisd;
using Eigen::Quaterniond;
using Eigen::Vector3d;

const char* name_of(Shape shape) {
    switch (shape) {
    case Shape::Bell:
        return "bell";
    case Shape::SkewEarly:
        return "steep rise";
    case Shape::SkewLate:
        return "steep fall";
    case Shape::FlatTop:
        return "flat top";
    case Shape::TwoHumps:
        return "two humps";
    case Shape::Sharp:
        return "sharp";
    }
    return "";
}

namespace {

/// Log-normal bump: smooth, its peak at x = 0, one side steeper than the other; k > 0: the rise is.
double skewed(double x, double k) {
    const double inner = 1.0 + k * x;
    if (inner <= 0.0)
        return 0.0;
    const double u = std::log(inner) / k;
    return std::exp(-0.5 * u * u / 0.72); // half height at u = 1
}

/// Bumps of height about 1 with half-height half-width about 1.
double bump(Shape shape, double x) {
    switch (shape) {
    case Shape::Bell:
        return std::exp(-0.6931 * x * x);
    case Shape::SkewEarly:
        return skewed(x, 0.45);
    case Shape::SkewLate:
        return skewed(-x, 0.45);
    case Shape::FlatTop:
        return std::exp(-0.5 * std::pow(std::abs(x), 3.2)) * (1.0 - 0.04 * x * x) *
               (1.0 + 0.03 * x);
    case Shape::TwoHumps:
        return 0.86 * std::exp(-std::pow((x + 0.62) / 0.62, 2)) +
               0.95 * std::exp(-std::pow((x - 0.35) / 0.7, 2));
    case Shape::Sharp:
        return 1.0 / std::pow(1.0 + 0.26 * x * x, 3.0);
    }
    return 0.0;
}

/// 0 to 1, with all derivatives.
double step(double t, double from, double to) {
    if (t <= from)
        return 0.0;
    if (t >= to)
        return 1.0;
    const double u = (t - from) / (to - from);
    const double a = std::exp(-1.0 / u);
    const double b = std::exp(-1.0 / (1.0 - u));
    return a / (a + b);
}

} // namespace

Turning::Turning(const Plan& plan, double takeaway_s, double impact_s, double end_s)
    : impact_s_(impact_s), kept_(1.0 - plan.loss) {
    const auto count = static_cast<std::size_t>(std::ceil((end_s + 0.05) / step_s_)) + 2;
    rate_.resize(count);
    angle_.resize(count);
    const double peak_s = impact_s - plan.peak_before_ms / 1000.0 + plan.rises_after_ms / 1000.0;
    const double back_s = impact_s - plan.back_centre_s;
    // A slow part carries the follow-through on.
    const auto burst = [&](double t) {
        const double tail = 0.10 * step(t, peak_s - 1.5 * plan.width_s, peak_s + plan.width_s) *
                            (1.0 - step(t, peak_s + 0.25, peak_s + 0.65));
        return plan.peak_deg_s *
               (0.84 * bump(plan.shape, (t - peak_s) / plan.width_s) +
                0.16 * bump(Shape::Bell, (t - peak_s) / (2.2 * plan.width_s)) + tail) *
               step(t, peak_s - 4.5 * plan.width_s, peak_s - 1.8 * plan.width_s);
    };
    const auto lobe = [&](double t) {
        const double x = (t - back_s) / plan.back_width_s;
        return -std::exp(-0.6931 * x * x) * step(t, takeaway_s, takeaway_s + 0.25) *
               (1.0 - step(t, peak_s - 0.5 * plan.width_s, peak_s + 0.5 * plan.width_s));
    };
    // The size of the backswing is what brings the part to its angle at impact.
    double lobe_area = 0.0;
    double burst_area = 0.0;
    for (double t = takeaway_s; t < impact_s; t += step_s_) {
        lobe_area += lobe(t) * step_s_;
        burst_area += burst(t) * step_s_;
    }
    const double size = lobe_area == 0.0 ? 0.0 : (plan.impact_deg - burst_area) / lobe_area;
    double angle = 0.0;
    for (std::size_t i = 0; i < count; ++i) {
        const double t = step_s_ * static_cast<double>(i);
        rate_[i] = t <= takeaway_s ? 0.0 : size * lobe(t) + burst(t);
        if (t > 0.0 && i > 0)
            angle += 0.5 * step_s_ * (rate_[i] + rate_[i - 1]);
        angle_[i] = angle;
    }
}

double Turning::rate_deg_s(double t_s) const {
    const double u = std::clamp(t_s / step_s_, 0.0, static_cast<double>(rate_.size() - 2));
    const auto i = static_cast<std::size_t>(u);
    const double f = u - static_cast<double>(i);
    const double rate = rate_[i] * (1.0 - f) + rate_[i + 1] * f;
    // The ball takes its share; some of it comes back as the golfer swings on.
    return t_s > impact_s_
               ? rate * (kept_ + (1.0 - kept_) * (1.0 - std::exp(-(t_s - impact_s_) / 0.08)))
               : rate;
}

double Turning::angle_deg(double t_s) const {
    const auto at = [&](double t) {
        const double u = std::clamp(t / step_s_, 0.0, static_cast<double>(rate_.size() - 2));
        const auto i = static_cast<std::size_t>(u);
        const double f = (u - static_cast<double>(i)) * step_s_;
        const double slope = (rate_[i + 1] - rate_[i]) / step_s_;
        return angle_[i] + rate_[i] * f + 0.5 * slope * f * f;
    };
    if (t_s <= impact_s_ || kept_ == 1.0)
        return at(t_s);
    // What the ball took, integrated.
    double lost = 0.0;
    const double h = 0.001;
    double t = impact_s_;
    while (t < t_s - 1e-12) {
        const double next = std::min(t + h, t_s);
        const double middle = 0.5 * (t + next);
        const double u = std::clamp(middle / step_s_, 0.0, static_cast<double>(rate_.size() - 2));
        const auto i = static_cast<std::size_t>(u);
        lost += rate_[i] * (1.0 - kept_) * std::exp(-(middle - impact_s_) / 0.08) * (next - t);
        t = next;
    }
    return at(t_s) - lost;
}

Golfer draw_golfer(std::mt19937& random, double apart_ms) {
    const auto uniform = [&](double low, double high) {
        return std::uniform_real_distribution<double>(low, high)(random);
    };
    const auto normal = [&](double mean, double sd) {
        return std::normal_distribution<double>(mean, sd)(random);
    };
    Golfer g;
    g.seed = static_cast<std::uint32_t>(random());
    g.handed = uniform(0.0, 1.0) < 0.15 ? Handedness::Left : Handedness::Right;
    constexpr std::array kClubs{ClubKind::Driver, ClubKind::Wood, ClubKind::Iron, ClubKind::Iron,
                                ClubKind::Wedge};
    g.club = kClubs[static_cast<std::size_t>(uniform(0.0, 4.999))];
    Body& b = g.body;
    b.height_m = uniform(1.52, 1.95);
    const double size = b.height_m / 1.78;
    b.pelvis_width_m = size * uniform(0.22, 0.28);
    b.pelvis_depth_m = size * uniform(0.13, 0.18);
    b.arm_m = size * uniform(0.56, 0.66);
    b.club_m = g.club == ClubKind::Driver ? uniform(1.08, 1.15)
               : g.club == ClubKind::Wood ? uniform(1.02, 1.08)
               : g.club == ClubKind::Iron ? uniform(0.92, 0.99)
                                          : uniform(0.86, 0.91);
    b.pelvis_bend_deg = uniform(12.0, 26.0);
    b.torso_bend_deg = uniform(30.0, 45.0);
    b.stance_m = uniform(0.34, 0.56);
    b.head_off_shaft_m = uniform(0.0, 0.05);
    g.still_s = uniform(0.6, 1.3);
    g.swing_s = uniform(0.95, 1.35);
    g.follow_s = uniform(0.7, 1.1);
    g.open_at_address_deg = {normal(0.0, 3.0), normal(0.0, 3.5), normal(0.0, 3.0)};
    g.sway_back_m = uniform(-0.035, 0.0);
    g.sway_top_m = g.sway_back_m + uniform(0.0, 0.02);
    g.sway_impact_m = uniform(0.07, 0.15);
    g.depth_impact_m = uniform(-0.005, 0.04);
    g.drop_m = uniform(-0.035, -0.005);
    g.lift_impact_m = uniform(0.0, 0.04);
    g.side_tilt_impact_deg = uniform(-22.0, -6.0);
    g.plane_shift_deg = uniform(-3.0, 9.0);
    g.plane_turn_deg = normal(0.0, 3.0);
    g.elbow_share = uniform(0.0, 0.04);
    const auto shape = [&] { return kShapes[static_cast<std::size_t>(uniform(0.0, 5.999))]; };
    const double speed = uniform(0.8, 1.12) * (g.club == ClubKind::Wedge ? 0.88 : 1.0);
    double peak = uniform(30.0, 50.0);
    const auto next = [&] { return peak += std::max(-12.0, normal(apart_ms, 9.0)); };
    const double down_s = uniform(0.85, 1.2);
    // Arm first: it is nearest to the ball.
    auto& arm = g.plans[index_of(Segment::LeadArm)];
    arm = {shape(),
           peak,
           speed * normal(960, 60),
           down_s * uniform(0.095, 0.125),
           uniform(0.60, 0.68),
           uniform(0.19, 0.25),
           normal(4.0, 4.0),
           0.0,
           0.0,
           100.0};
    auto& torso = g.plans[index_of(Segment::Torso)];
    torso = {shape(),
             next(),
             speed * normal(700, 60),
             down_s * uniform(0.085, 0.115),
             uniform(0.66, 0.74),
             uniform(0.20, 0.26),
             normal(28.0, 6.0),
             0.0,
             0.0,
             80.0};
    auto& pelvis = g.plans[index_of(Segment::Pelvis)];
    pelvis = {shape(),
              next(),
              speed * normal(460, 45),
              down_s * uniform(0.085, 0.115),
              uniform(0.68, 0.78),
              uniform(0.20, 0.26),
              normal(42.0, 7.0),
              0.0,
              0.0,
              60.0};
    auto& club = g.plans[index_of(Segment::Club)];
    const double late = uniform(0.0, 1.0);
    club = {late < 0.4 ? Shape::Bell : shape(),
            late < 0.6 ? uniform(-2.0, 3.0) : uniform(3.0, 18.0),
            speed * normal(2050, 130),
            down_s * uniform(0.066, 0.088),
            uniform(0.60, 0.68),
            uniform(0.20, 0.25),
            0.0,
            uniform(0.12, 0.25),
            0.0,
            120.0};
    return g;
}

Motion::Motion(const Golfer& golfer) : golfer_(golfer) {
    impact_s_ = golfer_.still_s + golfer_.swing_s;
    hip_height_m_ = 0.515 * golfer_.body.height_m;
    for (Segment segment : {Segment::Pelvis, Segment::Torso, Segment::LeadArm})
        turning_[index_of(segment)] =
            Turning(golfer_.plans[index_of(segment)], golfer_.still_s, impact_s_, end_s());
    // The club comes to the ball where the head stood at address, at the very moment of the blow:
    // its angle there is found by halving.
    auto plan = golfer_.plans[index_of(Segment::Club)];
    double low = -40.0;
    double high = 40.0;
    for (int i = 0; i < 40; ++i) {
        plan.impact_deg = 0.5 * (low + high);
        turning_[index_of(Segment::Club)] = Turning(plan, golfer_.still_s, impact_s_, end_s());
        (head(impact_s_).x() < head(0.0).x() ? low : high) = plan.impact_deg;
    }
}

Motion::Pose Motion::pelvis(double t) const {
    const Golfer& g = golfer_;
    const double t0 = g.still_s;
    const double T = impact_s_;
    const double a = step(t, t0, t0 + 0.45 * g.swing_s);
    const double b = step(t, t0 + 0.45 * g.swing_s, t0 + 0.76 * g.swing_s);
    const double c = step(t, t0 + 0.66 * g.swing_s, T + 0.03);
    const double d = step(t, T - 0.25, T + 0.3);
    const double dip = step(t, T - 0.36, T - 0.12) - step(t, T - 0.14, T + 0.02);
    Pose out;
    out.p = {g.sway_back_m * a + (g.sway_top_m - g.sway_back_m) * b +
                 (g.sway_impact_m - g.sway_top_m) * c + 0.05 * d,
             0.012 * a + (g.depth_impact_m - 0.012) * c,
             hip_height_m_ + g.drop_m * dip + g.lift_impact_m * step(t, T - 0.16, T + 0.02)};
    const double turn =
        rad_from_deg(g.open_at_address_deg[0] + turning_[index_of(Segment::Pelvis)].angle_deg(t));
    const double tilt = rad_from_deg(-4.0 * b + 10.0 * c);
    // About an axis that is bent forward and leans a little.
    out.q = Quaterniond(AngleAxisd(-tilt, Vector3d::UnitY()) *
                        AngleAxisd(rad_from_deg(g.body.pelvis_bend_deg), Vector3d::UnitX()) *
                        AngleAxisd(turn, Vector3d::UnitZ()));
    return out;
}

Motion::Pose Motion::torso(double t) const {
    const Golfer& g = golfer_;
    const double T = impact_s_;
    const Pose base = pelvis(t);
    const double size = g.body.height_m / 1.78;
    const double lean = rad_from_deg(g.side_tilt_impact_deg * step(t, T - 0.3, T + 0.06) +
                                     4.0 * step(t, g.still_s, g.still_s + 0.7 * g.swing_s));
    const double bend = rad_from_deg(g.body.torso_bend_deg - 9.0 * step(t, T - 0.1, T + 0.4));
    const double turn =
        rad_from_deg(g.open_at_address_deg[1] + turning_[index_of(Segment::Torso)].angle_deg(t));
    Pose out;
    out.q = Quaterniond(AngleAxisd(lean, Vector3d::UnitY()) * AngleAxisd(bend, Vector3d::UnitX()) *
                        AngleAxisd(turn, Vector3d::UnitZ()));
    const Vector3d low = base.p + base.q * Vector3d(0.0, 0.03, 0.11 * size);
    out.p = low + out.q * Vector3d(0.0, -0.015, 0.41 * size);
    return out;
}

double Motion::arm_length_m(double t) const {
    const Golfer& g = golfer_;
    const double bent = step(t, g.still_s + 0.3 * g.swing_s, g.still_s + 0.75 * g.swing_s) -
                        step(t, impact_s_ - 0.25, impact_s_ - 0.05) +
                        2.0 * step(t, impact_s_ + 0.12, impact_s_ + 0.5);
    return g.body.arm_m * (1.0 - g.elbow_share * bent);
}

namespace {

/// A frame whose -Z turns in a plane: at angle 0 it points down the plane's slope towards the ball.
Quaterniond in_plane(double inclination_deg, double line_deg, double angle_deg) {
    // Down the slope: towards -y and down.
    const double i = rad_from_deg(inclination_deg);
    const Vector3d down(0.0, -std::cos(i), -std::sin(i));
    const Vector3d along(1.0, 0.0, 0.0);
    const double a = rad_from_deg(angle_deg);
    const AngleAxisd line(rad_from_deg(line_deg), Vector3d::UnitZ());
    const Vector3d direction = line * (std::cos(a) * down + std::sin(a) * along);
    const Vector3d normal = line * along.cross(down) * -1.0; // down × along: the way it turns
    Eigen::Matrix3d R;
    const Vector3d z = -direction;
    const Vector3d y = normal.cross(z).normalized();
    // Columns: X = y × z.
    R << y.cross(z).normalized(), y, z;
    return Quaterniond(R).normalized();
}

} // namespace

Motion::Pose Motion::arm(double t) const {
    const Golfer& g = golfer_;
    const Pose chest = torso(t);
    const double size = g.body.height_m / 1.78;
    Pose out;
    // The shoulder comes forward across the chest in the backswing.
    const double across =
        step(t, g.still_s, g.still_s + 0.75 * g.swing_s) - step(t, impact_s_ - 0.3, impact_s_);
    out.p = chest.p + chest.q * Vector3d(size * (0.175 - 0.02 * across), -0.02 * across, -0.02);
    const double steep = 52.0 + 5.0 * across;
    out.q =
        in_plane(steep, 0.5 * g.plane_turn_deg, turning_[index_of(Segment::LeadArm)].angle_deg(t));
    return out;
}

Vector3d Motion::wrist(double t) const {
    const Pose lead = arm(t);
    return lead.p - arm_length_m(t) * (lead.q * Vector3d::UnitZ());
}

Motion::Pose Motion::club(double t) const {
    const Golfer& g = golfer_;
    const double lie = g.club == ClubKind::Driver ? 46.0
                       : g.club == ClubKind::Wood ? 50.0
                       : g.club == ClubKind::Iron ? 57.0
                                                  : 61.0;
    const double flat = g.plane_shift_deg * (step(t, impact_s_ - 0.45, impact_s_ - 0.15) -
                                             0.6 * step(t, impact_s_ - 0.12, impact_s_ + 0.05));
    const double roll = 75.0 * (step(t, g.still_s, g.still_s + 0.7 * g.swing_s) -
                                1.3 * step(t, impact_s_ - 0.2, impact_s_ + 0.1));
    Pose out;
    out.q = in_plane(lie - flat, g.plane_turn_deg, turning_[index_of(Segment::Club)].angle_deg(t)) *
            AngleAxisd(rad_from_deg(roll), Vector3d::UnitZ());
    out.p = wrist(t);
    return out;
}

Motion::Pose Motion::pose(Segment segment, double t) const {
    switch (segment) {
    case Segment::Pelvis:
        return pelvis(t);
    case Segment::Torso:
        return torso(t);
    case Segment::LeadArm:
        return arm(t);
    default:
        return club(t);
    }
}

Vector3d Motion::head(double t) const {
    const Pose c = club(t);
    return c.p + c.q * Vector3d(golfer_.body.head_off_shaft_m, 0.0, -golfer_.body.club_m);
}

Vector3d Motion::ankle(bool lead, double t) const {
    const Golfer& g = golfer_;
    const double half = 0.5 * g.body.stance_m * (lead ? 1.0 : -1.0);
    const double a = rad_from_deg(g.open_at_address_deg[2]);
    // The trail heel comes up after impact.
    const double heel = lead ? 0.0 : 0.06 * step(t, impact_s_ - 0.05, impact_s_ + 0.35);
    return {half * std::cos(a), 0.06 + half * std::sin(a), 0.085 + heel};
}

Vector3d Motion::hip(bool lead, double t) const {
    const Pose p = pelvis(t);
    const double width = 2.0 * (0.33 * golfer_.body.pelvis_width_m + 0.0073);
    return p.p + p.q * Vector3d((lead ? 0.5 : -0.5) * width, 0.0, 0.0);
}

Vector3d Motion::knee(bool lead, double t) const {
    const Vector3d foot = ankle(lead, t);
    const Vector3d line = hip(lead, t) - foot;
    const double shank = 0.245 * golfer_.body.height_m;
    const double thigh = 0.25 * golfer_.body.height_m;
    const double d = std::min(line.norm(), 0.998 * (shank + thigh));
    const double along = (shank * shank - thigh * thigh + d * d) / (2.0 * d);
    const double out = std::sqrt(std::max(0.0, shank * shank - along * along));
    const Vector3d up = line.normalized();
    Vector3d ball(0.15 * (lead ? 1.0 : -1.0), -1.0, 0.0);
    ball -= ball.dot(up) * up;
    return foot + along * up + out * ball.normalized();
}

MarkerTake capture_markers(const Motion& motion, double rate_hz, double noise_mm,
                           std::uint32_t seed) {
    const Golfer& g = motion.golfer();
    MarkerTake out;
    out.name = "study";
    out.rate_hz = rate_hz;
    out.frames = static_cast<std::size_t>(std::floor(motion.end_s() * rate_hz)) + 1;
    out.handed = g.handed;
    out.club = g.club;
    std::mt19937 random(seed);
    std::normal_distribution<double> noise(0.0, m_from_mm(noise_mm));
    const bool left = g.handed == Handedness::Left;
    const auto add = [&](std::string label, const std::function<Vector3d(double)>& at) {
        if (left && label.rfind("CLB", 0) != 0 && label != "CLAV") {
            if (label.front() == 'L')
                label.front() = 'R';
            else if (label.front() == 'R')
                label.front() = 'L';
        }
        const double phase = 6.28 * std::generate_canonical<double, 20>(random);
        std::vector<Vector3d> track(out.frames);
        for (std::size_t i = 0; i < out.frames; ++i) {
            const double t = static_cast<double>(i) / rate_hz;
            Vector3d p = at(t);
            if (g.skin_mm > 0.0 && label.rfind("CLB", 0) != 0)
                p += m_from_mm(g.skin_mm) * Vector3d(std::sin(9.0 * t + phase),
                                                     std::cos(7.0 * t + phase),
                                                     std::sin(5.0 * t - phase));
            if (noise_mm > 0.0)
                p += Vector3d(noise(random), noise(random), noise(random));
            track[i] = left ? mirrored(p) : p;
        }
        out.labels.push_back(std::move(label));
        out.tracks_m.push_back(std::move(track));
    };
    const Body& b = g.body;
    const double size = b.height_m / 1.78;
    const HipJointCentres joints = calc_hip_joint_centres(b.pelvis_width_m, b.pelvis_depth_m);
    const Vector3d mid = -0.5 * (joints.lead_m + joints.trail_m);
    const auto on = [&](Segment segment, const Vector3d& p) {
        return [&motion, segment, p](double t) -> Vector3d {
            const Motion::Pose pose = motion.pose(segment, t);
            return pose.p + pose.q * p;
        };
    };
    const double w = 0.5 * b.pelvis_width_m;
    add("LASI", on(Segment::Pelvis, mid + Vector3d(w, 0, 0)));
    add("RASI", on(Segment::Pelvis, mid + Vector3d(-w, 0, 0)));
    add("LPSI", on(Segment::Pelvis, mid + Vector3d(0.05 * size, b.pelvis_depth_m, 0)));
    add("RPSI", on(Segment::Pelvis, mid + Vector3d(-0.05 * size, b.pelvis_depth_m, 0)));
    const Vector3d up = size * Vector3d(0.0, 0.07, 0.02);
    const Vector3d low = size * Vector3d(0.0, 0.105, 0.02);
    add("C7", on(Segment::Torso, up));
    add("CLAV", on(Segment::Torso, -up));
    add("T10", on(Segment::Torso, low + Vector3d(0, 0, -0.21 * size)));
    add("STRN", on(Segment::Torso, -low + Vector3d(0, 0, -0.21 * size)));
    add("LSHO", [&](double t) { return motion.arm(t).p; });
    add("RSHO", on(Segment::Torso, Vector3d(-0.175 * size, 0, -0.02)));
    add("LELB", [&](double t) -> Vector3d {
        const Motion::Pose a = motion.arm(t);
        const Vector3d line = motion.wrist(t) - a.p;
        return a.p + 0.53 * line + 0.5 * (b.arm_m - line.norm()) * (a.q * Vector3d::UnitX());
    });
    const auto wrist = [&](double aside) {
        return [&motion, aside](double t) -> Vector3d {
            return motion.wrist(t) + aside * (motion.club(t).q * Vector3d(0.6, 0.8, 0.0));
        };
    };
    add("LWRA", wrist(0.032));
    add("LWRB", wrist(-0.032));
    const auto trail = [&](double share, double aside) {
        return [&motion, share, aside, size](double t) -> Vector3d {
            const Motion::Pose chest = motion.torso(t);
            const Vector3d from = chest.p + chest.q * Vector3d(-0.175 * size, 0, -0.02);
            const Motion::Pose c = motion.club(t);
            const Vector3d to = c.p - 0.09 * (c.q * Vector3d::UnitZ());
            return from + share * (to - from) + aside * (c.q * Vector3d(0.6, 0.8, 0.0)) +
                   (share == 0.5 ? 0.06 * (chest.q * Vector3d(0, -0.3, -1)) : Vector3d(0, 0, 0));
        };
    };
    add("RELB", trail(0.5, 0.0));
    add("RWRA", trail(1.0, 0.032));
    add("RWRB", trail(1.0, -0.032));
    add("LKNE", [&](double t) { return motion.knee(true, t); });
    add("RKNE", [&](double t) { return motion.knee(false, t); });
    add("LANK", [&](double t) { return motion.ankle(true, t); });
    add("RANK", [&](double t) { return motion.ankle(false, t); });
    add("CLB1", on(Segment::Club, {0, 0, -0.3 * b.club_m}));
    add("CLB2", on(Segment::Club, {0, 0, -0.82 * b.club_m}));
    add("CLB3", on(Segment::Club, {b.head_off_shaft_m, 0, -b.club_m}));
    return out;
}

Take capture_poses(const Motion& motion, double rate_hz, double noise_deg, double noise_mm,
                   std::uint32_t seed) {
    const Golfer& g = motion.golfer();
    Take take;
    take.name = "study";
    take.rate_hz = rate_hz;
    take.frames = static_cast<std::size_t>(std::floor(motion.end_s() * rate_hz)) + 1;
    take.handed = g.handed;
    take.club = g.club;
    take.arm_length_m = g.body.arm_m;
    take.club_length_m = g.body.club_m;
    take.hip_joint_width_m = (motion.hip(true, 0.0) - motion.hip(false, 0.0)).norm();
    std::mt19937 random(seed);
    std::normal_distribution<double> normal(0.0, 1.0);
    const auto vector = [&] { return Vector3d(normal(random), normal(random), normal(random)); };
    for (Segment segment : kSequence) {
        PoseSeries series;
        for (std::size_t i = 0; i < take.frames; ++i) {
            const Motion::Pose pose = motion.pose(segment, take.time_of(i));
            series.q_lab_segment.push_back(
                (exp_of(rad_from_deg(noise_deg) * vector()) * pose.q).normalized());
            series.p_lab_m.push_back(pose.p + m_from_mm(noise_mm) * vector());
        }
        take.segments[segment] = std::move(series);
    }
    for (bool lead : {true, false}) {
        auto& ankle = take.points_lab_m[lead ? BodyPoint::LeadAnkle : BodyPoint::TrailAnkle];
        auto& knee = take.points_lab_m[lead ? BodyPoint::LeadKnee : BodyPoint::TrailKnee];
        for (std::size_t i = 0; i < take.frames; ++i) {
            ankle.push_back(motion.ankle(lead, take.time_of(i)) + m_from_mm(noise_mm) * vector());
            knee.push_back(motion.knee(lead, take.time_of(i)) + m_from_mm(noise_mm) * vector());
        }
    }
    return take;
}

namespace {

constexpr double kTiny_s = 2e-5;

Vector3d omega_of(const Motion& motion, Segment segment, double t, bool one_sided) {
    const double from = t - kTiny_s;
    const double to = one_sided ? t : t + kTiny_s;
    return log_of(motion.pose(segment, to).q * motion.pose(segment, from).q.conjugate()) /
           (to - from);
}

} // namespace

std::vector<Segment> MotionTruth::order() const {
    std::vector<Segment> out(kSequence.begin(), kSequence.end());
    std::stable_sort(out.begin(), out.end(), [&](Segment a, Segment b) {
        return parts[index_of(a)].peak_s < parts[index_of(b)].peak_s;
    });
    return out;
}

MotionTruth truth_of(const Motion& motion) {
    MotionTruth out;
    const double impact = motion.impact_s();
    const double start = motion.takeaway_s();
    constexpr double kStep = 0.001;
    // The plane of the club head from shaft level down to shaft level through.
    const auto shaft = [&](double t) { return -(motion.club(t).q * Vector3d::UnitZ()).z(); };
    const auto refine = [&](const std::function<double(double)>& f, double low, double high) {
        const bool rising = f(high) > f(low);
        for (int i = 0; i < 40; ++i) {
            const double middle = 0.5 * (low + high);
            ((f(middle) < 0.0) == rising ? low : high) = middle;
        }
        return 0.5 * (low + high);
    };
    double level_down = impact - 0.1;
    for (double t = impact; t > impact - 0.3; t -= kStep)
        if (shaft(t - kStep) >= 0.0 && shaft(t) < 0.0) {
            level_down = refine(shaft, t - kStep, t);
            break;
        }
    double level_through = impact + 0.1;
    for (double t = impact; t < impact + 0.3; t += kStep)
        if (shaft(t) < 0.0 && shaft(t + kStep) >= 0.0) {
            level_through = refine(shaft, t, t + kStep);
            break;
        }
    std::vector<Vector3d> path;
    Vector3d mean = Vector3d::Zero();
    for (double t = level_down; t <= level_through; t += kStep) {
        path.push_back(motion.head(t));
        mean += path.back();
    }
    mean /= static_cast<double>(path.size());
    Eigen::Matrix3d spread = Eigen::Matrix3d::Zero();
    for (const Vector3d& p : path)
        spread += (p - mean) * (p - mean).transpose();
    Vector3d n = Eigen::SelfAdjointEigenSolver<Eigen::Matrix3d>(spread).eigenvectors().col(0);
    const Vector3d turning = omega_of(motion, Segment::Club, impact - 0.02, false);
    if (n.dot(turning) < 0.0)
        n = -n;

    const auto rate_of = [&](Segment segment, bool reversing) {
        return [&motion, segment, n, reversing, impact](double t) {
            const Vector3d w = omega_of(motion, segment, t, t <= impact && t > impact - kTiny_s);
            const Vector3d z = motion.pose(segment, t).q * Vector3d::UnitZ();
            if (segment == Segment::Pelvis || segment == Segment::Torso)
                return deg_from_rad(w.dot(z));
            const Vector3d across = w - w.dot(z) * z;
            return deg_from_rad(reversing ? across.dot(n)
                                          : std::copysign(across.norm(), across.dot(n)));
        };
    };
    for (Segment segment : kSequence) {
        auto& part = out.parts[index_of(segment)];
        const auto rate = rate_of(segment, false);
        double best = -1e9;
        for (double t = impact - 0.45; t <= impact + 0.05; t += kStep)
            if (const double value = rate(t); value > best) {
                best = value;
                part.peak_s = t;
            }
        if (const double value = rate(impact); value > best) {
            best = value;
            part.peak_s = impact;
        }
        if (std::abs(part.peak_s - impact) > 1e-9) {
            double low = part.peak_s - kStep;
            double high = part.peak_s + kStep;
            if (part.peak_s <= impact)
                high = std::min(high, impact);
            for (int i = 0; i < 30; ++i) {
                const double a = low + (high - low) / 3.0;
                const double b = high - (high - low) / 3.0;
                (rate(a) < rate(b) ? low : high) = rate(a) < rate(b) ? a : b;
            }
            part.peak_s = 0.5 * (low + high);
        }
        part.peak_deg_s = std::max(best, rate(part.peak_s));
        part.at_impact_deg_s = rate(impact - 1e-6);
        const auto reversing = rate_of(segment, true);
        for (double t = part.peak_s; t > start; t -= kStep)
            if (reversing(t - kStep) < 0.0 && reversing(t) >= 0.0) {
                part.reversal_s = refine(reversing, t - kStep, t);
                break;
            }
    }
    out.moments_s[Moment::Impact] = impact;
    out.moments_s[Moment::Top] = out.parts[index_of(Segment::Club)].reversal_s;
    out.moments_s[Moment::ShaftLevelDown] = level_down;
    out.moments_s[Moment::ShaftLevelThrough] = level_through;
    const auto speed = [&](double t) {
        const Vector3d w = omega_of(motion, Segment::Club, t, false);
        const Vector3d z = motion.club(t).q * Vector3d::UnitZ();
        return (w - w.dot(z) * z).norm();
    };
    const double top = out.moments_s[Moment::Top];
    double fastest = start;
    for (double t = start; t < top; t += 0.002)
        if (speed(t) > speed(fastest))
            fastest = t;
    const double still = 0.05 * speed(fastest);
    for (double t = fastest; t > start; t -= kStep)
        if (speed(t) < still) {
            out.takeaway_s = t;
            break;
        }
    const auto turn_of_part = [&](Segment segment, double t) {
        return deg_from_rad(angles_of(motion.pose(segment, t).q).turn_rad);
    };
    out.separation_top_deg = turn_of_part(Segment::Pelvis, top) - turn_of_part(Segment::Torso, top);
    out.separation_impact_deg =
        turn_of_part(Segment::Pelvis, impact) - turn_of_part(Segment::Torso, impact);
    out.pelvis_turn_impact_deg = turn_of_part(Segment::Pelvis, impact);
    out.torso_turn_top_deg = turn_of_part(Segment::Torso, top);
    out.pelvis_sway_impact_m = motion.pelvis(impact).p.x() - motion.pelvis(0.0).p.x();
    out.hands_m_s = (motion.wrist(impact) - motion.wrist(impact - kTiny_s)).norm() / kTiny_s;
    out.head_m_s = (motion.head(impact) - motion.head(impact - kTiny_s)).norm() / kTiny_s;
    return out;
}

} // namespace kite::study
