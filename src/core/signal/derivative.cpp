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

namespace {

/// Calls use(i, first, w) for each of n samples: its derivative per frame is the sum of
/// w[k] x[first + k].
template <class Use>
void for_each_difference(std::size_t n, const Use& use) {
    const std::size_t count = std::min<std::size_t>(5, n);
    if (count < 2)
        return;
    std::vector<std::vector<double>> weights;
    weights.reserve(count);
    for (std::size_t at = 0; at < count; ++at)
        weights.push_back(derivative_weights(static_cast<int>(count), static_cast<int>(at)));
    for (std::size_t i = 0; i < n; ++i) {
        const std::size_t first = std::min(i < count / 2 ? 0 : i - count / 2, n - count);
        use(i, first, weights[i - first]);
    }
}

} // namespace

std::vector<double> differentiate(const std::vector<double>& x, double rate_hz) {
    std::vector<double> out(x.size(), 0.0);
    for_each_difference(x.size(),
                        [&](std::size_t i, std::size_t first, const std::vector<double>& w) {
                            for (std::size_t k = 0; k < w.size(); ++k)
                                out[i] += w[k] * x[first + k] * rate_hz;
                        });
    return out;
}

std::vector<double> differentiate_transposed(const std::vector<double>& weights, double rate_hz) {
    std::vector<double> out(weights.size(), 0.0);
    for_each_difference(weights.size(),
                        [&](std::size_t i, std::size_t first, const std::vector<double>& w) {
                            for (std::size_t k = 0; k < w.size(); ++k)
                                out[first + k] += w[k] * weights[i] * rate_hz;
                        });
    return out;
}

} // namespace kite
