#pragma once

#include <vector>

namespace kite {

/// Weights of the first derivative at node `at` of the polynomial through `count` unit-spaced
/// nodes (Lagrange); for 5 nodes and the middle one (1, -8, 0, 8, -1) / 12.
std::vector<double> derivative_weights(int count, int at);

/// First derivative per second by five-point differences, one-sided near the ends.
std::vector<double> differentiate(const std::vector<double>& x, double rate_hz);

/// Its transpose: weights of the samples that say the same as `weights` of their derivatives.
std::vector<double> differentiate_transposed(const std::vector<double>& weights, double rate_hz);

} // namespace kite
