#include "core/signal/residual_analysis.h"

#include "core/signal/noise.h"

#include <algorithm>
#include <cmath>
#include <limits>

namespace kite {

namespace {

constexpr std::size_t kFewestFrames = 24;
constexpr int kLinePoints = 3;
/// The noise is read in the upper part of what the rate allows, above the signal's band.
constexpr double kLineFrom = 0.6;
constexpr double kLineTo = 0.95;

/// Sum of the components' mean squares of signal minus filtered signal.
double mean_square_residual(const FourSignals& x, double cutoff_hz, double rate_hz,
                            FourSignals& filtered) {
    filter_two_pass(x, {0, x.size()}, cutoff_hz, rate_hz, End::Odd, End::Odd, filtered);
    Eigen::Array4d sum = Eigen::Array4d::Zero();
    for (std::size_t i = 0; i < x.size(); ++i)
        sum += (x[i] - filtered[i]).square();
    return sum.sum() / static_cast<double>(x.size());
}

} // namespace

double choose_cutoff_hz(const FourSignals& x, double rate_hz, CutoffBounds bounds) {
    const double highest = highest_cutoff_hz(rate_hz);
    const double high = std::min(bounds.high_hz, highest);
    const double low = std::min(bounds.low_hz, high);
    if (x.size() < kFewestFrames)
        return high;
    FourSignals filtered(x.size());
    const auto residual = [&](double cutoff_hz) {
        return mean_square_residual(x, cutoff_hz, rate_hz, filtered);
    };

    // Where there is noise alone, R² = σ² g(f) with the filter's own g: σ² by least squares.
    const double from = std::max(kLineFrom * highest, std::min(high, 0.8 * highest));
    double sum_rg = 0.0;
    double sum_gg = 0.0;
    for (int i = 0; i < kLinePoints; ++i) {
        const double f = from + (kLineTo * highest - from) * i / (kLinePoints - 1);
        const double kept = calc_noise_gain(f, rate_hz).residual;
        sum_rg += residual(f) * kept * kept;
        sum_gg += kept * kept * kept * kept;
    }
    const double noise = sum_rg / sum_gg;

    // Signal lost, R² - σ² g², and noise left, σ² v²; steps of 10 % and a parabola through the best
    // three.
    const auto error = [&](double f) {
        const NoiseGain gain = calc_noise_gain(f, rate_hz);
        return residual(f) + noise * (gain.value * gain.value - gain.residual * gain.residual);
    };
    // Every fourth step first, then those beside the best, closer and closer.
    constexpr double kStep = 0.10;
    constexpr int kCoarse = 4;
    const int steps =
        kCoarse * std::max(1, static_cast<int>(std::ceil(std::log(high / low) / kStep / kCoarse)));
    const auto at = [&](double k) { return low * std::pow(high / low, k / steps); };
    std::vector<double> errors(static_cast<std::size_t>(steps) + 1,
                               std::numeric_limits<double>::quiet_NaN());
    const auto error_of = [&](int k) {
        double& known = errors[static_cast<std::size_t>(k)];
        if (std::isnan(known))
            known = error(at(k));
        return known;
    };
    int best = 0;
    for (int k = kCoarse; k <= steps; k += kCoarse)
        if (error_of(k) < error_of(best))
            best = k;
    for (int aside = kCoarse / 2; aside > 0; aside /= 2) {
        const int middle = best;
        for (int k : {middle - aside, middle + aside})
            if (k >= 0 && k <= steps && error_of(k) < error_of(best))
                best = k;
    }
    double place = best;
    if (best > 0 && best < steps) {
        const double bend = error_of(best - 1) - 2.0 * error_of(best) + error_of(best + 1);
        if (bend > 0.0)
            place += 0.5 * (error_of(best - 1) - error_of(best + 1)) / bend;
    }
    return at(place);
}

} // namespace kite
