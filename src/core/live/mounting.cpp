#include "core/live/mounting.h"

#include "core/base/units.h"

#include <Eigen/Eigenvalues>

#include <algorithm>
#include <cmath>

namespace kite::live {

using Eigen::Matrix3d;
using Eigen::Quaterniond;
using Eigen::Vector3d;
using Severity = Finding::Severity;

namespace {

constexpr double kCalm_deg_s = 8.0;
constexpr double kLeastTurn_deg = 12.0;
constexpr double kLeastLean_deg = 8.0;
constexpr double kMostBesideAxis_deg = 20.0;

/// How arm and shaft lean at address, from the horizontal, and how much that varies (common
/// practice, no source).
double usual_rad(Segment segment) {
    return rad_from_deg(segment == Segment::LeadArm ? 70.0 : 58.0);
}
constexpr double kUsual_u_deg = 8.0;

Vector3d mean_gyro(const Samples& samples, TimeRange range) {
    Vector3d sum = Vector3d::Zero();
    double count = 0.0;
    for (std::size_t i = 0; i < samples.times_s.size(); ++i)
        if (range.contains(samples.times_s[i])) {
            sum += gyro_of(samples.values[i]);
            count += 1.0;
        }
    return count > 0.0 ? Vector3d(sum / count) : sum;
}

/// The axis about which a sensor turned to and fro, and how far it went each way about it.
struct TurnAxis {
    Vector3d axis = Vector3d::Zero();
    double one_way_deg = 0.0;
    double other_way_deg = 0.0;
};

TurnAxis turn_axis(const Samples& samples, const Vector3d& bias, const Vector3d& up,
                   TimeRange turning) {
    Matrix3d sum = Matrix3d::Zero();
    for (std::size_t i = 0; i < samples.times_s.size(); ++i)
        if (turning.contains(samples.times_s[i])) {
            const Vector3d w = gyro_of(samples.values[i]) - bias;
            sum += w * w.transpose();
        }
    TurnAxis out;
    const Eigen::SelfAdjointEigenSolver<Matrix3d> solver(sum);
    out.axis = solver.eigenvectors().col(2);
    if (out.axis.dot(up) < 0.0)
        out.axis = -out.axis;
    double turn = 0.0;
    for (std::size_t i = 1; i < samples.times_s.size(); ++i)
        if (turning.contains(samples.times_s[i])) {
            turn += out.axis.dot(gyro_of(samples.values[i]) - bias) *
                    (samples.times_s[i] - samples.times_s[i - 1]);
            out.one_way_deg = std::max(out.one_way_deg, turn);
            out.other_way_deg = std::max(out.other_way_deg, -turn);
        }
    return out;
}

Matrix3d columns(const Vector3d& x, const Vector3d& y, const Vector3d& z) {
    Matrix3d out;
    out << x, y, z;
    return out;
}

double angle_deg(const Vector3d& a, const Vector3d& b) {
    return deg_from_rad(std::acos(std::clamp(a.normalized().dot(b.normalized()), -1.0, 1.0)));
}

} // namespace

Outcome<Mounting> find_mounting(const Parts& parts, Handedness handed, TimeRange upright,
                                TimeRange address, TimeRange turning) {
    Outcome<Mounting> out;
    const double hand = handed == Handedness::Left ? 1.0 : -1.0;
    for (const auto& [segment, samples] : parts) {
        const std::string name(name_of(segment));
        const Vector3d bias = mean_gyro(samples, upright.empty() ? address : upright);
        const Vector3d up = mean_force(samples, address).normalized();
        const TurnAxis turn = turn_axis(samples, bias, up, turning);
        if (turn.one_way_deg < kLeastTurn_deg || turn.other_way_deg < kLeastTurn_deg) {
            out.add({Severity::Error, "no-turn", "The " + name + " did not turn both ways.",
                     std::string(key_of(segment)),
                     "Turn slowly by a quarter, away and through, all in one piece."});
            continue;
        }
        const bool trunk = segment == Segment::Pelvis || segment == Segment::Torso;
        const double lean = angle_deg(turn.axis, up);
        if (lean < kLeastLean_deg) {
            out.add({Severity::Error, "no-lean",
                     "The " + name +
                         " turned about the vertical: which way the ball is cannot be "
                         "told.",
                     std::string(key_of(segment)), "Bend forward as at address before you turn."});
            continue;
        }
        // Lab at address, in the sensor: z up; the axis leans to the ball, which lies at -y of a
        // right-hander and at +y of a left-hander.
        const Vector3d y = hand * (turn.axis - turn.axis.dot(up) * up).normalized();
        const Matrix3d R_lab_sensor = columns(y.cross(up), y, up).transpose();
        // Nobody stood upright: a trunk's axis is that of its turn, arm and shaft lie as usual.
        const Vector3d z_lab =
            upright.empty() && !trunk
                ? Vector3d(0.0, -hand * std::cos(usual_rad(segment)), std::sin(usual_rad(segment)))
                : Vector3d(
                      (R_lab_sensor * (upright.empty() ? turn.axis : mean_force(samples, upright)))
                          .normalized());
        const Vector3d x_lab =
            (Vector3d::UnitX() - Vector3d::UnitX().dot(z_lab) * z_lab).normalized();
        const Matrix3d R_lab_segment = columns(x_lab, z_lab.cross(x_lab), z_lab);
        out.value.mounts[segment] =
            Quaterniond(Matrix3d(R_lab_segment.transpose() * R_lab_sensor)).normalized();
        // Gravity is told to a degree or so; the axis's lean magnifies that.
        double u_deg = 1.0 / std::sin(rad_from_deg(lean));
        if (upright.empty() && !trunk)
            u_deg = std::max(u_deg, kUsual_u_deg);
        if (trunk && !upright.empty()) {
            const double beside = angle_deg(turn.axis, mean_force(samples, upright));
            u_deg = std::max(u_deg, beside);
            if (beside > kMostBesideAxis_deg)
                out.add({Severity::Error, "not-in-one-piece",
                         "The " + name + " turned about an axis " +
                             std::to_string(std::lround(beside)) + " degrees from its own.",
                         std::string(key_of(segment)),
                         "Stand upright while standing still; keep the bend while turning."});
        }
        out.value.u_deg[segment] = u_deg;
    }
    if (parts.empty())
        out.add({Severity::Error, "nothing-heard", "No sensor was heard.", "",
                 "Check that the sensors are awake and send."});
    return out;
}

namespace {

/// All parts turned far enough, both ways.
bool turned_both_ways(const Parts& parts, TimeRange rest, TimeRange address, TimeRange turning) {
    return !parts.empty() && std::all_of(parts.begin(), parts.end(), [&](const auto& part) {
        const TurnAxis turn = turn_axis(part.second, mean_gyro(part.second, rest),
                                        mean_force(part.second, address), turning);
        return turn.one_way_deg >= kLeastTurn_deg && turn.other_way_deg >= kLeastTurn_deg;
    });
}

} // namespace

void MountGuide::look(const Parts& parts, double now_s) {
    constexpr double kBlock_s = 0.5;
    const auto calm = [&](double end_s) {
        return restlessness_deg_s(parts, {end_s - kBlock_s, end_s}) < kCalm_deg_s;
    };
    constexpr double kLate_s = 0.15; // what is still on its way
    const double end_s = now_s - kLate_s;
    switch (step_) {
    case Step::Upright: {
        double since = end_s;
        while (since - kBlock_s > begun_s_ && end_s - since < kUpright_s && calm(since))
            since -= kBlock_s;
        share_ = std::min(1.0, (end_s - since) / kUpright_s);
        if (share_ >= 1.0) {
            upright_ = {since, end_s};
            step_ = Step::Address;
            share_ = 0.0;
        }
        break;
    }
    case Step::Address: {
        // Calm again, and bent: gravity lies elsewhere in a sensor of the trunk (else in any).
        double bent_deg = 0.0;
        const TimeRange block{end_s - kBlock_s, end_s};
        for (const auto& [segment, samples] : parts)
            bent_deg = std::max(
                bent_deg, angle_deg(mean_force(samples, block), mean_force(samples, upright_)));
        share_ = std::min(1.0, bent_deg / kLeastLean_deg);
        // Or it was the address already in which one stood, and the turn follows at once.
        if (calm(end_s) && turned_both_ways(parts, upright_, upright_, {upright_.end_s, end_s})) {
            result_ = find_mounting(parts, handed_, {}, upright_, {upright_.end_s, end_s});
            step_ = result_.ok() ? Step::Done : Step::Failed;
            break;
        }
        if (calm(end_s) && bent_deg > kLeastLean_deg) {
            address_ = block;
            step_ = Step::Turn;
            share_ = 0.0;
        }
        break;
    }
    case Step::Turn: {
        // As long as nothing turned, the last rest is the address.
        const TimeRange turning{address_.end_s, end_s};
        double least_deg = kLeastTurn_deg;
        double most_deg = 0.0;
        for (const auto& [segment, samples] : parts) {
            const TurnAxis turn = turn_axis(samples, mean_gyro(samples, upright_),
                                            mean_force(samples, address_), turning);
            least_deg = std::min({least_deg, turn.one_way_deg, turn.other_way_deg});
            most_deg = std::max({most_deg, turn.one_way_deg, turn.other_way_deg});
        }
        share_ = parts.empty() ? 0.0 : least_deg / kLeastTurn_deg;
        constexpr double kNotBegun_deg = 3.0; // at the far end of a turn one is calm for a moment
        if (calm(end_s) && most_deg < kNotBegun_deg)
            address_ = {end_s - kBlock_s, end_s};
        else if (calm(end_s) && share_ >= 1.0) {
            result_ = find_mounting(parts, handed_, upright_, address_, turning);
            step_ = result_.ok() ? Step::Done : Step::Failed;
        }
        constexpr double kGivesUp_s = 20.0; // the ring forgets the beginning
        if (step_ == Step::Turn && end_s - upright_.begin_s > kGivesUp_s + kUpright_s) {
            result_ = {};
            result_.add({Severity::Error, "no-turn", "No turn both ways was seen.", "",
                         "Begin again; turn soon after taking address."});
            step_ = Step::Failed;
        }
        break;
    }
    case Step::Done:
    case Step::Failed:
        break;
    }
}

} // namespace kite::live
