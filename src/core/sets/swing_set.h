#pragma once

#include "core/catalogue/measure.h"
#include "core/measures/analyse.h"
#include "core/sets/statistics.h"

#include <array>
#include <functional>
#include <string>
#include <vector>

namespace kite {

/// What a comparison may say of a measure.
enum class Verdict {
    Real,     ///< the change is there, many measures looked at at once (false discovery rate 5 %)
    NotShown, ///< there are swings enough to see a worthwhile change, and none is seen
    TooFew,   ///< the swings cannot tell
    NotMeasured
};
const char* word_of(Verdict verdict);

struct MeasureChange {
    const Measure* measure = nullptr;
    Summary before;
    Summary after;
    std::vector<double> before_values; ///< swing by swing; NaN where it was not measured
    std::vector<double> after_values;
    Change change;
    Verdict verdict = Verdict::NotMeasured;
    /// Further swings, in each set, until a change worth having would show; only for TooFew. NaN if
    /// the scatter is not known yet.
    double further_swings = std::numeric_limits<double>::quiet_NaN();
};

/// Compares two sets of swings, measure by measure (Hopkins 2000; Weir, J. Strength Cond. Res. 19,
/// 2005; Welch 1947; Benjamini & Hochberg 1995).
std::vector<MeasureChange> compare_sets(const std::vector<const Analysis*>& before,
                                        const std::vector<const Analysis*>& after);
std::vector<MeasureChange> compare_sets(const std::vector<Analysis>& before,
                                        const std::vector<Analysis>& after);

/// What is real first, then what cannot be told, then what is not shown; in each of them what
/// changed most, counted in changes worth having. What was not measured is left out.
std::vector<MeasureChange> most_changed_first(std::vector<MeasureChange> changes);

/// A change as it is written: the difference is that of the two means as they stand beside it.
struct ShownChange {
    double before = std::numeric_limits<double>::quiet_NaN();
    double after = std::numeric_limits<double>::quiet_NaN();
    double difference = std::numeric_limits<double>::quiet_NaN();
};
/// `factor`: the unit shown per unit of the measure.
ShownChange as_shown(const MeasureChange& change, double factor = 1.0);

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
