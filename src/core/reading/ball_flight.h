#pragma once

#include "core/base/language.h"
#include "core/reading/reading.h"

#include <string>
#include <vector>

namespace kite {

/// Flights by key, as the rules name them: slice, hook, push, pull, block. Of a right-hander slice
/// and push go to the right. Empty where it flew straight, or was not recorded.
std::vector<std::string> recorded_flights(const Analysis& analysis);

/// Does the recorded flight agree with what a fault goes with? Empty where no flight was recorded
/// or the fault says nothing of directions.
std::string ball_agreement(const Analysis& analysis, const Fault& fault, const Language& language);

} // namespace kite
