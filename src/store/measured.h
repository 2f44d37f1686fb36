#pragma once

#include "core/catalogue/measure.h"
#include "core/measures/analyse.h"
#include "core/reading/reading.h"
#include "store/record.h"

#include <map>
#include <string>
#include <vector>

namespace kite::store {

/// A capture with its result, ready to be kept: hashed and packed. `told` is JSON of what was said
/// of the file when it was read. May run on any thread.
NewSwing new_swing(const std::string& file, const std::string& bytes, const std::string& told,
                   const Analysis& analysis, const Reading& reading, const Rules& rules,
                   const std::vector<Finding>& findings);

/// What a fault is called; empty for none.
std::string title_of(const std::string& fault, const Rules& rules);

/// Moments moved by hand, s from the first frame, as a swing's column "moved" has them; what is
/// not understood is left out. Empty: none.
std::map<Moment, double> moved_moments(const std::string& column);
std::string column_of(const std::map<Moment, double>& moved_s);

/// The catalogue's measures in a kept result, by key; only those that it gives.
std::map<std::string, Measured> measures_in(const std::string& result_json);

} // namespace kite::store
