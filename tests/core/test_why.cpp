// What stands between a verdict and the measures, and what would change it.

#include "core/reading/ball_flight.h"
#include "core/reading/baseline.h"
#include "core/reading/why.h"
#include "core/reading/words.h"

#include <gtest/gtest.h>

#include <cmath>

namespace kite {
namespace {

/// z with a probability of 0.6 below it: tables of the normal distribution, value from memory.
constexpr double kZ60 = 0.2533;

Condition leaf(Condition::Kind kind, const char* measure) {
    Condition out;
    out.kind = kind;
    out.term.kind = Term::Kind::Measure;
    out.term.key = measure;
    out.limit = "limit";
    return out;
}

Judged judged(const Condition& condition, double value, double u, double limit, double width) {
    Judged out;
    out.condition = &condition;
    out.value = {value, u};
    out.limit = limit;
    out.width = width;
    out.evidence = condition.kind == Condition::Kind::Above ? above(value, limit, width, u)
                                                            : below(value, limit, width, u);
    return out;
}

TEST(Why, AFaultIsClearedWhereTheEvidenceIsNoLongerEnough) {
    const Condition low = leaf(Condition::Kind::Below, "transition.pelvis_lead_ms");
    // Spread √(3² + 4²) = 5: enough evidence below 20 − 0.2533·5.
    const auto changes = changes_of(judged(low, 8.0, 4.0, 20.0, 3.0));
    ASSERT_EQ(changes.size(), 1u);
    EXPECT_NEAR(changes[0].to, 20.0 - kZ60 * 5.0, 1e-3);
    // The evidence there is just what is enough.
    EXPECT_NEAR(*below(changes[0].to, 20.0, 3.0, 4.0), kEnoughEvidence, 1e-9);
    // From the other side: what would bring it is the same place.
    EXPECT_NEAR(changes_of(judged(low, 40.0, 4.0, 20.0, 3.0))[0].to, changes[0].to, 1e-12);
}

TEST(Why, WhereTheLimitFollowsTheUncertaintyItIsNotCountedTwice) {
    Condition high = leaf(Condition::Kind::Above, "separation.max_deg");
    high.beyond_u = 2.0;
    Judged one = judged(high, 10.0, 4.0, 3.0, 2.0);
    EXPECT_NEAR(changes_of(one)[0].to, 3.0 + kZ60 * 2.0, 1e-3);
}

TEST(Why, OfAnyEveryOneThatSpeaksHasToGoAndOfAllOneIsEnough) {
    const Condition high = leaf(Condition::Kind::Above, "separation.max_deg");
    const Condition low = leaf(Condition::Kind::Below, "transition.pelvis_lead_ms");
    Condition any;
    any.kind = Condition::Kind::Any;
    Judged group;
    group.condition = &any;
    group.of = {judged(high, 12.0, 0.0, 10.0, 1.0), judged(high, 5.0, 0.0, 10.0, 1.0),
                judged(low, 4.0, 0.0, 10.0, 1.0)};
    group.evidence = any_of({group.of[0].evidence, group.of[1].evidence, group.of[2].evidence});
    auto changes = changes_of(group);
    ASSERT_EQ(changes.size(), 2u);
    EXPECT_EQ(changes[0].judged, &group.of[0]);
    EXPECT_EQ(changes[1].judged, &group.of[2]);

    Condition all;
    all.kind = Condition::Kind::All;
    group.condition = &all;
    group.of = {judged(high, 12.0, 0.0, 10.0, 1.0), judged(low, 1.0, 0.0, 10.0, 1.0)};
    group.evidence = all_of({group.of[0].evidence, group.of[1].evidence});
    changes = changes_of(group);
    // The one that lies nearer to its limit, counted in spreads.
    ASSERT_EQ(changes.size(), 1u);
    EXPECT_EQ(changes[0].judged, &group.of[0]);

    // The way is counted in spreads, not in degrees: 6 degrees of a spread of 10 are nearer than 2
    // of a spread of 1.
    group.of = {judged(high, 16.0, 0.0, 10.0, 10.0), judged(high, 12.0, 0.0, 10.0, 1.0)};
    group.evidence = all_of({group.of[0].evidence, group.of[1].evidence});
    changes = changes_of(group);
    ASSERT_EQ(changes.size(), 1u);
    EXPECT_EQ(changes[0].judged, &group.of[0]);

    // Not present: of all every one that is missing has to come.
    group.of = {judged(high, 5.0, 0.0, 10.0, 1.0), judged(low, 15.0, 0.0, 10.0, 1.0)};
    group.evidence = all_of({group.of[0].evidence, group.of[1].evidence});
    EXPECT_EQ(changes_of(group).size(), 2u);
}

TEST(Why, ByWeightOneAloneIsBroughtToWhatIsMissing) {
    const Condition high = leaf(Condition::Kind::Above, "separation.max_deg");
    Condition weighted;
    weighted.kind = Condition::Kind::Weighted;
    weighted.weights = {2.0, 1.0};
    Judged group;
    group.condition = &weighted;
    // Evidence 0.5 at the limit and 1: (2·0.5 + 1)/3 = 0.667, present.
    group.of = {judged(high, 10.0, 0.0, 10.0, 1.0), judged(high, 20.0, 0.0, 10.0, 1.0)};
    group.evidence = (2.0 * 0.5 + 1.0) / 3.0;
    const auto changes = changes_of(group);
    ASSERT_EQ(changes.size(), 1u);
    EXPECT_EQ(changes[0].judged, &group.of[0]);
    // It may keep (0.6·3 − 1)/2 = 0.4: z = −0.2533.
    EXPECT_NEAR(changes[0].to, 10.0 - kZ60, 1e-3);
}

TEST(Why, WhatIsNotKnownMayStandInTheWayAndNothingIsPromised) {
    const Condition high = leaf(Condition::Kind::Above, "separation.max_deg");
    Condition all;
    all.kind = Condition::Kind::All;
    Judged group;
    group.condition = &all;
    group.of = {judged(high, 5.0, 0.0, 10.0, 1.0), judged(high, kMissing, 0.0, 10.0, 1.0)};
    group.evidence = all_of({group.of[0].evidence, group.of[1].evidence});
    EXPECT_TRUE(changes_of(group).empty());
    EXPECT_TRUE(changes_of(judged(high, kMissing, 0.0, 10.0, 1.0)).empty());
}

Fault fault(const char* id, double evidence, std::vector<std::string> leads_to) {
    Fault out;
    out.id = out.title = id;
    out.evidence = evidence;
    out.leads_to = std::move(leads_to);
    return out;
}

TEST(Why, TheFirstFixIsListedFirstAndWhatDoesNotCountLast) {
    Reading reading;
    reading.faults = {fault("late", 0.9, {}), fault("root", 0.7, {"late", "middle"}),
                      fault("middle", 0.8, {"late"}), fault("none", 0.1, {}),
                      fault("odd", 1.0, {})};
    reading.faults[4].does_not_count = "The school has it so.";
    choose(reading);
    ASSERT_EQ(reading.first_fix, "root");
    std::vector<std::string> ids;
    for (const Fault* one : listed_faults(reading))
        ids.push_back(one->id);
    EXPECT_EQ(ids, (std::vector<std::string>{"root", "middle", "late", "odd"}));
    // 0.7 + 0.9 + 0.8 against 0.8 + 0.9.
    EXPECT_NE(first_of(reading).find("2.4"), std::string::npos) << first_of(reading);
    EXPECT_NE(first_of(reading).find("1.7"), std::string::npos) << first_of(reading);

    const Why why = explain(reading.faults[2], reading, Analysis{});
    ASSERT_EQ(why.explains.size(), 1u);
    EXPECT_EQ(why.explains[0]->id, "late");
    ASSERT_EQ(why.behind.size(), 1u);
    EXPECT_EQ(why.behind[0]->id, "root");
}

/// A curve of one value from 0 to 2 s at 100 Hz.
Analysis swing_with(double lead_ms) {
    Analysis out;
    out.transition.pelvis_lead_ms = lead_ms;
    return out;
}

TEST(Baseline, LiesBeyondNearlyAllGoodSwingsToTheFaultsSide) {
    RuleBook book;
    FaultRule late;
    late.id = "late";
    late.when = leaf(Condition::Kind::Below, "transition.pelvis_lead_ms");
    book.faults = {late};
    book.limits["limit"].value = 20.0;
    book.limits["limit"].width = 4.0;
    std::vector<Analysis> swings;
    // Mean 30, standard deviation √(40/4) = √10.
    for (const double lead_ms : {26.0, 28.0, 30.0, 32.0, 34.0})
        swings.push_back(swing_with(lead_ms));
    std::vector<const Analysis*> good;
    for (const Analysis& swing : swings)
        good.push_back(&swing);
    auto limits = baseline_limits(book, good);
    ASSERT_EQ(limits.size(), 1u);
    // Of five swings the limit lies much further out than the two standard deviations of many.
    const double out = (30.0 - limits["limit"].value) / std::sqrt(10.0);
    EXPECT_GT(out, 3.0);
    EXPECT_LT(out, 5.0);
    EXPECT_NEAR(limits["limit"].width, std::sqrt(10.0), 1e-12);
    // Too few; not measured in one of them; alike by chance.
    EXPECT_TRUE(baseline_limits(book, {good.begin(), good.end() - 1}).empty());
    swings[2].transition.pelvis_lead_ms = kMissing;
    EXPECT_TRUE(baseline_limits(book, good).empty());
    for (Analysis& swing : swings)
        swing.transition.pelvis_lead_ms = 30.0;
    EXPECT_NEAR(baseline_limits(book, good)["limit"].width, 0.8, 1e-12);
}

TEST(Goals, DecideAmongNearEqualsAloneAndSaySo) {
    Reading reading;
    reading.faults = {fault("slices", 0.95, {}), fault("weak", 0.8, {}), fault("far", 0.6, {})};
    choose(reading);
    EXPECT_EQ(reading.first_fix, "slices");
    EXPECT_FALSE(reading.goal_decided);
    reading.faults[1].serves_goal = true;
    choose(reading);
    EXPECT_EQ(reading.first_fix, "weak");
    EXPECT_TRUE(reading.goal_decided);
    EXPECT_NE(write_words({}, reading).fix_why.find("goal"), std::string::npos);
    // What explains much more stays first whatever is wanted.
    reading.faults[0].leads_to = {"far"};
    choose(reading);
    EXPECT_EQ(reading.first_fix, "slices");
    FaultRule rule;
    rule.often_with = {"weak"};
    EXPECT_TRUE(serves(rule, Goal::Speed));
    EXPECT_FALSE(serves(rule, Goal::Straight));
    EXPECT_FALSE(serves(rule, Goal::NotSaid));
}

TEST(BallFlight, IsMirroredForLeftHandersAndComparedWithTheFault) {
    Analysis analysis;
    Fault outside = fault("outside", 1.0, {});
    outside.often_with = {"slice", "pull", "weak"};
    EXPECT_EQ(ball_agreement(analysis, outside, {}), "");
    LaunchNumbers ball;
    ball.curve_m = 15.0; // to the right: a right-hander's slice
    ball.start_direction_deg = 0.0;
    analysis.launch = ball;
    EXPECT_EQ(recorded_flights(analysis), (std::vector<std::string>{"slice"}));
    EXPECT_NE(ball_agreement(analysis, outside, {}).find("fits"), std::string::npos);
    analysis.handed = Handedness::Left;
    EXPECT_EQ(recorded_flights(analysis), (std::vector<std::string>{"hook"}));
    EXPECT_NE(ball_agreement(analysis, outside, {}).find("another way"), std::string::npos);
    // A bend of two metres in a hundred is straight.
    analysis.launch->curve_m = 2.0;
    EXPECT_NE(ball_agreement(analysis, outside, {}).find("straight"), std::string::npos);
    Fault bunched = fault("bunched", 1.0, {});
    bunched.often_with = {"weak"};
    EXPECT_EQ(ball_agreement(analysis, bunched, {}), "") << "says nothing of directions";
}

} // namespace
} // namespace kite
