#pragma once

#include "core/measures/analyse.h"
#include "core/reading/reading.h"

#include <vector>

namespace kite::report {

/// One landing of the stair, from the ground up: a part's peak (or reversal) and how it follows on
/// the one below.
struct StairStep {
    Segment segment = Segment::Pelvis;
    double t_s = kMissing;
    double u_s = kMissing;            ///< standard uncertainty of the time
    double after_below_ms = kMissing; ///< positive: later than the part below; NaN for the lowest
    bool is_tied = false;             ///< with the part below
    bool is_named = false;            ///< the reading names it as something to mend
};

/// Parts without a peak are left out; the next one then follows the nearest one below.
std::vector<StairStep> stair_of_peaks(const Sequence& sequence, const Reading& reading);
/// How high the landing of a peak stands, °/s: as fast as it was; where that is not told (of a
/// film's club), as high as the curve is there; else on the ground. Always a number.
double landing_deg_s(const Analysis& analysis, Segment segment);
std::vector<StairStep> stair_of_reversals(const Sequence& sequence, const Reading& reading);

} // namespace kite::report
