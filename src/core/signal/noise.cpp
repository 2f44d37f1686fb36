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
    // The integrals over h = 1 / (1 + x^4), x = f / f1, up to half the rate have closed forms.
    const double x = rate_hz / 2.0 / f1;
    const double root2 = std::sqrt(2.0);
    const double logs =
        std::log((x * x + root2 * x + 1.0) / (x * x - root2 * x + 1.0)) / (4.0 * root2);
    const double arcs = (std::atan(root2 * x + 1.0) + std::atan(root2 * x - 1.0)) / (2.0 * root2);
    const double fourth = 1.0 + x * x * x * x;
    const double of_h = arcs + logs;                                   // ∫ h
    const double of_h2 = 0.25 * x / fourth + 0.75 * of_h;              // ∫ h²
    const double of_h2_x2 = 0.25 * (x * x * x / fourth + arcs - logs); // ∫ h² x²
    const double of_h2_x4 = of_h - of_h2;                              // ∫ h² x⁴
    const double scale = 2.0 / rate_hz * f1;
    const double w1 = 2.0 * kPi * f1;
    const double passed = of_h;
    const double value = of_h2;
    const double first = w1 * w1 * of_h2_x2;
    const double second = w1 * w1 * w1 * w1 * of_h2_x4;
    // Residual: ∫ (1 - H)^2 = 1 - 2 ∫ H + ∫ H^2 in shares of the noise.
    const double residual = std::max(0.0, 1.0 - 2.0 * passed * scale + value * scale);
    return {std::sqrt(value * scale), std::sqrt(first * scale), std::sqrt(second * scale),
            std::sqrt(residual)};
}

} // namespace kite
