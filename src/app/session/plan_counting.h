#pragma once

#include "app/session/plan_keeper.h"
#include "app/session/swing_loader.h"

#include <QString>

#include <vector>

namespace kite::app {

/// What came of counting, in a title and a sentence.
struct CountWords {
    QString title;
    QString text;
};

/// Counts swings of today against the drill of the plan: one step that can be undone. Without a
/// plan, or where none of them gives the measure, or full
/// swings do not count on its rung, nothing is counted and the words say so.
CountWords count_against_plan(PlanKeeper& keeper, const LoadedSwings& swings,
                              bool rehearsal = false);

/// Counts the swings of a drill that is under way, one more each time: where the plan's last count
/// is that of the swings before, it is written again, else there is a new one. True: the rung is
/// passed, and the next swings are counted anew.
bool count_running(PlanKeeper& keeper, const Drill& drill, const std::vector<PlanCheck>& checks,
                   const QString& what);

/// "Chair behind the hips, rung 2": how a swing of the plan's drill is marked.
QString drill_tag(const Plan& plan, const Drill& drill);

} // namespace kite::app
