#pragma once

#include "core/base/statistics.h"
#include "core/catalogue/measure.h"
#include "core/measures/analyse.h"

#include <array>
#include <functional>
#include <string>
#include <vector>

namespace kite {

/// A curve of a set, brought to common times between moments: mean ± SD.
struct Band {
    std::vector<double> t_s; ///< on the mean swing's clock, impact at 0
    std::vector<double> mean;
    std::vector<double> sd;
};
/// Each swing's time is stretched piece by piece so that takeaway, top, shaft level down and impact
/// fall together; after impact time runs on unstretched for 0.1 s. `curve_of` picks the curve.
/// Swings without those moments are left out; empty with fewer than two.
Band calc_band(const std::vector<const Analysis*>& swings,
               const std::function<const Curve&(const Analysis&)>& curve_of);

/// Peaks of one part over a set.
struct PeakSummary {
    Summary from_impact_s; ///< negative: before impact
    Summary peak_deg_s;
};
/// In the order of the sequence; swings without the peak are left out.
std::array<PeakSummary, kSequence.size()>
summarise_peaks(const std::vector<const Analysis*>& swings);

} // namespace kite
