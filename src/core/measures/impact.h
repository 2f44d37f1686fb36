#pragma once

#include "core/base/range.h"
#include "core/measures/events.h"
#include "core/motion/take.h"

#include <optional>

namespace kite {

/// When the club head passes its place at address along the target line, from its places as
/// measured before it gets there (the ball changes what comes after). Empty without places of the
/// club head, or where they do not pass in the window. Where the head was hidden as it passed, the
/// uncertainty is what the way before leaves open.
std::optional<MomentTime> find_head_passing(const Take& take, TimeRange address_window,
                                            TimeRange window);

/// A contact mark and the club head contradict each other where they are further apart than this,
/// in their combined standard uncertainty and at least: a golfer may address the ball some
/// centimetres behind it.
inline constexpr double kContactSigmas = 3.0;
inline constexpr double kContactApart_s = 0.005;

} // namespace kite
