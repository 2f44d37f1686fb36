#pragma once

#include "core/base/language.h"
#include "core/practice/plan.h"

namespace kite::report {

/// "26 Nov".
std::string day_words(const Date& day, const Language& language);
/// "Thu 26 Nov".
std::string weekday_words(const Date& day, const Language& language);

} // namespace kite::report
