#pragma once

#include "core/base/missing.h"

#include <algorithm>
#include <vector>

namespace kite {

/// Median; of an even number the upper of the two in the middle. The values come back in another
/// order. Missing of none.
inline double median_of(std::vector<double>& values) {
    if (values.empty())
        return kMissing;
    const auto middle = values.begin() + static_cast<std::ptrdiff_t>(values.size() / 2);
    std::nth_element(values.begin(), middle, values.end());
    return *middle;
}

} // namespace kite
