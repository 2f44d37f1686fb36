#pragma once

#include "core/signal/butterworth.h"

#include <Eigen/Core>

#include <cstddef>
#include <cstdint>
#include <vector>

namespace kite {

/// Gaps up to this long are filled; longer ones are left open and named.
inline constexpr double kLongestFilledGap_s = 0.05;

struct GapReport {
    std::size_t filled_frames = 0;
    std::size_t open_frames = 0; ///< missing frames that were left open, ends included
    double longest_open_s = 0.0;
    double longest_open_at_s = 0.0; ///< where the longest open gap begins

    void merge(const GapReport& other);
};

/// What a frame of a smoothed series rests on.
enum class Seen : std::uint8_t {
    Seen,    ///< it was measured
    Bridged, ///< a gap of up to kLongestFilledGap_s, laid over from both sides
    Unseen   ///< nothing is known
};

/// Lays gaps of up to kLongestFilledGap_s over with a cubic through two samples on either side;
/// `valid` says which rows were measured, and then which have a value. Returns what each rests on.
/// `longest_s`: how long a gap may be.
std::vector<Seen> bridge_gaps(FourSignals& x, Flags& valid, double rate_hz,
                              double longest_s = kLongestFilledGap_s);

/// Samples of D columns at times (ascending), NaN rows missing, brought to target times: exact
/// where a sample sits on the target, else a local cubic through two samples on either side, as
/// long as the samples around are no further apart than `longest_s`. Other rows are NaN.
/// `samples` is one row a time. The report tells gaps that will be bridged (up to
/// kLongestFilledGap_s) from open ones, whatever `longest_s` is.
Eigen::MatrixXd fill_to_times(const std::vector<double>& times_s, const Eigen::MatrixXd& samples,
                              const std::vector<double>& targets_s, GapReport& report,
                              double longest_s = kLongestFilledGap_s);

} // namespace kite
