#pragma once

#include "core/film/marks.h"

#include <string>
#include <vector>

namespace kite::film {

/// What is wrong with how a phone stands, and how to mend it: English templates with `{1}` for a
/// number, as those of the reading.
struct CameraAdvice {
    std::string id; ///< "leans", for tests
    std::string what;
    std::vector<double> values;
    int decimals = 0;
};

/// Before the first swing: from one picture of the golfer at address with what was marked in it
/// (plumb line, target line, sticks, feet, head). Says nothing of what was not marked.
std::vector<CameraAdvice> check_camera(const View& view);

/// What film from these sides at these rates will tell, in plain sentences; first what it will,
/// then what it cannot and what would help.
struct FilmPromise {
    std::vector<std::string> tells;
    std::vector<std::string> cannot;
};
FilmPromise promise_of(const Marks& marks);

/// By how many degrees a camera stands beside its direction, as a target line on the floor shows it
/// (taken as level; with a plumb line it may lean): positive to its own right. Empty: no line, or
/// its height is not told.
std::optional<double> beside_deg(const View& view);

} // namespace kite::film
