#pragma once

#include "app/session/plan_keeper.h"
#include "core/measures/analyse.h"

#include <QString>

#include <vector>

namespace kite::app {

/// What came of counting, in a title and a sentence.
struct CountWords {
    QString title;
    QString text;
};

/// Counts swings of today against the drill of the plan: one step that can be undone. Without a
/// plan, or where none of them gives the measure, nothing is counted and the words say so.
CountWords count_against_plan(PlanKeeper& keeper, const std::vector<const Analysis*>& swings);

} // namespace kite::app
