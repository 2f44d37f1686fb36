#include "core/measures/sequence.h"

#include "core/base/normal.h"
#include "core/base/units.h"

#include <algorithm>
#include <cmath>

namespace kite {

TimeRange peak_window(const SwingMoments& moments) {
    const double takeaway_s = moments.time_s(Moment::Takeaway);
    return {std::isfinite(takeaway_s) ? takeaway_s : 0.0, moments.window_end_s};
}

namespace {

constexpr double kAccelDelay_s = 0.01; ///< arm and club: their rate jumps at the reversal
/// A place less sure than this says nothing about an order or a lead; it is given up.
constexpr double kLeastSure_s = 0.025;
/// A peak speed less sure than this share of itself is not given.
constexpr double kLeastSureValue = 0.05;
/// How fast skin slides, as an angular frequency: about one and a half times a second.
constexpr double kWander_rad_s = 9.0;
constexpr double kSeam_s = 0.03; ///< over which a relaid curve goes over into the old one

/// The rate curve about its peak as the spline has it.
void lay_along(Curve& rate, const Pieces& pieces, const Samples& samples, TimeRange stretch) {
    std::vector<double> values = rate.values();
    const int d = samples.derivative;
    const auto first =
        static_cast<std::size_t>(std::max(0.0, std::ceil(stretch.begin_s * rate.rate_hz())));
    for (std::size_t i = first; i < values.size() && rate.time_of(i) <= stretch.end_s; ++i) {
        if (!std::isfinite(values[i]))
            continue;
        const double t_s = rate.time_of(i);
        const double share =
            std::clamp(std::min(t_s - stretch.begin_s, stretch.end_s - t_s) / kSeam_s, 0.0, 1.0);
        const double laid = pieces.mean_at(t_s).x(d);
        if (std::isfinite(laid))
            values[i] += share * (laid - values[i]);
    }
    rate = Curve(std::move(values), rate.rate_hz(), rate.change_s());
}

/// How well the rate just before impact is known: from the spline there, and by how much it changes
/// while impact may be. Where the spline ends before, it is as unsure as at its end.
double before_impact_u_deg_s(const Pieces& pieces, int derivative, bool feels_blow,
                             const SwingMoments& moments) {
    // A small loss in the blow that the samples do not show is smeared over it (common practice, no
    // source: an arm may lose some 3 %).
    constexpr double kSmearedShare = 0.01;
    const auto& impact = moments[Moment::Impact];
    const Spline* piece = pieces.before ? &*pieces.before : nullptr;
    if (!impact || piece == nullptr)
        return kMissing;
    const SplineState state = piece->at(std::clamp(impact->t_s, piece->begin_s(), piece->end_s()));
    const double smeared = feels_blow && !pieces.after ? kSmearedShare * state.x(derivative) : 0.0;
    return std::hypot(std::sqrt(std::max(0.0, state.P(derivative, derivative))),
                      state.x(derivative + 1) * impact->u_s, smeared);
}

/// Impact as a break in the motion of a part that feels it.
std::optional<Break> break_of(Segment segment, const SwingMoments& moments) {
    const auto& impact = moments[Moment::Impact];
    if (!impact || !feels_impact(segment))
        return std::nullopt;
    // A struck ball takes a fifth of the club's speed, of the arm's next to nothing (common
    // practice, no source).
    const bool club = segment == Segment::Club;
    return Break{impact->t_s, std::isfinite(impact->u_s) ? impact->u_s : 0.0, club ? 0.18 : 0.03,
                 club ? 0.08 : 0.03, club ? 3.0 : 0.33};
}

/// How much of its speed a part has given up at impact.
void measure_slow_down(const SequenceInput::Part& part, Segment segment,
                       const SwingMoments& moments, const Place& peak, const Pieces& pieces,
                       SegmentSequence& out) {
    // How high a flat peak is may be known though nobody can say when it is.
    const bool is_high_known = part.tells_peak && !peak.at_end && peak.unseen_s == 0.0 &&
                               peak.value_u <= kLeastSureValue * peak.value;
    if (is_high_known || std::isfinite(out.peak_deg_s)) {
        const double left = out.at_impact_deg_s / peak.value;
        out.slowdown_pct = (1.0 - left) * 100.0;
        out.slowdown_u_pct =
            100.0 / peak.value *
            std::hypot(left * peak.value_u, before_impact_u_deg_s(pieces, part.turned.derivative,
                                                                  feels_impact(segment), moments));
    }
}

/// When a part turns back, and how it gathers speed from there to its peak.
void measure_reversal(const SequenceInput::Part& part, Segment segment, const SwingMoments& moments,
                      double peak_s, SegmentSequence& out) {
    const double impact = moments.time_s(Moment::Impact);
    const auto last =
        part.reversing_deg_s.find_last_crossing(0.0, Curve::Direction::Rising, {0.0, peak_s});
    if (!last)
        return;
    const double limit_s =
        feels_impact(segment) && std::isfinite(impact) ? impact : moments.window_end_s;
    const auto reversal =
        find_rise(part.reversing_samples(), {0.0, std::max(*last + 0.01, limit_s)}, *last);
    if (!reversal)
        return;
    out.reversal_unseen_s = reversal->unseen_s;
    const double acceleration = part.reversing_deg_s.slope_at(reversal->t_s);
    const double reversal_wander_s =
        part.wander_deg * kWander_rad_s /
        (std::isfinite(acceleration) ? std::max(1.0, std::abs(acceleration)) : 1000.0);
    if (!(std::hypot(reversal->u_s, reversal_wander_s) <= kLeastSure_s))
        return;
    out.reversal_t_s = reversal->t_s;
    out.reversal_u_s = std::hypot(reversal->u_s, reversal_wander_s);
    const bool distal = segment == Segment::LeadArm || segment == Segment::Club;
    const TimeRange rising{out.reversal_t_s + (distal ? kAccelDelay_s : 0.0), out.peak_t_s};
    if (!rising.empty())
        if (const auto steepest = part.rate_deg_s.derivative(rising).find_max(rising))
            out.max_accel_deg_s2 = steepest->value;
}

SegmentSequence calc_part(SequenceInput::Part& part, Segment segment, const SwingMoments& moments,
                          double window_begin_s) {
    SegmentSequence out;
    out.cutoff_hz = part.cutoff_hz;
    Curve& rate = part.rate_deg_s;
    const TimeRange window{window_begin_s, moments.window_end_s};
    const auto rough = rate.find_max(window);
    if (!rough || !(rough->value > 0.0))
        return out;
    Pieces pieces;
    const auto peak =
        find_highest(part.turned, window, rough->t_s, break_of(segment, moments), &pieces);
    if (!peak || !(peak->value > 0.0))
        return out;
    out.peak_unseen_s = peak->unseen_s;
    part.smoothed_hz = peak->cutoff_hz;
    // At the end of what was seen it may go on rising: then it is not a peak.
    // Skin that slides under the markers turns the part slowly: that moves places where the rate
    // changes slowly.
    const SplineState at_peak = pieces.mean_at(peak->t_s);
    const int d = part.turned.derivative;
    const double peak_u_s = std::hypot(
        peak->u_s, peak->at_break || d == 0 ? 0.0
                                            : part.wander_deg * kWander_rad_s * kWander_rad_s /
                                                  std::max(1.0, std::abs(at_peak.x(d + 2))));
    const bool lost = !(peak_u_s <= kLeastSure_s) || peak->at_end || !part.tells_peak;
    if (!lost) {
        if (peak->value_u <= kLeastSureValue * peak->value) {
            out.peak_deg_s = peak->value;
            out.peak_u_deg_s = peak->value_u;
        }
        out.peak_t_s = peak->t_s;
        out.peak_t_u_s = peak_u_s;
        // The club is fastest at the ball: where impact is only roughly known, so is that.
        const auto& impact_moment = moments[Moment::Impact];
        const bool seen = moments.impact_source == ImpactSource::Contact ||
                          moments.impact_source == ImpactSource::ClubHead ||
                          moments.impact_source == ImpactSource::Hand;
        if (segment == Segment::Club && impact_moment && !seen && !peak->at_break)
            out.peak_t_u_s = std::hypot(peak_u_s, impact_moment->u_s);
        // … and where it is not known at all, the blow is smoothed over.
        constexpr double kSmoothedOver_s = 0.012;
        if (segment == Segment::Club && !impact_moment)
            out.peak_t_u_s = std::hypot(peak_u_s, kSmoothedOver_s);
    }
    lay_along(rate, pieces, part.turned,
              {std::max(rough->t_s - kPlaceReach_s, pieces.before->begin_s()),
               std::min(rough->t_s + kPlaceReach_s,
                        (pieces.after ? *pieces.after : *pieces.before).end_s())});
    const double impact = moments.time_s(Moment::Impact);
    out.before_impact_ms = ms_from_s(impact - out.peak_t_s);
    out.at_impact_deg_s = rate.at(impact, Curve::Side::Before);
    measure_slow_down(part, segment, moments, *peak, pieces, out);
    measure_reversal(part, segment, moments, peak->t_s, out);
    return out;
}

} // namespace

bool Sequence::is_tied(Segment a, Segment b) const {
    return std::any_of(tied.begin(), tied.end(), [&](const auto& pair) {
        return (pair.first == a && pair.second == b) || (pair.first == b && pair.second == a);
    });
}

namespace {

using Parts = std::array<std::optional<SegmentSequence>, kSequence.size()>;

/// Own peaks between takeaway and 0.05 s after impact settle the reversals; the first reversal
/// opens the window of the sequence. Before it nothing turns downwards, so the window changes a
/// peak only where a part never reversed.
Parts measure_parts(SequenceInput& input, const SwingMoments& moments) {
    const TimeRange window = peak_window(moments);
    double first = std::numeric_limits<double>::infinity();
    bool all = true;
    for (const auto& part : input.parts) {
        if (!part)
            continue;
        const auto rough = part->rate_deg_s.find_max(window);
        const auto last = rough ? part->reversing_deg_s.find_last_crossing(
                                      0.0, Curve::Direction::Rising, {0.0, rough->t_s})
                                : std::nullopt;
        all = all && last;
        if (last)
            first = std::min(first, *last);
    }
    const bool opens = !all && first < window.end_s && first > window.begin_s;
    Parts parts;
    for (Segment segment : kSequence)
        if (auto& part = input.parts[index_of(segment)])
            parts[index_of(segment)] =
                calc_part(*part, segment, moments, opens ? first : window.begin_s);
    return parts;
}

/// The parts with a peak, from the ground up, and by time.
std::vector<Segment> parts_with_peak(const Parts& parts) {
    std::vector<Segment> out;
    for (Segment segment : kSequence)
        if (const auto& part = parts[index_of(segment)]; part && std::isfinite(part->peak_t_s))
            out.push_back(segment);
    return out;
}
void sort_by_peak(std::vector<Segment>& segments, const Parts& parts) {
    std::stable_sort(segments.begin(), segments.end(), [&](Segment a, Segment b) {
        return parts[index_of(a)]->peak_t_s < parts[index_of(b)]->peak_t_s;
    });
}

} // namespace

std::vector<Segment> calc_peak_order(const SequenceInput& input, const SwingMoments& moments) {
    Parts parts;
    const TimeRange window = peak_window(moments);
    for (Segment segment : kSequence) {
        const auto& part = input.parts[index_of(segment)];
        const auto rough = part ? part->rate_deg_s.find_max(window) : std::nullopt;
        if (!rough || !(rough->value > 0.0))
            continue;
        parts[index_of(segment)].emplace();
        if (const auto peak = find_highest(part->turned, window, rough->t_s,
                                           break_of(segment, moments), nullptr, Depth::PlaceAlone))
            parts[index_of(segment)]->peak_t_s = peak->t_s;
    }
    std::vector<Segment> order = parts_with_peak(parts);
    sort_by_peak(order, parts);
    return order;
}

void Sequence::judge_order() {
    order_certainty = kMissing;
    tied.clear();
    order = parts_with_peak(parts);
    if (order.size() == kSequence.size()) {
        std::vector<double> t;
        std::vector<double> u;
        for (const auto& part : parts) {
            t.push_back(part->peak_t_s);
            u.push_back(part->peak_t_u_s);
        }
        order_certainty = calc_order_certainty(t, u);
    }
    sort_by_peak(order, parts);
    for (std::size_t i = 0; i < order.size(); ++i) {
        for (std::size_t j = i + 1; j < order.size(); ++j) {
            const SegmentSequence& a = *find(order[i]);
            const SegmentSequence& b = *find(order[j]);
            if (std::abs(a.peak_t_s - b.peak_t_s) < 2.0 * std::hypot(a.peak_t_u_s, b.peak_t_u_s))
                tied.emplace_back(order[i], order[j]);
        }
    }
}

Sequence calc_sequence(SequenceInput& input, const SwingMoments& moments) {
    Sequence out;
    out.parts = measure_parts(input, moments);

    const SegmentSequence* previous = nullptr;
    for (auto& part : out.parts) {
        if (part && previous != nullptr && std::isfinite(previous->peak_deg_s))
            part->gain = part->peak_deg_s / previous->peak_deg_s;
        previous = part ? &*part : nullptr;
    }
    out.judge_order();
    if (const SegmentSequence* club = out.find(Segment::Club))
        out.fastest_at_ball_ms = ms_from_s(club->peak_t_s - moments.time_s(Moment::Impact));
    return out;
}

double calc_order_certainty(const std::vector<double>& t_s, const std::vector<double>& u_s) {
    if (t_s.empty())
        return kMissing;
    for (std::size_t i = 0; i < t_s.size(); ++i)
        if (!std::isfinite(t_s[i]) || !(u_s[i] > 0.0))
            return kMissing;
    // G_k(x) = P(t_1 < ... < t_k < x): G_1 is the normal distribution, and
    // G_k(x) = ∫_{-inf}^{x} f_k(s) G_{k-1}(s) ds, by the trapezium rule on a common grid.
    double low = std::numeric_limits<double>::infinity();
    double high = -low;
    double finest = low;
    for (std::size_t i = 0; i < t_s.size(); ++i) {
        low = std::min(low, t_s[i] - 8.0 * u_s[i]);
        high = std::max(high, t_s[i] + 8.0 * u_s[i]);
        finest = std::min(finest, u_s[i]);
    }
    const int n = static_cast<int>(std::clamp(20.0 * (high - low) / finest, 500.0, 50000.0));
    const double dx = (high - low) / n;
    std::vector<double> before(static_cast<std::size_t>(n) + 1, 1.0);
    for (std::size_t k = 0; k < t_s.size(); ++k) {
        double sum = 0.0;
        double last = 0.0;
        for (std::size_t i = 0; i < before.size(); ++i) {
            const double z = (low + dx * static_cast<double>(i) - t_s[k]) / u_s[k];
            // Beyond eight of its standard uncertainties there is nothing left of a time.
            const bool far = std::abs(z) > 8.0;
            if (k == 0) {
                before[i] = far ? (z > 0.0 ? 1.0 : 0.0) : normal_cdf(z);
                continue;
            }
            const double here = far ? 0.0 : normal_density(z) / u_s[k] * before[i];
            sum += i == 0 ? 0.0 : 0.5 * dx * (last + here);
            last = here;
            before[i] = sum;
        }
    }
    return std::clamp(before.back(), 0.0, 1.0);
}

} // namespace kite
