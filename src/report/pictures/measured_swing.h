#pragma once

#include "core/measures/analyse.h"
#include "core/motion/take.h"

namespace kite::report {

/// A swing as pictures need it; both must live as long.
struct MeasuredSwing {
    const Take& take; ///< an empty one: no lengths, no feet
    const Analysis& analysis;
};

} // namespace kite::report
