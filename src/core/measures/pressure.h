#pragma once

#include "core/measures/events.h"
#include "core/measures/sequence.h"
#include "core/motion/take.h"

namespace kite {

/// Vertical force under the feet.
struct Pressure {
    Curve lead_pct;                   ///< lead share of the total; empty when not measured
    double lead_min_pct = kMissing;   ///< lowest share between takeaway and impact …
    double lead_min_t_s = kMissing;   ///< … and when
    double lead_half_t_s = kMissing;  ///< when it last rose through 50 % before impact
    double peak_total_bw = kMissing;  ///< greatest total from top to 0.05 s after impact, in body
                                      ///< weights (the mean total at address) …
    double peak_total_t_s = kMissing; ///< … and when
};
Pressure calc_pressure(const Take& take, const SwingMoments& moments);

} // namespace kite
