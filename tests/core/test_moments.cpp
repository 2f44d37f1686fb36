// Takes that are not one whole clean swing: waggles, pauses, several swings, missing parts, moments
// moved by hand. Each is recognised, and handled or named. Inside evidence: the generator's swing.

#include "core/base/units.h"
#include "core/measures/analyse.h"
#include "core/motion/rotation.h"
#include "simulate/simulate.h"
#include "simulate/truth.h"
#include "support/findings.h"
#include "support/played_twice.h"

#include <gtest/gtest.h>

#include <algorithm>
#include <cmath>

using namespace kite;
using kite::test::has_code;
using test::for_every_series;
using test::kWayBack_s;
using test::twice;

namespace {

/// The frame at a time held for `hold_s`.
Take paused(Take take, double at_s, double hold_s) {
    const auto at = static_cast<std::ptrdiff_t>(std::lround(at_s * take.rate_hz));
    const auto count = static_cast<std::size_t>(std::lround(hold_s * take.rate_hz));
    for_every_series(take, [&](auto& series) {
        const auto held = series[static_cast<std::size_t>(at)];
        series.insert(series.begin() + at, count, held);
    });
    return take;
}

} // namespace

TEST(Moments, MovedByHandAreKeptAndEverythingFollows) {
    const Take take = simulate::make_take({});
    const auto found = analyse(take, {});
    AnalysisOptions options;
    const double impact = found.value.moments.time_s(Moment::Impact) - 0.010;
    const double top = found.value.moments.time_s(Moment::Top) + 0.020;
    options.moved_s[Moment::Impact] = impact;
    options.moved_s[Moment::Top] = top;
    const auto moved = analyse(take, options);
    ASSERT_TRUE(moved.ok());
    EXPECT_TRUE(moved.value.moments[Moment::Impact]->moved);
    EXPECT_TRUE(moved.value.moments[Moment::Top]->moved);
    EXPECT_FALSE(moved.value.moments[Moment::Takeaway]->moved);
    EXPECT_EQ(moved.value.moments.impact_source, ImpactSource::Hand);
    EXPECT_DOUBLE_EQ(moved.value.moments.time_s(Moment::Impact), impact);
    EXPECT_NEAR(moved.value.tempo.downswing_s, impact - top, 1e-12);
    EXPECT_NEAR(moved.value.sequence.find(Segment::Pelvis)->before_impact_ms,
                found.value.sequence.find(Segment::Pelvis)->before_impact_ms - 10.0, 1.0);
    EXPECT_NEAR(moved.value.separation->at_top_deg, moved.value.separation_deg.at(top), 1e-9);
}

TEST(Moments, OfSeveralSwingsOneIsTakenAndTheOthersAreNamed) {
    const Take once = simulate::make_take({});
    const auto alone = analyse(once, {});
    Take take = twice(once);
    const double length_s = static_cast<double>(once.frames) / once.rate_hz + kWayBack_s;
    for (const std::size_t number : {1U, 2U}) {
        AnalysisOptions options;
        options.swing = number;
        const auto result = analyse(take, options);
        ASSERT_TRUE(result.ok());
        EXPECT_TRUE(has_code(result.findings, "several-swings"));
        const double shift_s = number == 1 ? 0.0 : length_s;
        for (Moment moment : {Moment::Takeaway, Moment::Top, Moment::Impact})
            EXPECT_NEAR(result.value.moments.time_s(moment),
                        alone.value.moments.time_s(moment) + shift_s, 0.003)
                << key_of(moment) << " of swing " << number;
        EXPECT_GE(result.value.moments.time_s(Moment::Address), shift_s);
    }
    // A contact mark tells which one is meant.
    take.contact_s = alone.value.moments.time_s(Moment::Impact) + length_s;
    EXPECT_NEAR(analyse(take, {}).value.moments.time_s(Moment::Top),
                alone.value.moments.time_s(Moment::Top) + length_s, 0.003);
    EXPECT_FALSE(has_code(alone.findings, "several-swings"));
}

TEST(Moments, AWaggleIsNoTakeaway) {
    simulate::SwingParameters parameters;
    parameters.lead_in_s = 1.6;
    Take take = simulate::make_take(parameters);
    const auto plain = analyse(take, {});
    // The club goes back by 20° and forwards again, twice, between 0.3 and 1.1 s.
    const Eigen::Vector3d axis = plain.value.moments.plane->normal;
    PoseSeries& club = take.segments[Segment::Club];
    for (std::size_t i = 0; i < take.frames; ++i) {
        const double t = take.time_of(i);
        if (t < 0.3 || t > 1.1)
            continue;
        const double angle = -rad_from_deg(10.0) * (1.0 - std::cos(2.0 * kPi * (t - 0.3) / 0.4));
        club.q_lab_segment[i] = exp_of(angle * axis) * club.q_lab_segment[i];
    }
    const auto result = analyse(take, {});
    ASSERT_TRUE(result.ok());
    EXPECT_NEAR(result.value.moments.time_s(Moment::Takeaway),
                plain.value.moments.time_s(Moment::Takeaway), 0.005);
    EXPECT_GT(result.value.moments.time_s(Moment::Address), 1.1);
}

TEST(Moments, APauseAtTheTopBelongsToTheBackswing) {
    const Take take = simulate::make_take({});
    const auto plain = analyse(take, {});
    const auto result = analyse(paused(take, plain.value.moments.time_s(Moment::Top), 0.25), {});
    ASSERT_TRUE(result.ok());
    EXPECT_NEAR(result.value.tempo.downswing_s, plain.value.tempo.downswing_s, 0.06);
    EXPECT_GT(result.value.tempo.backswing_s, plain.value.tempo.backswing_s + 0.15);
    for (Segment segment : kSequence)
        EXPECT_NEAR(result.value.sequence.find(segment)->before_impact_ms,
                    plain.value.sequence.find(segment)->before_impact_ms, 2.0)
            << key_of(segment);
}

TEST(Moments, WithoutAClubTheArmTells) {
    Take take = simulate::make_take({});
    const auto plain = analyse(take, {});
    take.segments.erase(Segment::Club);
    const auto result = analyse(take, {});
    ASSERT_TRUE(result.ok());
    EXPECT_TRUE(has_code(result.findings, "no-club"));
    EXPECT_TRUE(has_code(result.findings, "impact-assumed"));
    EXPECT_EQ(result.value.moments.impact_source, ImpactSource::Arm);
    const auto& impact = *result.value.moments[Moment::Impact];
    EXPECT_NEAR(impact.t_s, plain.value.moments.time_s(Moment::Impact), 2.0 * impact.u_s);
    EXPECT_FALSE(result.value.moments[Moment::ShaftLevelDown]);
    EXPECT_TRUE(std::isnan(result.value.speed.club_head_m_s));
    EXPECT_TRUE(std::isnan(result.value.sequence.order_certainty)) << "needs all four parts";
    for (Segment segment : {Segment::Pelvis, Segment::Torso, Segment::LeadArm})
        EXPECT_NEAR(result.value.sequence.find(segment)->peak_t_s,
                    plain.value.sequence.find(segment)->peak_t_s, 0.004)
            << key_of(segment);
}

TEST(Moments, OfTheTrunkAloneImpactIsNotInvented) {
    Take take = simulate::make_take({});
    const auto plain = analyse(take, {});
    for (Segment segment : {Segment::Club, Segment::LeadArm, Segment::TrailArm})
        take.segments.erase(segment);
    const auto result = analyse(take, {});
    ASSERT_TRUE(result.ok());
    EXPECT_TRUE(has_code(result.findings, "no-impact"));
    EXPECT_FALSE(result.value.moments[Moment::Impact]);
    EXPECT_TRUE(std::isnan(result.value.sequence.find(Segment::Pelvis)->at_impact_deg_s));
    EXPECT_NEAR(result.value.sequence.find(Segment::Pelvis)->peak_t_s,
                plain.value.sequence.find(Segment::Pelvis)->peak_t_s, 0.002);
    // A contact mark gives it back.
    take.contact_s = plain.value.moments.time_s(Moment::Impact);
    EXPECT_NEAR(analyse(take, {}).value.sequence.find(Segment::Torso)->before_impact_ms,
                plain.value.sequence.find(Segment::Torso)->before_impact_ms, 2.0);
}

// Other lab axes, millimetres and a later start are read away in the formats' tests; here the rate:
// the same swing at other rates gives the same result.
TEST(Moments, AreTheSameAtOtherRates) {
    simulate::SwingParameters parameters;
    parameters.rate_hz = 500.0;
    const auto fine = analyse(simulate::make_take(parameters), {});
    for (const double rate_hz : {120.0, 200.0, 360.0}) {
        parameters.rate_hz = rate_hz;
        const auto other = analyse(simulate::make_take(parameters), {});
        ASSERT_TRUE(other.ok());
        for (Moment moment :
             {Moment::Takeaway, Moment::Top, Moment::ShaftLevelDown, Moment::Impact})
            EXPECT_NEAR(other.value.moments.time_s(moment), fine.value.moments.time_s(moment),
                        0.003)
                << key_of(moment) << " at " << rate_hz;
        for (Segment segment : {Segment::Pelvis, Segment::Torso, Segment::LeadArm})
            EXPECT_NEAR(other.value.sequence.find(segment)->peak_t_s,
                        fine.value.sequence.find(segment)->peak_t_s, 0.002)
                << key_of(segment) << " at " << rate_hz;
    }
}
