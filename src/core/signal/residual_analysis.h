#pragma once

#include "core/signal/butterworth.h"

namespace kite {

struct CutoffBounds {
    double low_hz = 0.0;
    double high_hz = 0.0;
};

/// Chooses the cut-off of the two-pass low-pass by residual analysis (Winter, Biomechanics and
/// Motor Control of Human Movement, 4th ed. 2009, ch. 3).
///
/// R(f) is the root mean square of signal minus filtered signal with cut-off f. Where f lies above
/// the signal's band, the filter takes away noise alone, which gives the noise σ: for white noise
/// the shape of R there is known (calc_noise_gain), so only its height is fitted. With it R² splits
/// at every f into noise and signal that was lost, and the cut-off is where signal lost and noise
/// left are together smallest. (Winter takes the f at which R equals σ, by eye; that smooths more
/// than is best and shifts lopsided peaks: docs/decisions.md.)
///
/// `x` holds up to four components of one signal, all finite; their residuals are added.
/// The result lies within the bounds; the upper one where the signal is free of noise or too short.
double choose_cutoff_hz(const FourSignals& x, double rate_hz, CutoffBounds bounds);

} // namespace kite
