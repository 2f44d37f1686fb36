#pragma once

#include "core/base/units.h"
#include "core/motion/take.h"

#include <cmath>

namespace kite::test {

/// The same change to every series of a take: `change` gets a vector and may lengthen it.
template <class Change>
void for_every_series(Take& take, const Change& change) {
    for (auto& entry : take.segments) {
        change(entry.second.q_lab_segment);
        if (entry.second.has_positions())
            change(entry.second.p_lab_m);
    }
    for (auto& entry : take.points_lab_m)
        change(entry.second);
    change(take.lead_force_n);
    change(take.trail_force_n);
    take.frames = take.segments.begin()->second.q_lab_segment.size();
}

inline Eigen::Quaterniond between(const Eigen::Quaterniond& a, const Eigen::Quaterniond& b,
                                  double u) {
    return a.slerp(u, b);
}
inline Eigen::Vector3d between(const Eigen::Vector3d& a, const Eigen::Vector3d& b, double u) {
    return a + u * (b - a);
}
inline double between(double a, double b, double u) {
    return a + u * (b - a);
}

/// The take played twice, with a calm way back from the finish to address in two seconds.
inline constexpr double kWayBack_s = 2.0;
inline Take twice(Take take) {
    const auto count = static_cast<std::size_t>(std::lround(kWayBack_s * take.rate_hz));
    for_every_series(take, [&](auto& series) {
        const auto once = series;
        for (std::size_t i = 1; i <= count; ++i) {
            const double share = static_cast<double>(i) / static_cast<double>(count);
            series.push_back(between(once.back(), once.front(), 0.5 - 0.5 * std::cos(kPi * share)));
        }
        series.insert(series.end(), once.begin(), once.end());
    });
    return take;
}

} // namespace kite::test
