#include "core/reading/evidence.h"

#include "core/base/normal.h"

#include <algorithm>
#include <cmath>

namespace kite {

Evidence above(double value, double limit, double width, double uncertainty) {
    // An uncertainty that is not known is not none: then nothing is judged.
    const double spread = std::hypot(width, uncertainty);
    if (!std::isfinite(value) || !std::isfinite(spread) || !(spread > 0.0))
        return std::nullopt;
    return normal_cdf((value - limit) / spread);
}

Evidence below(double value, double limit, double width, double uncertainty) {
    return above(-value, -limit, width, uncertainty);
}

Evidence all_of(const std::vector<Evidence>& conditions) {
    constexpr double kRuledOut = 0.05;
    double weakest = 1.0;
    bool complete = true;
    for (const Evidence& condition : conditions) {
        complete = complete && condition.has_value();
        weakest = std::min(weakest, condition.value_or(1.0));
    }
    if (!complete && weakest >= kRuledOut)
        return std::nullopt;
    return weakest;
}

Evidence any_of(const std::vector<Evidence>& conditions) {
    Evidence strongest;
    for (const Evidence& condition : conditions)
        if (condition)
            strongest = std::max(strongest.value_or(0.0), *condition);
    return strongest;
}

} // namespace kite
