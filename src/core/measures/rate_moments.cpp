#include "core/measures/rate_moments.h"

#include "core/base/units.h"
#include "core/signal/butterworth.h"
#include "core/signal/local_fit.h"
#include "core/signal/noise.h"

#include <algorithm>
#include <cmath>

namespace kite {

using Severity = Finding::Severity;
using Direction = Curve::Direction;

SequenceInput::Part smooth_rate(const std::vector<double>& raw_deg_s, double rate_hz,
                                double cutoff_hz, std::optional<double> change_s) {
    std::vector<bool> seen(raw_deg_s.size());
    for (std::size_t i = 0; i < seen.size(); ++i)
        seen[i] = std::isfinite(raw_deg_s[i]);
    std::vector<double> smooth(raw_deg_s.size(), kMissing);
    const double used_hz = std::min(cutoff_hz, highest_cutoff_hz(rate_hz));
    std::vector<std::size_t> cuts;
    if (change_s)
        cuts.push_back(static_cast<std::size_t>(std::floor(*change_s * rate_hz + 1e-9)) + 1);
    for (const FrameRange& run : find_runs(seen, cuts)) {
        const bool begins = !cuts.empty() && run.begin == cuts.front();
        const bool ends = !cuts.empty() && run.end == cuts.front();
        filter_two_pass(raw_deg_s, run, used_hz, rate_hz, begins ? End::Trend : End::Odd,
                        ends ? End::Trend : End::Odd, smooth);
    }
    std::vector<double> off;
    off.reserve(smooth.size());
    for (std::size_t i = 0; i < smooth.size(); ++i)
        if (seen[i])
            off.push_back(std::abs(raw_deg_s[i] - smooth[i]));
    SequenceInput::Part part;
    part.noise = {0.0, used_hz, 0};
    if (!off.empty()) {
        const auto middle = off.begin() + static_cast<std::ptrdiff_t>(off.size() / 2);
        std::nth_element(off.begin(), middle, off.end());
        // Median of |x| of a normal distribution: 0.6745 SD.
        part.noise.sd = *middle / 0.6745 / calc_noise_gain(used_hz, rate_hz).residual;
    }
    part.rate_deg_s = Curve(std::move(smooth), rate_hz, change_s);
    part.reversing_deg_s = part.rate_deg_s;
    return part;
}

std::optional<double> find_blow_s(const std::vector<double>& raw_club_deg_s, double rate_hz) {
    constexpr double kReach_s = 0.05;
    constexpr double kLeastLoss = 0.05;
    constexpr double kStandsOut = 4.0;
    std::size_t fastest = 0;
    for (std::size_t i = 0; i < raw_club_deg_s.size(); ++i)
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
    const auto middle = steps.begin() + static_cast<std::ptrdiff_t>(steps.size() / 2);
    std::nth_element(steps.begin(), middle, steps.end());
    if (loss < kStandsOut * *middle)
        return std::nullopt;
    return (static_cast<double>(at) + 0.5) / rate_hz;
}

Outcome<SwingMoments> find_moments_from_rates(const Take& take, const SequenceInput& input) {
    constexpr double kSlowestSwing_deg_s = 90.0;
    constexpr double kStill = 0.05;
    constexpr double kSlowestBackswing = 0.05;
    Outcome<SwingMoments> out;
    const SequenceInput::Part* leader = nullptr;
    Segment segment = Segment::Club;
    for (Segment candidate : {Segment::Club, Segment::LeadArm, Segment::Torso, Segment::Pelvis})
        if (leader == nullptr && input.parts[index_of(candidate)]) {
            leader = &*input.parts[index_of(candidate)];
            segment = candidate;
        }
    if (leader == nullptr) {
        out.add({Severity::Error, "no-parts", "There are no rotation speeds in this take.", "",
                 "Give at least one of pelvis, torso, lead arm and club."});
        return out;
    }
    const Curve& rate = leader->rate_deg_s;
    const double end = take.duration_s();
    const auto fastest = rate.find_max({0.0, end});
    if (!fastest || fastest->value < kSlowestSwing_deg_s) {
        out.add({Severity::Error, "no-swing",
                 "There is no swing in this take: the fastest part turns at " +
                     std::to_string(std::lround(fastest ? fastest->value : 0.0)) + " °/s.",
                 "", "Check the unit (degrees a second) and the sign (positive: downswing)."});
        return out;
    }
    SwingMoments& moments = out.value;
    moments.fastest_s = fastest->t_s;
    const double noise =
        leader->noise.sd * calc_noise_gain(leader->noise.cutoff_hz, take.rate_hz).value;
    const auto at = [&](double t_s) {
        return MomentTime{t_s, crossing_u_s(rate, t_s, noise), false};
    };
    const auto tops = rate.find_crossings(0.0, Direction::Rising, {0.0, fastest->t_s});
    const auto back = tops.empty() ? std::nullopt : rate.find_min({0.0, tops.back()});
    if (!back || -back->value < kSlowestBackswing * fastest->value) {
        out.add({Severity::Error, "half-a-swing",
                 "The rotation speed is never negative before its peak at " +
                     std::to_string(fastest->t_s).substr(0, 4) +
                     " s: there is no backswing in this file.",
                 "", "Rates are negative in the backswing and positive in the downswing."});
        return out;
    }
    moments[Moment::Top] = at(tops.back());
    const auto starts =
        rate.find_crossings(kStill * back->value, Direction::Falling, {0.0, back->t_s});
    if (!starts.empty()) {
        moments[Moment::Takeaway] = at(starts.back());
    } else {
        out.add({Severity::Warning, "late-start",
                 "The take begins after the takeaway: the tempo is not available.", "",
                 "Start recording a second before the takeaway."});
    }
    if (take.contact_s) {
        moments[Moment::Impact] =
            MomentTime{*take.contact_s, 1.0 / (take.rate_hz * std::sqrt(12.0)), false};
        moments.impact_source = ImpactSource::Contact;
    } else if (segment == Segment::Club) {
        const auto blow = rate.change_s();
        moments[Moment::Impact] = blow ? MomentTime{*blow, 0.5 / take.rate_hz, false}
                                       : MomentTime{fastest->t_s, 0.01, false};
        moments.impact_source = ImpactSource::Peak;
        out.add({Severity::Warning, "impact-assumed",
                 blow ? "Impact is taken where the club suddenly loses speed."
                      : "Impact could not be seen; the club's fastest moment is taken for it.",
                 "", "Add a contact mark."});
    } else {
        out.add({Severity::Warning, "no-impact",
                 "There is neither club nor contact mark; what is measured at impact is not "
                 "available.",
                 "", "Add a contact mark."});
    }
    moments.window_end_s =
        moments[Moment::Impact] ? moments.time_s(Moment::Impact) + 0.05 : fastest->t_s + 0.15;
    const auto stops =
        rate.find_crossings(kStill * fastest->value, Direction::Falling, {fastest->t_s, end});
    moments[Moment::Finish] = stops.empty() ? MomentTime{end, kMissing, false} : at(stops.front());
    return out;
}

} // namespace kite
