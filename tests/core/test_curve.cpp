#include "core/signal/curve.h"

#include <gtest/gtest.h>

#include <cmath>

using namespace kite;

namespace {

constexpr double kSampled_hz = 100.0;

template <class Function>
Curve sampled(Function f, std::size_t frames, std::optional<double> change_s = std::nullopt) {
    std::vector<double> v(frames);
    for (std::size_t i = 0; i < frames; ++i)
        v[i] = f(static_cast<double>(i) / kSampled_hz);
    return {std::move(v), kSampled_hz, change_s};
}

} // namespace

// A cubic goes through four points exactly, so values and slopes of one are exact.
TEST(Curve, InterpolatesACubicExactly) {
    const auto f = [](double t) { return 1.0 + 2.0 * t - 5.0 * t * t + 3.0 * t * t * t; };
    const auto slope = [](double t) { return 2.0 - 10.0 * t + 9.0 * t * t; };
    const Curve curve = sampled(f, 50);
    for (double t : {0.0, 0.003, 0.1234, 0.25, 0.4777, 0.49}) {
        EXPECT_NEAR(curve.at(t), f(t), 1e-12);
        EXPECT_NEAR(curve.slope_at(t), slope(t), 1e-9);
    }
    EXPECT_TRUE(std::isnan(curve.at(0.5)));
    EXPECT_TRUE(std::isnan(curve.at(-0.01)));
}

TEST(Curve, FindsThePeakBetweenFrames) {
    const Curve curve =
        sampled([](double t) { return 7.0 - 300.0 * (t - 0.2034) * (t - 0.2034); }, 50);
    const auto peak = curve.find_max({0.0, 0.4});
    ASSERT_TRUE(peak);
    EXPECT_NEAR(peak->t_s, 0.2034, 1e-9);
    EXPECT_NEAR(peak->value, 7.0, 1e-9);
    EXPECT_FALSE(peak->at_edge);
    const auto low = curve.scaled(-1.0).find_min({0.0, 0.4});
    ASSERT_TRUE(low);
    EXPECT_NEAR(low->value, -7.0, 1e-9);
}

TEST(Curve, NamesAPeakAtTheEdgeOfTheRange) {
    const Curve curve = sampled([](double t) { return t; }, 50);
    const auto peak = curve.find_max({0.1, 0.3456});
    ASSERT_TRUE(peak);
    EXPECT_NEAR(peak->t_s, 0.3456, 1e-9);
    EXPECT_TRUE(peak->at_edge);
}

// The value just before a sudden change comes from the samples before it, the value after from
// those after it.
TEST(Curve, DoesNotLookAcrossASuddenChange) {
    const double change_s = 0.2043;
    const Curve curve =
        sampled([&](double t) { return t <= change_s ? 100.0 * t : 5.0 - 20.0 * (t - change_s); },
                50, change_s);
    EXPECT_NEAR(curve.at(change_s, Curve::Side::Before), 20.43, 1e-9);
    EXPECT_NEAR(curve.at(change_s, Curve::Side::After), 5.0, 1e-9);
    EXPECT_NEAR(curve.at(0.2042), 20.42, 1e-9);
    EXPECT_NEAR(curve.at(0.2044), 5.0 - 20.0 * 0.0001, 1e-9);
    const auto peak = curve.find_max({0.0, 0.4});
    ASSERT_TRUE(peak);
    EXPECT_NEAR(peak->t_s, change_s, 1e-9);
    EXPECT_NEAR(peak->value, 20.43, 1e-9);
    EXPECT_NEAR(curve.slope_at_frame(20), 100.0, 1e-6);
    EXPECT_NEAR(curve.slope_at_frame(21), -20.0, 1e-6);
}

TEST(Curve, FindsCrossingsInTheirDirection) {
    const Curve curve =
        sampled([](double t) { return std::sin(2.0 * 3.14159265358979 * 2.0 * t); }, 101);
    const auto up = curve.find_crossings(0.0, Curve::Direction::Rising, {0.1, 0.9});
    const auto down = curve.find_crossings(0.0, Curve::Direction::Falling, {0.1, 0.9});
    ASSERT_EQ(up.size(), 1u);
    ASSERT_EQ(down.size(), 2u);
    EXPECT_NEAR(up[0], 0.5, 1e-6);
    EXPECT_NEAR(down[0], 0.25, 1e-6);
    EXPECT_NEAR(down[1], 0.75, 1e-6);
}

// Right beside a hole three samples are left, and the parabola through them.
TEST(Curve, CrossesRightBesideAHole) {
    const double hole = std::nan("");
    const Curve even({5.0, hole, 1.0, -1.0, 1.0, hole, 7.0}, kSampled_hz);
    const auto up = even.find_first_crossing(0.0, Curve::Direction::Rising, {0.0, 0.06});
    ASSERT_TRUE(up);
    const auto down = even.find_first_crossing(0.0, Curve::Direction::Falling, {0.02, 0.06});
    ASSERT_TRUE(down);
    // -1 + 2 s² about the middle sample: nothing at s = ± 1/√2.
    EXPECT_NEAR(*down * kSampled_hz, 3.0 - std::sqrt(0.5), 1e-9);
    EXPECT_NEAR(*up * kSampled_hz, 3.0 + std::sqrt(0.5), 1e-9);
    const Curve first({hole, -1.0, 1.0, 6.0, hole}, kSampled_hz);
    // -1 + 0.5 s + 1.5 s²: nothing at s = 2/3.
    EXPECT_NEAR(*first.find_first_crossing(0.0, Curve::Direction::Rising, {0.0, 0.04}) *
                    kSampled_hz,
                1.0 + 2.0 / 3.0, 1e-9);
}

TEST(Curve, LeavesGapsOpen) {
    Curve curve = sampled([](double t) { return t; }, 50);
    std::vector<double> v = curve.values();
    v[20] = v[21] = std::nan("");
    curve = Curve(std::move(v), kSampled_hz);
    EXPECT_TRUE(std::isnan(curve.at(0.195)));
    EXPECT_TRUE(std::isnan(curve.at(0.205)));
    EXPECT_NEAR(curve.at(0.185), 0.185, 1e-12);
    // Passed unseen: the straight line between both ends tells when, the gap how well.
    const auto crossings = curve.find_crossings(0.205, Curve::Direction::Rising, {0.0, 0.4});
    ASSERT_EQ(crossings.size(), 1u);
    EXPECT_NEAR(crossings.front(), 0.205, 1e-9);
    EXPECT_NEAR(curve.unseen_about_s(0.205), 0.03, 1e-9) << "from 0.19 to 0.22 s";
    EXPECT_EQ(curve.unseen_about_s(0.185), 0.0);
    EXPECT_NEAR(curve.longest_unseen_s({0.0, 0.4}), 0.03, 1e-9);
    EXPECT_EQ(curve.longest_unseen_s({0.0, 0.15}), 0.0);
}

TEST(Curve, WithoutSamplesHasNothing) {
    EXPECT_TRUE(std::isnan(Curve{}.at(0.0)));
    EXPECT_FALSE(Curve{}.find_max({0.0, 1.0}));
    EXPECT_TRUE(std::isnan(mean_between(Curve{}, {0.0, 1.0})));
}
