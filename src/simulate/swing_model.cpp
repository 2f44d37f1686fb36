#include "simulate/swing_model.h"

#include "core/base/units.h"
#include "core/motion/rotation.h"

#include <algorithm>
#include <cmath>
#include <utility>

namespace kite::simulate {

using Eigen::AngleAxisd;
using Eigen::Quaterniond;
using Eigen::Vector3d;

double SwingParameters::club_length_m() const {
    switch (club) {
    case ClubKind::Driver:
        return 1.12;
    case ClubKind::Wood:
        return 1.05;
    case ClubKind::Iron:
        return 0.95;
    case ClubKind::Wedge:
        return 0.88;
    }
    return 0.95;
}

double SwingParameters::plane_inclination_deg() const {
    switch (club) {
    case ClubKind::Driver:
        return 49.0;
    case ClubKind::Wood:
        return 53.0;
    case ClubKind::Iron:
        return 60.0;
    case ClubKind::Wedge:
        return 63.0;
    }
    return 60.0;
}

const PartParameters& SwingParameters::part(Segment segment) const {
    switch (segment) {
    case Segment::Torso:
        return torso;
    case Segment::LeadArm:
        return lead_arm;
    case Segment::Club:
        return club_turn;
    default:
        return pelvis;
    }
}

PartParameters& SwingParameters::part(Segment segment) {
    return const_cast<PartParameters&>(std::as_const(*this).part(segment));
}

namespace {

/// 0 before `from`, 1 after `to`, smooth between.
double blend(double t_s, double from_s, double to_s) {
    const double u = std::clamp((t_s - from_s) / (to_s - from_s), 0.0, 1.0);
    return u * u * u * (10.0 + u * (-15.0 + 6.0 * u));
}

constexpr double kArmInclination_deg = 70.0;

/// A direction that swings in a plane through the target line: 0 hangs down to the ball at the
/// plane's inclination, positive angles move it towards the target.
struct PlaneDirection {
    Vector3d down;

    explicit PlaneDirection(double inclination_deg)
        : down(0.0, -std::cos(rad_from_deg(inclination_deg)),
               -std::sin(rad_from_deg(inclination_deg))) {}
    Vector3d at(double angle_deg) const {
        const double a = rad_from_deg(angle_deg);
        return std::cos(a) * down + std::sin(a) * Vector3d::UnitX();
    }
    /// Frame whose -Z is the direction and whose X is where it moves to.
    Quaterniond frame(double angle_deg) const {
        const double a = rad_from_deg(angle_deg);
        const Vector3d z = -at(angle_deg);
        const Vector3d x = std::cos(a) * Vector3d::UnitX() - std::sin(a) * down;
        Eigen::Matrix3d R;
        R << x, z.cross(x), z;
        return Quaterniond(R);
    }
};

} // namespace

SwingModel::SwingModel(const SwingParameters& parameters) : parameters_(parameters) {
    const SwingParameters& p = parameters_;
    impact_s_ = p.lead_in_s + p.backswing_s + p.club_turn.reversal_before_ms / 1000.0;
    const auto plan = [&](const PartParameters& part) {
        TurnPlan out;
        out.takeaway_t_s = p.lead_in_s;
        out.reversal_t_s = impact_s_ - part.reversal_before_ms / 1000.0;
        out.peak_t_s = impact_s_ - std::max(0.0, part.peak_before_ms) / 1000.0;
        out.impact_t_s = impact_s_;
        out.top_deg = part.top_deg;
        out.impact_deg = part.impact_deg;
        out.finish_deg = part.finish_deg;
        out.peak_deg_s = part.peak_deg_s;
        out.at_impact_share = part.at_impact_share;
        out.after_impact_share = part.after_impact_share;
        out.after_gain_share = part.after_gain_share;
        return out;
    };
    for (Segment segment : kSequence)
        profiles_[index_of(segment)] = SpeedProfile(plan(p.part(segment)));

    // Keyed path of the pelvis: at rest at every key, but moving on through lead arm level down.
    const double top_s = impact_s_ - p.club_turn.reversal_before_ms / 1000.0;
    const double shift_s = impact_s_ - p.pelvis.reversal_before_ms / 1000.0 - 0.03;
    const double arm_back_s = p.lead_in_s + 0.55 * p.backswing_s;
    const double arm_down_s = impact_s_ - 0.45 * p.club_turn.reversal_before_ms / 1000.0;
    for (int axis = 0; axis < 3; ++axis) {
        const PelvisPath& path = p.pelvis_path;
        // Before the top the pelvis already moves: its furthest point away lies at `shift_s`.
        const double away = path.arm_level_back_m(axis);
        const double top = path.top_m(axis);
        const double down = path.arm_level_down_m(axis);
        const double hit = path.impact_m(axis);
        const double speed_top = axis == 0 ? 0.5 * (down - top) / (arm_down_s - top_s) : 0.0;
        const double speed_down = axis == 1 ? 0.0 : (hit - top) / (impact_s_ - top_s);
        std::vector<QuinticCurve::Knot> knots{{p.lead_in_s, 0.0, 0.0, 0.0}};
        if (axis == 0 && shift_s > arm_back_s)
            knots.push_back({shift_s, away, 0.0, 0.0});
        else
            knots.push_back({arm_back_s, away, 0.0, 0.0});
        knots.push_back({top_s, top, speed_top, 0.0});
        knots.push_back({arm_down_s, down, axis == 0 ? speed_down : 0.0, 0.0});
        knots.push_back({impact_s_, hit, 0.4 * (hit - down) / (impact_s_ - arm_down_s), 0.0});
        knots.push_back({impact_s_ + 0.75 * p.follow_s, path.finish_m(axis), 0.0, 0.0});
        pelvis_shift_m_[static_cast<std::size_t>(axis)] = QuinticCurve(std::move(knots));
    }

    const ForceParameters& force = p.force;
    const double finish_s = impact_s_ + 0.75 * p.follow_s;
    lead_force_pct_ = QuinticCurve({{p.lead_in_s, 50.0, 0.0, 0.0},
                                    {arm_back_s, force.arm_level_back_pct, 0.0, 0.0},
                                    {top_s, force.top_pct, 60.0, 0.0},
                                    {arm_down_s, force.arm_level_down_pct, 120.0, 0.0},
                                    {impact_s_, force.impact_pct, 0.0, 0.0},
                                    {finish_s, 90.0, 0.0, 0.0}});
    total_force_bw_ = QuinticCurve({{p.lead_in_s, 1.0, 0.0, 0.0},
                                    {top_s, 1.0, 0.0, 0.0},
                                    {arm_down_s - 0.05, force.lightest_bw, 0.0, 0.0},
                                    {impact_s_ - 0.04, force.heaviest_bw, 0.0, 0.0},
                                    {impact_s_ + 0.15, 0.9, 0.0, 0.0},
                                    {finish_s, 1.0, 0.0, 0.0}});

    // The club's angle at impact that brings the head back to its place at address along x.
    const double ball_x = head_m(0.0).x();
    const PlaneDirection plane(p.plane_inclination_deg() - p.shallow_deg);
    const double grip_x = arm(impact_s_).p_lab_m.x() -
                          p.arm_length_m * (arm(impact_s_).q_lab_segment * Vector3d::UnitZ()).x();
    const double sine = std::clamp((ball_x - grip_x) / p.club_length_m(), -0.9, 0.9);
    TurnPlan club_plan = plan(p.club_turn);
    // The profile may miss the wanted angle a little; go round until the head meets the ball.
    const double wanted_deg = deg_from_rad(std::asin(sine));
    club_plan.impact_deg = wanted_deg;
    for (int i = 0; i < 8; ++i) {
        profiles_[index_of(Segment::Club)] = SpeedProfile(club_plan);
        const double off = profiles_[index_of(Segment::Club)].angle_deg(impact_s_) - wanted_deg;
        if (std::abs(off) < 1e-9)
            break;
        club_plan.top_deg -= off;
    }
}

double SwingModel::duration_s() const {
    return impact_s_ + parameters_.follow_s;
}

Vector3d SwingModel::pelvis_origin_m(double t_s) const {
    return {pelvis_shift_m_[0].at(t_s), pelvis_shift_m_[1].at(t_s),
            parameters_.hip_height_m + pelvis_shift_m_[2].at(t_s)};
}

SwingModel::Pose SwingModel::trunk(Segment segment, double t_s) const {
    const SwingParameters& p = parameters_;
    const bool is_pelvis = segment == Segment::Pelvis;
    const double bend = rad_from_deg(is_pelvis ? p.pelvis_bend_deg : p.torso_bend_deg);
    const double turn = rad_from_deg(profiles_[index_of(segment)].angle_deg(t_s));
    // Turning about the bent-forward axis, with the trunk leaning away from the target by impact.
    const double top_s = impact_s_ - p.club_turn.reversal_before_ms / 1000.0;
    const double arm_down_s = impact_s_ - 0.45 * p.club_turn.reversal_before_ms / 1000.0;
    // About the lab's Y axis a positive angle leans towards the target.
    const double tilt =
        is_pelvis ? -rad_from_deg(p.pelvis_tilt_down_deg) *
                        (blend(t_s, top_s, arm_down_s) - blend(t_s, arm_down_s, impact_s_))
                  : rad_from_deg(p.torso_side_tilt_impact_deg) *
                            blend(t_s, impact_s_ - 0.3, impact_s_ + 0.05) +
                        rad_from_deg(p.spine_lean_top_deg) * (blend(t_s, p.lead_in_s + 0.2, top_s) -
                                                              blend(t_s, top_s, impact_s_ - 0.05));
    Pose out;
    out.q_lab_segment =
        Quaterniond(AngleAxisd(tilt, Vector3d::UnitY()) * AngleAxisd(bend, Vector3d::UnitX()) *
                    AngleAxisd(turn, Vector3d::UnitZ()));
    out.p_lab_m = pelvis_origin_m(t_s);
    if (!is_pelvis) {
        const Pose pelvis = trunk(Segment::Pelvis, t_s);
        const Vector3d spine_base =
            pelvis.p_lab_m + pelvis.q_lab_segment * Vector3d(0.0, 0.04, 0.10);
        out.p_lab_m = spine_base + out.q_lab_segment * Vector3d(0.0, -0.02, 0.42);
    }
    return out;
}

SwingModel::Pose SwingModel::arm(double t_s) const {
    const Pose torso = trunk(Segment::Torso, t_s);
    const PlaneDirection plane(kArmInclination_deg);
    return {plane.frame(profiles_[index_of(Segment::LeadArm)].angle_deg(t_s)),
            torso.p_lab_m + torso.q_lab_segment * Vector3d(0.17, 0.0, -0.03)};
}

SwingModel::Pose SwingModel::club(double t_s) const {
    const SwingParameters& p = parameters_;
    const double top_s = impact_s_ - p.club_turn.reversal_before_ms / 1000.0;
    const double flatter = p.shallow_deg * blend(t_s, top_s - 0.1, top_s + 0.2);
    const PlaneDirection plane(p.plane_inclination_deg() - flatter);
    const double roll =
        p.club_roll_deg * (blend(t_s, p.lead_in_s, top_s) - blend(t_s, top_s, impact_s_ + 0.02));
    const Pose lead_arm = arm(t_s);
    Pose out;
    // Seen from above, a plane turned counter-clockwise brings the head from outside.
    const AngleAxisd yaw(rad_from_deg(p.path_deg) * blend(t_s, top_s, top_s + 0.15),
                         Vector3d::UnitZ());
    out.q_lab_segment = yaw * plane.frame(profiles_[index_of(Segment::Club)].angle_deg(t_s)) *
                        AngleAxisd(rad_from_deg(-roll), Vector3d::UnitZ());
    out.p_lab_m = lead_arm.p_lab_m - p.arm_length_m * (lead_arm.q_lab_segment * Vector3d::UnitZ());
    return out;
}

SwingModel::Pose SwingModel::pose(Segment segment, double t_s) const {
    switch (segment) {
    case Segment::LeadArm:
        return arm(t_s);
    case Segment::Club:
        return club(t_s);
    default:
        return trunk(segment, t_s);
    }
}

Vector3d SwingModel::head_m(double t_s) const {
    const Pose at = club(t_s);
    return at.p_lab_m - parameters_.club_length_m() * (at.q_lab_segment * Vector3d::UnitZ());
}

Vector3d SwingModel::ankle_m(bool lead, double t_s) const {
    double lift_m = 0.0;
    if (lead && parameters_.lead_heel_lift_m > 0.0) {
        const double top_s = impact_s_ - parameters_.club_turn.reversal_before_ms / 1000.0;
        lift_m = parameters_.lead_heel_lift_m * (blend(t_s, parameters_.lead_in_s + 0.3, top_s) -
                                                 blend(t_s, top_s, impact_s_ - 0.15));
    }
    return {lead ? 0.22 : -0.22, 0.05, 0.08 + lift_m};
}

Vector3d SwingModel::hip_m(bool lead, double t_s) const {
    const Pose pelvis = trunk(Segment::Pelvis, t_s);
    return pelvis.p_lab_m +
           pelvis.q_lab_segment *
               Vector3d((lead ? 0.5 : -0.5) * parameters_.hip_joint_width_m, 0.0, 0.0);
}

Vector3d SwingModel::knee_m(bool lead, double t_s) const {
    // Triangle of thigh, shank and the line from ankle to hip joint, its knee towards the ball.
    const Vector3d ankle = ankle_m(lead, t_s);
    const Vector3d line = hip_m(lead, t_s) - ankle;
    const double a = parameters_.shank_m;
    const double b = parameters_.thigh_m;
    const double d = std::min(line.norm(), 0.999 * (a + b));
    const double along = (a * a - b * b + d * d) / (2.0 * d);
    const double out = std::sqrt(std::max(0.0, a * a - along * along));
    const Vector3d up = line.normalized();
    const Vector3d ball = -Vector3d::UnitY();
    return ankle + along * up + out * (ball - ball.dot(up) * up).normalized();
}

Vector3d SwingModel::trail_shoulder_m(double t_s) const {
    const Pose torso = trunk(Segment::Torso, t_s);
    return torso.p_lab_m + torso.q_lab_segment * Vector3d(-0.17, 0.0, -0.03);
}

Vector3d SwingModel::trail_wrist_m(double t_s) const {
    const Pose grip = club(t_s);
    return grip.p_lab_m - 0.09 * (grip.q_lab_segment * Vector3d::UnitZ());
}

double SwingModel::rate_deg_s(Segment segment, double t_s) const {
    return profiles_[index_of(segment)].rate_deg_s(t_s, false);
}

double SwingModel::lead_force_pct(double t_s) const {
    return lead_force_pct_.at(t_s);
}

double SwingModel::total_force_bw(double t_s) const {
    return total_force_bw_.at(t_s);
}

} // namespace kite::simulate
