#include "simulate/truth.h"

#include "core/base/units.h"
#include "core/motion/rotation.h"

#include <Eigen/Eigenvalues>

#include <algorithm>
#include <cmath>
#include <functional>
#include <vector>

namespace kite::simulate {

using Eigen::Quaterniond;
using Eigen::Vector3d;

namespace {

constexpr double kStep_s = 1e-4;
constexpr double kDifference_s = 2e-6;

/// Angular velocity of a part in the lab, from a tiny one-sided or centred difference that does not
/// reach across impact.
Vector3d omega(const SwingModel& model, Segment segment, double t_s) {
    double from = t_s - kDifference_s;
    double to = t_s + kDifference_s;
    if (t_s <= model.impact_s() && to > model.impact_s())
        to = t_s;
    if (t_s > model.impact_s() && from <= model.impact_s())
        from = t_s;
    const Quaterniond step =
        model.pose(segment, to).q_lab_segment * model.pose(segment, from).q_lab_segment.conjugate();
    return log_of(step) / (to - from);
}

Vector3d across(const SwingModel& model, Segment segment, double t_s) {
    const Vector3d w = omega(model, segment, t_s);
    const Vector3d axis = model.pose(segment, t_s).q_lab_segment * Vector3d::UnitZ();
    return w - w.dot(axis) * axis;
}

double elevation(const SwingModel& model, Segment segment, double t_s) {
    return -(model.pose(segment, t_s).q_lab_segment * Vector3d::UnitZ()).z();
}

using Function = std::function<double(double)>;

/// Whole steps that fit between two times.
int count_steps(double from, double to, double step) {
    return static_cast<int>(std::floor((to - from) / step));
}

/// Times in (from, to) at which f passes zero upwards, by scanning and bisection.
std::vector<double> rising(const Function& f, double from, double to) {
    std::vector<double> out;
    double last = f(from);
    const int steps = count_steps(from, to, kStep_s);
    for (int k = 1; k <= steps; ++k) {
        const double t = from + kStep_s * k;
        const double now = f(t);
        if (last < 0.0 && now >= 0.0) {
            double low = t - kStep_s;
            double high = t;
            for (int i = 0; i < 50; ++i) {
                const double middle = 0.5 * (low + high);
                (f(middle) < 0.0 ? low : high) = middle;
            }
            out.push_back(high);
        }
        last = now;
    }
    return out;
}

std::vector<double> falling(const Function& f, double from, double to) {
    return rising([&](double t) { return -f(t); }, from, to);
}

/// Place of the greatest value, by scanning and golden section.
double highest(const Function& f, double from, double to) {
    double best = from;
    double best_value = f(from);
    const int steps = count_steps(from, to, kStep_s);
    for (int k = 0; k <= steps; ++k) {
        const double t = from + kStep_s * k;
        const double value = f(t);
        if (value > best_value) {
            best = t;
            best_value = value;
        }
    }
    double low = std::max(from, best - kStep_s);
    double high = std::min(to, best + kStep_s);
    for (int i = 0; i < 60; ++i) {
        const double a = low + (high - low) / 3.0;
        const double b = high - (high - low) / 3.0;
        (f(a) < f(b) ? low : high) = f(a) < f(b) ? a : b;
    }
    return 0.5 * (low + high);
}

/// Normal of the club-head plane in a stretch.
Vector3d plane_normal(const SwingModel& model, double from, double to) {
    Vector3d mean = Vector3d::Zero();
    std::vector<Vector3d> points;
    constexpr double kPlaneStep_s = 0.001;
    const int steps = count_steps(from, to, kPlaneStep_s);
    for (int k = 0; k <= steps; ++k)
        points.push_back(model.head_m(from + kPlaneStep_s * k));
    for (const Vector3d& p : points)
        mean += p / static_cast<double>(points.size());
    Eigen::Matrix3d spread = Eigen::Matrix3d::Zero();
    for (const Vector3d& p : points)
        spread += (p - mean) * (p - mean).transpose();
    const Vector3d n = Eigen::SelfAdjointEigenSolver<Eigen::Matrix3d>(spread).eigenvectors().col(0);
    return n.dot(across(model, Segment::Club, from)) < 0.0 ? Vector3d(-n) : n;
}

Truth::Trunk trunk_at(const SwingModel& model, Segment segment, double t) {
    const SwingModel::Pose pose = model.pose(segment, t);
    const Vector3d shift = pose.p_lab_m - model.pose(segment, 0.0).p_lab_m;
    const BodyAngles angles = angles_of(pose.q_lab_segment);
    return {deg_from_rad(angles.turn_rad),
            deg_from_rad(angles.side_tilt_rad),
            deg_from_rad(angles.forward_bend_rad),
            shift.x(),
            shift.y(),
            shift.z()};
}

/// Where everything is at the moments that were found, and how fast hands and head go at impact.
void add_positions(const SwingModel& model, double top, double impact, Truth& out) {
    const auto position = [&](Segment segment, double t) { return trunk_at(model, segment, t); };
    for (const auto& [moment, t] : out.moments_s) {
        out.pelvis[moment] = position(Segment::Pelvis, t);
        out.torso[moment] = position(Segment::Torso, t);
    }
    const auto angle_between = [](const Vector3d& a, const Vector3d& b) {
        return deg_from_rad(std::atan2(a.cross(b).norm(), a.dot(b)));
    };
    for (const auto& [moment, t] : out.moments_s) {
        out.hinge_deg[moment] =
            angle_between(model.pose(Segment::LeadArm, t).q_lab_segment * Vector3d::UnitZ(),
                          model.pose(Segment::Club, t).q_lab_segment * Vector3d::UnitZ());
        out.knee_flex_deg[moment] = angle_between(model.knee_m(true, t) - model.hip_m(true, t),
                                                  model.ankle_m(true, t) - model.knee_m(true, t));
        out.lead_force_pct[moment] = model.lead_force_pct(t);
    }
    constexpr double kBefore_s = 1e-5;
    const auto grip = [&](double t) { return model.pose(Segment::Club, t).p_lab_m; };
    out.hands_m_s = (grip(impact) - grip(impact - kBefore_s)).norm() / kBefore_s;
    out.club_head_m_s =
        (model.head_m(impact) - model.head_m(impact - kBefore_s)).norm() / kBefore_s;
    const Function separation = [&](double t) {
        return position(Segment::Pelvis, t).turn_deg - position(Segment::Torso, t).turn_deg;
    };
    out.separation_at_top_deg = separation(top);
    out.separation_at_impact_deg = separation(impact);
    out.separation_max_deg = separation(highest(separation, top, impact));
}

} // namespace

Truth calc_truth(const SwingModel& model) {
    Truth out;
    const double impact = model.impact_s();
    const double end = model.duration_s();
    const double start = model.takeaway_s();
    const double half_way = start + 0.4 * model.parameters().backswing_s;

    const Function shaft = [&](double t) { return elevation(model, Segment::Club, t); };
    const Function arm = [&](double t) { return elevation(model, Segment::LeadArm, t); };
    const auto put = [&](Moment moment, const std::vector<double>& times, bool last) {
        if (!times.empty())
            out.moments_s[moment] = last ? times.back() : times.front();
    };
    out.moments_s[Moment::Impact] = impact;
    put(Moment::ShaftLevelDown, falling(shaft, half_way, impact), true);
    put(Moment::ShaftLevelThrough, rising(shaft, impact, end), false);
    const Vector3d n = plane_normal(model, out.moments_s[Moment::ShaftLevelDown],
                                    out.moments_s[Moment::ShaftLevelThrough]);

    const auto along = [&](Segment segment) -> Function {
        return [&model, n, segment](double t) { return across(model, segment, t).dot(n); };
    };
    put(Moment::Top, rising(along(Segment::Club), half_way, impact), true);
    const double top = out.moments_s[Moment::Top];
    const Function speed = [&](double t) { return across(model, Segment::Club, t).norm(); };
    const double fastest_back = highest(speed, start, top);
    const double still = 0.05 * speed(fastest_back);
    put(Moment::Takeaway, rising([&](double t) { return speed(t) - still; }, start, fastest_back),
        true);
    const double takeaway = out.moments_s[Moment::Takeaway];
    put(Moment::ShaftLevelBack, rising(shaft, takeaway, top), false);
    put(Moment::LeadArmLevelBack, rising(arm, takeaway, top), true);
    put(Moment::LeadArmLevelDown, falling(arm, top, impact), false);

    const auto rate = [&](Segment segment) -> Function {
        const bool trunk = segment == Segment::Pelvis || segment == Segment::Torso;
        return [&model, n, segment, trunk](double t) {
            if (trunk)
                return deg_from_rad(
                    omega(model, segment, t)
                        .dot(model.pose(segment, t).q_lab_segment * Vector3d::UnitZ()));
            const Vector3d w = across(model, segment, t);
            return deg_from_rad(std::copysign(w.norm(), w.dot(n)));
        };
    };
    for (Segment segment : kSequence) {
        Truth::Part& part = out.parts[index_of(segment)];
        const Function f = rate(segment);
        part.peak_t_s = highest(f, takeaway, impact + 0.05);
        part.peak_deg_s = f(part.peak_t_s);
        part.at_impact_deg_s = f(impact);
        const bool trunk = segment == Segment::Pelvis || segment == Segment::Torso;
        const auto reversals = rising(trunk ? f : along(segment), takeaway, part.peak_t_s);
        if (!reversals.empty())
            part.reversal_t_s = reversals.back();
    }

    add_positions(model, top, impact, out);
    return out;
}

} // namespace kite::simulate
