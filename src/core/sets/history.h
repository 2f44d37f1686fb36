#pragma once

#include "core/catalogue/measure.h"
#include "core/practice/plan.h"
#include "core/sets/statistics.h"

#include <map>
#include <optional>
#include <string>
#include <vector>

namespace kite {

/// What is kept of a swing, in numbers.
struct KeptMeasures {
    std::string lesson; ///< its id; empty: none
    Date day;
    bool is_good = false;                   ///< marked so
    std::map<std::string, Measured> values; ///< by the measure's key, in its unit
    /// How open the pelvis felt at impact less how open it was, degrees; missing: no guess.
    double guess_error_deg = kMissing;
    double guess_error_u_deg = kMissing;
};

/// One measure in the swings of one lesson, or of one day without a lesson.
struct LessonPoint {
    std::string lesson;
    Date day;
    std::vector<Measured> swings; ///< measured ones alone
    Summary summary;
    double low = kMissing; ///< 95 % interval of the mean; needs two swings
    double high = kMissing;
};

/// One measure over time.
struct MeasureHistory {
    const Measure* measure = nullptr;
    std::vector<LessonPoint> lessons; ///< by day, in the order in which they came
    /// Swings marked as good, if there are kFewestForBaseline at least; else those of the first
    /// lesson, and `from_good` is false.
    Summary baseline;
    bool from_good = false;
    Change since_baseline; ///< the last lesson against it; missing while the baseline is the last
};

/// Swings in the order in which they came; those without a lesson go together by day.
std::vector<MeasureHistory> histories(const std::vector<KeptMeasures>& swings,
                                      const std::vector<const Measure*>& measures);

/// The few measures that matter to a golfer: what the drills of the plans are measured by, newest
/// first; what the first fixes of the swings rest on, most often first; then what is usually looked
/// at. `first_fixes`: ids, one a swing.
std::vector<const Measure*> measures_that_matter(const std::vector<std::string>& first_fixes,
                                                 const std::vector<Plan>& plans,
                                                 const DrillBook& drills, const RuleBook& rules,
                                                 std::size_t count);

/// How feel and fact compare: guess less measurement, lesson by lesson.
std::vector<LessonPoint> guess_history(const std::vector<KeptMeasures>& swings);

/// The greatest value of a measure, if its uncertainty does not reach the next greatest of another
/// lesson: else several share it.
struct Best {
    const Measure* measure = nullptr;
    Measured value;
    Date day;
    int shared = 1; ///< swings that cannot be told from it, itself included
};
/// Of the measures of which more is a best: speed of club head and hands.
std::vector<Best> bests(const std::vector<KeptMeasures>& swings);

} // namespace kite
