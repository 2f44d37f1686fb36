#pragma once

#include "core/base/findings.h"
#include "core/measures/analyse.h"

namespace kite {

/// What a measured swing has to say for itself beside its numbers: what is missing, was not seen,
/// or does not agree. Each adds its findings.

void name_missing_parts(const Take& take, std::vector<Finding>& findings);
void name_slow_rate(double rate_hz, std::vector<Finding>& findings);
/// A downswing so long or so short that the rate may be said wrongly: what the numbers cannot tell
/// from a slow drill is asked.
void name_odd_tempo(const Take& take, const Analysis& analysis, std::vector<Finding>& findings);
/// Film that was stored to play slower than it was taken, or the other way round, shows in a
/// downswing that lasts too long or too short, or in no swing at all.
void name_film_clock(const Take& take, const Analysis& analysis, std::vector<Finding>& findings);
/// Unseen stretches of each part within the swing: what falls into them is missing or less sure.
void name_unseen(const Take& take, const Analysis& analysis, std::vector<Finding>& findings);
/// Between top and impact, where the two methods differ by some degrees.
void compare_separations(const Analysis& analysis, std::vector<Finding>& findings);
/// A trunk that is twisted further than a spine can be was put together from wrong markers: its
/// separation is taken out. The analysis must have one.
void drop_impossible_separation(Analysis& analysis, std::vector<Finding>& findings);
/// A launch monitor sees the club head too: the two must agree, or one is wrong.
void compare_with_launch(const Analysis& analysis, std::vector<Finding>& findings);

} // namespace kite
