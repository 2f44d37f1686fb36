#include "core/measures/sequence.h"

#include "core/base/units.h"

#include <algorithm>
#include <cmath>

namespace kite {

namespace {

constexpr double kAccelDelay_s = 0.01; ///< arm and club: their rate jumps at the reversal

/// Places alone, or with uncertainties and accelerations, which cost more.
enum class Depth { Places, Everything };

SegmentSequence calc_part(const SequenceInput::Part& part, Segment segment,
                          const SwingMoments& moments, double window_begin_s, Depth depth) {
    SegmentSequence out;
    out.cutoff_hz = part.noise.cutoff_hz;
    const Curve& rate = part.rate_deg_s;
    const double impact = moments.time_s(Moment::Impact);

    const TimeRange window{window_begin_s, moments.window_end_s};
    CurveNoise noise = part.noise;
    if (depth == Depth::Places)
        noise.sd = 0.0;
    // Without noise the first method is the surest.
    const auto peak = depth == Depth::Places
                          ? find_peak(rate, window, peak_methods(segment).front(), noise)
                          : find_peak(rate, window, peak_methods(segment), noise);
    if (!peak || !(peak->value > 0.0))
        return out;
    out.peak_deg_s = peak->value;
    out.peak_t_s = peak->t_s;
    out.peak_t_u_s = peak->u_s;
    // The club is fastest at the ball: where impact is only roughly known, so is that.
    const auto& impact_moment = moments[Moment::Impact];
    const bool seen = moments.impact_source == ImpactSource::Contact ||
                      moments.impact_source == ImpactSource::ClubHead ||
                      moments.impact_source == ImpactSource::Hand;
    if (segment == Segment::Club && impact_moment && !seen)
        out.peak_t_u_s = std::hypot(peak->u_s, impact_moment->u_s);
    out.before_impact_ms = ms_from_s(impact - peak->t_s);
    out.at_impact_deg_s = rate.at(impact, Curve::Side::Before);
    out.slowdown_pct = (out.peak_deg_s - out.at_impact_deg_s) / out.peak_deg_s * 100.0;

    // The reversal.
    const auto last =
        part.reversing_deg_s.find_last_crossing(0.0, Curve::Direction::Rising, {0.0, peak->t_s});
    if (!last)
        return out;
    const Crossing reversal = refine_crossing(part.reversing_deg_s, *last, kReversalMethod, noise);
    out.reversal_t_s = reversal.t_s;
    out.reversal_u_s = reversal.u_s;
    const bool distal = segment == Segment::LeadArm || segment == Segment::Club;
    const TimeRange rising{out.reversal_t_s + (distal ? kAccelDelay_s : 0.0), out.peak_t_s};
    if (!rising.empty() && depth == Depth::Everything)
        if (const auto steepest = rate.derivative(rising).find_max(rising))
            out.max_accel_deg_s2 = steepest->value;
    return out;
}

double normal_density(double x) {
    return std::exp(-0.5 * x * x) / std::sqrt(2.0 * kPi);
}
double normal_cdf(double x) {
    return 0.5 * std::erfc(-x / std::sqrt(2.0));
}

} // namespace

const std::vector<PeakMethod>& peak_methods(Segment segment) {
    static const std::vector<PeakMethod> kPelvis{
        {0.03, 4, 0.0005}, {0.04, 4, 0.0007}, {0.05, 4, 0.0010}};
    static const std::vector<PeakMethod> kTorso{
        {0.025, 4, 0.0011}, {0.03, 4, 0.0013}, {0.04, 4, 0.0017}, {0.05, 4, 0.0022}};
    static const std::vector<PeakMethod> kLeadArm{{0.04, 3, 0.0008}, {0.06, 3, 0.0008}};
    static const std::vector<PeakMethod> kClub{{0.08, 3, 0.0010}, {0.10, 3, 0.0013}};
    switch (segment) {
    case Segment::Club:
        return kClub;
    case Segment::LeadArm:
        return kLeadArm;
    case Segment::Torso:
        return kTorso;
    default:
        return kPelvis;
    }
}

bool Sequence::is_tied(Segment a, Segment b) const {
    return std::any_of(tied.begin(), tied.end(), [&](const auto& pair) {
        return (pair.first == a && pair.second == b) || (pair.first == b && pair.second == a);
    });
}

namespace {

using Parts = std::array<std::optional<SegmentSequence>, kSequence.size()>;

/// Own peaks between takeaway and 0.05 s after impact settle the reversals; the first reversal then
/// opens the window of the sequence. Before it nothing turns downwards, so it changes a peak only
/// where a part never reversed.
Parts measure_parts(const SequenceInput& input, const SwingMoments& moments, Depth depth) {
    const double takeaway =
        std::isfinite(moments.time_s(Moment::Takeaway)) ? moments.time_s(Moment::Takeaway) : 0.0;
    Parts parts;
    const auto measure = [&](double window_begin_s, Depth how) {
        for (Segment segment : kSequence)
            if (const auto& part = input.parts[index_of(segment)])
                parts[index_of(segment)] = calc_part(*part, segment, moments, window_begin_s, how);
    };
    measure(takeaway, Depth::Places);
    double first = std::numeric_limits<double>::infinity();
    for (const auto& part : parts)
        if (part && std::isfinite(part->reversal_t_s))
            first = std::min(first, part->reversal_t_s);
    const bool opens = std::isfinite(first) && first < moments.window_end_s && first > takeaway;
    if (opens || depth != Depth::Places)
        measure(opens ? first : takeaway, depth);
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
    const Parts parts = measure_parts(input, moments, Depth::Places);
    std::vector<Segment> order = parts_with_peak(parts);
    sort_by_peak(order, parts);
    return order;
}

Sequence calc_sequence(const SequenceInput& input, const SwingMoments& moments) {
    Sequence out;
    out.parts = measure_parts(input, moments, Depth::Everything);

    const SegmentSequence* previous = nullptr;
    for (auto& part : out.parts) {
        if (part && previous != nullptr && std::isfinite(previous->peak_deg_s))
            part->gain = part->peak_deg_s / previous->peak_deg_s;
        previous = part ? &*part : nullptr;
    }
    out.order = parts_with_peak(out.parts);
    if (out.order.size() == kSequence.size()) {
        std::vector<double> t;
        std::vector<double> u;
        for (const auto& part : out.parts) {
            t.push_back(part->peak_t_s);
            u.push_back(part->peak_t_u_s);
        }
        out.order_certainty = calc_order_certainty(t, u);
    }
    sort_by_peak(out.order, out.parts);
    for (std::size_t i = 0; i < out.order.size(); ++i) {
        for (std::size_t j = i + 1; j < out.order.size(); ++j) {
            const SegmentSequence& a = *out.find(out.order[i]);
            const SegmentSequence& b = *out.find(out.order[j]);
            if (std::abs(a.peak_t_s - b.peak_t_s) < 2.0 * std::hypot(a.peak_t_u_s, b.peak_t_u_s))
                out.tied.emplace_back(out.order[i], out.order[j]);
        }
    }
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
            if (k == 0) {
                before[i] = normal_cdf(z);
                continue;
            }
            const double here = normal_density(z) / u_s[k] * before[i];
            sum += i == 0 ? 0.0 : 0.5 * dx * (last + here);
            last = here;
            before[i] = sum;
        }
    }
    return std::clamp(before.back(), 0.0, 1.0);
}

Separation calc_separation(const Curve& separation_deg, const CurveNoise& noise,
                           const SwingMoments& moments) {
    Separation out;
    const double top = moments.time_s(Moment::Top);
    const double impact = moments.time_s(Moment::Impact);
    out.at_top_deg = separation_deg.at(top);
    out.at_impact_deg = separation_deg.at(impact);
    const auto widest =
        find_peak(separation_deg, {top, impact}, peak_methods(Segment::Torso), noise);
    if (!widest)
        return out;
    out.max_deg = widest->value;
    out.max_t_s = widest->t_s;
    out.max_t_u_s = widest->u_s;
    out.stretch_deg = out.max_deg - out.at_top_deg;
    // Of a separation near zero a percentage says nothing.
    if (std::abs(out.at_top_deg) >= 1.0)
        out.stretch_pct = out.stretch_deg / out.at_top_deg * 100.0;
    if (impact > out.max_t_s)
        if (const auto closing =
                separation_deg.derivative({out.max_t_s, impact}).find_min({out.max_t_s, impact}))
            out.closing_deg_s = std::max(0.0, -closing->value);
    return out;
}

Tempo calc_tempo(const SwingMoments& moments) {
    Tempo out;
    out.backswing_s = moments.time_s(Moment::Top) - moments.time_s(Moment::Takeaway);
    out.downswing_s = moments.time_s(Moment::Impact) - moments.time_s(Moment::Top);
    out.ratio = out.backswing_s / out.downswing_s;
    return out;
}

} // namespace kite
