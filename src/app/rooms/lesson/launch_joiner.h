#pragma once

#include "app/session/record_keeper.h"

#include <QString>

namespace kite::app {

/// Launch numbers and the swings of a lesson that they belong to.
struct JoinedShots {
    std::vector<std::pair<QString, LaunchNumbers>> by_swing; ///< id of the swing, its numbers
    QString words; ///< how they were joined, and what found no swing
};

/// By time where every shot and every swing has one; else in their order from the first. `swings`:
/// rows of the record in the order in which they came.
JoinedShots join_shots(const std::vector<LaunchNumbers>& shots, const std::vector<Row>& swings);

/// The numbers of a row and of all behind it, one swing further back (`by` 1) or further up (−1).
/// What would fall off the end is not moved: then nothing comes back.
std::vector<std::pair<QString, std::optional<LaunchNumbers>>>
moved_shots(const std::vector<Row>& swings, int from, int by);

} // namespace kite::app
