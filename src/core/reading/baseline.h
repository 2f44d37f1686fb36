#pragma once

#include "core/reading/rules.h"

#include <map>
#include <string>
#include <vector>

namespace kite {

/// So many good swings at least make a golfer's own limits.
inline constexpr std::size_t kFewestForBaseline = 5;

/// Limits of a golfer's own: beyond them, to the side on which the fault lies, are at most 2.5 % of
/// their good swings, with 90 % confidence: a tolerance limit, the wider the fewer swings there are
/// (Hahn & Meeker, Statistical Intervals, 1991, from memory). As soft as the standard deviation
/// between swings. Only of what was
/// measured in all of these swings; none with fewer than kFewestForBaseline. Where a limit serves
/// several conditions the first one counts.
std::map<std::string, Limit> baseline_limits(const RuleBook& book,
                                             const std::vector<const Analysis*>& good_swings);

} // namespace kite
