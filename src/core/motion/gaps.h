#pragma once

#include <Eigen/Core>

#include <cstddef>
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

/// Samples of D columns at times (ascending), NaN rows missing, brought to target times: exact
/// where a sample sits on the target, else a local cubic through two samples on either side, as
/// long as the samples around are no further apart than kLongestFilledGap_s. Other rows are NaN.
/// `samples` is one row a time.
Eigen::MatrixXd fill_to_times(const std::vector<double>& times_s, const Eigen::MatrixXd& samples,
                              const std::vector<double>& targets_s, GapReport& report);

} // namespace kite
