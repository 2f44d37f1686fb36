#include "core/signal/butterworth.h"

#include "core/base/units.h"

#include <Eigen/Dense>

#include <algorithm>
#include <cmath>
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
constexpr int kTrendDegree = 3;
constexpr double kTrendPeriods = 1.25;

/// One pass in place, started in the steady state of the first sample so that there is no step.
void pass(const Biquad& filter, std::vector<double>& x) {
    const auto& b = filter.b;
    const auto& a = filter.a;
    // Steady state of the transposed direct form for constant input x0 (unit gain at zero
    // frequency).
    double z2 = (b[2] - a[2]) * x.front();
    double z1 = (b[1] - a[1]) * x.front() + z2;
    for (double& value : x) {
        const double in = value;
        const double y = b[0] * in + z1;
        z1 = b[1] * in - a[1] * y + z2;
        z2 = b[2] * in - a[2] * y;
        value = y;
    }
}

/// Polynomial through the samples nearest an end, by least squares: value(k) for k steps inwards.
class LocalTrend {
public:
    LocalTrend(const std::vector<double>& x, std::size_t end_index, int inwards, int count)
        : scale_(1.0 / std::max(1, count - 1)) {
        const int degree = std::min(kTrendDegree, count - 2);
        Eigen::MatrixXd design(count, degree + 1);
        Eigen::VectorXd values(count);
        for (int k = 0; k < count; ++k) {
            for (int power = 0; power <= degree; ++power)
                design(k, power) = std::pow(k * scale_, power);
            values(k) = x[end_index + static_cast<std::size_t>(k * inwards)];
        }
        coefficients_ = design.colPivHouseholderQr().solve(values);
    }
    double operator()(double k) const {
        double sum = 0.0;
        for (Eigen::Index power = coefficients_.size(); power-- > 0;)
            sum = sum * (k * scale_) + coefficients_(power);
        return sum;
    }

private:
    double scale_;
    Eigen::VectorXd coefficients_;
};

} // namespace

void filter_two_pass(const std::vector<double>& x, FrameRange run, double cutoff_hz, double rate_hz,
                     End begin, End end, std::vector<double>& out) {
    const std::size_t n = run.size();
    if (n < 3) {
        std::copy_n(x.begin() + static_cast<std::ptrdiff_t>(run.begin), n,
                    out.begin() + static_cast<std::ptrdiff_t>(run.begin));
        return;
    }
    const double design_hz = std::min(cutoff_hz, highest_cutoff_hz(rate_hz)) / kTwoPassFactor;
    const Biquad filter = design_low_pass(design_hz, rate_hz);

    // Long enough for the start-up to die away: two periods of the cut-off.
    const auto settle = static_cast<std::size_t>(std::ceil(2.0 * rate_hz / cutoff_hz));
    const std::size_t pad = std::min(n - 1, std::max<std::size_t>(9, settle));
    const int fit = static_cast<int>(std::min<std::size_t>(
        n, std::max<std::size_t>(
               5, static_cast<std::size_t>(std::ceil(kTrendPeriods * rate_hz / cutoff_hz)))));

    std::vector<double> y(n + 2 * pad);
    for (std::size_t i = 0; i < n; ++i)
        y[pad + i] = x[run.begin + i];

    // Odd: x(-k) = 2 x(0) - x(k). Trend: the same for what is left after the local cubic q,
    // x(-k) = q(-k) + 2 (x(0) - q(0)) - (x(k) - q(k)).
    const auto extend = [&](End kind, std::size_t at, int inwards) {
        const auto inner = [&](std::size_t k) {
            return y[at + static_cast<std::size_t>(static_cast<int>(k) * inwards)];
        };
        const auto outer = [&](std::size_t k) -> double& {
            return y[at - static_cast<std::size_t>(static_cast<int>(k) * inwards)];
        };
        if (kind == End::Odd) {
            for (std::size_t k = 1; k <= pad; ++k)
                outer(k) = 2.0 * inner(0) - inner(k);
            return;
        }
        const LocalTrend trend(y, at, inwards, fit);
        for (std::size_t k = 1; k <= pad; ++k) {
            const auto step = static_cast<double>(k);
            outer(k) = trend(-step) + 2.0 * (inner(0) - trend(0.0)) - (inner(k) - trend(step));
        }
    };
    extend(begin, pad, 1);
    extend(end, pad + n - 1, -1);

    pass(filter, y);
    std::reverse(y.begin(), y.end());
    pass(filter, y);
    std::reverse(y.begin(), y.end());
    std::copy_n(y.begin() + static_cast<std::ptrdiff_t>(pad), n,
                out.begin() + static_cast<std::ptrdiff_t>(run.begin));
}

std::vector<double> filter_two_pass(const std::vector<double>& x, double cutoff_hz,
                                    double rate_hz) {
    std::vector<double> out(x.size());
    filter_two_pass(x, {0, x.size()}, cutoff_hz, rate_hz, End::Odd, End::Odd, out);
    return out;
}

std::vector<FrameRange> find_runs(const std::vector<bool>& valid,
                                  const std::vector<std::size_t>& cuts) {
    std::vector<FrameRange> runs;
    std::size_t begin = 0;
    bool open = false;
    for (std::size_t i = 0; i < valid.size(); ++i) {
        const bool cut = std::binary_search(cuts.begin(), cuts.end(), i);
        if (open && (!valid[i] || cut)) {
            runs.push_back({begin, i});
            open = false;
        }
        if (valid[i] && !open) {
            begin = i;
            open = true;
        }
    }
    if (open)
        runs.push_back({begin, valid.size()});
    return runs;
}

} // namespace kite
