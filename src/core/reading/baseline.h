#pragma once

#include "core/reading/rules.h"

#include <map>
#include <string>
#include <vector>

namespace kite {

/// So many good swings at least make a golfer's own limits.
inline constexpr std::size_t kFewestForBaseline = 5;

/// Limits of a golfer's own: mean of their good swings, two typical errors (standard deviations
/// between swings) to the side on which the fault lies; as soft as one of them. Only of what was
/// measured in all of these swings; none with fewer than kFewestForBaseline. Where a limit serves
/// several conditions the first one counts.
std::map<std::string, Limit> baseline_limits(const RuleBook& book,
                                             const std::vector<const Analysis*>& good_swings);

} // namespace kite
