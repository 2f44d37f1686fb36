#pragma once

namespace kite {

/// What a two-pass low-pass leaves of white noise, and of its derivatives.
/// For white noise of standard deviation 1 per sample before the filter:
struct NoiseGain {
    double value = 0.0;             ///< SD after the filter
    double first_derivative = 0.0;  ///< SD of the first derivative, per second
    double second_derivative = 0.0; ///< SD of the second derivative, per second squared
    double residual = 0.0;          ///< SD of what the filter took away (raw minus filtered)
};

/// From the amplitude response of the two passes, H = 1 / (1 + (f / f1)^4) with the corrected f1,
/// integrated up to half the rate: var(k-th derivative) = (2 / rate) ∫ H^2 (2 pi f)^(2k) df.
NoiseGain calc_noise_gain(double cutoff_hz, double rate_hz);

} // namespace kite
