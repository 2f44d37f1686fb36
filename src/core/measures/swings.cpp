#include "core/measures/swings.h"

#include "core/base/number.h"

#include <algorithm>
#include <array>
#include <cmath>

namespace kite {

using Direction = Curve::Direction;

namespace {

/// A leader hidden for longer than this about the swing cannot lead.
constexpr double kLongestHiddenLeader_s = 0.2;
/// … and no longer than this where it is fastest.
constexpr double kLongestHiddenThere_s = 0.09;
constexpr double kSeenBefore_s = 1.0;
constexpr double kSeenAfter_s = 0.05;
constexpr double kSwingShare = 0.4;       ///< of the fastest: slower ones are waggles
constexpr double kChoosingBefore_s = 0.6; ///< stretch for the choice of cut-offs: from here …
constexpr double kChoosingAfter_s = 0.4;  ///< … to here about the swing's fastest moment

/// A part that never turns faster is not swung.
double slowest_swing_deg_s(Segment leader) {
    switch (leader) {
    case Segment::Club:
        return 250.0;
    case Segment::LeadArm:
        return 150.0;
    default:
        return 90.0;
    }
}

/// Which of the swings in the take is meant, as an index.
std::size_t choose_swing(const Take& take, const AnalysisOptions& options,
                         const std::vector<double>& swings_s, const Curve& speed_deg_s) {
    if (options.swing)
        return std::min(*options.swing == 0 ? 0 : *options.swing - 1, swings_s.size() - 1);
    std::size_t best = 0;
    for (std::size_t i = 1; i < swings_s.size(); ++i) {
        const bool better = take.contact_s
                                ? std::abs(swings_s[i] - *take.contact_s) <
                                      std::abs(swings_s[best] - *take.contact_s)
                                : speed_deg_s.at(swings_s[i]) > speed_deg_s.at(swings_s[best]);
        if (better)
            best = i;
    }
    return best;
}

} // namespace

Curve calc_leader_speed(const SegmentMotion& motion, Segment leader) {
    if (!is_trunk(leader))
        return calc_speed_deg_s(motion);
    const Curve rate =
        calc_rate_deg_s(motion, leader, RateConvention::Axis, Eigen::Vector3d::UnitZ());
    std::vector<double> speed(rate.values());
    for (double& value : speed)
        value = std::abs(value);
    return {std::move(speed), motion.rate_hz, motion.change_s};
}

std::vector<double> find_swings_s(const Curve& speed_deg_s, Segment leader) {
    std::vector<double> out;
    const auto fastest = speed_deg_s.find_max({0.0, speed_deg_s.duration_s()});
    if (!fastest || fastest->value < slowest_swing_deg_s(leader))
        return out;
    const double least = std::max(kSwingShare * fastest->value, slowest_swing_deg_s(leader));
    // From one fastest moment to the next: what lies within reach of a faster one is part of it.
    double begin_s = 0.0;
    while (begin_s < speed_deg_s.duration_s()) {
        const auto above = speed_deg_s.at(begin_s) >= least
                               ? std::optional(begin_s)
                               : speed_deg_s.find_first_crossing(
                                     least, Direction::Rising, {begin_s, speed_deg_s.duration_s()});
        if (!above)
            break;
        auto peak = speed_deg_s.find_max({*above, *above + kSwingReach_s});
        if (!peak)
            break;
        // Climbing on: the reach is taken from the peak.
        for (;;) {
            const auto next = speed_deg_s.find_max({*above, peak->t_s + kSwingReach_s});
            if (!next || !(next->t_s > peak->t_s))
                break;
            peak = next;
        }
        out.push_back(peak->t_s);
        const auto down = speed_deg_s.find_first_crossing(least, Direction::Falling,
                                                          {peak->t_s, speed_deg_s.duration_s()});
        begin_s = std::max(peak->t_s + kSwingReach_s, down.value_or(speed_deg_s.duration_s()));
    }
    return out;
}

void choose_among_swings(const Curve& speed_deg_s, const Take& take, const AnalysisOptions& options,
                         Swings& swings) {
    if (const auto fastest = speed_deg_s.find_max({0.0, take.duration_s()}))
        swings.fastest_deg_s = fastest->value;
    if (!swings.fastest_s.empty())
        swings.index = choose_swing(take, options, swings.fastest_s, speed_deg_s);
}

Finding several_swings(const Swings& swings) {
    std::vector<std::string> times;
    times.reserve(swings.fastest_s.size());
    for (double t_s : swings.fastest_s)
        times.push_back(fixed(t_s, 2) + " s");
    const std::string what = "The take holds " + std::to_string(times.size()) +
                             " swings, fastest at " + listed(times) + "; number " +
                             std::to_string(swings.index + 1) + " was analysed.";
    return {Finding::Severity::Warning, "several-swings", what, "",
            "Choose another by its number if that was a practice swing."};
}

namespace {

/// Going back turns the other way: a backswing is no swing, however fast it is, nor is the way back
/// from a finish.
void drop_ways_back(const SegmentMotion& motion, Segment leader, const Curve& speed_deg_s,
                    std::vector<double>& swings_s) {
    if (swings_s.size() < 2)
        return;
    const auto turning = [&](double t_s) -> Eigen::Vector3d {
        const auto frame = std::min(static_cast<std::size_t>(std::lround(t_s * motion.rate_hz)),
                                    motion.size() - 1);
        return is_trunk(leader) ? motion.omega_lab_rad_s[frame] : motion.omega_without_roll(frame);
    };
    const double fastest_s =
        *std::max_element(swings_s.begin(), swings_s.end(), [&](double a, double b) {
            return speed_deg_s.at(a) < speed_deg_s.at(b);
        });
    const Eigen::Vector3d forwards = turning(fastest_s);
    swings_s.erase(std::remove_if(swings_s.begin(), swings_s.end(),
                                  [&](double t_s) { return turning(t_s).dot(forwards) < 0.0; }),
                   swings_s.end());
}

constexpr std::array kLeaders{Segment::Club, Segment::LeadArm, Segment::Torso, Segment::Pelvis};

/// A part's turning and the swings in it.
struct Candidate {
    Swings swings;
    Curve speed_deg_s;

    Candidate(SmoothedParts& parts, const Take& take, const AnalysisOptions& options,
              Segment segment) {
        swings.leader = segment;
        const SegmentMotion& motion = parts.get(segment, options.cutoff_of_hz(segment),
                                                std::nullopt, SmoothedParts::Wanted::Turning);
        speed_deg_s = calc_leader_speed(motion, segment);
        swings.fastest_s = find_swings_s(speed_deg_s, segment);
        drop_ways_back(motion, segment, speed_deg_s, swings.fastest_s);
        choose_among_swings(speed_deg_s, take, options, swings);
    }
    bool has_swing() const { return !swings.fastest_s.empty(); }
    /// The longest time for which it was hidden in a swing that is fastest then.
    double hidden_in_s(double fastest_s) const {
        return speed_deg_s.longest_unseen_s({fastest_s - kSeenBefore_s, fastest_s + kSeenAfter_s});
    }
    bool was_seen() const {
        const double fastest_s = swings.chosen_s();
        return hidden_in_s(fastest_s) <= kLongestHiddenLeader_s &&
               speed_deg_s.longest_unseen_s(
                   {fastest_s - kSeenAfter_s, fastest_s + 2.0 * kSeenAfter_s}) <=
                   kLongestHiddenThere_s;
    }
};

/// A part that was hidden where the others swing shows something else as its fastest moment, such
/// as what was seen of its backswing.
bool missed_the_swing(const Candidate& one, SmoothedParts& parts, const Take& take,
                      const AnalysisOptions& options) {
    if (one.speed_deg_s.longest_unseen_s({0.0, take.duration_s()}) <= kLongestHiddenLeader_s)
        return false;
    for (auto next = std::find(kLeaders.begin(), kLeaders.end(), one.swings.leader) + 1;
         next != kLeaders.end(); ++next) {
        if (take.find(*next) == nullptr)
            continue;
        const Candidate other(parts, take, options, *next);
        if (!other.has_swing() || !other.was_seen())
            continue;
        const double there_s = other.swings.chosen_s();
        return std::abs(there_s - one.swings.chosen_s()) > kSwingReach_s &&
               one.hidden_in_s(there_s) > kLongestHiddenLeader_s;
    }
    return false;
}

} // namespace

std::optional<Swings> find_swings(SmoothedParts& parts, const Take& take,
                                  const AnalysisOptions& options) {
    // The first part that was seen through the swing tells the moments.
    std::optional<Candidate> first;
    for (Segment segment : kLeaders) {
        if (take.find(segment) == nullptr)
            continue;
        Candidate one(parts, take, options, segment);
        const bool leads =
            one.has_swing() && one.was_seen() && !missed_the_swing(one, parts, take, options);
        if (leads && first) {
            one.swings.hidden_leader = first->swings.leader;
            one.swings.hidden_s = first->hidden_in_s(one.swings.chosen_s());
        }
        if (leads)
            return one.swings;
        if (!first)
            first.emplace(std::move(one));
    }
    return first ? std::optional(first->swings) : std::nullopt;
}

AnalysisOptions with_cutoffs(const Take& take, const AnalysisOptions& options,
                             const std::optional<Swings>& swings) {
    AnalysisOptions out = options;
    const bool has_swing = swings && !swings->fastest_s.empty();
    const double centre_s = take.contact_s.value_or(has_swing ? swings->chosen_s() : 0.0);
    for (const auto& [segment, series] : take.segments) {
        if (out.cutoff_hz.count(segment) > 0)
            continue;
        const CutoffBounds bounds = cutoff_bounds(segment);
        out.cutoff_hz[segment] =
            has_swing
                ? choose_cutoff_hz(series, take.rate_hz,
                                   {centre_s - kChoosingBefore_s,
                                    centre_s + (feels_impact(segment) ? 0.0 : kChoosingAfter_s)},
                                   bounds)
                : bounds.high_hz;
    }
    return out;
}

} // namespace kite
