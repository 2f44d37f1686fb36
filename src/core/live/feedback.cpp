#include "core/live/feedback.h"

#include <cmath>

namespace kite::live {

using Eigen::Vector3d;

namespace {

constexpr double kArmCalm_deg_s = 8.0;
constexpr double kStillFor_s = 0.25;
constexpr double kLongestGap_s = 0.1;
/// The arm went back when it turned by so much from rest …
constexpr double kArmBack_deg = 25.0;
/// … and starts down when it turns the other way this fast.
constexpr double kArmDown_deg_s = 25.0;
/// A band is left a little later than it is entered, so that the tone does not flutter.
constexpr double kEdge_deg = 1.0;

} // namespace

std::optional<Cue> Feedback::add(Segment segment, double t_s, const Imu& imu) {
    if (index_of(segment) >= parts_.size())
        return std::nullopt;
    follow(parts_[index_of(segment)], t_s, imu);
    if (rule_.wanted == Wanted::PelvisFirst && segment == Segment::LeadArm)
        return judge_arm(imu);
    if (rule_.wanted == Wanted::HoldOpen && segment == Segment::Pelvis)
        return judge_hold();
    return std::nullopt;
}

void Feedback::follow(Followed& part, double t_s, const Imu& imu) {
    const double step_s = t_s - part.last_s;
    if (step_s <= 0.0)
        return; // overtaken by a later one
    part.last_s = t_s;
    const Vector3d gyro = imu.gyro_deg_s - part.bias_deg_s;
    if (!(step_s < kLongestGap_s)) {
        part.resting_s = part.count = 0.0;
        part.sum_force = part.sum_gyro = Vector3d::Zero();
        return;
    }
    // At rest: bias and gravity anew, and the turn counts from here.
    if (gyro.norm() < kArmCalm_deg_s) {
        part.resting_s += step_s;
        part.sum_force += imu.force_g;
        part.sum_gyro += imu.gyro_deg_s;
        part.count += 1.0;
    } else {
        part.resting_s = part.count = 0.0;
        part.sum_force = part.sum_gyro = Vector3d::Zero();
    }
    const double rate_before = part.rate_deg_s;
    const double hand = rule_.handed == Handedness::Left ? -1.0 : 1.0;
    part.rate_deg_s = hand * part.up.dot(gyro);
    part.turn_deg += 0.5 * (part.rate_deg_s + rate_before) * step_s;
    part.away += gyro * step_s;
    // A rest in a turned position (a hold, the top) is no address: near the last one it is, or
    // where somebody stands for long.
    constexpr double kNear_deg = 10.0;
    constexpr double kStandsFor_s = 8.0;
    const bool near = !(part.away.norm() > kNear_deg) || !std::isfinite(part.turn_deg);
    if (part.resting_s > (near ? kStillFor_s : kStandsFor_s)) {
        part.up = part.sum_force.normalized();
        part.bias_deg_s = part.sum_gyro / part.count;
        part.turn_deg = part.rate_deg_s = 0.0;
        part.away = Vector3d::Zero();
    }
}

std::optional<Cue> Feedback::judge_arm(const Imu& imu) {
    const Followed& arm = parts_[index_of(Segment::LeadArm)];
    const double back_deg = arm.away.norm();
    if (back_deg < 0.3 * kArmBack_deg) {
        arm_ = Arm::AtAddress;
        return std::nullopt;
    }
    if (arm_ == Arm::AtAddress && back_deg > kArmBack_deg)
        arm_ = Arm::Back;
    const double down_deg_s = -(imu.gyro_deg_s - arm.bias_deg_s).dot(arm.away / back_deg);
    if (arm_ != Arm::Back || down_deg_s < kArmDown_deg_s)
        return std::nullopt;
    arm_ = Arm::Down;
    const double turn = pelvis_turn_deg();
    if (!std::isfinite(turn))
        return std::nullopt;
    // Where it stands is compared with where it should: past square, or past what was asked for.
    return turn >= rule_.from_deg ? Cue::Good : Cue::Early;
}

std::optional<Cue> Feedback::judge_hold() {
    const double turn = pelvis_turn_deg();
    if (!std::isfinite(turn))
        return std::nullopt;
    const double edge = inside_ ? kEdge_deg : 0.0;
    const bool inside = turn >= rule_.from_deg - edge && turn <= rule_.to_deg + edge;
    if (inside == inside_)
        return std::nullopt;
    inside_ = inside;
    return inside ? Cue::Inside : Cue::Outside;
}

} // namespace kite::live
