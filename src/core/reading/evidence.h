#pragma once

#include <optional>
#include <vector>

namespace kite {

/// Evidence between 0 and 1 for a condition on a measure; empty: not judged (a measure is missing).
using Evidence = std::optional<double>;

/// Evidence that `value` lies above `limit`: 0.5 at the limit, a normal ogive whose spread joins
/// the rule's own width with the measure's standard uncertainty, so that a value whose uncertainty
/// spans the limit stays middling. A value or an uncertainty that is not known (NaN) gives "not
/// judged".
Evidence above(double value, double limit, double width, double uncertainty = 0.0);
Evidence below(double value, double limit, double width, double uncertainty = 0.0);

/// Conditions that must all hold: the weakest counts. Not judged if one is not judged, unless
/// another one already rules it out (below 0.05).
Evidence all_of(const std::vector<Evidence>& conditions);

/// Any condition is enough: the strongest counts. Not judged only if none is judged.
Evidence any_of(const std::vector<Evidence>& conditions);

/// From here on a fault counts as present.
inline constexpr double kEnoughEvidence = 0.6;

} // namespace kite
