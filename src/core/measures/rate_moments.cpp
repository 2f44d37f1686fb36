#include "core/measures/rate_moments.h"

#include "core/base/median.h"
#include "core/base/number.h"
#include "core/base/units.h"
#include "core/motion/gaps.h"
#include "core/motion/plausible.h"
#include "core/signal/butterworth.h"
#include "core/signal/local_fit.h"

#include <algorithm>
#include <cmath>

namespace kite {

using Severity = Finding::Severity;
using Direction = Curve::Direction;

SequenceInput::Part smooth_rate(const std::vector<double>& raw_deg_s, double rate_hz,
                                double cutoff_hz, std::optional<double> change_s) {
    Flags seen(raw_deg_s.size());
    for (std::size_t i = 0; i < seen.size(); ++i)
        seen[i] = std::isfinite(raw_deg_s[i]);
    FourSignals bridged(raw_deg_s.size(), Eigen::Array4d::Zero());
    for (std::size_t i = 0; i < seen.size(); ++i)
        bridged[i](0) = raw_deg_s[i];
    bridge_gaps(bridged, seen, rate_hz);
    std::vector<double> whole(raw_deg_s.size());
    for (std::size_t i = 0; i < whole.size(); ++i)
        whole[i] = bridged[i](0);
    std::vector<double> smooth(raw_deg_s.size(), kMissing);
    const double used_hz = std::min(cutoff_hz, highest_cutoff_hz(rate_hz));
    std::vector<std::size_t> cuts;
    if (change_s)
        cuts.push_back(static_cast<std::size_t>(std::floor(*change_s * rate_hz + 1e-9)) + 1);
    for (const FrameRange& run : find_runs(seen, cuts)) {
        const bool begins = !cuts.empty() && run.begin == cuts.front();
        const bool ends = !cuts.empty() && run.end == cuts.front();
        filter_two_pass(whole, run, used_hz, rate_hz, begins ? End::Trend : End::Odd,
                        ends ? End::Trend : End::Odd, smooth);
    }
    SequenceInput::Part part;
    part.cutoff_hz = used_hz;
    part.turned.x = raw_deg_s;
    part.turned.rate_hz = rate_hz;
    part.rate_deg_s = Curve(std::move(smooth), rate_hz, change_s);
    part.reversing_deg_s = part.rate_deg_s;
    return part;
}

std::optional<double> find_blow_s(const std::vector<double>& raw_club_deg_s, double rate_hz,
                                  double near_s) {
    constexpr double kReach_s = 0.05;
    constexpr double kLeastLoss = 0.05;
    constexpr double kStandsOut = 4.0;
    const auto near = static_cast<std::size_t>(std::max(0.0, std::round(near_s * rate_hz)));
    const auto about = static_cast<std::size_t>(std::ceil(kReach_s * rate_hz));
    std::size_t fastest = std::min(near, raw_club_deg_s.size() - 1);
    for (std::size_t i = near > about ? near - about : 0;
         i < std::min(raw_club_deg_s.size(), near + about + 1); ++i)
        if (!(raw_club_deg_s[i] <= raw_club_deg_s[fastest]))
            fastest = i;
    const auto reach = static_cast<std::size_t>(std::ceil(kReach_s * rate_hz));
    const std::size_t begin = fastest > reach ? fastest - reach : 0;
    const std::size_t end = std::min(raw_club_deg_s.size(), fastest + reach + 1);
    std::vector<double> steps;
    double loss = 0.0;
    std::size_t at = 0;
    for (std::size_t i = begin; i + 1 < end; ++i) {
        const double step = raw_club_deg_s[i] - raw_club_deg_s[i + 1];
        if (!std::isfinite(step))
            continue;
        steps.push_back(std::abs(step));
        if (step > loss) {
            loss = step;
            at = i;
        }
    }
    if (steps.size() < 4 || !(loss > kLeastLoss * raw_club_deg_s[fastest]))
        return std::nullopt;
    if (loss < kStandsOut * median_of(steps))
        return std::nullopt;
    return (static_cast<double>(at) + 0.5) / rate_hz;
}

namespace {

/// Peaks of a golfer's parts, °/s.
plausible::Span span_of(Segment segment) {
    switch (segment) {
    case Segment::Pelvis:
        return plausible::kPelvisPeak_deg_s;
    case Segment::Torso:
        return plausible::kTorsoPeak_deg_s;
    case Segment::LeadArm:
        return plausible::kArmPeak_deg_s;
    default:
        return plausible::kClubPeak_deg_s;
    }
}

/// Greatest and smallest value, spikes of single frames left out.
std::pair<double, double> extent_of(const std::vector<double>& rate) {
    std::pair<double, double> out{-std::numeric_limits<double>::infinity(),
                                  std::numeric_limits<double>::infinity()};
    for (std::size_t i = 1; i < rate.size(); ++i) {
        if (!std::isfinite(rate[i]) || !std::isfinite(rate[i - 1]))
            continue;
        out.first = std::max(out.first, std::min(rate[i], rate[i - 1]));
        out.second = std::min(out.second, std::max(rate[i], rate[i - 1]));
    }
    return out;
}

} // namespace

void mend_rates(Take& take, std::vector<Finding>& findings) {
    constexpr double kToDegrees = 180.0 / kPi;
    bool radians = !take.rates_deg_s.empty();
    bool negative = !take.rates_deg_s.empty();
    for (const auto& [segment, rate] : take.rates_deg_s) {
        const auto [most, least] = extent_of(rate);
        const double size = std::max(most, -least);
        const plausible::Span span = span_of(segment);
        radians = radians && size < 0.3 * span.low && span.holds(size * kToDegrees);
        // The downswing is faster than the backswing in every part.
        negative = negative && -least > 1.3 * most;
    }
    if (radians) {
        for (auto& entry : take.rates_deg_s)
            for (double& value : entry.second)
                value *= kToDegrees;
        findings.push_back({Severity::Warning, "radians-mended",
                            "The rotation speeds are in radians a second (in degrees no part would "
                            "move as in a swing); they were converted.",
                            "rate columns", "Give them in degrees a second."});
    }
    if (negative) {
        for (auto& entry : take.rates_deg_s)
            for (double& value : entry.second)
                value = -value;
        findings.push_back({Severity::Warning, "sign-mended",
                            "The fast downswing is negative in every part; the signs were turned "
                            "round.",
                            "rate columns",
                            "Rates are negative in the backswing and positive in the downswing."});
    }
}

std::optional<Swings> find_rate_swings(const Take& take, const AnalysisOptions& options) {
    Swings out;
    const std::vector<double>* raw = nullptr;
    for (Segment candidate : {Segment::Club, Segment::LeadArm, Segment::Torso, Segment::Pelvis})
        if (const auto found = take.rates_deg_s.find(candidate);
            raw == nullptr && found != take.rates_deg_s.end()) {
            raw = &found->second;
            out.leader = candidate;
        }
    if (raw == nullptr)
        return std::nullopt;
    const Curve speed =
        smooth_rate(*raw, take.rate_hz, options.cutoff_of_hz(out.leader), std::nullopt).rate_deg_s;
    out.fastest_s = find_swings_s(speed, out.leader);
    choose_among_swings(speed, take, options, out);
    return out;
}

namespace {

/// Impact from a contact mark or from the club; a warning where neither tells it.
void find_impact_in_rates(const Take& take, const SequenceInput::Part& leader, const Swings& swings,
                          Outcome<SwingMoments>& out) {
    SwingMoments& moments = out.value;
    if (take.contact_s) {
        moments[Moment::Impact] =
            MomentTime{*take.contact_s, 1.0 / (take.rate_hz * std::sqrt(12.0)), false};
        moments.impact_source = ImpactSource::Contact;
        return;
    }
    if (swings.leader != Segment::Club) {
        out.add({Severity::Warning, "no-impact",
                 "There is neither club nor contact mark; what is measured at impact is not "
                 "available.",
                 "", "Add a contact mark."});
        return;
    }
    const auto blow = leader.rate_deg_s.change_s();
    const double t_s = blow.value_or(swings.chosen_s());
    const double hidden_s = leader.turned.unseen_about_s(t_s);
    const double known_s = blow ? 0.5 / take.rate_hz : 0.01;
    moments[Moment::Impact] = MomentTime{t_s, std::max(known_s, hidden_s / std::sqrt(12.0)), false};
    moments.impact_source = ImpactSource::Peak;
    out.add({Severity::Warning, "impact-assumed",
             blow ? "Impact is taken where the club suddenly loses speed."
                  : "Impact could not be seen; the club's fastest moment is taken for it.",
             "", "Add a contact mark."});
}

/// Why there is no top: what comes before the peak was not seen, or is not there.
Finding no_backswing(const Curve& rate, double fastest_s) {
    const std::string when = fixed(fastest_s, 2);
    if (rate.longest_unseen_s({fastest_s - 1.2, fastest_s}) > kLongestFilledGap_s)
        return {Severity::Error, "backswing-hidden",
                "The rotation speed is missing before its peak at " + when +
                    " s, so the backswing and the top cannot be found.",
                "", "Record the whole swing."};
    return {Severity::Error, "half-a-swing",
            "The rotation speed is never negative before its peak at " + when +
                " s: there is no backswing in this file.",
            "", "Rates are negative in the backswing and positive in the downswing."};
}

} // namespace

Outcome<SwingMoments> find_moments_from_rates(const Take& take, const SequenceInput& input,
                                              const Swings& swings,
                                              const AnalysisOptions& options) {
    constexpr double kStill = 0.05;
    constexpr double kSlowestBackswing = 0.05;
    Outcome<SwingMoments> out;
    const SequenceInput::Part& leader = *input.parts[index_of(swings.leader)];
    const Curve& rate = leader.rate_deg_s;
    const double end = take.duration_s();
    if (swings.fastest_s.empty()) {
        out.add({Severity::Error, "no-swing",
                 "There is no swing in this take: the fastest part turns at " +
                     std::to_string(std::lround(swings.fastest_deg_s)) + " °/s.",
                 "", "Check the unit (degrees a second) and the sign (positive: downswing)."});
        return out;
    }
    SwingMoments& moments = out.value;
    moments.fastest_s = swings.chosen_s();
    const double fastest_s = swings.chosen_s();
    const double begin = swings.previous_end_s();
    const double frame_u_s = 0.1 / take.rate_hz;
    const auto place = [&](Moment moment, std::optional<double> t_s, double u_s) {
        if (const auto moved = options.moved_s.find(moment); moved != options.moved_s.end())
            moments[moment] = MomentTime{moved->second, frame_u_s, true};
        else if (t_s)
            moments[moment] = MomentTime{*t_s, u_s, false};
    };
    const auto crossing_u = [&](double t_s) {
        return std::hypot(frame_u_s, crossing_u_s(rate, t_s, 0.0));
    };

    const auto& arm = input.parts[index_of(Segment::LeadArm)];
    const bool by_arm = options.top == TopDefinition::LeadArm && arm;
    const SequenceInput::Part& turning = by_arm ? *arm : leader;
    const auto rough =
        turning.rate_deg_s.find_last_crossing(0.0, Direction::Rising, {begin, fastest_s});
    const double fastest_deg_s = rate.at(fastest_s);
    Curve::Extreme back;
    if (rough)
        back = rate.find_min({begin, *rough}).value_or(Curve::Extreme{});
    if (!(-back.value >= kSlowestBackswing * fastest_deg_s)) {
        out.add(no_backswing(rate, fastest_s));
        return out;
    }
    const auto top = find_rise(turning.turned, {begin, fastest_s}, *rough);
    place(Moment::Top, top ? top->t_s : *rough, top ? top->u_s : crossing_u(*rough));
    const auto start =
        rate.find_last_crossing(kStill * back.value, Direction::Falling, {begin, back.t_s});
    place(Moment::Takeaway, start, start ? crossing_u(*start) : 0.0);
    if (!moments[Moment::Takeaway])
        out.add({Severity::Warning, "late-start",
                 "The take begins after the takeaway: the tempo is not available.", "",
                 "Start recording a second before the takeaway."});
    if (options.moved_s.count(Moment::Impact) > 0) {
        place(Moment::Impact, std::nullopt, 0.0);
        moments.impact_source = ImpactSource::Hand;
    } else {
        find_impact_in_rates(take, leader, swings, out);
    }
    moments.window_end_s =
        moments[Moment::Impact] ? moments.time_s(Moment::Impact) + 0.05 : fastest_s + 0.15;
    const auto stop =
        rate.find_first_crossing(kStill * fastest_deg_s, Direction::Falling, {fastest_s, end});
    place(Moment::Finish, stop ? *stop : end, stop ? crossing_u(*stop) : kMissing);
    return out;
}

} // namespace kite
