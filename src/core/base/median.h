#pragma once

#include <vector>

namespace kite {

/// Median of numbers, none of them missing; of an even number the upper of the two in the middle.
/// Missing of none.
double median_of(const std::vector<double>& values);

} // namespace kite
