#include "core/signal/derivative.h"

#include <algorithm>

namespace kite {

std::vector<double> derivative_weights(int count, int at) {
    std::vector<double> weights(static_cast<std::size_t>(count), 0.0);
    double own = 0.0;
    for (int j = 0; j < count; ++j) {
        if (j == at)
            continue;
        double numerator = 1.0;
        double denominator = 1.0;
        for (int k = 0; k < count; ++k) {
            if (k != j)
                denominator *= j - k;
            if (k != j && k != at)
                numerator *= at - k;
        }
        weights[static_cast<std::size_t>(j)] = numerator / denominator;
        own -= numerator / denominator; // the derivative of a constant is zero
    }
    weights[static_cast<std::size_t>(at)] = own;
    return weights;
}

std::vector<double> differentiate(const std::vector<double>& x, double rate_hz) {
    std::vector<double> out(x.size(), 0.0);
    const std::size_t count = std::min<std::size_t>(5, x.size());
    if (count < 2)
        return out;
    std::vector<std::vector<double>> weights;
    weights.reserve(count);
    for (std::size_t at = 0; at < count; ++at)
        weights.push_back(derivative_weights(static_cast<int>(count), static_cast<int>(at)));
    for (std::size_t i = 0; i < x.size(); ++i) {
        const std::size_t first = std::min(i < count / 2 ? 0 : i - count / 2, x.size() - count);
        const auto& w = weights[i - first];
        double sum = 0.0;
        for (std::size_t k = 0; k < count; ++k)
            sum += w[k] * x[first + k];
        out[i] = sum * rate_hz;
    }
    return out;
}

} // namespace kite
