#include "core/signal/local_fit.h"

#include <gtest/gtest.h>

#include <cmath>
#include <random>

using namespace kite;

// Source: Savitzky & Golay 1964, 5-point quadratic: smoothing (-3, 12, 17, 12, -3) / 35, first
// derivative (-2, -1, 0, 1, 2) / 10. A unit sample at each place reads the weights out.
TEST(LocalFit, HasTheSavitzkyGolayWeights) {
    const std::array smoothing{-3.0 / 35, 12.0 / 35, 17.0 / 35, 12.0 / 35, -3.0 / 35};
    const std::array slope{-0.2, -0.1, 0.0, 0.1, 0.2};
    for (std::size_t place = 0; place < 5; ++place) {
        std::vector<double> v(9, 0.0);
        v[2 + place] = 1.0;
        const auto fit = LocalFit::around(Curve(v, 1.0), 4.0, 2.0, 2);
        ASSERT_TRUE(fit);
        EXPECT_NEAR(fit->at(4.0), smoothing[place], 1e-12);
        EXPECT_NEAR(fit->slope_at(4.0), slope[place], 1e-12);
        EXPECT_NEAR(fit->slope_weights(4.0)(static_cast<Eigen::Index>(place)), slope[place], 1e-12);
    }
}

TEST(LocalFit, StaysOnItsSideOfTheChangeAndInItsRun) {
    std::vector<double> v;
    for (int i = 0; i < 40; ++i)
        v.push_back(i <= 20 ? 2.0 * i : -100.0);
    v[8] = std::nan("");
    const auto fit = LocalFit::around(Curve(v, 1.0, 20.0), 19.0, 15.0, 2);
    ASSERT_TRUE(fit);
    EXPECT_EQ(fit->frames().begin, 9U);
    EXPECT_EQ(fit->frames().end, 21U);
    EXPECT_NEAR(fit->slope_at(20.0), 2.0, 1e-9);
}

// Found by fuzzing: a contact mark exactly on a frame. That frame lies before the change, so a fit
// after it must not use it .
TEST(LocalFit, AfterAChangeExactlyOnAFrameUsesWhatLiesAfter) {
    std::vector<double> values;
    for (int i = 0; i < 60; ++i) // a parabola with its top at frame 35; before frame 21 all is 1000
        values.push_back(i <= 20 ? 1000.0 : 100.0 - (i - 35) * (i - 35));
    const Curve curve(std::move(values), 100.0, 0.2);
    EXPECT_EQ(curve.first_after_change(), 21U);
    const auto fit = LocalFit::around(curve, 0.22, 0.05, 2);
    ASSERT_TRUE(fit.has_value());
    EXPECT_EQ(fit->frames().begin, 21U);
    EXPECT_NEAR(fit->at(0.25), 0.0, 1e-9);
}

// Where nothing was sampled near the time there is no fit, on either side of the curve.
TEST(LocalFit, IsNoneOutsideTheSamplesAndInAGap) {
    std::vector<double> values(50, 1.0);
    values[25] = std::nan("");
    const Curve curve(std::move(values), 100.0);
    EXPECT_TRUE(LocalFit::around(curve, 0.2, 0.04, 2));
    EXPECT_FALSE(LocalFit::around(curve, 0.25, 0.04, 2)) << "its middle was not seen";
    EXPECT_FALSE(LocalFit::around(curve, -0.10, 0.04, 2));
    EXPECT_FALSE(LocalFit::around(curve, 0.60, 0.04, 2));
    EXPECT_FALSE(LocalFit::around(Curve{}, 0.2, 0.04, 2));
    // A reach that holds fewer samples than a parabola needs.
    EXPECT_FALSE(LocalFit::around(curve, 0.2, 0.005, 2));
}
