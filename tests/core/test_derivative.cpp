#include "core/signal/derivative.h"

#include <gtest/gtest.h>

#include <cmath>
#include <numeric>

using namespace kite;

// Fornberg 1988, Mathematics of Computation 51, tables 1 and 3: first derivative.
TEST(Derivative, WeightsAreThoseOfTheTables) {
    const auto expect = [](int count, int at, const std::vector<double>& twelfths) {
        const auto weights = derivative_weights(count, at);
        ASSERT_EQ(weights.size(), twelfths.size());
        for (std::size_t i = 0; i < weights.size(); ++i)
            EXPECT_NEAR(weights[i], twelfths[i] / 12.0, 1e-14) << count << " at " << at;
    };
    expect(5, 2, {1, -8, 0, 8, -1});
    expect(5, 0, {-25, 48, -36, 16, -3});
    expect(5, 4, {3, -16, 36, -48, 25});
    expect(3, 1, {-6, 0, 6});
    expect(3, 0, {-18, 24, -6});
    expect(2, 1, {-12, 12});
}

TEST(Derivative, IsExactForAQuarticToItsEnds) {
    constexpr double kRate_hz = 50.0;
    std::vector<double> x;
    for (int i = 0; i < 12; ++i) {
        const double t = i / kRate_hz;
        x.push_back(2.0 - t + 3.0 * t * t - 40.0 * t * t * t + 100.0 * t * t * t * t);
    }
    const auto slope = differentiate(x, kRate_hz);
    ASSERT_EQ(slope.size(), x.size());
    for (std::size_t i = 0; i < x.size(); ++i) {
        const double t = static_cast<double>(i) / kRate_hz;
        EXPECT_NEAR(slope[i], -1.0 + 6.0 * t - 120.0 * t * t + 400.0 * t * t * t, 1e-9) << i;
    }
}

// <w, D x> = <D' w, x>, whatever w and x are: what a transpose is.
TEST(Derivative, TheTransposeSaysTheSameOfTheSamples) {
    constexpr double kRate_hz = 240.0;
    for (std::size_t n : {std::size_t{2}, std::size_t{3}, std::size_t{4}, std::size_t{5},
                          std::size_t{6}, std::size_t{23}}) {
        std::vector<double> x(n);
        std::vector<double> w(n);
        for (std::size_t i = 0; i < n; ++i) {
            x[i] = std::sin(1.7 * static_cast<double>(i * i));
            w[i] = std::cos(0.9 * static_cast<double>(i * i) + 0.3);
        }
        const auto dx = differentiate(x, kRate_hz);
        const auto back = differentiate_transposed(w, kRate_hz);
        const double there = std::inner_product(w.begin(), w.end(), dx.begin(), 0.0);
        const double here = std::inner_product(back.begin(), back.end(), x.begin(), 0.0);
        EXPECT_NEAR(there, here, 1e-9 * kRate_hz) << n;
    }
}
