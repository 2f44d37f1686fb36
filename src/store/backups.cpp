#include "store/backups.h"

#include <algorithm>
#include <boost/date_time/gregorian/gregorian.hpp>
#include <optional>
#include <set>
#include <utility>

namespace kite::store {

namespace {

std::optional<boost::gregorian::date> date_of(const std::string& day) {
    if (day.size() != 10)
        return std::nullopt;
    try {
        return boost::gregorian::from_simple_string(day);
    } catch (const std::exception&) {
        return std::nullopt;
    }
}

} // namespace

std::vector<std::string> days_to_keep(std::vector<std::string> days) {
    std::sort(days.begin(), days.end());
    days.erase(std::unique(days.begin(), days.end()), days.end());
    constexpr std::size_t kDays = 7;
    constexpr std::size_t kWeeks = 5;
    constexpr std::size_t kMonths = 12;
    std::set<std::string> kept;
    std::set<long> weeks;
    std::set<std::pair<int, int>> months;
    std::size_t newest = 0;
    for (auto day = days.rbegin(); day != days.rend(); ++day) {
        const auto date = date_of(*day);
        if (!date)
            continue;
        if (newest++ < kDays)
            kept.insert(*day);
        // Weeks are counted from a Monday.
        const long week = (*date - boost::gregorian::date(1900, 1, 1)).days() / 7;
        if (weeks.size() < kWeeks && weeks.insert(week).second)
            kept.insert(*day);
        if (months.size() < kMonths && months.insert({date->year(), date->month()}).second)
            kept.insert(*day);
    }
    return {kept.begin(), kept.end()};
}

std::filesystem::path backup_folder(const std::filesystem::path& record) {
    return record.string() + ".backups";
}

std::vector<std::filesystem::path> backups_of(const std::filesystem::path& record) {
    std::vector<std::filesystem::path> out;
    std::error_code error;
    for (std::filesystem::directory_iterator it(backup_folder(record), error), end;
         !error && it != end; it.increment(error))
        if (it->path().extension() == ".db" && date_of(it->path().stem().string()))
            out.push_back(it->path());
    std::sort(out.begin(), out.end());
    return out;
}

} // namespace kite::store
