#include "core/base/units.h"
#include "core/signal/butterworth.h"
#include "core/signal/noise.h"
#include "reference/scipy_values.h"

#include <gtest/gtest.h>

#include <cmath>
#include <numeric>
#include <random>
#include <stdexcept>

using namespace kite;

namespace {

std::vector<double> wave(double frequency_hz, double rate_hz, std::size_t frames) {
    std::vector<double> out(frames);
    for (std::size_t i = 0; i < frames; ++i)
        out[i] = std::sin(2.0 * kPi * frequency_hz * static_cast<double>(i) / rate_hz);
    return out;
}

} // namespace

// Source: Winter, Biomechanics and Motor Control of Human Movement, 4th ed. 2009; the same numbers
// from SciPy butter(2, 0.2).
TEST(Butterworth, HasThePublishedCoefficients) {
    const Biquad filter = design_low_pass(10.0, 100.0);
    const std::array b{0.06745527, 0.13491055, 0.06745527};
    const std::array a{1.0, -1.14298050, 0.41280160};
    for (std::size_t i = 0; i < 3; ++i) {
        EXPECT_NEAR(filter.b[i], b[i], 1e-8);
        EXPECT_NEAR(filter.a[i], a[i], 1e-8);
        EXPECT_NEAR(filter.b[i], reference::butter_cutoff_0_1_b[i], 1e-11);
        EXPECT_NEAR(filter.a[i], reference::butter_cutoff_0_1_a[i], 1e-11);
    }
}

// Source: Winter 2009, Robertson & Dowling 2003 for the factor; SciPy for the coefficients.
TEST(Butterworth, CorrectsTheCutoffForTwoPasses) {
    EXPECT_NEAR(kTwoPassFactor, std::pow(std::sqrt(2.0) - 1.0, 0.25), 1e-12);
    const Biquad filter = design_low_pass(10.0 / kTwoPassFactor, 240.0);
    for (std::size_t i = 0; i < 3; ++i) {
        EXPECT_NEAR(filter.b[i], reference::butter_10_hz_at_240_b[i], 1e-11);
        EXPECT_NEAR(filter.a[i], reference::butter_10_hz_at_240_a[i], 1e-11);
    }
}

TEST(Butterworth, RefusesACutoffThatCannotBe) {
    EXPECT_THROW(design_low_pass(0.0, 100.0), std::invalid_argument);
    EXPECT_THROW(design_low_pass(50.0, 100.0), std::invalid_argument);
    EXPECT_THROW(design_low_pass(std::nan(""), 100.0), std::invalid_argument);
}

// Source: SciPy filtfilt with odd padding.
TEST(TwoPassFilter, EqualsScipyFiltfilt) {
    const std::vector<double> x(reference::filtfilt_in.begin(), reference::filtfilt_in.end());
    const std::vector<double> y = filter_two_pass(x, 10.0, 240.0);
    for (std::size_t i = 0; i < x.size(); ++i)
        EXPECT_NEAR(y[i], reference::filtfilt_out[i], 1e-9) << "sample " << i;
}

// By definition the cut-off is where the amplitude falls to 1/sqrt(2) (the factor leaves the
// bilinear transform's warping out, 0.4 % here), and the two passes cancel each other's delay.
TEST(TwoPassFilter, HasItsHalfPowerAtTheCutoffAndNoDelay) {
    const auto x = wave(10.0, 240.0, 2400);
    const auto y = filter_two_pass(x, 10.0, 240.0);
    for (std::size_t i = 1000; i < 1400; ++i)
        EXPECT_NEAR(y[i], x[i] / std::sqrt(2.0), 4e-3);
}

// Unit gain and no delay at zero frequency; what is left of the start-up after 1.5 periods is
// small.
TEST(TwoPassFilter, LeavesStraightLinesAlone) {
    std::vector<double> x(200);
    for (std::size_t i = 0; i < x.size(); ++i)
        x[i] = 3.0 - 0.25 * static_cast<double>(i);
    const auto y = filter_two_pass(x, 8.0, 120.0);
    for (std::size_t i = 0; i < x.size(); ++i)
        EXPECT_NEAR(y[i], x[i], 2e-5);
}

// A cubic passes two Butterworth passes unchanged, so with the trend end it does so up to the end,
// where a point reflection bends it.
TEST(TwoPassFilter, TrendEndKeepsSlopeAndBend) {
    std::vector<double> x(240);
    for (std::size_t i = 0; i < x.size(); ++i)
        x[i] = std::pow(static_cast<double>(i) / 240.0, 3) * 50.0;
    std::vector<double> trend(x.size());
    std::vector<double> odd(x.size());
    filter_two_pass(x, {0, x.size()}, 20.0, 240.0, End::Odd, End::Trend, trend);
    filter_two_pass(x, {0, x.size()}, 20.0, 240.0, End::Odd, End::Odd, odd);
    double worst_trend = 0.0;
    double worst_odd = 0.0;
    for (std::size_t i = x.size() - 12; i < x.size(); ++i) {
        worst_trend = std::max(worst_trend, std::abs(trend[i] - x[i]));
        worst_odd = std::max(worst_odd, std::abs(odd[i] - x[i]));
    }
    EXPECT_LT(worst_trend, 1e-4);
    EXPECT_GT(worst_odd, 1e-3);
}

TEST(TwoPassFilter, TouchesOnlyItsRun) {
    std::vector<double> x = wave(3.0, 240.0, 240);
    std::vector<double> out(x.size(), 7.0);
    x[10] = std::nan(""); // outside the run
    filter_two_pass(x, {50, 200}, 10.0, 240.0, End::Odd, End::Odd, out);
    EXPECT_EQ(out[49], 7.0);
    EXPECT_EQ(out[200], 7.0);
    for (std::size_t i = 50; i < 200; ++i)
        EXPECT_TRUE(std::isfinite(out[i]));
}

TEST(Runs, EndAtGapsAndBeginAtCuts) {
    const Flags valid{true, true, false, true, true, true, true};
    const auto runs = find_runs(valid, {5});
    ASSERT_EQ(runs.size(), 3u);
    EXPECT_EQ(runs[0], (FrameRange{0, 2}));
    EXPECT_EQ(runs[1], (FrameRange{3, 5}));
    EXPECT_EQ(runs[2], (FrameRange{5, 7}));
}

// Closed forms far below half the rate, with H = 1 / (1 + x^4): ∫ H^2 dx = 3 pi / (8 sqrt 2),
// ∫ x^2 H^2 dx = pi / (8 sqrt 2) from 0 to infinity (table integrals).
TEST(NoiseGain, HasTheClosedForm) {
    const double rate_hz = 20000.0;
    const double cutoff_hz = 10.0;
    const double f1 = cutoff_hz / kTwoPassFactor;
    const NoiseGain gain = calc_noise_gain(cutoff_hz, rate_hz);
    EXPECT_NEAR(gain.value, std::sqrt(2.0 / rate_hz * f1 * 3.0 * kPi / (8.0 * std::sqrt(2.0))),
                0.001 * gain.value);
    const NoiseGain middle = calc_noise_gain(10.0, 1000.0);
    EXPECT_NEAR(middle.first_derivative,
                std::sqrt(2.0 / 1000.0 * std::pow(2.0 * kPi, 2) * std::pow(f1, 3) * kPi /
                          (8.0 * std::sqrt(2.0))),
                0.01 * middle.first_derivative);
    EXPECT_NEAR(gain.residual, 1.0, 0.002);
}

// For any signal x and weights w: w · filter(x) = raw_weights(w) · x, because the filter is linear.
// Random signals (seed below); every kind of end.
TEST(Butterworth, ItsTransposeSaysTheSameOfTheRawSamples) {
    std::mt19937 random(11);
    std::normal_distribution<double> normal;
    for (const std::size_t n : {2U, 5U, 40U, 300U})
        for (const End begin : {End::Odd, End::Trend})
            for (const End end : {End::Odd, End::Trend}) {
                std::vector<double> x(n);
                std::vector<double> w(n);
                for (std::size_t i = 0; i < n; ++i) {
                    x[i] = normal(random);
                    w[i] = normal(random);
                }
                std::vector<double> y(n);
                filter_two_pass(x, {0, n}, 12.0, 240.0, begin, end, y);
                const auto raw = raw_weights_of(w, 12.0, 240.0, begin, end);
                const double filtered = std::inner_product(w.begin(), w.end(), y.begin(), 0.0);
                const double direct = std::inner_product(raw.begin(), raw.end(), x.begin(), 0.0);
                EXPECT_NEAR(filtered, direct, 1e-9 * static_cast<double>(n)) << n;
            }
}

TEST(Butterworth, FourSignalsSideBySideAreFourSignals) {
    std::mt19937 random(12);
    std::normal_distribution<double> normal;
    FourSignals x(90);
    for (auto& row : x)
        row = Eigen::Array4d::NullaryExpr([&] { return normal(random); });
    FourSignals together(x.size());
    filter_two_pass(x, {0, x.size()}, 10.0, 200.0, End::Odd, End::Trend, together);
    for (Eigen::Index column = 0; column < 4; ++column) {
        std::vector<double> one(x.size());
        for (std::size_t i = 0; i < x.size(); ++i)
            one[i] = x[i](column);
        std::vector<double> alone(x.size());
        filter_two_pass(one, {0, one.size()}, 10.0, 200.0, End::Odd, End::Trend, alone);
        for (std::size_t i = 0; i < x.size(); ++i)
            ASSERT_NEAR(together[i](column), alone[i], 1e-12);
    }
}
