#include "core/reading/baseline.h"

#include "core/base/statistics.h"

#include <algorithm>
#include <cmath>

namespace kite {

std::map<std::string, Limit> baseline_limits(const RuleBook& book,
                                             const std::vector<const Analysis*>& good_swings) {
    std::map<std::string, Limit> out;
    if (good_swings.size() < kFewestForBaseline)
        return out;
    std::vector<const Condition*> leaves;
    for (const FaultRule& fault : book.faults)
        for (const Condition* leaf : leaves_of(fault.when))
            leaves.push_back(leaf);
    for (const Condition* leaf : leaves) {
        if (out.count(leaf->limit) > 0)
            continue;
        double sum = 0.0;
        std::vector<double> values;
        for (const Analysis* swing : good_swings) {
            values.push_back(value_of(leaf->term, *swing).value);
            sum += values.back();
        }
        if (!std::isfinite(sum))
            continue; // not measured in every one
        const double mean = sum / static_cast<double>(values.size());
        double squares = 0.0;
        for (const double value : values)
            squares += (value - mean) * (value - mean);
        const double error = std::sqrt(squares / static_cast<double>(values.size() - 1));
        const auto usual = book.limits.find(leaf->limit);
        // Swings that are alike by chance do not make a limit hard: no softer than a fifth of what
        // is usual.
        const double least =
            usual == book.limits.end() ? 1e-6 : 0.2 * std::max(1e-6, usual->second.width);
        // Where 97.5 % of the golfer's good swings lie, with 90 % confidence for so few of them.
        const double factor = tolerance_factor(values.size(), 0.975, 0.9);
        const double side = leaf->kind == Condition::Kind::Above ? factor : -factor;
        Limit limit;
        limit.value = mean + side * std::max(error, least);
        limit.width = std::max(error, least);
        limit.source = "own baseline of " + std::to_string(values.size()) + " good swings";
        out[leaf->limit] = std::move(limit);
    }
    return out;
}

} // namespace kite
