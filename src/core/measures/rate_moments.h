#pragma once

#include "core/base/findings.h"
#include "core/measures/events.h"
#include "core/measures/sequence.h"
#include "core/motion/take.h"

namespace kite {

/// A rotation speed as it was measured, filtered: the part of a sequence. °/s, positive down.
SequenceInput::Part smooth_rate(const std::vector<double>& raw_deg_s, double rate_hz,
                                double cutoff_hz);

/// The moments that rotation speeds alone can tell, from the club's or else the most distal part's:
/// takeaway, top (its change of sign), impact (contact mark, else the club's peak, marked assumed)
/// and finish. Errors as find_moments.
Outcome<SwingMoments> find_moments_from_rates(const Take& take, const SequenceInput& input);

} // namespace kite
