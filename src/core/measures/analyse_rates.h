#pragma once

#include "core/measures/analyse.h"
#include "core/measures/swings.h"

namespace kite {

/// A source of rotation speeds alone gives the sequence and the moments of its fastest part.
/// `begun` holds what is known of the take and the options.
Outcome<Analysis> analyse_rates(const Take& as_read, Analysis begun);

/// How many swings there are, and which is meant.
void count_swings(const std::optional<Swings>& swings, Analysis& result);

} // namespace kite
