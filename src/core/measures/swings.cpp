#include "core/measures/swings.h"

#include <algorithm>
#include <cmath>
#include <iomanip>
#include <locale>
#include <sstream>

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
    swings.fastest_s = find_swings_s(speed_deg_s, swings.leader);
    if (!swings.fastest_s.empty())
        swings.index = choose_swing(take, options, swings.fastest_s, speed_deg_s);
}

Finding several_swings(const Swings& swings) {
    std::ostringstream what;
    what.imbue(std::locale::classic());
    what << std::fixed << std::setprecision(2) << "The take holds " << swings.fastest_s.size()
         << " swings, fastest at ";
    for (std::size_t i = 0; i < swings.fastest_s.size(); ++i)
        what << (i == 0                             ? ""
                 : i + 1 == swings.fastest_s.size() ? " and "
                                                    : ", ")
             << swings.fastest_s[i] << " s";
    what << "; number " << swings.index + 1 << " was analysed.";
    return {Finding::Severity::Warning, "several-swings", what.str(), "",
            "Choose another by its number if that was a practice swing."};
}

std::optional<Swings> find_swings(SmoothedParts& parts, const Take& take,
                                  const AnalysisOptions& options) {
    // The first part that was seen through the swing tells the moments.
    std::optional<Swings> first;
    for (Segment segment : {Segment::Club, Segment::LeadArm, Segment::Torso, Segment::Pelvis}) {
        if (take.find(segment) == nullptr)
            continue;
        Swings out;
        out.leader = segment;
        const SegmentMotion& motion = parts.get(segment, options.cutoff_of_hz(segment),
                                                std::nullopt, SmoothedParts::Wanted::Turning);
        const Curve speed_deg_s = calc_leader_speed(motion, segment);
        choose_among_swings(speed_deg_s, take, options, out);
        if (!first)
            first = out;
        if (out.fastest_s.empty())
            continue;
        const TimeRange swing{out.chosen_s() - kSeenBefore_s, out.chosen_s() + kSeenAfter_s};
        out.hidden_s = speed_deg_s.longest_unseen_s(swing);
        const double hidden_there_s = speed_deg_s.longest_unseen_s(
            {out.chosen_s() - kSeenAfter_s, out.chosen_s() + 2.0 * kSeenAfter_s});
        if (out.hidden_s <= kLongestHiddenLeader_s && hidden_there_s <= kLongestHiddenThere_s) {
            if (first->leader != out.leader)
                out.hidden_leader = first->leader;
            out.hidden_s = first->hidden_s;
            return out;
        }
        if (first->leader == out.leader)
            first = out;
    }
    return first;
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
