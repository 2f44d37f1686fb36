#include "core/measures/swings.h"

#include <algorithm>
#include <cmath>

namespace kite {

using Direction = Curve::Direction;

namespace {

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

std::optional<Segment> find_leader(const Take& take) {
    for (Segment segment : {Segment::Club, Segment::LeadArm, Segment::Torso, Segment::Pelvis})
        if (take.find(segment) != nullptr)
            return segment;
    return std::nullopt;
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

std::optional<Swings> find_swings(SmoothedParts& parts, const Take& take,
                                  const AnalysisOptions& options) {
    const auto leader = find_leader(take);
    if (!leader)
        return std::nullopt;
    Swings out;
    out.leader = *leader;
    const SegmentMotion& motion = parts.get(*leader, options.cutoff_of_hz(*leader), std::nullopt);
    const Curve speed_deg_s = calc_leader_speed(motion, *leader);
    if (const auto fastest = speed_deg_s.find_max({0.0, take.duration_s()}))
        out.fastest_deg_s = fastest->value;
    out.fastest_s = find_swings_s(speed_deg_s, *leader);
    if (!out.fastest_s.empty())
        out.index = choose_swing(take, options, out.fastest_s, speed_deg_s);
    return out;
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
