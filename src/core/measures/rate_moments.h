#pragma once

#include "core/base/findings.h"
#include "core/measures/events.h"
#include "core/measures/options.h"
#include "core/measures/sequence.h"
#include "core/measures/swings.h"
#include "core/motion/take.h"

#include <optional>

/// Swings known by their rotation speeds alone.
namespace kite {

/// Rates as they may have been written: in radians a second, or with the downswing negative in
/// every part. Where only that makes a swing, they are brought to °/s, positive down, and a warning
/// says so.
void mend_rates(Take& take, std::vector<Finding>& findings);

/// A rate after the filter, split at a sudden change.
SequenceInput::Part smooth_rate(const std::vector<double>& raw_deg_s, double rate_hz,
                                double cutoff_hz, std::optional<double> change_s);

/// The swings in a take of rates, and the one that is meant (as `find_swings`).
std::optional<Swings> find_rate_swings(const Take& take, const AnalysisOptions& options);

/// Moments from rates alone, by the leader of `swings`: top, takeaway, impact where it shows,
/// finish. Moments in `options.moved_s` are taken as they are.
Outcome<SwingMoments> find_moments_from_rates(const Take& take, const SequenceInput& input,
                                              const Swings& swings, const AnalysisOptions& options);

} // namespace kite
