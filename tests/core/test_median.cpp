// Medians: by definition the value with as many below as above, found here by sorting.
#include "core/base/median.h"

#include <gtest/gtest.h>

#include <algorithm>
#include <cmath>
#include <limits>
#include <random>

namespace kite {
namespace {

double by_sorting(std::vector<double> values) {
    std::sort(values.begin(), values.end());
    return values[values.size() / 2];
}

TEST(Median, IsTheMiddleOneAndOfTwoTheUpper) {
    EXPECT_EQ(median_of({3.0, 1.0, 2.0}), 2.0);
    EXPECT_EQ(median_of({4.0, 1.0, 3.0, 2.0}), 3.0);
    EXPECT_EQ(median_of({-7.5}), -7.5);
    EXPECT_TRUE(std::isnan(median_of({})));
}

TEST(Median, OfManyIsTheOneThatSortingGives) {
    std::mt19937 random(11);
    std::normal_distribution<double> normal;
    // Sizes about those from which on they are counted; shapes: of both signs, many octaves wide,
    // few different ones, in order, hardly apart.
    for (std::size_t n : {2U, 127U, 128U, 129U, 961U, 5000U})
        for (int shape = 0; shape < 5; ++shape) {
            std::vector<double> values(n);
            for (std::size_t i = 0; i < n; ++i) {
                const double z = normal(random);
                values[i] = shape == 0   ? z
                            : shape == 1 ? std::exp(20.0 * z)
                            : shape == 2 ? std::round(z)
                            : shape == 3 ? static_cast<double>(i) - 40.0
                                         : 1.0 + 1e-15 * z;
            }
            EXPECT_EQ(median_of(values), by_sorting(values)) << n << " of shape " << shape;
        }
}

TEST(Median, OfManyThatAreAllAlikeOrVeryFarApartIsFoundToo) {
    EXPECT_EQ(median_of(std::vector<double>(500, 0.25)), 0.25);
    std::vector<double> wide(301, -std::numeric_limits<double>::max());
    std::fill(wide.begin(), wide.begin() + 150, std::numeric_limits<double>::max());
    EXPECT_EQ(median_of(wide), -std::numeric_limits<double>::max());
    wide.back() = std::numeric_limits<double>::max();
    EXPECT_EQ(median_of(wide), std::numeric_limits<double>::max());
}

} // namespace
} // namespace kite
