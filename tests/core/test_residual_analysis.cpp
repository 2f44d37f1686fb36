#include "core/signal/butterworth.h"
#include "core/signal/residual_analysis.h"

#include <gtest/gtest.h>

#include <cmath>
#include <random>

using namespace kite;

namespace {

constexpr double kRate_hz = 240.0;

/// A signal of known band (up to about `band_hz`): a sum of sines that fall with frequency.
std::vector<double> banded_signal(double band_hz) {
    std::vector<double> x(720);
    for (std::size_t i = 0; i < x.size(); ++i) {
        const double t = static_cast<double>(i) / kRate_hz;
        for (int k = 1; k <= 12; ++k) {
            const double f = band_hz * k / 8.0;
            x[i] += std::exp(-0.5 * k) * std::sin(2.0 * 3.14159265358979 * f * t + 0.7 * k * k);
        }
    }
    return x;
}

/// The cut-off that minimises the true error, by trying all.
double best_cutoff_hz(const std::vector<double>& truth, const std::vector<double>& noisy) {
    double best = 0.0;
    double least = 1e300;
    for (int k = 0; k < 150; ++k) {
        const double f = 2.0 * std::pow(1.02, k);
        const auto y = filter_two_pass(noisy, f, kRate_hz);
        double sum = 0.0;
        for (std::size_t i = 0; i < y.size(); ++i)
            sum += (y[i] - truth[i]) * (y[i] - truth[i]);
        if (sum < least) {
            least = sum;
            best = f;
        }
    }
    return best;
}

/// The choice for a single signal.
double choose_hz(const std::vector<double>& x, double rate_hz, CutoffBounds bounds) {
    FourSignals one;
    one.reserve(x.size());
    for (double value : x)
        one.emplace_back(value, 0.0, 0.0, 0.0);
    return choose_cutoff_hz(one, rate_hz, bounds);
}

} // namespace

// The best lies between the steps that are tried: with a little more noise it is a little lower,
// not the same until it falls by a tenth.
TEST(ResidualAnalysis, TheCutoffFollowsTheNoiseWithoutSteps) {
    const std::vector<double> truth = banded_signal(6.0);
    std::mt19937 random(11);
    std::normal_distribution<double> unit;
    std::vector<double> noise(truth.size());
    for (double& value : noise)
        value = unit(random);
    double last_hz = 1e9;
    for (int k = 0; k < 12; ++k) {
        std::vector<double> noisy = truth;
        for (std::size_t i = 0; i < noisy.size(); ++i)
            noisy[i] += 0.01 * std::pow(1.06, k) * noise[i];
        const double chosen_hz = choose_hz(noisy, kRate_hz, {2.0, 40.0});
        EXPECT_LT(chosen_hz, last_hz) << k;
        EXPECT_TRUE(k == 0 || chosen_hz > 0.95 * last_hz) << k << ": " << chosen_hz / last_hz;
        last_hz = chosen_hz;
    }
}

// Source: Winter 2009, residual analysis. The chosen cut-off lies within 20 % of the best one, on
// the average over noises; a single draw may be a little further off.
TEST(ResidualAnalysis, ChoosesNearTheBestCutoff) {
    std::mt19937 random(3);
    for (const double band_hz : {4.0, 8.0}) {
        const auto truth = banded_signal(band_hz);
        for (const double sd : {0.01, 0.03}) {
            std::normal_distribution<double> noise(0.0, sd);
            double chosen = 0.0;
            double best = 0.0;
            constexpr int kDraws = 10;
            for (int k = 0; k < kDraws; ++k) {
                auto noisy = truth;
                for (double& x : noisy)
                    x += noise(random);
                chosen += choose_hz(noisy, kRate_hz, {1.0, 60.0}) / kDraws;
                best += best_cutoff_hz(truth, noisy) / kDraws;
            }
            EXPECT_NEAR(chosen / best, 1.0, 0.2) << band_hz << " Hz, noise " << sd;
        }
    }
}

TEST(ResidualAnalysis, StaysWithinBoundsAndTakesTheUpperWithoutNoise) {
    const auto truth = banded_signal(4.0);
    EXPECT_DOUBLE_EQ(choose_hz(truth, kRate_hz, {7.0, 12.0}), 12.0);
    std::mt19937 random(3);
    std::normal_distribution<double> noise(0.0, 0.5);
    auto noisy = truth;
    for (double& x : noisy)
        x += noise(random);
    EXPECT_DOUBLE_EQ(choose_hz(noisy, kRate_hz, {7.0, 12.0}), 7.0);
    EXPECT_DOUBLE_EQ(choose_hz({truth.begin(), truth.begin() + 10}, kRate_hz, {7.0, 12.0}), 12.0);
    // A slow rate allows less than the bound.
    EXPECT_LE(choose_hz(truth, 60.0, {15.0, 40.0}), highest_cutoff_hz(60.0));
}
