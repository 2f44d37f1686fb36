#include "app/rooms/lesson/launch_joiner.h"

#include "core/sets/relation.h"
#include "formats/beside/launch_csv.h"
#include "formats/text/numbers.h"

#include <QCoreApplication>
#include <QDateTime>

#include <algorithm>
#include <cmath>

namespace kite::app {

namespace {

QString joiner_words(const char* text, int n = -1) {
    return QCoreApplication::translate("LaunchJoiner", text, nullptr, n);
}

/// When a swing's file was written, local time in seconds; missing: not known.
double time_of(const Row& swing) {
    const QDateTime at = QDateTime::fromString(text_in(swing, "file_time"), Qt::ISODate);
    return at.isValid()
               ? static_cast<double>(at.toSecsSinceEpoch() + at.toLocalTime().offsetFromUtc())
               : kMissing;
}

std::optional<LaunchNumbers> launch_of(const Row& swing) {
    return formats::launch_of_json(store::text_in(swing, "launch"));
}

/// Positions by time, for both may be listed in another order.
std::vector<std::size_t> by_time(const std::vector<double>& times_s) {
    std::vector<std::size_t> out(times_s.size());
    for (std::size_t i = 0; i < out.size(); ++i)
        out[i] = i;
    std::stable_sort(out.begin(), out.end(),
                     [&](std::size_t a, std::size_t b) { return times_s[a] < times_s[b]; });
    return out;
}

std::vector<double> in_order(const std::vector<double>& values,
                             const std::vector<std::size_t>& order) {
    std::vector<double> out;
    for (std::size_t i : order)
        out.push_back(values[i]);
    return out;
}

} // namespace

JoinedShots join_shots(const std::vector<LaunchNumbers>& shots, const std::vector<Row>& swings) {
    JoinedShots out;
    std::vector<double> shots_s;
    std::vector<double> swings_s;
    for (const LaunchNumbers& shot : shots)
        shots_s.push_back(shot.time_s);
    for (const Row& swing : swings)
        swings_s.push_back(time_of(swing));
    const auto known = [](const std::vector<double>& times_s) {
        return std::all_of(times_s.begin(), times_s.end(),
                           [](double t_s) { return std::isfinite(t_s); });
    };
    // Files copied together carry one time: that says nothing.
    const auto [first, last] = std::minmax_element(swings_s.begin(), swings_s.end());
    constexpr double kFewestSecondsEach = 3.0;
    const bool have_times =
        !swings.empty() && known(shots_s) && known(swings_s) &&
        *last - *first >= kFewestSecondsEach * static_cast<double>(swings.size() - 1);
    std::size_t without = 0;
    if (have_times) {
        const auto shot_order = by_time(shots_s);
        const auto swing_order = by_time(swings_s);
        const Joined joined =
            join_by_time(in_order(shots_s, shot_order), in_order(swings_s, swing_order));
        for (std::size_t i = 0; i < shot_order.size(); ++i) {
            if (const auto swing = joined.swing_of_shot[i])
                out.by_swing.emplace_back(text_in(swings[swing_order[*swing]], "id"),
                                          shots[shot_order[i]]);
            else
                ++without;
        }
        out.words = joiner_words("%n shot(s) joined by their times.",
                                 static_cast<int>(out.by_swing.size()));
        if (joined.is_ambiguous)
            out.words +=
                QLatin1Char(' ') +
                joiner_words(
                    "Another setting of the clocks would fit as well: check the first one.");
    } else {
        const std::size_t count = std::min(shots.size(), swings.size());
        for (std::size_t i = 0; i < count; ++i)
            out.by_swing.emplace_back(text_in(swings[i], "id"), shots[i]);
        without = shots.size() - count;
        out.words = joiner_words("%n shot(s) joined in their order, from the first swing.",
                                 static_cast<int>(count));
        if (shots.size() != swings.size())
            out.words +=
                QLatin1Char(' ') +
                joiner_words(
                    "There are %1 shots and %2 swings: move them where one does not belong.")
                    .arg(shots.size())
                    .arg(swings.size());
    }
    if (without > 0)
        out.words += QLatin1Char(' ') + joiner_words("%n shot(s) found no swing and were left out.",
                                                     static_cast<int>(without));
    return out;
}

std::vector<std::pair<QString, std::optional<LaunchNumbers>>>
moved_shots(const std::vector<Row>& swings, int from, int by) {
    const int count = static_cast<int>(swings.size());
    const int lost = by > 0 ? count - 1 : from - 1;
    if (from < 0 || from >= count || lost < 0 || launch_of(swings[static_cast<std::size_t>(lost)]))
        return {};
    std::vector<std::pair<QString, std::optional<LaunchNumbers>>> out;
    for (int row = by > 0 ? from : from - 1; row < count; ++row) {
        const int source = row - by;
        const bool is_moved = source >= from && source < count;
        out.emplace_back(text_in(swings[static_cast<std::size_t>(row)], "id"),
                         is_moved ? launch_of(swings[static_cast<std::size_t>(source)])
                                  : std::nullopt);
    }
    return out;
}

} // namespace kite::app
