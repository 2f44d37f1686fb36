#include "core/live/cutting.h"

#include "core/base/median.h"
#include "core/base/units.h"

#include <Eigen/Core>

#include <algorithm>
#include <cmath>
#include <limits>

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
constexpr double kDrillBack_deg = 12.0;
constexpr double kDrillForward_deg = 18.0;

constexpr double kStillBlock_s = 0.25;
constexpr double kStill_deg_s = 10.0;

Vector3d gyro_of(const std::array<double, 6>& v) {
    return {v[0], v[1], v[2]};
}
Vector3d force_of(const std::array<double, 6>& v) {
    return {v[3], v[4], v[5]};
}

std::size_t first_from(const Samples& samples, double t_s) {
    return static_cast<std::size_t>(
        std::lower_bound(samples.times_s.begin(), samples.times_s.end(), t_s) -
        samples.times_s.begin());
}

/// Scatter and half the steady turning of a sensor in a block; NaN where little was heard.
double restlessness_deg_s(const Samples& samples, TimeRange block) {
    const std::size_t begin = first_from(samples, block.begin_s);
    const std::size_t end = first_from(samples, block.end_s);
    if (static_cast<double>(end - begin) < 0.3 * samples.rate_hz * block.duration_s())
        return kMissing;
    Vector3d mean = Vector3d::Zero();
    for (std::size_t i = begin; i < end; ++i)
        mean += gyro_of(samples.values[i]) / static_cast<double>(end - begin);
    double sum = 0.0;
    for (std::size_t i = begin; i < end; ++i)
        sum += (gyro_of(samples.values[i]) - mean).squaredNorm();
    return std::sqrt(sum / static_cast<double>(end - begin) + 0.25 * mean.squaredNorm());
}

} // namespace

double restlessness_deg_s(const Parts& parts, TimeRange block) {
    double sum = 0.0;
    int count = 0;
    for (const auto& [segment, samples] : parts)
        if (const double here = restlessness_deg_s(samples, block); std::isfinite(here)) {
            sum += here * here;
            ++count;
        }
    return count == 0 ? kMissing : std::sqrt(sum / count);
}

TimeRange find_rest(const Parts& parts, TimeRange within) {
    constexpr double kStep_s = 0.05;
    TimeRange best{within.begin_s, std::min(within.end_s, within.begin_s + kStillBlock_s)};
    double least = std::numeric_limits<double>::infinity();
    for (double end = within.end_s; end - kStillBlock_s >= within.begin_s; end -= kStep_s) {
        const TimeRange block{end - kStillBlock_s, end};
        const double here = restlessness_deg_s(parts, block);
        if (here < least) {
            least = here;
            best = block;
        }
        if (here < kStill_deg_s)
            break;
    }
    return best;
}

Vector3d mean_force(const Samples& samples, TimeRange range) {
    Vector3d sum = Vector3d::Zero();
    std::size_t count = 0;
    for (std::size_t i = first_from(samples, range.begin_s);
         i < samples.times_s.size() && samples.times_s[i] < range.end_s; ++i) {
        sum += force_of(samples.values[i]);
        ++count;
    }
    return count == 0 ? sum : Vector3d(sum / static_cast<double>(count));
}

namespace {

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
    // A rest that was none is no bias.
    if (bias.norm() > kStill_deg_s)
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
    while (out.begin > 0 &&
           out.sign * turning.turn_deg[out.begin] < low + 0.85 * out.back_deg)
        --out.begin;
    return out;
}

/// From a little before the last rest before a time on.
TimeRange cut_around(const Parts& parts, double turns_away_s, double end_s, double not_before_s) {
    constexpr double kLookBack_s = 4.0;
    constexpr double kAhead_s = 0.5;
    const TimeRange rest = find_rest(
        parts, {std::max(not_before_s, turns_away_s - kLookBack_s), turns_away_s + 0.05});
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

std::optional<double> find_blow_s(const Samples& samples, TimeRange range) {
    constexpr double kLeast_g = 2.0;
    constexpr double kAbove = 10.0;
    constexpr double kOnset = 0.3;
    const double longest_s = samples.rate_hz > 0.0 ? 1.6 / samples.rate_hz : 0.0;
    std::vector<std::pair<double, double>> off; // time, how far beside the course before it
    for (std::size_t i = std::max<std::size_t>(2, first_from(samples, range.begin_s));
         i < samples.times_s.size() && samples.times_s[i] <= range.end_s; ++i) {
        if (samples.times_s[i] - samples.times_s[i - 1] > longest_s ||
            samples.times_s[i - 1] - samples.times_s[i - 2] > longest_s)
            continue;
        const Vector3d expected =
            2.0 * force_of(samples.values[i - 1]) - force_of(samples.values[i - 2]);
        off.emplace_back(samples.times_s[i], (force_of(samples.values[i]) - expected).norm());
    }
    if (off.size() < 10)
        return std::nullopt;
    std::vector<double> sizes;
    double most = 0.0;
    for (const auto& [t_s, size] : off) {
        sizes.push_back(size);
        most = std::max(most, size);
    }
    if (most < std::max(kLeast_g, kAbove * median_of(sizes)))
        return std::nullopt;
    const double onset = std::max(kOnset * most, 4.0 * median_of(sizes));
    for (const auto& [t_s, size] : off)
        if (size >= onset)
            // It came between this sample and the one before.
            return t_s - 0.25 / samples.rate_hz;
    return std::nullopt;
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
    for (Segment segment : {Segment::Club, Segment::LeadArm})
        if (const auto part = parts.find(segment); part != parts.end() && !out.impact_s)
            out.impact_s = find_blow_s(part->second, near);

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
    out.range = cut_around(parts, turning.times_s[away.begin], out.reference_s() + kNeededAfter_s,
                           not_before_s);
    return out;
}

std::optional<Cut> find_movement(const Parts& parts, double not_before_s) {
    constexpr double kDone_s = 0.35;      ///< at rest for so long after the way back …
    constexpr double kAnywhere_s = 1.5;   ///< … or for so long before it is complete
    const Samples* body = body_of(parts);
    const auto leader = leader_of(parts);
    if (body == nullptr || !leader || body->times_s.size() < 20)
        return std::nullopt;
    const double begin_s = std::max(not_before_s, body->times_s.front());
    const double newest_s = body->times_s.back();
    // It begins from rest: the first there is.
    TimeRange rest{begin_s, begin_s + kStillBlock_s};
    while (rest.end_s < newest_s && !(restlessness_deg_s(parts, rest) < kStill_deg_s)) {
        rest.begin_s += 0.05;
        rest.end_s += 0.05;
    }
    const Turning turning = turning_of(*body, rest);
    if (rest.end_s >= newest_s || turning.empty())
        return std::nullopt;
    const std::size_t from = first_from(*body, rest.end_s);
    // The furthest to either side; the one that is left again by more is the turn away.
    std::optional<Cut> best;
    double most = 0.0;
    for (const double sign : {1.0, -1.0}) {
        std::size_t furthest = from;
        for (std::size_t i = from; i < turning.times_s.size(); ++i)
            if (sign * turning.turn_deg[i] < sign * turning.turn_deg[furthest])
                furthest = i;
        const double low = sign * turning.turn_deg[furthest];
        const double back = sign * turning.turn_deg[from] - low;
        double high = low;
        for (std::size_t i = furthest; i < turning.times_s.size(); ++i)
            high = std::max(high, sign * turning.turn_deg[i]);
        if (back < kDrillBack_deg || high - low < kDrillForward_deg || high - low <= most)
            continue;
        const bool came_back = high > sign * turning.turn_deg[from] - 0.3 * back;
        const TimeRange end{newest_s - (came_back ? kDone_s : kAnywhere_s), newest_s};
        if (end.begin_s < turning.times_s[furthest] ||
            !(restlessness_deg_s(parts, end) < 2.0 * kStill_deg_s))
            continue;
        most = high - low;
        Cut cut;
        std::size_t begin = furthest;
        while (begin > from && sign * turning.turn_deg[begin] < low + 0.85 * back)
            --begin;
        const Samples& leading = parts.at(*leader);
        double fastest = 0.0;
        for (std::size_t i = first_from(leading, turning.times_s[furthest]);
             i < leading.times_s.size(); ++i)
            if (const double speed = gyro_of(leading.values[i]).norm(); speed > fastest) {
                fastest = speed;
                cut.fastest_s = leading.times_s[i];
            }
        for (Segment segment : {Segment::Club, Segment::LeadArm})
            if (const auto part = parts.find(segment); part != parts.end() && !cut.impact_s)
                cut.impact_s =
                    find_blow_s(part->second, {cut.fastest_s - 0.12, cut.fastest_s + 0.12});
        cut.counter_clockwise = sign > 0.0;
        cut.range = cut_around(parts, turning.times_s[begin], newest_s, not_before_s);
        best = cut;
    }
    return best;
}

} // namespace kite::live
