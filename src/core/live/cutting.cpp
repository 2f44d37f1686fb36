#include "core/live/cutting.h"

#include "core/base/median.h"
#include "core/base/units.h"

#include <Eigen/Core>

#include <algorithm>
#include <cmath>
#include <limits>
#include <utility>

namespace kite::live {

using Eigen::Vector3d;

namespace {

// What makes a swing; common practice, no source, wide enough for a chip.
struct Demands {
    double back_deg;
    double forward_deg;
    double body_deg_s;
    double club_deg_s;
    double arm_deg_s;
};
constexpr Demands kShot{10.0, 22.0, 80.0, 400.0, 180.0};
constexpr Demands kPractice{18.0, 40.0, 140.0, 650.0, 280.0};
/// In a drill the movement alone counts.
constexpr double kDrillBack_deg = 15.0;
constexpr double kDrillForward_deg = 20.0;
/// … unless the whole body turned, as when one looks to the target: its parts then stay together.
constexpr double kAsOne_deg = 6.0;

/// How far a part turned, about gravity as it lay when the part was at rest.
struct Turning {
    std::vector<double> times_s;
    std::vector<double> turn_deg;
    std::vector<double> rate_deg_s;

    bool empty() const { return times_s.empty(); }
};

Turning turning_of(const Samples& samples, TimeRange rest) {
    Vector3d up = mean_force(samples, rest);
    Vector3d bias = Vector3d::Zero();
    std::size_t count = 0;
    for (std::size_t i = first_from(samples, rest.begin_s);
         i < samples.times_s.size() && samples.times_s[i] < rest.end_s; ++i) {
        bias += gyro_of(samples.values[i]);
        ++count;
    }
    Turning out;
    if (count == 0 || up.norm() < 0.1)
        return out;
    up.normalize();
    bias /= static_cast<double>(count);
    // Somebody who only moves slowly has no bias to be seen.
    constexpr double kQuite_deg_s = 2.0;
    if (!(restlessness_deg_s(samples, rest) < kQuite_deg_s))
        bias.setZero();
    out.times_s = samples.times_s;
    double turn = 0.0;
    for (std::size_t i = 0; i < samples.times_s.size(); ++i) {
        const double rate = up.dot(gyro_of(samples.values[i]) - bias);
        if (i > 0)
            turn += 0.5 * (rate + out.rate_deg_s.back()) *
                    (samples.times_s[i] - samples.times_s[i - 1]);
        out.rate_deg_s.push_back(rate);
        out.turn_deg.push_back(turn);
    }
    return out;
}

/// Torso, else pelvis, else arm, else club: whose turning makes a swing of it.
const Samples* body_of(const Parts& parts) {
    for (Segment segment : {Segment::Torso, Segment::Pelvis, Segment::LeadArm, Segment::Club})
        if (const auto part = parts.find(segment);
            part != parts.end() && !part->second.times_s.empty())
            return &part->second;
    return nullptr;
}

double fastest_deg_s(const Samples& samples, TimeRange range) {
    double most = 0.0;
    for (std::size_t i = first_from(samples, range.begin_s);
         i < samples.times_s.size() && samples.times_s[i] <= range.end_s; ++i)
        most = std::max(most, gyro_of(samples.values[i]).norm());
    return most;
}

/// Away and back about a time.
struct Away {
    double sign = 1.0;
    std::size_t furthest = 0; ///< where the turn away ends
    std::size_t begin = 0;    ///< where it begins
    double back_deg = 0.0;
    double forward_deg = 0.0;
    double fastest_deg_s = 0.0;
};

Away find_away(const Turning& turning, double fastest_s) {
    constexpr double kDown_s = 0.35;
    constexpr double kLongestDown_s = 1.5;
    constexpr double kLongestBack_s = 3.0;
    Away out;
    double most = 0.0;
    for (std::size_t i = 0; i < turning.times_s.size(); ++i) {
        const double from = turning.times_s[i] - fastest_s;
        if (from < -kDown_s || from > 0.1)
            continue;
        if (std::abs(turning.rate_deg_s[i]) > most) {
            most = std::abs(turning.rate_deg_s[i]);
            out.sign = turning.rate_deg_s[i] < 0.0 ? -1.0 : 1.0;
        }
    }
    out.fastest_deg_s = most;
    double low = std::numeric_limits<double>::infinity();
    for (std::size_t i = 0; i < turning.times_s.size(); ++i) {
        const double from = turning.times_s[i] - fastest_s;
        if (from < -kLongestDown_s || from > 0.0)
            continue;
        if (const double turn = out.sign * turning.turn_deg[i]; turn < low) {
            low = turn;
            out.furthest = i;
        }
    }
    if (!std::isfinite(low))
        return {};
    double high = low;
    for (std::size_t i = 0; i < turning.times_s.size(); ++i) {
        const double turn = out.sign * turning.turn_deg[i];
        if (i <= out.furthest &&
            turning.times_s[i] >= turning.times_s[out.furthest] - kLongestBack_s)
            high = std::max(high, turn);
        if (i > out.furthest)
            out.forward_deg = std::max(out.forward_deg, turn - low);
    }
    out.back_deg = high - low;
    // Going back from the furthest: where most of the way has not been turned yet.
    out.begin = out.furthest;
    while (out.begin > 0 && out.sign * turning.turn_deg[out.begin] < low + 0.85 * out.back_deg)
        --out.begin;
    return out;
}

/// From a little before the last rest before the body is furthest away. Going back to address from
/// the last finish turns the same way as the backswing: only a rest tells them apart. Where there
/// is none, before it begins to turn away.
TimeRange cut_around(const Parts& parts, double furthest_s, double turns_away_s, double end_s,
                     double not_before_s) {
    constexpr double kRestBefore_s = 4.0;
    constexpr double kAhead_s = 0.5;
    constexpr std::array kRestless_deg_s{kStill_deg_s, 2.0 * kStill_deg_s, 3.5 * kStill_deg_s};
    const double from_s = std::max(not_before_s, furthest_s - kRestBefore_s);
    TimeRange rest = find_rest(parts, {from_s, turns_away_s + 0.05});
    for (const double limit : kRestless_deg_s)
        if (const auto found = last_rest(parts, {from_s, furthest_s - 0.2}, limit)) {
            rest = *found;
            break;
        }
    return {std::max(not_before_s, rest.begin_s - kAhead_s), end_s};
}

} // namespace

std::optional<Segment> leader_of(const Parts& parts) {
    for (Segment segment : {Segment::Club, Segment::LeadArm, Segment::Torso, Segment::Pelvis})
        if (parts.count(segment) > 0)
            return segment;
    return std::nullopt;
}

double least_speed_deg_s(Segment leader) {
    switch (leader) {
    case Segment::Club:
        return kShot.club_deg_s;
    case Segment::LeadArm:
        return kShot.arm_deg_s;
    default:
        return kShot.body_deg_s;
    }
}

namespace {

/// How far a sample lies beside the course that the two before it kept.
struct Jump {
    double t_s = 0.0;
    double force_g = 0.0;
    double gyro_deg_s = 0.0;
};

std::vector<Jump> jumps_in(const Samples& samples, TimeRange range) {
    const double longest_s = samples.rate_hz > 0.0 ? 1.6 / samples.rate_hz : 0.0;
    std::vector<Jump> out;
    for (std::size_t i = std::max<std::size_t>(2, first_from(samples, range.begin_s));
         i < samples.times_s.size() && samples.times_s[i] <= range.end_s; ++i) {
        const auto& here = samples.values[i];
        const auto& before = samples.values[i - 1];
        const auto& first = samples.values[i - 2];
        if (samples.times_s[i] - samples.times_s[i - 1] <= longest_s &&
            samples.times_s[i - 1] - samples.times_s[i - 2] <= longest_s)
            out.push_back({samples.times_s[i],
                           (force_of(here) - 2.0 * force_of(before) + force_of(first)).norm(),
                           (gyro_of(here) - 2.0 * gyro_of(before) + gyro_of(first)).norm()});
    }
    return out;
}

double median_jump(const std::vector<Jump>& jumps, double Jump::*member) {
    std::vector<double> values;
    for (const Jump& jump : jumps)
        values.push_back(jump.*member);
    return median_of(values);
}

} // namespace

std::optional<double> find_struck_s(const Samples& samples, TimeRange range) {
    constexpr double kLeast_g = 2.0;
    constexpr double kAbove = 10.0;
    constexpr double kRough_g = 1.0;
    constexpr double kRoughAbove = 6.0;
    constexpr std::ptrdiff_t kLongestRinging = 12; ///< samples
    const std::vector<Jump> jumps = jumps_in(samples, range);
    if (jumps.size() < 10)
        return std::nullopt;
    const double usual_g = median_jump(jumps, &Jump::force_g);
    auto first = std::max_element(jumps.begin(), jumps.end(), [](const Jump& a, const Jump& b) {
        return a.force_g < b.force_g;
    });
    if (first->force_g < std::max(kLeast_g, kAbove * usual_g))
        return std::nullopt;
    // Ringing may be small where it begins: back from the hardest to where it is no longer smooth.
    const auto earliest = first - std::min(first - jumps.begin(), kLongestRinging);
    const double rough_g = std::max(kRough_g, kRoughAbove * usual_g);
    while (first != earliest) {
        // One quiet sample may lie between two that ring.
        if ((first - 1)->force_g >= rough_g)
            --first;
        else if (first - 1 != earliest && (first - 2)->force_g >= rough_g)
            first -= 2;
        else
            break;
    }
    // The ball takes speed too: where that shows a sample or two earlier, the ringing was missed.
    constexpr double kTaken_deg_s = 40.0;
    const double taken_deg_s =
        std::max(kTaken_deg_s, kAbove * median_jump(jumps, &Jump::gyro_deg_s));
    for (auto jump = first - std::min<std::ptrdiff_t>(first - jumps.begin(), 2); jump != first;
         ++jump)
        if (jump->gyro_deg_s >= taken_deg_s) {
            first = jump;
            break;
        }
    // It came between this sample and the one before.
    return first->t_s - 0.25 / samples.rate_hz;
}

std::optional<Cut> find_swing(const Parts& parts, double fastest_s, double not_before_s) {
    constexpr double kNear_s = 0.12;
    const auto leader = leader_of(parts);
    const Samples* body = body_of(parts);
    if (!leader || body == nullptr)
        return std::nullopt;
    Cut out;
    out.fastest_s = fastest_s;
    const TimeRange near{fastest_s - kNear_s, fastest_s + kNear_s};
    out.can_feel = parts.count(Segment::Club) + parts.count(Segment::LeadArm) > 0;
    for (Segment segment : {Segment::Club, Segment::LeadArm})
        if (const auto part = parts.find(segment); part != parts.end() && !out.impact_s)
            out.impact_s = find_struck_s(part->second, near);

    const TimeRange rest = find_rest({{Segment::Torso, *body}},
                                     {std::max(not_before_s, fastest_s - 6.0), fastest_s - 0.4});
    const Turning turning = turning_of(*body, rest);
    if (turning.empty())
        return std::nullopt;
    const Away away = find_away(turning, fastest_s);
    const Demands& demands = out.impact_s ? kShot : kPractice;
    const double speed = fastest_deg_s(parts.at(*leader), near);
    const double least = *leader == Segment::Club      ? demands.club_deg_s
                         : *leader == Segment::LeadArm ? demands.arm_deg_s
                                                       : demands.body_deg_s;
    if (speed < least || away.back_deg < demands.back_deg ||
        away.forward_deg < demands.forward_deg || away.fastest_deg_s < demands.body_deg_s)
        return std::nullopt;
    out.counter_clockwise = away.sign > 0.0;
    out.range = cut_around(parts, turning.times_s[away.furthest], turning.times_s[away.begin],
                           out.reference_s() + kNeededAfter_s, not_before_s);
    return out;
}

namespace {

/// Away from rest and back, to one side.
struct There {
    std::size_t furthest = 0;
    double forward_deg = 0.0;
    bool over = false;
};

std::optional<There> there_and_back(const Parts& parts, const Turning& turning, std::size_t from,
                                    double sign) {
    constexpr double kDone_s = 0.35;    ///< at rest for so long after the way back …
    constexpr double kAnywhere_s = 1.5; ///< … or for so long before it is complete
    There out;
    out.furthest = from;
    const auto turn = [&](std::size_t i) { return sign * turning.turn_deg[i]; };
    for (std::size_t i = from; i < turning.times_s.size(); ++i)
        if (turn(i) < turn(out.furthest))
            out.furthest = i;
    const double low = turn(out.furthest);
    const double back = turn(from) - low;
    double high = low;
    for (std::size_t i = out.furthest; i < turning.times_s.size(); ++i)
        high = std::max(high, turn(i));
    out.forward_deg = high - low;
    if (back < kDrillBack_deg || out.forward_deg < kDrillForward_deg)
        return std::nullopt;
    const bool came_back = out.forward_deg > back; // past where it began: not the top, not a step
    const double newest_s = turning.times_s.back();
    const TimeRange end{newest_s - (came_back ? kDone_s : kAnywhere_s), newest_s};
    out.over = out.forward_deg > 0.7 * back && end.begin_s > turning.times_s[out.furthest] &&
               restlessness_deg_s(parts, end) < 2.0 * kStill_deg_s;
    return out;
}

/// Pelvis, torso and arm turned by the same at every time from a rest to another time.
bool turns_as_one(const Parts& parts, TimeRange rest, double until_s) {
    constexpr double kStep_s = 0.05;
    std::vector<Turning> turnings;
    for (Segment segment : {Segment::Pelvis, Segment::Torso, Segment::LeadArm})
        if (const auto part = parts.find(segment); part != parts.end())
            if (Turning turning = turning_of(part->second, rest); !turning.empty())
                turnings.push_back(std::move(turning));
    if (turnings.size() < 2)
        return false;
    const auto turned_deg = [&](const Turning& turning, double t_s) {
        const auto place = [&](double at_s) {
            const auto after =
                std::lower_bound(turning.times_s.begin(), turning.times_s.end(), at_s);
            return static_cast<std::size_t>(std::min(after, turning.times_s.end() - 1) -
                                            turning.times_s.begin());
        };
        return turning.turn_deg[place(t_s)] - turning.turn_deg[place(rest.end_s)];
    };
    double apart_deg = 0.0;
    const int steps = static_cast<int>((until_s - rest.end_s) / kStep_s) + 1;
    for (int step = 0; step <= steps; ++step) {
        const double t_s = rest.end_s + step * kStep_s;
        for (const Turning& turning : turnings)
            apart_deg = std::max(
                apart_deg, std::abs(turned_deg(turning, t_s) - turned_deg(turnings.front(), t_s)));
    }
    return apart_deg < kAsOne_deg;
}

} // namespace

std::optional<Cut> find_movement(const Parts& parts, double not_before_s,
                                 std::optional<Handedness> handed) {
    constexpr double kStep_s = 0.1;
    constexpr double kAhead_s = 0.3;
    const Samples* body = body_of(parts);
    const auto leader = leader_of(parts);
    if (body == nullptr || !leader || body->times_s.size() < 20)
        return std::nullopt;
    const double begin_s = std::max(not_before_s, body->times_s.front());
    const double newest_s = body->times_s.back();
    std::vector<double> signs{1.0, -1.0};
    if (handed)
        signs = {*handed == Handedness::Right ? 1.0 : -1.0};
    // From the last rest that something came after: what was done before, going back to address
    // for instance, is no part of it.
    bool rested = true; // since the block after: of a stretch of rest its end alone is looked at
    for (double end_s = newest_s; end_s - kStillBlock_s >= begin_s; end_s -= kStep_s) {
        const TimeRange rest{end_s - kStillBlock_s, end_s};
        const bool rests = restlessness_deg_s(parts, rest) < kStill_deg_s;
        if (!rests || std::exchange(rested, rests)) {
            rested = rests;
            continue;
        }
        const Turning turning = turning_of(*body, rest);
        if (turning.empty())
            continue;
        const std::size_t from = first_from(*body, rest.end_s);
        std::optional<There> best;
        double sign = 1.0;
        for (const double way : signs)
            if (const auto there = there_and_back(parts, turning, from, way);
                there && (!best || there->forward_deg > best->forward_deg)) {
                best = there;
                sign = way;
            }
        if (!best)
            continue;
        if (turns_as_one(parts, rest, turning.times_s[best->furthest]))
            continue; // it was a look to the target, or the way back from one
        if (!best->over)
            return std::nullopt; // it goes on
        Cut cut;
        const Samples& leading = parts.at(*leader);
        double fastest = 0.0;
        for (std::size_t i = first_from(leading, turning.times_s[best->furthest]);
             i < leading.times_s.size(); ++i)
            if (const double speed = gyro_of(leading.values[i]).norm(); speed > fastest) {
                fastest = speed;
                cut.fastest_s = leading.times_s[i];
            }
        for (Segment segment : {Segment::Club, Segment::LeadArm})
            if (const auto part = parts.find(segment); part != parts.end() && !cut.impact_s)
                cut.impact_s =
                    find_struck_s(part->second, {cut.fastest_s - 0.12, cut.fastest_s + 0.12});
        cut.counter_clockwise = sign > 0.0;
        // From this rest on: what came before it is no part of the movement.
        cut.range = {std::max(not_before_s, rest.begin_s - kAhead_s), newest_s};
        return cut;
    }
    return std::nullopt;
}

} // namespace kite::live
