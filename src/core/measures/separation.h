#pragma once

#include "core/measures/events.h"
#include "core/measures/sequence.h"
#include "core/signal/curve.h"
#include "core/signal/place.h"

namespace kite {

/// Degrees, positive when the torso is more closed than the pelvis.
struct Separation {
    double at_top_deg = kMissing;
    double max_deg = kMissing; ///< between top and impact
    double max_t_s = kMissing;
    double max_t_u_s = kMissing;   ///< standard uncertainty: large on a plateau
    double stretch_deg = kMissing; ///< max - at top
    double stretch_pct = kMissing; ///< of at top
    double at_impact_deg = kMissing;
    double closing_deg_s = kMissing; ///< fastest closing from the maximum to impact, positive
};

/// `samples`: the separation as measured, for the place of its maximum.
Separation calc_separation(const Curve& separation_deg, const Samples& samples,
                           const SwingMoments& moments);

} // namespace kite
