#pragma once

#include "core/base/language.h"
#include "core/sets/history.h"
#include "report/drawing.h"

#include <string>
#include <vector>

namespace kite::report {

/// One strip of a history.
struct HistoryLane {
    std::string name; ///< with its unit
    int decimals = 0;
    double factor = 1.0; ///< shown unit per unit of the values
    std::vector<LessonPoint> lessons;
    Summary baseline; ///< count 0: none
    std::string baseline_words;
    Change since_baseline;
};

/// What was done between, for the lane at the foot.
struct HistoryEvent {
    Date day;
    enum class Kind { Lesson, PlanBegins, PlanEnds, Practised, Counted } kind = Kind::Lesson;
    std::string words; ///< of a plan what it is for, of a count "8 of 10"
};

/// Lanes one above the other on one line of days: every swing as a dot, the mean of a lesson with
/// its 95 % interval, the baseline as a band; at the foot lessons, plans and practice. `letters`:
/// size of the words against the usual.
Drawing history_drawing(const std::vector<HistoryLane>& lanes,
                        const std::vector<HistoryEvent>& events, double width_mm, double height_mm,
                        double letters, const Language& language);

} // namespace kite::report
