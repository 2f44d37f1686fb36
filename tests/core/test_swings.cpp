// Finding swings in a take, address before them and the ball in them, on curves made by hand.

#include "core/base/units.h"
#include "core/measures/address.h"
#include "core/measures/events.h"
#include "core/measures/impact.h"
#include "core/measures/swings.h"
#include "core/motion/rotation.h"
#include "support/findings.h"

#include <gtest/gtest.h>

#include <cmath>
#include <functional>
#include <limits>
#include <tuple>

using namespace kite;
using Eigen::Vector3d;

namespace {

constexpr double kRate_hz = 200.0;

Curve sampled(double duration_s, const std::function<double(double)>& f) {
    std::vector<double> v;
    for (double t = 0.0; t <= duration_s + 1e-9; t += 1.0 / kRate_hz)
        v.push_back(f(t));
    return {std::move(v), kRate_hz};
}

/// A bell of so much at a time, as wide as a swing's.
double bell(double t, double at_s, double peak, double width_s = 0.08) {
    return peak * std::exp(-0.5 * std::pow((t - at_s) / width_s, 2.0));
}

/// Of no part: only its length counts.
Take lasting(double duration_s) {
    Take take;
    take.rate_hz = kRate_hz;
    take.frames = static_cast<std::size_t>(duration_s * kRate_hz) + 1;
    return take;
}

} // namespace

TEST(FindingSwings, EachIsItsFastestMoment) {
    const Curve speed = sampled(9.0, [](double t) {
        return bell(t, 2.0, 1500.0) + bell(t, 5.0031, 2000.0) + bell(t, 8.0, 900.0);
    });
    const auto swings = find_swings_s(speed, Segment::Club);
    ASSERT_EQ(swings.size(), 3U);
    EXPECT_NEAR(swings[0], 2.0, 1e-3);
    EXPECT_NEAR(swings[1], 5.0031, 1e-3);
    EXPECT_NEAR(swings[2], 8.0, 1e-3);
}

// A waggle is slower than two fifths of the fastest, and what lies within 0.4 s of a faster moment
// belongs to it (docs/measures.md).
TEST(FindingSwings, WagglesAndShouldersAreNone) {
    const Curve waggle =
        sampled(6.0, [](double t) { return bell(t, 1.0, 790.0) + bell(t, 4.0, 2000.0); });
    EXPECT_EQ(find_swings_s(waggle, Segment::Club).size(), 1U);
    const Curve second =
        sampled(6.0, [](double t) { return bell(t, 1.0, 810.0) + bell(t, 4.0, 2000.0); });
    EXPECT_EQ(find_swings_s(second, Segment::Club).size(), 2U);
    const Curve shoulder = sampled(
        6.0, [](double t) { return bell(t, 3.7, 1500.0, 0.03) + bell(t, 4.0, 2000.0, 0.05); });
    ASSERT_EQ(find_swings_s(shoulder, Segment::Club).size(), 1U);
    EXPECT_NEAR(find_swings_s(shoulder, Segment::Club)[0], 4.0, 2e-3);
}

TEST(FindingSwings, WhatNeverTurnsFastEnoughIsNotSwung) {
    const auto peak_of = [](double peak) {
        return sampled(4.0, [=](double t) { return bell(t, 2.0, peak); });
    };
    EXPECT_TRUE(find_swings_s(peak_of(249.0), Segment::Club).empty());
    EXPECT_EQ(find_swings_s(peak_of(251.0), Segment::Club).size(), 1U);
    EXPECT_TRUE(find_swings_s(peak_of(149.0), Segment::LeadArm).empty());
    EXPECT_EQ(find_swings_s(peak_of(151.0), Segment::LeadArm).size(), 1U);
    EXPECT_TRUE(find_swings_s(peak_of(89.0), Segment::Torso).empty());
    EXPECT_EQ(find_swings_s(peak_of(91.0), Segment::Torso).size(), 1U);
    EXPECT_TRUE(find_swings_s(Curve{}, Segment::Club).empty());
}

TEST(FindingSwings, TheOneMeantIsNumberedOrAtTheMarkOrTheFastest) {
    const Curve speed = sampled(9.0, [](double t) {
        return bell(t, 2.0, 1500.0) + bell(t, 5.0, 2000.0) + bell(t, 8.0, 1200.0);
    });
    Take take = lasting(9.0);
    AnalysisOptions options;
    const auto meant = [&] {
        Swings swings;
        swings.fastest_s = find_swings_s(speed, Segment::Club);
        choose_among_swings(speed, take, options, swings);
        EXPECT_NEAR(swings.fastest_deg_s, 2000.0, 1.0);
        return swings;
    };
    EXPECT_EQ(meant().index, 1U);
    EXPECT_NEAR(meant().previous_end_s(), 2.0 + kSwingReach_s, 1e-3);
    take.contact_s = 7.9;
    EXPECT_EQ(meant().index, 2U);
    options.swing = 1;
    EXPECT_EQ(meant().index, 0U);
    EXPECT_EQ(meant().previous_end_s(), 0.0);
    options.swing = 12; // there is no twelfth: the last
    EXPECT_EQ(meant().index, 2U);
    const Finding said = several_swings(meant());
    EXPECT_NE(said.what.find("3 swings, fastest at 2.00 s, 5.00 s and 8.00 s"), std::string::npos)
        << said.what;
    EXPECT_NE(said.what.find("number 3"), std::string::npos) << said.what;
}

// A club that was seen going back and lost before it came down is fastest in its backswing; the arm
// says when the swing was.
TEST(FindingSwings, AClubThatWasLostInTheDownswingDoesNotLead) {
    constexpr double kImpact_s = 2.2;
    const auto take_with = [&](bool lost) {
        Take take = lasting(3.5);
        for (const auto& [segment, back, down] : {std::tuple(Segment::Club, 600.0, 2000.0),
                                                  std::tuple(Segment::LeadArm, 300.0, 900.0)}) {
            PoseSeries& series = take.segments[segment];
            double angle_rad = 0.0;
            for (std::size_t i = 0; i < take.frames; ++i) {
                const double t = take.time_of(i);
                angle_rad +=
                    rad_from_deg(bell(t, kImpact_s, down) - bell(t, 1.2, back, 0.15)) / kRate_hz;
                const bool hidden = lost && segment == Segment::Club && t > 1.5 && t < 2.8;
                series.q_lab_segment.push_back(hidden ? missing_rotation()
                                                      : exp_of(angle_rad * Vector3d::UnitX()));
            }
        }
        return take;
    };
    for (const bool lost : {false, true}) {
        const Take take = take_with(lost);
        SmoothedParts parts(take);
        const auto swings = find_swings(parts, take, {});
        ASSERT_TRUE(swings);
        EXPECT_EQ(swings->leader, lost ? Segment::LeadArm : Segment::Club);
        EXPECT_NEAR(swings->chosen_s(), kImpact_s, 0.01);
        EXPECT_EQ(swings->hidden_leader.has_value(), lost);
    }
}

TEST(Address, IsTheCalmestTenthOfASecondAndOfEqualsTheLast) {
    // Restless, calm from 1.0 to 1.3 s, restless, and as calm again from 1.6 to 2.0 s.
    const Curve speed = sampled(2.5, [](double t) {
        const bool calm = (t > 1.0 && t < 1.3) || (t > 1.6 && t < 2.0);
        return calm ? 2.0 : 30.0;
    });
    const TimeRange later = find_address_window(speed, 0.0, 2.2);
    EXPECT_NEAR(later.end_s - later.begin_s, kAddressWindow_s, 1e-9);
    EXPECT_GE(later.begin_s, 1.6);
    EXPECT_LE(later.end_s, 2.0);
    const TimeRange earlier = find_address_window(speed, 0.0, 1.55);
    EXPECT_GE(earlier.begin_s, 1.0);
    EXPECT_LE(earlier.end_s, 1.3);
    // One that is calmer by more than a hundredth wins, however early.
    const Curve first = sampled(2.5, [](double t) { return t > 0.5 && t < 0.8 ? 1.0 : 2.0; });
    EXPECT_LE(find_address_window(first, 0.0, 2.2).end_s, 0.8);
    // Less than a window: what there is.
    const TimeRange little = find_address_window(speed, 2.15, 2.2);
    EXPECT_NEAR(little.begin_s, 2.15, 1e-12);
    EXPECT_NEAR(little.end_s, 2.2, 1e-12);
}

TEST(Address, IsNotLookedForWhereTheClubWasHidden) {
    const Curve speed = sampled(2.5, [](double t) {
        if (t > 1.9 && t < 2.1)
            return std::numeric_limits<double>::quiet_NaN();
        return t > 1.5 ? 1.0 : 5.0;
    });
    const TimeRange found = find_address_window(speed, 0.0, 2.2);
    EXPECT_TRUE(found.end_s <= 1.9 + 1e-9 || found.begin_s >= 2.1 - 1e-9)
        << found.begin_s << " to " << found.end_s;
}

// Who steps in at 1.2 s has not addressed the ball before; of the steps the last foot counts.
TEST(Address, BeginsWhenBothFeetStandWhereTheySwing) {
    Take take = lasting(4.0);
    const auto foot = [&](double moves_until_s, double by_m) {
        std::vector<Vector3d> track;
        for (std::size_t i = 0; i < take.frames; ++i)
            track.emplace_back(take.time_of(i) < moves_until_s ? -by_m : 0.0, 0.3, 0.1);
        return track;
    };
    EXPECT_NEAR(find_stance_begin(take, 3.0), 3.0 - kLongestAddress_s, 1e-9);
    EXPECT_EQ(find_stance_begin(take, 1.5), 0.0);
    take.points_lab_m[BodyPoint::LeadAnkle] = foot(1.2, 0.3);
    take.points_lab_m[BodyPoint::TrailAnkle] = foot(1.9, 0.3);
    EXPECT_NEAR(find_stance_begin(take, 3.0), 1.9, 2.0 / kRate_hz);
    // Four centimetres are no step.
    take.points_lab_m[BodyPoint::TrailAnkle] = foot(1.9, 0.03);
    EXPECT_NEAR(find_stance_begin(take, 3.0), 1.2, 2.0 / kRate_hz);
    // A single astray marker is no step either.
    take.points_lab_m[BodyPoint::LeadAnkle] = foot(0.0, 0.3);
    take.points_lab_m[BodyPoint::LeadAnkle][400].x() = 5.0;
    EXPECT_NEAR(find_stance_begin(take, 3.0), 3.0 - kLongestAddress_s, 1e-9);
    // Without feet the pelvis tells.
    take.points_lab_m.clear();
    PoseSeries pelvis;
    pelvis.q_lab_segment.assign(take.frames, Eigen::Quaterniond::Identity());
    pelvis.p_lab_m = foot(1.7, 0.5);
    take.segments[Segment::Pelvis] = pelvis;
    EXPECT_NEAR(find_stance_begin(take, 3.0), 1.7, 2.0 / kRate_hz);
}

namespace {

/// A club head that rests beside the ball, swings away and comes back with 40 m/s, at the ball at
/// `ball_s`; beyond it the ball has taken a third of its speed.
Take passing(double ball_s) {
    Take take = lasting(2.0);
    std::vector<Vector3d> head;
    for (std::size_t i = 0; i < take.frames; ++i) {
        const double t = take.time_of(i);
        double x = 0.0;
        if (t > 0.5 && t <= ball_s) // a parabola through rest and ball
            x = -40.0 * (ball_s - t) * (t - 0.5) / (ball_s - 0.5);
        else if (t > ball_s)
            x = 27.0 * (t - ball_s);
        head.emplace_back(x, 0.0, 0.05);
    }
    take.points_lab_m[BodyPoint::ClubHead] = std::move(head);
    return take;
}

} // namespace

TEST(HeadPassing, IsFoundBetweenFramesFromTheWayBefore) {
    for (double ball_s : {1.5000, 1.5013, 1.5031, 1.5049}) {
        const auto passed = find_head_passing(passing(ball_s), {0.1, 0.3}, {1.0, 1.9});
        ASSERT_TRUE(passed) << ball_s;
        EXPECT_NEAR(passed->t_s, ball_s, 0.0003) << ball_s;
        EXPECT_LT(passed->u_s, 0.002);
        EXPECT_LT(std::abs(passed->t_s - ball_s), 3.0 * passed->u_s + 1e-4);
    }
}

TEST(HeadPassing, AHeadHiddenAtTheBallIsLessSureAndMissingOnesTellNothing) {
    Take take = passing(1.5013);
    const double seen_u_s = find_head_passing(take, {0.1, 0.3}, {1.0, 1.9})->u_s;
    auto& head = take.points_lab_m[BodyPoint::ClubHead];
    for (std::size_t i = 292; i <= 310; ++i) // 1.46 to 1.55 s
        head[i] = missing_point();
    const auto hidden = find_head_passing(take, {0.1, 0.3}, {1.0, 1.9});
    ASSERT_TRUE(hidden);
    EXPECT_GT(hidden->u_s, 2.0 * seen_u_s);
    EXPECT_LT(std::abs(hidden->t_s - 1.5013), 3.0 * hidden->u_s);
    // It does not pass in the window; nothing was seen at address; there is no club.
    EXPECT_FALSE(find_head_passing(take, {0.1, 0.3}, {0.6, 1.2}));
    for (std::size_t i = 0; i < 80; ++i)
        head[i] = missing_point();
    EXPECT_FALSE(find_head_passing(take, {0.1, 0.3}, {1.0, 1.9}));
    EXPECT_FALSE(find_head_passing(lasting(2.0), {0.1, 0.3}, {1.0, 1.9}));
}

TEST(HeadPassing, WithoutItsMarkerTheFarEndOfTheClubTells) {
    Take take = passing(1.5013);
    const auto head = take.points_lab_m[BodyPoint::ClubHead];
    take.points_lab_m.clear();
    take.club_length_m = 1.1;
    PoseSeries club;
    for (const Vector3d& at : head) {
        club.q_lab_segment.push_back(Eigen::Quaterniond::Identity());
        club.p_lab_m.push_back(at + Vector3d(0.0, 0.0, 1.1));
    }
    take.segments[Segment::Club] = club;
    const auto passed = find_head_passing(take, {0.1, 0.3}, {1.0, 1.9});
    ASSERT_TRUE(passed);
    EXPECT_NEAR(passed->t_s, 1.5013, 0.0003);
    take.club_length_m.reset();
    EXPECT_FALSE(find_head_passing(take, {0.1, 0.3}, {1.0, 1.9}));
}

TEST(Blow, IsWhereTheClubSuddenlyLosesSpeed) {
    constexpr double kFast_hz = 1000.0;
    std::vector<double> rate;
    for (int i = 0; i < 800; ++i) {
        const double t = i / kFast_hz;
        rate.push_back(bell(t, 0.5, 2000.0) * (i > 493 ? 0.8 : 1.0));
    }
    const auto blow = find_blow_s(rate, kFast_hz, 0.5);
    ASSERT_TRUE(blow);
    EXPECT_NEAR(*blow, 0.4935, 1e-9);
    // A loss of a twentieth is no blow; nor is one that is as large as what comes about it.
    for (std::size_t i = 0; i < rate.size(); ++i)
        rate[i] = bell(static_cast<double>(i) / kFast_hz, 0.5, 2000.0) * (i > 493 ? 0.96 : 1.0);
    EXPECT_FALSE(find_blow_s(rate, kFast_hz, 0.5));
    for (std::size_t i = 0; i < rate.size(); ++i)
        rate[i] = bell(static_cast<double>(i) / kFast_hz, 0.5, 2000.0) + (i % 2 == 0 ? 150.0 : 0.0);
    EXPECT_FALSE(find_blow_s(rate, kFast_hz, 0.5));
    EXPECT_FALSE(find_blow_s({}, kFast_hz, 0.5));
    EXPECT_FALSE(find_blow_s(std::vector<double>(800, std::numeric_limits<double>::quiet_NaN()),
                             kFast_hz, 0.5));
}
