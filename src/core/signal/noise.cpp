#include "core/signal/noise.h"

#include "core/base/units.h"
#include "core/signal/butterworth.h"

#include <algorithm>
#include <cmath>

namespace kite {

NoiseGain calc_noise_gain(double cutoff_hz, double rate_hz) {
    // Amplitude response of the pair of passes: each pass 1 / sqrt(1 + (f / f1)^4) with the
    // corrected f1, so the pair 1 / (1 + (f / f1)^4). One-sided density of unit white noise: 2 /
    // fs.
    const double f1 = std::min(cutoff_hz, highest_cutoff_hz(rate_hz)) / kTwoPassFactor;
    // Beyond 40 f1 nothing is left (H^2 f^4 falls with the fourth power).
    const double highest = std::min(rate_hz / 2.0, 40.0 * f1);
    constexpr int kSteps = 400;
    const double df = highest / kSteps;
    double passed = 0.0;
    double value = 0.0;
    double first = 0.0;
    double second = 0.0;
    for (int i = 0; i < kSteps; ++i) {
        const double f = (i + 0.5) * df;
        const double share = f * f / (f1 * f1);
        const double h = 1.0 / (1.0 + share * share);
        const double w2 = 4.0 * kPi * kPi * f * f;
        passed += h;
        value += h * h;
        first += h * h * w2;
        second += h * h * w2 * w2;
    }
    const double scale = 2.0 / rate_hz * df;
    // Residual: ∫ (1 - H)^2 = 1 - 2 ∫ H + ∫ H^2 in shares of the noise.
    const double residual = std::max(0.0, 1.0 - 2.0 * passed * scale + value * scale);
    return {std::sqrt(value * scale), std::sqrt(first * scale), std::sqrt(second * scale),
            std::sqrt(residual)};
}

} // namespace kite
