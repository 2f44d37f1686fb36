#include "core/reading/ball_flight.h"

#include "core/base/units.h"

#include <algorithm>
#include <cmath>
#include <set>

namespace kite {

namespace {

/// From here on a flight is not straight (common practice, no source).
constexpr double kStart_deg = 3.0;
constexpr double kCurve_m = 4.0;
constexpr double kCurveShare = 0.05; ///< of the carry, where it is known

const std::set<std::string>& directions() {
    static const std::set<std::string> kDirections{"slice", "hook", "push", "pull", "block"};
    return kDirections;
}

} // namespace

std::vector<std::string> recorded_flights(const Analysis& analysis) {
    std::vector<std::string> out;
    if (!analysis.launch)
        return out;
    const LaunchNumbers& ball = *analysis.launch;
    // To the right of a right-hander is to the left of a left-hander.
    const double right = analysis.handed == Handedness::Right ? 1.0 : -1.0;
    const double bent_m =
        std::isfinite(ball.carry_m) ? std::max(kCurve_m, kCurveShare * ball.carry_m) : kCurve_m;
    const double curve_m = right * ball.curve_m;
    const double start_deg = right * ball.start_direction_deg;
    if (curve_m > bent_m)
        out.emplace_back("slice");
    if (curve_m < -bent_m)
        out.emplace_back("hook");
    if (start_deg > kStart_deg) {
        out.emplace_back("push");
        out.emplace_back("block");
    }
    if (start_deg < -kStart_deg)
        out.emplace_back("pull");
    return out;
}

std::string ball_agreement(const Analysis& analysis, const Fault& fault, const Language& language) {
    const bool recorded = analysis.launch && (std::isfinite(analysis.launch->start_direction_deg) ||
                                              std::isfinite(analysis.launch->curve_m));
    std::vector<std::string> expected;
    for (const std::string& key : fault.often_with)
        if (directions().count(key) > 0)
            expected.push_back(key);
    if (!recorded || expected.empty())
        return {};
    const std::vector<std::string> seen = recorded_flights(analysis);
    if (seen.empty())
        return language.translate(
            KITE_TR("The recorded ball flew straight: it does not show this."));
    const bool fits = std::any_of(seen.begin(), seen.end(), [&](const std::string& key) {
        return std::find(expected.begin(), expected.end(), key) != expected.end();
    });
    return language.translate(fits ? KITE_TR("The recorded ball fits that.")
                                   : KITE_TR("The recorded ball went another way than that: look "
                                             "at the club face before trusting this."));
}

} // namespace kite
