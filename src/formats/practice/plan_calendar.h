#pragma once

#include "core/practice/plan.h"

#include <string>

namespace kite::formats {

/// The plan as an iCalendar file (RFC 5545): an all-day entry for every day of practice, measuring
/// and lesson, the cautions in each. `now_utc` is the time stamp, "20261127T101500Z".
std::string to_calendar(const Plan& plan, const DrillBook& book, const std::string& now_utc,
                        const Language& language = {});

/// Now, as the stamps of a calendar have it.
std::string utc_stamp();

} // namespace kite::formats
