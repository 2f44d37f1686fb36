#pragma once

#include "core/base/findings.h"
#include "core/measures/events.h"
#include "core/measures/sequence.h"
#include "core/motion/take.h"

namespace kite {

/// A rotation speed as it was measured, filtered: the part of a sequence. °/s, positive down.
/// `change_s` splits it at impact.
SequenceInput::Part smooth_rate(const std::vector<double>& raw_deg_s, double rate_hz,
                                double cutoff_hz, std::optional<double> change_s);

/// The blow in the club's rate as it was measured: the largest loss of speed from one frame to the
/// next within 0.05 s of the fastest frame, if it is over 5 % of the peak and stands out from the
/// frames around it four times. Half-way between the two frames.
std::optional<double> find_blow_s(const std::vector<double>& raw_club_deg_s, double rate_hz);

/// The moments that rotation speeds alone can tell, from the club's or else the most distal part's:
/// takeaway, top (its change of sign), impact (contact mark, else the club's peak, marked assumed)
/// and finish. Errors as find_moments.
Outcome<SwingMoments> find_moments_from_rates(const Take& take, const SequenceInput& input);

} // namespace kite
