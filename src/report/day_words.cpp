#include "report/day_words.h"

#include <boost/date_time/gregorian/gregorian_types.hpp>

namespace kite::report {

std::string day_words(const Date& day, const Language& language) {
    return std::to_string(static_cast<int>(day.day())) + " " +
           language.translate(day.month().as_short_string());
}

std::string weekday_words(const Date& day, const Language& language) {
    return language.translate(day.day_of_week().as_short_string()) + " " + day_words(day, language);
}

} // namespace kite::report
