#pragma once

#include "core/base/missing.h"

#include <cstddef>
#include <optional>
#include <vector>

namespace kite {

/// How two numbers of the same swings go together; says nothing about which brings about which.
struct Relation {
    std::size_t count = 0;   ///< swings in which both are known, in groups of two at least
    double freedom = 0.0;    ///< degrees of freedom: swings less groups less one
    double r = kMissing;     ///< Pearson's, within the groups
    double r_low = kMissing; ///< 95 %, by Fisher's z (Fisher, Metron 1, 1921); needs two degrees
    double r_high = kMissing;
    double slope = kMissing;     ///< of y on x, least squares; scatter of x makes it too flat
    double slope_low = kMissing; ///< 95 %
    double slope_high = kMissing;
    double p = kMissing; ///< two-sided, that there is none
};
/// Swings of one group share what lies behind both numbers (the day, the club): each is held
/// against the mean of its group, so that days that differ in both do not make a relation (Bland &
/// Altman, BMJ 310, 1995). One group: the usual correlation. Pairs of which one is missing are left
/// out. No degree of freedom, or one of the two always the same: only the count is given.
Relation relate(const std::vector<double>& x, const std::vector<double>& y,
                const std::vector<int>& group);

/// Which swing each shot belongs to, by their times on two clocks that run alike but may be set
/// differently: the setting that lets most shots find a swing, in order, within `tolerance_s`.
struct Joined {
    std::vector<std::optional<std::size_t>> swing_of_shot;
    double ahead_s = kMissing; ///< of the shots' clock; missing: nothing was joined
    bool is_ambiguous = false; ///< another setting, more than the tolerance away, joins as many
};
/// Both ascending; at most a few hundred each.
Joined join_by_time(const std::vector<double>& shots_s, const std::vector<double>& swings_s,
                    double tolerance_s = 8.0);

} // namespace kite
