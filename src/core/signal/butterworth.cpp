#include "core/signal/butterworth.h"

#include "core/base/units.h"

#include <Eigen/LU>

#include <algorithm>
#include <cmath>
#include <cstring>
#include <iterator>
#include <stdexcept>

namespace kite {

Biquad design_low_pass(double cutoff_hz, double rate_hz) {
    if (!(cutoff_hz > 0.0) || !(cutoff_hz < rate_hz / 2.0))
        throw std::invalid_argument("cut-off must lie between 0 and half the sampling rate");
    // Analogue prototype 1 / (s^2 + sqrt(2) s + 1), s = (z - 1) / (K (z + 1)), K = tan(pi fc / fs).
    const double k = std::tan(kPi * cutoff_hz / rate_hz);
    const double norm = 1.0 / (1.0 + std::sqrt(2.0) * k + k * k);
    Biquad filter;
    filter.b = {k * k * norm, 2.0 * k * k * norm, k * k * norm};
    filter.a = {1.0, 2.0 * (k * k - 1.0) * norm, (1.0 - std::sqrt(2.0) * k + k * k) * norm};
    return filter;
}

double highest_cutoff_hz(double rate_hz) {
    return 0.95 * kTwoPassFactor * rate_hz / 2.0;
}

namespace {

/// End::Trend: a cubic over one and a quarter periods of the cut-off. The two passes reproduce
/// cubics (1 - H starts with the fourth power of frequency), so the continuation costs nothing
/// where the signal is that smooth; of degrees 2 to 4 and windows of 0.7 to 1.5 periods this was
/// the best balance of the error of the rate just before impact with and without noise
/// (docs/decisions.md).
constexpr int kTrendTerms = 4;
constexpr double kTrendPeriods = 1.25;

/// One pass in place, started in the steady state of the first sample so that there is no step.
/// Summed so that a sample waits for one product with the one before, and for nothing else of it.
template <class Iterator>
void pass(const Biquad& filter, Iterator from, Iterator to) {
    using Value = typename std::iterator_traits<Iterator>::value_type;
    const auto& b = filter.b;
    const auto& a = filter.a;
    // As if it had always been at the first sample (unit gain at zero frequency).
    Value in_1 = *from;
    Value in_2 = in_1;
    Value y_1 = in_1;
    Value y_2 = in_1;
    for (; from != to; ++from) {
        const Value in = *from;
        const Value y = (b[0] * in + b[1] * in_1 + b[2] * in_2 - a[2] * y_2) - a[1] * y_1;
        in_2 = in_1;
        in_1 = in;
        y_2 = y_1;
        y_1 = y;
        *from = y;
    }
}

/// The same for four signals beside each other, `step` apart and to be read in its direction.
/// Compiled twice, for machines with and without registers for four numbers: chosen at the start,
/// with the same products and sums in the same order, so that the numbers are the same everywhere.
#if defined(__x86_64__) && defined(__GNUC__)
__attribute__((target_clones("avx", "default")))
#endif
void pass_four(const Biquad& filter, double* at, std::ptrdiff_t step, std::size_t n) {
    using Four = double __attribute__((vector_size(32)));
    const double b0 = filter.b[0];
    const double b1 = filter.b[1];
    const double b2 = filter.b[2];
    const double a1 = filter.a[1];
    const double a2 = filter.a[2];
    Four in_1;
    std::memcpy(&in_1, at, sizeof in_1);
    Four in_2 = in_1;
    Four y_1 = in_1;
    Four y_2 = in_1;
    for (std::size_t i = 0; i < n; ++i, at += step) {
        Four in;
        std::memcpy(&in, at, sizeof in);
        const Four y = (b0 * in + b1 * in_1 + b2 * in_2 - a2 * y_2) - a1 * y_1;
        in_2 = in_1;
        in_1 = in;
        y_2 = y_1;
        y_1 = y;
        std::memcpy(at, &y, sizeof y);
    }
}

void both_passes(const Biquad& filter, std::vector<double>& y) {
    pass(filter, y.begin(), y.end());
    pass(filter, y.rbegin(), y.rend());
}
void both_passes(const Biquad& filter, FourSignals& y) {
    pass_four(filter, y.front().data(), 4, y.size());
    pass_four(filter, y.back().data(), -4, y.size());
}

/// What a pass makes of its input, read backwards: from weights of its output to those of its
/// input.
void pass_transposed(const Biquad& filter, std::vector<double>& w) {
    const auto& b = filter.b;
    const auto& a = filter.a;
    double z1 = 0.0;
    double z2 = 0.0;
    for (std::size_t i = w.size(); i-- > 0;) {
        const double y = w[i] - a[1] * z1 - a[2] * z2;
        w[i] = b[0] * y + b[1] * z1 + b[2] * z2;
        z2 = z1;
        z1 = y;
    }
    w.front() += (b[1] - a[1] + b[2] - a[2]) * z1 + (b[2] - a[2]) * z2;
}

using Powers = std::array<double, kTrendTerms>;
using TrendInverse = Eigen::Matrix<double, kTrendTerms, Eigen::Dynamic>;

/// Least-squares polynomial through the samples nearest an end, k steps inwards.
class LocalTrend {
public:
    explicit LocalTrend(int count) : scale_(1.0 / std::max(1, count - 1)) {
        const int terms = std::min(kTrendTerms, count - 1);
        TrendInverse design = TrendInverse::Zero(kTrendTerms, count);
        for (int k = 0; k < count; ++k) {
            const Powers powers = powers_at(k);
            for (int term = 0; term < terms; ++term)
                design(term, k) = powers[static_cast<std::size_t>(term)];
        }
        // Four powers of numbers up to one: the normal equations lose no more than five digits.
        Eigen::Matrix<double, kTrendTerms, kTrendTerms> normal =
            design.lazyProduct(design.transpose());
        for (int term = terms; term < kTrendTerms; ++term)
            normal(term, term) = 1.0;
        const Eigen::Matrix<double, kTrendTerms, kTrendTerms> inverted = normal.inverse();
        inverse_ = inverted.lazyProduct(design);
    }
    /// coefficients = inverse · samples; the polynomial is their sum with the powers.
    const TrendInverse& inverse() const { return inverse_; }
    Powers powers_at(double k) const {
        const double u = k * scale_;
        return {1.0, u, u * u, u * u * u};
    }

private:
    double scale_;
    TrendInverse inverse_;
};

/// How one run is filtered.
struct Plan {
    Biquad filter;
    std::size_t pad = 0; ///< samples it is continued by on either side
    int fit = 0;         ///< samples that the trend is taken from

    Plan(std::size_t n, double cutoff_hz, double rate_hz)
        : filter(design_low_pass(std::min(cutoff_hz, highest_cutoff_hz(rate_hz)) / kTwoPassFactor,
                                 rate_hz)) {
        // Long enough for the start-up to die away: two periods of the cut-off.
        const auto settle = static_cast<std::size_t>(std::ceil(2.0 * rate_hz / cutoff_hz));
        pad = std::min(n - 1, std::max<std::size_t>(9, settle));
        fit = static_cast<int>(std::min<std::size_t>(
            n, std::max<std::size_t>(
                   5, static_cast<std::size_t>(std::ceil(kTrendPeriods * rate_hz / cutoff_hz)))));
    }
};

/// A run with room on either side, seen from one end: `inner(k)` steps inwards, `outer(k)` out.
template <class Value>
struct EndView {
    std::vector<Value>& y;
    std::size_t at;
    int inwards;

    Value& inner(std::size_t k) const {
        return y[at + static_cast<std::size_t>(static_cast<int>(k) * inwards)];
    }
    Value& outer(std::size_t k) const {
        return y[at - static_cast<std::size_t>(static_cast<int>(k) * inwards)];
    }
};

/// Odd: x(-k) = 2 x(0) - x(k). Trend: the same for what is left after the local cubic q,
/// x(-k) = q(-k) + 2 (x(0) - q(0)) - (x(k) - q(k)).
template <class Value>
void extend(const EndView<Value>& x, End kind, const Plan& plan) {
    for (std::size_t k = 1; k <= plan.pad; ++k)
        x.outer(k) = 2.0 * x.inner(0) - x.inner(k);
    if (kind == End::Odd)
        return;
    const LocalTrend trend(plan.fit);
    const TrendInverse& inverse = trend.inverse();
    std::array<Value, kTrendTerms> q;
    q.fill(Value(0.0 * x.inner(0)));
    for (Eigen::Index term = 0; term < inverse.rows(); ++term)
        for (Eigen::Index i = 0; i < inverse.cols(); ++i)
            q[static_cast<std::size_t>(term)] +=
                inverse(term, i) * x.inner(static_cast<std::size_t>(i));
    for (std::size_t k = 1; k <= plan.pad; ++k) {
        const auto step = static_cast<double>(k);
        const Powers out = trend.powers_at(-step);
        const Powers in = trend.powers_at(step);
        for (std::size_t term = 1; term < q.size(); ++term) // the constants cancel
            x.outer(k) += (out[term] + in[term]) * q[term];
    }
}

/// The transpose of `extend`: weights of the continued samples go back to where they came from.
void extend_transposed(const EndView<double>& w, End kind, const Plan& plan) {
    if (kind == End::Trend) {
        const LocalTrend trend(plan.fit);
        const TrendInverse& inverse = trend.inverse();
        Powers q{};
        for (std::size_t k = 1; k <= plan.pad; ++k) {
            const auto step = static_cast<double>(k);
            const Powers out = trend.powers_at(-step);
            const Powers in = trend.powers_at(step);
            for (std::size_t term = 1; term < q.size(); ++term)
                q[term] += (out[term] + in[term]) * w.outer(k);
        }
        for (Eigen::Index term = 0; term < inverse.rows(); ++term)
            for (Eigen::Index i = 0; i < inverse.cols(); ++i)
                w.inner(static_cast<std::size_t>(i)) +=
                    inverse(term, i) * q[static_cast<std::size_t>(term)];
    }
    for (std::size_t k = 1; k <= plan.pad; ++k) {
        w.inner(0) += 2.0 * w.outer(k);
        w.inner(k) -= w.outer(k);
    }
}

template <class Value>
void filter_run(const std::vector<Value>& x, FrameRange run, double cutoff_hz, double rate_hz,
                End begin, End end, std::vector<Value>& out) {
    const std::size_t n = run.size();
    const auto from = x.begin() + static_cast<std::ptrdiff_t>(run.begin);
    const auto to = out.begin() + static_cast<std::ptrdiff_t>(run.begin);
    if (n < 3) {
        std::copy_n(from, n, to);
        return;
    }
    const Plan plan(n, cutoff_hz, rate_hz);
    std::vector<Value> y(n + 2 * plan.pad);
    std::copy_n(from, n, y.begin() + static_cast<std::ptrdiff_t>(plan.pad));
    extend(EndView<Value>{y, plan.pad, 1}, begin, plan);
    extend(EndView<Value>{y, plan.pad + n - 1, -1}, end, plan);
    both_passes(plan.filter, y);
    std::copy_n(y.begin() + static_cast<std::ptrdiff_t>(plan.pad), n, to);
}

} // namespace

void filter_two_pass(const std::vector<double>& x, FrameRange run, double cutoff_hz, double rate_hz,
                     End begin, End end, std::vector<double>& out) {
    filter_run(x, run, cutoff_hz, rate_hz, begin, end, out);
}

void filter_two_pass(const FourSignals& x, FrameRange run, double cutoff_hz, double rate_hz,
                     End begin, End end, FourSignals& out) {
    filter_run(x, run, cutoff_hz, rate_hz, begin, end, out);
}

std::vector<double> raw_weights_of(const std::vector<double>& weights, double cutoff_hz,
                                   double rate_hz, End begin, End end) {
    const std::size_t n = weights.size();
    if (n < 3)
        return weights;
    const Plan plan(n, cutoff_hz, rate_hz);
    std::vector<double> w(n + 2 * plan.pad, 0.0);
    const auto middle = w.begin() + static_cast<std::ptrdiff_t>(plan.pad);
    std::copy(weights.begin(), weights.end(), middle);
    // Every step of filter_run, transposed, last step first.
    std::reverse(w.begin(), w.end());
    pass_transposed(plan.filter, w);
    std::reverse(w.begin(), w.end());
    pass_transposed(plan.filter, w);
    extend_transposed(EndView<double>{w, plan.pad + n - 1, -1}, end, plan);
    extend_transposed(EndView<double>{w, plan.pad, 1}, begin, plan);
    return {middle, middle + static_cast<std::ptrdiff_t>(n)};
}

std::vector<double> filter_two_pass(const std::vector<double>& x, double cutoff_hz,
                                    double rate_hz) {
    std::vector<double> out(x.size());
    filter_two_pass(x, {0, x.size()}, cutoff_hz, rate_hz, End::Odd, End::Odd, out);
    return out;
}

std::vector<FrameRange> find_runs(const Flags& valid, const std::vector<std::size_t>& cuts) {
    std::vector<FrameRange> runs;
    auto cut = cuts.begin();
    const auto next = [&](std::size_t from, std::size_t until, char flag) {
        const auto begin = valid.begin() + static_cast<std::ptrdiff_t>(from);
        const auto end = valid.begin() + static_cast<std::ptrdiff_t>(until);
        return static_cast<std::size_t>(std::find(begin, end, flag) - valid.begin());
    };
    for (std::size_t begin = next(0, valid.size(), 1); begin < valid.size();) {
        while (cut != cuts.end() && *cut <= begin)
            ++cut;
        const std::size_t last = cut == cuts.end() ? valid.size() : std::min(*cut, valid.size());
        const std::size_t end = next(begin, last, 0);
        runs.push_back({begin, end});
        begin = next(end, valid.size(), 1);
    }
    return runs;
}

} // namespace kite
