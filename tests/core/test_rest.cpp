// When the golfer of a bay rests, and how the sensors lie then.

#include "core/live/rest.h"

#include <gtest/gtest.h>

#include <cmath>

namespace kite::live {
namespace {

constexpr double kRate_hz = 200.0;

/// Ten seconds of one sensor: its speed about one axis as told, gravity along another.
template <class Speed>
Samples heard(Speed speed_deg_s, double begin_s = 0.0) {
    Samples out;
    out.rate_hz = kRate_hz;
    for (int i = 0; i < 2000; ++i) {
        const double t = begin_s + i / kRate_hz;
        out.times_s.push_back(t);
        out.values.push_back({speed_deg_s(t), 0.0, 0.0, 0.0, 0.6, 0.8});
    }
    return out;
}

double swinging(double t) {
    return 300.0 * std::sin(12.0 * t);
}

TEST(Rest, IsTheLastCalmQuarterOfASecond) {
    const Parts parts{{Segment::Pelvis, heard([](double t) {
                           const bool calm = (t > 2.0 && t < 3.0) || (t > 5.0 && t < 6.0);
                           return calm ? 1.0 : swinging(t);
                       })}};
    const TimeRange rest = find_rest(parts, {0.0, 10.0});
    EXPECT_NEAR(rest.end_s - rest.begin_s, kStillBlock_s, 1e-9);
    EXPECT_GE(rest.begin_s, 5.0);
    EXPECT_LE(rest.end_s, 6.0 + 0.01);
    EXPECT_GT(rest.end_s, 5.9) << "the last one, not the first";
    const TimeRange earlier = find_rest(parts, {0.0, 4.0});
    EXPECT_GE(earlier.begin_s, 2.0);
    EXPECT_LE(earlier.end_s, 3.0 + 0.01);
}

TEST(Rest, WhereNobodyRestsTheCalmestIsTaken) {
    const Parts parts{{Segment::Pelvis, heard([](double t) {
                           return (t > 4.0 && t < 4.5 ? 0.2 : 1.0) * swinging(t);
                       })}};
    EXPECT_FALSE(last_rest(parts, {0.0, 9.0}, kStill_deg_s));
    const TimeRange calmest = find_rest(parts, {0.0, 9.0});
    EXPECT_GE(calmest.begin_s, 3.95);
    EXPECT_LE(calmest.end_s, 4.55);
}

// Scatter and half the mean: a sensor that turns steadily is not at rest, nor is one that trembles.
TEST(Rest, RestlessnessCountsTremblingAndTurning) {
    const TimeRange block{1.0, 2.0};
    EXPECT_NEAR(restlessness_deg_s(heard([](double) { return 0.0; }), block), 0.0, 1e-12);
    EXPECT_NEAR(restlessness_deg_s(heard([](double) { return 20.0; }), block), 10.0, 1e-9);
    int i = 0;
    EXPECT_NEAR(restlessness_deg_s(heard([&](double) { return ++i % 2 == 0 ? 6.0 : -6.0; }), block),
                6.0, 1e-6);
    // Of several sensors the root of the mean square.
    const Parts two{{Segment::Pelvis, heard([](double) { return 60.0; })},
                    {Segment::Club, heard([](double) { return 80.0; })}};
    EXPECT_NEAR(restlessness_deg_s(two, block), std::sqrt((900.0 + 1600.0) / 2.0), 1e-6);
}

TEST(Rest, WhatWasNotHeardIsNotCalm) {
    const Parts none;
    EXPECT_TRUE(std::isnan(restlessness_deg_s(none, {0.0, 1.0})));
    EXPECT_FALSE(last_rest(none, {0.0, 9.0}, kStill_deg_s));
    // The sensor was switched on at 5 s; before that it said nothing.
    const Parts late{{Segment::Pelvis, heard([](double) { return 0.5; }, 5.0)}};
    EXPECT_TRUE(std::isnan(restlessness_deg_s(late, {1.0, 2.0})));
    EXPECT_FALSE(last_rest(late, {0.0, 4.9}, kStill_deg_s));
    // A silent one does not hide what another one says.
    Parts both = late;
    both[Segment::Club] = heard([](double) { return 40.0; });
    EXPECT_NEAR(restlessness_deg_s(both, {1.0, 2.0}), 20.0, 1e-6);
    // Where two in three samples were lost a quarter of a second tells; where nine in ten, not.
    const auto thinned = [](int keep_every) {
        Samples out;
        out.rate_hz = kRate_hz;
        for (int i = 0; i < 2000; i += keep_every) {
            out.times_s.push_back(i / kRate_hz);
            out.values.push_back({4.0, 0.0, 0.0, 0.0, 0.0, 1.0});
        }
        return out;
    };
    EXPECT_NEAR(restlessness_deg_s(thinned(3), {1.0, 2.0}), 2.0, 1e-9);
    EXPECT_TRUE(std::isnan(restlessness_deg_s(thinned(10), {1.0, 2.0})));
}

TEST(Rest, GravityIsTheMeanOfWhatWasFeltThere) {
    const Samples samples = heard([](double) { return 0.0; });
    EXPECT_NEAR((mean_force(samples, {1.0, 2.0}) - Eigen::Vector3d(0.0, 0.6, 0.8)).norm(), 0.0,
                1e-12);
    EXPECT_EQ(mean_force(samples, {20.0, 21.0}).norm(), 0.0) << "not heard";
    EXPECT_EQ(first_from(samples, 1.0), 200U);
    EXPECT_EQ(first_from(samples, -1.0), 0U);
    EXPECT_EQ(first_from(samples, 99.0), samples.times_s.size());
    EXPECT_EQ(gyro_of(samples.values[0]), Eigen::Vector3d(0.0, 0.0, 0.0));
    EXPECT_EQ(force_of(samples.values[0]), Eigen::Vector3d(0.0, 0.6, 0.8));
}

} // namespace
} // namespace kite::live
