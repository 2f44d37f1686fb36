#include "core/sets/relation.h"

#include "core/base/normal.h"
#include "core/base/statistics.h"

#include <algorithm>
#include <boost/math/distributions/students_t.hpp>
#include <cmath>
#include <limits>
#include <map>

namespace kite {

Relation relate(const std::vector<double>& x, const std::vector<double>& y,
                const std::vector<int>& group) {
    struct Sums {
        double x = 0.0;
        double y = 0.0;
        double count = 0.0;
    };
    std::map<int, Sums> groups;
    const std::size_t size = std::min({x.size(), y.size(), group.size()});
    const auto is_pair = [&](std::size_t i) { return std::isfinite(x[i]) && std::isfinite(y[i]); };
    for (std::size_t i = 0; i < size; ++i) {
        if (!is_pair(i))
            continue;
        Sums& sums = groups[group[i]];
        sums.x += x[i];
        sums.y += y[i];
        sums.count += 1.0;
    }
    Relation out;
    double used = 0.0; // groups; one swing alone says nothing
    for (const auto& [key, sums] : groups)
        if (sums.count > 1.0) {
            out.count += static_cast<std::size_t>(sums.count);
            used += 1.0;
        }
    out.freedom = static_cast<double>(out.count) - used - 1.0;
    if (!(out.freedom > 0.0))
        return out;
    double xx = 0.0;
    double yy = 0.0;
    double xy = 0.0;
    for (std::size_t i = 0; i < size; ++i) {
        if (!is_pair(i))
            continue;
        const Sums& sums = groups.at(group[i]);
        const double dx = x[i] - sums.x / sums.count;
        const double dy = y[i] - sums.y / sums.count;
        xx += dx * dx;
        yy += dy * dy;
        xy += dx * dy;
    }
    if (!(xx > 0.0) || !(yy > 0.0))
        return out;
    out.r = std::clamp(xy / std::sqrt(xx * yy), -1.0, 1.0);
    out.slope = xy / xx;
    const double rest = 1.0 - out.r * out.r;
    const double half =
        student_t_quantile(0.975, out.freedom) * std::sqrt(rest * yy / out.freedom / xx);
    out.slope_low = out.slope - half;
    out.slope_high = out.slope + half;
    if (!(rest > 0.0)) {
        out.p = 0.0;
        return out;
    }
    const double t = std::abs(out.r) * std::sqrt(out.freedom / rest);
    out.p =
        2.0 * boost::math::cdf(boost::math::complement(boost::math::students_t(out.freedom), t));
    if (out.freedom > 1.0) {
        const double z = std::atanh(out.r);
        const double half_z = kCover95 / std::sqrt(out.freedom - 1.0);
        out.r_low = std::tanh(z - half_z);
        out.r_high = std::tanh(z + half_z);
    }
    return out;
}

namespace {

/// With the shots' clock ahead by so much: pairs in order, each shot with the nearest swing left.
Joined joined_with(const std::vector<double>& shots_s, const std::vector<double>& swings_s,
                   double ahead_s, double tolerance_s, std::size_t& count, double& apart_s) {
    Joined out;
    out.swing_of_shot.resize(shots_s.size());
    count = 0;
    apart_s = 0.0;
    std::size_t next = 0;
    for (std::size_t i = 0; i < shots_s.size(); ++i) {
        const double t_s = shots_s[i] - ahead_s;
        while (next < swings_s.size() && swings_s[next] < t_s - tolerance_s)
            ++next;
        std::size_t nearest = next;
        while (nearest + 1 < swings_s.size() &&
               std::abs(swings_s[nearest + 1] - t_s) < std::abs(swings_s[nearest] - t_s))
            ++nearest;
        if (nearest >= swings_s.size() || !(std::abs(swings_s[nearest] - t_s) <= tolerance_s))
            continue;
        out.swing_of_shot[i] = nearest;
        next = nearest + 1;
        ++count;
        apart_s += std::abs(swings_s[nearest] - t_s);
    }
    out.ahead_s = count > 0 ? ahead_s : kMissing;
    return out;
}

} // namespace

Joined join_by_time(const std::vector<double>& shots_s, const std::vector<double>& swings_s,
                    double tolerance_s) {
    struct Setting {
        double ahead_s;
        std::size_t count;
    };
    std::vector<Setting> tried;
    Joined best;
    best.swing_of_shot.resize(shots_s.size());
    std::size_t most = 0;
    double least_apart_s = std::numeric_limits<double>::infinity();
    for (const double shot : shots_s)
        for (const double swing : swings_s) {
            const double ahead_s = shot - swing;
            std::size_t count = 0;
            double apart_s = 0.0;
            Joined one = joined_with(shots_s, swings_s, ahead_s, tolerance_s, count, apart_s);
            tried.push_back({ahead_s, count});
            if (count > most || (count == most && apart_s < least_apart_s)) {
                best = std::move(one);
                most = count;
                least_apart_s = apart_s;
            }
        }
    best.is_ambiguous = std::any_of(tried.begin(), tried.end(), [&](const Setting& one) {
        return one.count == most && std::abs(one.ahead_s - best.ahead_s) > tolerance_s;
    });
    return best;
}

} // namespace kite
