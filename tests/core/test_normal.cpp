#include "core/base/normal.h"

#include <gtest/gtest.h>

#include <cmath>
#include <limits>

using namespace kite;

// Abramowitz and Stegun 1972, tables 26.1 (probabilities) and 26.5 (quantiles), to their 15 and 5
// places, from memory; far tails from the asymptotic series 26.2.12.
TEST(Normal, ProbabilitiesAreThoseOfTheTables) {
    EXPECT_NEAR(normal_cdf(0.0), 0.5, 1e-15);
    EXPECT_NEAR(normal_cdf(1.0), 0.841344746068543, 1e-14);
    EXPECT_NEAR(normal_cdf(2.0), 0.977249868051821, 1e-14);
    EXPECT_NEAR(normal_cdf(-3.0), 0.001349898031630, 1e-14);
    EXPECT_NEAR(normal_density(0.0), 0.398942280401433, 1e-14);
    EXPECT_NEAR(normal_density(1.0), 0.241970724519143, 1e-14);
    for (double z : {-6.0, -8.0}) {
        const double z2 = z * z;
        const double series =
            normal_density(z) / -z *
            (1.0 - 1.0 / z2 + 3.0 / (z2 * z2) - 15.0 / (z2 * z2 * z2) + 105.0 / std::pow(z2, 4));
        EXPECT_NEAR(normal_cdf(z) / series, 1.0, 2e-4) << z;
    }
}

TEST(Normal, QuantilesAreThoseOfTheTableAndTheInverse) {
    EXPECT_NEAR(normal_quantile(0.975), kCover95, 1e-12);
    EXPECT_NEAR(normal_quantile(0.90), 1.28155, 1e-5);
    EXPECT_NEAR(normal_quantile(0.995), 2.57583, 1e-5);
    for (double p : {1e-9, 0.01, 0.3, 0.5, 0.9, 1.0 - 1e-9})
        EXPECT_NEAR(normal_cdf(normal_quantile(p)) / p, 1.0, 1e-9) << p;
}

TEST(Normal, WhatIsNotKnownStaysSo) {
    constexpr double kNaN = std::numeric_limits<double>::quiet_NaN();
    constexpr double kFar = std::numeric_limits<double>::infinity();
    EXPECT_TRUE(std::isnan(normal_cdf(kNaN)));
    EXPECT_TRUE(std::isnan(normal_density(kNaN)));
    EXPECT_EQ(normal_cdf(kFar), 1.0);
    EXPECT_EQ(normal_cdf(-kFar), 0.0);
    EXPECT_EQ(normal_density(kFar), 0.0);
}
