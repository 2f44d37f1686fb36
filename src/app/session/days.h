#pragma once

#include "core/practice/plan.h"

#include <QDate>

#include <boost/date_time/gregorian/gregorian_types.hpp>

namespace kite::app {

/// Days as the core has them, and as Qt's fields do.
inline Date today() {
    return boost::gregorian::day_clock::local_day();
}
inline QDate qdate_of(const Date& date) {
    return QDate::fromString(QString::fromStdString(text_of(date)), Qt::ISODate);
}
/// Today where it is none.
inline Date date_of(const QDate& date) {
    return find_date(date.toString(Qt::ISODate).toStdString()).value_or(today());
}

} // namespace kite::app
