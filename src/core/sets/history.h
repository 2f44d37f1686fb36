#pragma once

#include "core/catalogue/measure.h"
#include "core/practice/plan.h"
#include "core/sets/comparison.h"

#include <map>
#include <optional>
#include <string>
#include <vector>

namespace kite {

/// What is kept of a swing, in numbers.
struct KeptMeasures {
    ClubKind club = ClubKind::Iron;
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
    /// Swings marked as good, if there are kFewestForBaseline at least; else those of the earliest
    /// lessons, a third of them, three at most, and `from_good` is false: no fair baseline, since
    /// golfers come when it is worst.
    Summary baseline;
    bool from_good = false;
    int baseline_lessons = 0; ///< so many of the earliest; 0 where it is from good swings
    /// The last lesson against it, with what differs from session to session; missing while the
    /// baseline is the last.
    Change since_baseline;
};

/// Those with one club alone: clubs are never mixed.
std::vector<KeptMeasures> of_club(const std::vector<KeptMeasures>& swings, ClubKind club);

/// By how much the golfer's sessions lie apart, by measure; of those with three lessons of two
/// swings at least. Of one club, best of good swings and others alike.
std::map<std::string, SessionScatter> session_scatter(const std::vector<KeptMeasures>& swings);

/// Swings of one club in the order in which they came; those without a lesson go together by day.
std::vector<MeasureHistory> histories(const std::vector<KeptMeasures>& swings,
                                      const std::vector<const Measure*>& measures);

/// The few measures that matter to a golfer: what the drills of the plans are measured by, newest
/// first; what the first fixes of the swings rest on, most often first; then what is usually looked
/// at. `first_fixes`: ids, one a swing.
std::vector<const Measure*> measures_that_matter(const std::vector<std::string>& first_fixes,
                                                 const std::vector<Plan>& plans,
                                                 const DrillBook& drills, const RuleBook& rules,
                                                 std::size_t count);

/// The measure that a lesson works on, by its key: that of the plan's drill, else what decides the
/// first fix. Empty: there is neither, or no measure tells it.
std::string usual_question(const std::string& first_fix, const Plan* plan, const DrillBook& drills,
                           const RuleBook& rules);

/// How feel and fact compare: guess less measurement, lesson by lesson.
std::vector<LessonPoint> guess_history(const std::vector<KeptMeasures>& swings);

/// The greatest value of a measure, if its uncertainty does not reach the next greatest of another
/// lesson: else several share it.
struct Best {
    const Measure* measure = nullptr;
    /// The largest of many is large by its error too: drawn to the mean by the share of the scatter
    /// that is the measurement's own (James & Stein, as Efron & Morris 1977 tell it, from memory).
    Measured value;
    Measured measured; ///< as it was
    Date day;
    int shared = 1; ///< swings that cannot be told from it, itself included
};
/// Of the measures of which more is a best: speed of club head and hands. A value whose uncertainty
/// is not known is no best.
std::vector<Best> bests(const std::vector<KeptMeasures>& swings);

} // namespace kite
