#pragma once

#include "core/base/range.h"

#include <Eigen/Core>

#include <array>
#include <vector>

namespace kite {

/// Second-order digital filter: y[n] = b0 x[n] + b1 x[n-1] + b2 x[n-2] - a1 y[n-1] - a2 y[n-2].
struct Biquad {
    std::array<double, 3> b{};
    std::array<double, 3> a{1.0, 0.0, 0.0};
};

/// Second-order Butterworth low-pass by the bilinear transform with pre-warping.
/// cutoff_hz must lie between 0 and rate_hz / 2 (throws std::invalid_argument).
/// Source: Winter, Biomechanics and Motor Control of Human Movement, 4th ed. 2009, ch. 3.
Biquad design_low_pass(double cutoff_hz, double rate_hz);

/// Two passes of a second-order filter attenuate the cut-off twice; a single pass must be designed
/// for cutoff / kTwoPassFactor so that the pair has its -3 dB point at `cutoff`.
/// (sqrt(2) - 1)^(1/4); Winter 2009, Robertson & Dowling 2003.
inline constexpr double kTwoPassFactor = 0.80224326292315;

/// The highest two-pass cut-off that can be designed at this rate.
double highest_cutoff_hz(double rate_hz);

/// How a signal is continued beyond an end of a run before filtering, so that the filter settles.
enum class End {
    Odd,   ///< point reflection about the end sample: right where the signal just goes on
    Trend, ///< point reflection about a local cubic: keeps slope and bend at a sudden change
};

/// Zero-lag low-pass of x[run]: forwards and backwards, cut-off corrected for the two passes.
/// Writes to out[run]; samples outside the run are not touched. A run of fewer than three samples
/// is copied. Every sample of the run must be finite.
void filter_two_pass(const std::vector<double>& x, FrameRange run, double cutoff_hz, double rate_hz,
                     End begin, End end, std::vector<double>& out);

/// Four signals side by side, a row a sample (a quaternion, a point and nothing): about as quick as
/// one.
using FourSignals = std::vector<Eigen::Array4d>;
void filter_two_pass(const FourSignals& x, FrameRange run, double cutoff_hz, double rate_hz,
                     End begin, End end, FourSignals& out);

/// The filter is linear. The weights of the raw samples of a run that say the same as `weights` of
/// its filtered samples (its transpose): what noise in them does to a result.
std::vector<double> raw_weights_of(const std::vector<double>& weights, double cutoff_hz,
                                   double rate_hz, End begin, End end);

/// Filters a whole signal with odd continuation at both ends.
std::vector<double> filter_two_pass(const std::vector<double>& x, double cutoff_hz, double rate_hz);

/// A flag a frame: bytes and not bits, which cost more to read than they save.
using Flags = std::vector<char>;

/// Runs of finite samples, further cut before each frame in `cuts` (ascending).
std::vector<FrameRange> find_runs(const Flags& valid, const std::vector<std::size_t>& cuts);

} // namespace kite
