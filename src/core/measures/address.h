#pragma once

#include "core/base/range.h"
#include "core/motion/take.h"
#include "core/signal/curve.h"

namespace kite {

/// The stillness in which the golfer addresses the ball is looked for this long before the
/// takeaway.
inline constexpr double kLongestAddress_s = 2.0;
inline constexpr double kAddressWindow_s = 0.1;

/// From when on the golfer stands where they stand at the takeaway: within kLongestAddress_s before
/// it, with both feet (else the pelvis) in place. A golfer who first stands beside the ball and
/// then steps in has not addressed it before.
double find_stance_begin(const Take& take, double takeaway_s);

/// The calmest window of the leader between two times. Of windows that are equally calm within 1 %
/// (or 0.05 °/s) the one nearest to the takeaway is taken.
TimeRange find_address_window(const Curve& speed_deg_s, double begin_s, double takeaway_s);

} // namespace kite
