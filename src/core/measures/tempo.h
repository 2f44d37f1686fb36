#pragma once

#include "core/measures/events.h"
#include "core/measures/sequence.h"

namespace kite {

struct Tempo {
    double backswing_s = kMissing; ///< takeaway to top
    double downswing_s = kMissing; ///< top to impact
    double ratio = kMissing;
};

Tempo calc_tempo(const SwingMoments& moments);

} // namespace kite
