#include "simulate/bay_script.h"

#include "core/base/units.h"
#include "core/motion/rotation.h"
#include "simulate/golfers.h"
#include "simulate/planted_faults.h"
#include "simulate/truth.h"

#include <algorithm>
#include <cmath>

namespace kite::simulate {

using Eigen::AngleAxisd;
using Eigen::Quaterniond;
using Eigen::Vector3d;

namespace {

/// 0 before 0, 1 after 1, smooth between with its first and second derivative.
double smooth(double u) {
    u = std::clamp(u, 0.0, 1.0);
    return u * u * u * (10.0 + u * (-15.0 + 6.0 * u));
}

/// Rises from 0 and falls to it again, smoothly, over 0 to 1.
double swell(double u) {
    return smooth(3.0 * u) * smooth(3.0 * (1.0 - u));
}

/// Speeds and angles drawn apart may not go together: then the profile opens before it turns away.
bool turns_away(const SwingParameters& parameters) {
    constexpr double kMostOpen_deg = 5.0;
    const SwingModel model(parameters);
    constexpr double kStep_s = 0.02;
    constexpr double kDown_s = 0.25;
    const int steps = static_cast<int>((model.impact_s() - kDown_s) / kStep_s);
    for (int step = 0; step <= steps; ++step)
        for (Segment segment : {Segment::Pelvis, Segment::Torso})
            if (deg_from_rad(turn_of(model.pose(segment, step * kStep_s).q_lab_segment)) >
                kMostOpen_deg)
                return false;
    return true;
}

/// Somebody else every ten swings.
SwingParameters golfer(const BayPlan& plan, int index, std::mt19937& random) {
    constexpr int kSwingsEach = 10;
    std::mt19937 who(plan.seed * 1000u + static_cast<std::uint32_t>(index / kSwingsEach));
    std::uniform_real_distribution<double> share(0.0, 1.0);
    const auto faults = plantable_faults();
    SwingParameters out;
    do {
        out = typical_swing(plan.club);
        scatter(out, who, 3.0);
        const double speed = 0.75 + 0.35 * share(who);
        for (Segment segment : kSequence)
            out.part(segment).peak_deg_s *= speed;
        if (share(who) < 0.5)
            plant(out,
                  faults[static_cast<std::size_t>(share(who) * 0.999 *
                                                  static_cast<double>(faults.size()))],
                  1.0);
        scatter(out, random, 1.0);
    } while (!turns_away(out));
    return out;
}

Stroke made_up(const BayPlan& plan, int index, bool practice, std::mt19937& random) {
    SwingParameters parameters = golfer(plan, index, random);
    if (practice) {
        for (Segment segment : kSequence) {
            parameters.part(segment).after_impact_share = 1.0;
            parameters.part(segment).peak_deg_s *= 0.85;
        }
    }
    return stroke_of(parameters, practice);
}

} // namespace

Stroke stroke_of(const SwingParameters& parameters, bool practice) {
    const auto model = std::make_shared<const SwingModel>(parameters);
    Stroke out;
    out.pose = [model](double t_s) {
        BodyPose pose;
        for (Segment segment : kSequence)
            pose[index_of(segment)] = model->pose(segment, t_s);
        return pose;
    };
    out.impact_s = model->impact_s();
    out.duration_s = model->duration_s();
    out.practice = practice;
    const Truth truth = calc_truth(*model);
    for (std::size_t i = 0; i < out.peaks_s.size(); ++i)
        out.peaks_s[i] = truth.parts[i].peak_t_s;
    out.club_head_m_s = truth.club_head_m_s;
    out.lead_force_pct = [model](double t_s) { return model->lead_force_pct(t_s); };
    out.total_force_n = [model](double t_s) {
        return model->parameters().force.weight_n * model->total_force_bw(t_s);
    };
    return out;
}

BayScript::BayScript(const BayPlan& plan) {
    std::mt19937 random(plan.seed);
    std::uniform_real_distribution<double> share(0.0, 1.0);
    const auto stroke = [&](int index, bool practice) {
        return plan.strokes ? plan.strokes(index, practice, random)
                            : made_up(plan, index, practice, random);
    };
    const auto disturb = [&](Doing doing, double least_s, double more_s) {
        Episode episode;
        episode.doing = doing;
        episode.from = last_pose();
        episode.size = 0.7 + 0.6 * share(random);
        add(episode, least_s + more_s * share(random));
    };
    for (int i = 0; i < plan.swings; ++i) {
        Stroke next = stroke(i, plan.slow);
        const BodyPose address = next.pose(0.0);
        if (episodes_.empty()) {
            Episode rest;
            rest.from = address;
            add(rest, 1.0);
            if (plan.mounting)
                show_mounting(address);
        }
        ready_s_.push_back(duration_s_);
        go_to(address, 2.0 + share(random));
        if (plan.between) {
            if (share(random) < 0.5)
                disturb(Doing::Walk, 2.5, 2.0);
            if (share(random) < 0.5)
                disturb(Doing::Turn, 2.5, 1.0);
            if (share(random) < 0.7)
                disturb(Doing::Place, 2.0, 1.5);
        }
        if (!plan.slow && share(random) < plan.practice_share) {
            const Stroke rehearsal = stroke(i, true);
            go_to(rehearsal.pose(0.0), 0.6);
            swing(rehearsal, plan);
            go_to(address, 2.0);
        }
        if (plan.between && share(random) < 0.7) {
            disturb(Doing::Waggle, 1.2, 1.0);
            if (share(random) < 0.5)
                disturb(Doing::Waggle, 0.8, 0.5);
        }
        Episode rest;
        rest.from = last_pose();
        add(rest, 0.2 + 0.8 * share(random));
        swing(next, plan);
    }
    Episode rest;
    rest.from = last_pose();
    add(rest, 5.0);
}

void BayScript::add(Episode episode, double length_s) {
    episode.begin_s = duration_s_;
    duration_s_ += length_s;
    episode.end_s = duration_s_;
    episodes_.push_back(std::move(episode));
}

BodyPose BayScript::last_pose() const {
    return pose_in(episodes_.back(), duration_s_);
}

void BayScript::go_to(const BodyPose& pose, double length_s) {
    Episode episode;
    episode.doing = Doing::Go;
    episode.from = last_pose();
    episode.to = pose;
    add(episode, length_s);
}

void BayScript::show_mounting(const BodyPose& address) {
    BodyPose upright = address;
    for (SwingModel::Pose& part : upright)
        part.q_lab_segment.setIdentity();
    go_to(upright, 1.0);
    Episode still;
    still.from = upright;
    add(still, 6.5);
    go_to(address, 1.5);
    still.from = address;
    add(still, 1.2);
    Episode turn;
    turn.doing = Doing::Mount;
    turn.from = address;
    add(turn, 7.0);
    add(still, 1.2);
}

void BayScript::swing(const Stroke& stroke, const BayPlan& plan) {
    Episode episode;
    episode.doing = Doing::Swing;
    episode.stroke = std::make_shared<const Stroke>(stroke);
    if (plan.slow) {
        constexpr double kSlower = 5.0;
        constexpr double kHeld_s = 1.0;
        episode.slower = kSlower;
        episode.held_s = kHeld_s;
    }
    BayTruth truth;
    truth.practice = stroke.practice;
    const double begin_s = duration_s_;
    const auto when = [&](double t_s) { return begin_s + episode.slower * t_s + episode.held_s; };
    truth.impact_s = when(stroke.impact_s);
    for (std::size_t i = 0; i < truth.peaks_s.size(); ++i)
        truth.peaks_s[i] = when(stroke.peaks_s[i]);
    truth.launch.club_speed_m_s = stroke.club_head_m_s;
    constexpr double kSmash = 1.4;
    truth.launch.ball_speed_m_s = kSmash * stroke.club_head_m_s;
    truth.launch.carry_m = 3.2 * stroke.club_head_m_s;
    truth_.push_back(truth);
    const double length_s = episode.slower * stroke.duration_s + episode.held_s;
    add(std::move(episode), length_s);
    Episode rest;
    rest.from = last_pose();
    add(rest, 0.5);
}

double BayScript::ready_s(int swing) const {
    return ready_s_.at(static_cast<std::size_t>(swing - 1));
}

const BayScript::Episode& BayScript::at(double t_s) const {
    const auto after =
        std::upper_bound(episodes_.begin(), episodes_.end(), t_s,
                         [](double t, const Episode& episode) { return t < episode.begin_s; });
    return after == episodes_.begin() ? *after : *(after - 1);
}

BodyPose BayScript::pose(double t_s) const {
    return pose_in(at(t_s), t_s);
}

namespace {

/// The stroke's own time: a slow one is held at the top.
double stroke_time_s(const Stroke& stroke, double from_s, double slower, double held_s) {
    if (held_s <= 0.0)
        return from_s / slower;
    // Held where the club turns back: about 0.28 s before impact in the stroke's own time.
    constexpr double kTop_s = 0.28;
    const double kEase_s = 0.5 * held_s; // of slowing down: time does not go back
    const double top_s = slower * (stroke.impact_s - kTop_s);
    double own_s = from_s;
    if (from_s > top_s - kEase_s) {
        // Time stands still, smoothly: it is taken away by so much as is held.
        const double u = (from_s - (top_s - kEase_s)) / (held_s + 2.0 * kEase_s);
        own_s = from_s - held_s * smooth(u);
    }
    return own_s / slower;
}

} // namespace

namespace {

SwingModel::Pose& part(BodyPose& pose, Segment segment) {
    return pose[index_of(segment)];
}

// What is done between swings, on a pose that rests; `size` swells up and falls to 0 again.

void waggle(BodyPose& out, double size, double since_s) {
    const double phase = std::sin(2.0 * kPi * 2.2 * since_s);
    part(out, Segment::Club).q_lab_segment =
        part(out, Segment::Club).q_lab_segment *
        AngleAxisd(-rad_from_deg(22.0) * size * phase, Vector3d::UnitY());
    part(out, Segment::LeadArm).q_lab_segment =
        part(out, Segment::LeadArm).q_lab_segment *
        AngleAxisd(-rad_from_deg(5.0) * size * phase, Vector3d::UnitY());
    part(out, Segment::Torso).q_lab_segment =
        part(out, Segment::Torso).q_lab_segment *
        AngleAxisd(rad_from_deg(1.5) * size * phase, Vector3d::UnitZ());
}

void walk(BodyPose& out, double size, double since_s) {
    const double phase = std::sin(2.0 * kPi * 0.95 * since_s);
    const double bob = std::sin(2.0 * kPi * 1.9 * since_s);
    for (const auto& [segment, turn_deg] :
         {std::pair(Segment::Pelvis, 8.0), std::pair(Segment::Torso, -9.0)})
        part(out, segment).q_lab_segment =
            AngleAxisd(rad_from_deg(turn_deg) * size * phase, Vector3d::UnitZ()) *
            part(out, segment).q_lab_segment;
    for (const auto& [segment, swing_deg] :
         {std::pair(Segment::LeadArm, 22.0), std::pair(Segment::Club, 35.0)})
        part(out, segment).q_lab_segment =
            AngleAxisd(rad_from_deg(swing_deg) * size * phase, Vector3d::UnitX()) *
            part(out, segment).q_lab_segment;
    for (SwingModel::Pose& pose : out)
        pose.p_lab_m += Vector3d(0.3 * size * phase, 0.0, 0.025 * size * bob);
}

/// A ball is placed: bending down with the club in the hand.
void place_ball(BodyPose& out, double size) {
    const double down = size;
    for (const auto& [segment, bend_deg] :
         {std::pair(Segment::Pelvis, 35.0), std::pair(Segment::Torso, 50.0)})
        part(out, segment).q_lab_segment =
            AngleAxisd(rad_from_deg(bend_deg) * down, Vector3d::UnitX()) *
            AngleAxisd(rad_from_deg(14.0) * down, Vector3d::UnitZ()) *
            part(out, segment).q_lab_segment;
    part(out, Segment::Club).q_lab_segment =
        AngleAxisd(rad_from_deg(70.0) * down, Vector3d(0.6, 0.7, 0.2).normalized()) *
        part(out, Segment::Club).q_lab_segment;
    part(out, Segment::LeadArm).q_lab_segment =
        AngleAxisd(rad_from_deg(25.0) * down, Vector3d::UnitX()) *
        part(out, Segment::LeadArm).q_lab_segment;
    for (SwingModel::Pose& pose : out)
        pose.p_lab_m += Vector3d(0.0, -0.15 * down, -0.2 * down);
}

void look_to_target(BodyPose& out, double size) {
    // To look down the line and back.
    const AngleAxisd turn(rad_from_deg(55.0) * size, Vector3d::UnitZ());
    for (SwingModel::Pose& pose : out)
        pose.q_lab_segment = turn * pose.q_lab_segment;
}

void turn_in_one_piece(BodyPose& out, const BodyPose& from, double u) {
    // All in one piece, away and through and back: the trunk about its own axes.
    const double turn = rad_from_deg(38.0) *
                        (2.0 * smooth(2.0 * u - 0.5) - smooth(4.0 * u) - smooth(4.0 * u - 3.0));
    const Quaterniond torso = from[index_of(Segment::Torso)].q_lab_segment;
    const Quaterniond moved = torso * AngleAxisd(turn, Vector3d::UnitZ()) * torso.conjugate();
    part(out, Segment::Pelvis).q_lab_segment =
        part(out, Segment::Pelvis).q_lab_segment * AngleAxisd(turn, Vector3d::UnitZ());
    for (Segment segment : {Segment::Torso, Segment::LeadArm, Segment::Club})
        part(out, segment).q_lab_segment = moved * part(out, segment).q_lab_segment;
}

} // namespace

BodyPose BayScript::pose_in(const Episode& episode, double t_s) const {
    const double u = (t_s - episode.begin_s) / (episode.end_s - episode.begin_s);
    const double since_s = t_s - episode.begin_s;
    BodyPose out = episode.from;
    const double size = episode.size * swell(u);
    switch (episode.doing) {
    case Doing::Rest:
        break;
    case Doing::Go:
        for (std::size_t i = 0; i < out.size(); ++i) {
            out[i].q_lab_segment =
                episode.from[i].q_lab_segment.slerp(smooth(u), episode.to[i].q_lab_segment);
            out[i].p_lab_m = episode.from[i].p_lab_m +
                             smooth(u) * (episode.to[i].p_lab_m - episode.from[i].p_lab_m);
        }
        break;
    case Doing::Waggle:
        waggle(out, size, since_s);
        break;
    case Doing::Walk:
        walk(out, size, since_s);
        break;
    case Doing::Place:
        place_ball(out, size);
        break;
    case Doing::Turn:
        look_to_target(out, size);
        break;
    case Doing::Swing:
        return episode.stroke->pose(
            stroke_time_s(*episode.stroke, since_s, episode.slower, episode.held_s));
    case Doing::Mount:
        turn_in_one_piece(out, episode.from, u);
        break;
    }
    return out;
}

BayScript::Feet BayScript::feet_n(double t_s) const {
    constexpr double kStanding_n = 390.0;
    const Episode& episode = at(t_s);
    if (episode.doing != Doing::Swing || !episode.stroke->total_force_n)
        return {kStanding_n, kStanding_n};
    const double own_s =
        stroke_time_s(*episode.stroke, t_s - episode.begin_s, episode.slower, episode.held_s);
    const double total_n = episode.stroke->total_force_n(own_s);
    const double lead_n = total_n * episode.stroke->lead_force_pct(own_s) / 100.0;
    return {lead_n, total_n - lead_n};
}

} // namespace kite::simulate
