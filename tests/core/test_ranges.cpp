// Where charts show what the rules want: from rules made here, on the simulator's swing.

#include "core/measures/analyse.h"
#include "core/reading/ranges.h"
#include "simulate/simulate.h"

#include <gtest/gtest.h>

#include <cmath>

namespace kite {
namespace {

const Analysis& swing() {
    static const Analysis one = analyse(simulate::make_take({}), {}).value;
    return one;
}

Condition leaf(Condition::Kind kind, const std::string& measure, const std::string& limit) {
    Condition out;
    out.kind = kind;
    out.term.key = measure;
    out.limit = limit;
    return out;
}

Condition at(Condition::Kind kind, const std::string& quantity, Moment moment,
             const std::string& limit) {
    Condition out = leaf(kind, quantity, limit);
    out.term.kind = Term::Kind::At;
    out.term.from.moment = moment;
    return out;
}

/// A book with one fault for every condition.
Rules rules_of(const std::vector<Condition>& conditions,
               const std::map<std::string, double>& limits) {
    Rules out;
    for (std::size_t i = 0; i < conditions.size(); ++i) {
        FaultRule fault;
        fault.id = "fault-" + std::to_string(i);
        fault.when = conditions[i];
        out.book.faults.push_back(fault);
    }
    for (const auto& [name, value] : limits)
        out.book.limits[name] = {value, 1.0, "made up", {}, {}};
    return out;
}

constexpr auto kAbove = Condition::Kind::Above;
constexpr auto kBelow = Condition::Kind::Below;

TEST(WantedRanges, AFaultAboveItsLimitWantsTheCurveBelowIt) {
    const Rules rules = rules_of({at(kAbove, "pelvis_turn", Moment::Top, "most"),
                                  at(kBelow, "pelvis_turn", Moment::Top, "least"),
                                  at(kBelow, "pelvis_turn", Moment::Impact, "opened")},
                                 {{"most", -20.0}, {"least", -60.0}, {"opened", 25.0}});
    const auto ranges = wanted_ranges(rules, swing(), "pelvis_turn");
    ASSERT_EQ(ranges.size(), 2U) << "one for each time";
    EXPECT_NEAR(ranges[0].t_s, swing().moments.time_s(Moment::Top), 1e-12);
    EXPECT_EQ(ranges[0].high, -20.0);
    EXPECT_EQ(ranges[0].low, -60.0);
    EXPECT_NEAR(ranges[1].t_s, swing().moments.time_s(Moment::Impact), 1e-12);
    EXPECT_EQ(ranges[1].low, 25.0);
    EXPECT_TRUE(std::isinf(ranges[1].high));
    EXPECT_TRUE(wanted_ranges(rules, swing(), "torso_turn").empty());
    EXPECT_TRUE(wanted_ranges(rules, swing(), "no_such_quantity").empty());
}

TEST(WantedRanges, OfSeveralTheTightestLimitsCount) {
    const Rules rules =
        rules_of({at(kAbove, "pelvis_turn", Moment::Top, "loose"),
                  at(kAbove, "pelvis_turn", Moment::Top, "tight"),
                  at(kBelow, "pelvis_turn", Moment::Top, "low"),
                  at(kBelow, "pelvis_turn", Moment::Top, "lower")},
                 {{"loose", 5.0}, {"tight", -10.0}, {"low", -40.0}, {"lower", -70.0}});
    const auto ranges = wanted_ranges(rules, swing(), "pelvis_turn");
    ASSERT_EQ(ranges.size(), 1U);
    EXPECT_EQ(ranges[0].high, -10.0);
    EXPECT_EQ(ranges[0].low, -40.0);
}

// Files tell centimetres, curves are metres.
TEST(WantedRanges, AreInTheCurvesOwnUnit) {
    const Rules rules =
        rules_of({at(kAbove, "pelvis_sway", Moment::Impact, "sway")}, {{"sway", 12.0}});
    const auto ranges = wanted_ranges(rules, swing(), "pelvis_sway");
    ASSERT_EQ(ranges.size(), 1U);
    EXPECT_NEAR(ranges[0].high, 0.12, 1e-12);
}

TEST(WantedRanges, TheGreatestSeparationIsWantedWhereItIs) {
    const Rules rules = rules_of({leaf(kBelow, "separation.max_deg", "stretch"),
                                  leaf(kAbove, "separation.at_impact_deg", "closing"),
                                  leaf(kAbove, "tempo.ratio", "slow")},
                                 {{"stretch", 30.0}, {"closing", 20.0}, {"slow", 4.0}});
    const auto ranges = wanted_ranges(rules, swing(), "separation");
    ASSERT_EQ(ranges.size(), 2U) << "the tempo is no place on this curve";
    EXPECT_NEAR(ranges[0].t_s, swing().separation->max_t_s, 1e-12);
    EXPECT_EQ(ranges[0].low, 30.0);
    EXPECT_NEAR(ranges[1].t_s, swing().moments.time_s(Moment::Impact), 1e-12);
    EXPECT_EQ(ranges[1].high, 20.0);
    EXPECT_TRUE(wanted_ranges(rules, swing(), "pelvis_turn").empty());
}

TEST(WantedRanges, WhatDoesNotCountHereWantsNothing) {
    const Condition condition = at(kAbove, "pelvis_turn", Moment::Top, "most");
    Rules rules = rules_of({condition}, {{"most", -20.0}});
    const auto count = [&] { return wanted_ranges(rules, swing(), "pelvis_turn").size(); };
    ASSERT_EQ(count(), 1U);
    rules.school.no_fault["fault-0"] = "we teach it";
    EXPECT_EQ(count(), 0U);
    rules.school.no_fault.clear();
    rules.school.not_judged["fault-0"] = "nobody knows";
    EXPECT_EQ(count(), 0U);
    rules.school.not_judged.clear();
    rules.school.weights["fault-0"] = 0.0;
    EXPECT_EQ(count(), 0U);
    rules.school.weights.clear();
    // Of another club.
    rules.book.faults[0].when.not_with = {swing().club};
    EXPECT_EQ(count(), 0U);
    rules.book.faults[0].when.not_with.clear();
    rules.book.faults[0].when.only_with = {ClubKind::Driver};
    EXPECT_EQ(count(), 0U) << "an iron";
    rules.book.faults[0].when.only_with = {swing().club};
    EXPECT_EQ(count(), 1U);
    // A limit that no book knows, and a moment that was not found.
    rules.book.faults[0].when.limit = "unheard-of";
    EXPECT_EQ(count(), 0U);
    rules.book.faults[0].when = condition;
    Analysis without = swing();
    without.moments[Moment::Top].reset();
    EXPECT_TRUE(wanted_ranges(rules, without, "pelvis_turn").empty());
}

TEST(WantedRanges, ConditionsWithinConditionsCountToo) {
    Condition both;
    both.kind = Condition::Kind::All;
    both.of = {at(kAbove, "pelvis_turn", Moment::Top, "most"),
               at(kBelow, "torso_turn", Moment::Top, "least")};
    const Rules rules = rules_of({both}, {{"most", -20.0}, {"least", -95.0}});
    EXPECT_EQ(wanted_ranges(rules, swing(), "pelvis_turn").size(), 1U);
    EXPECT_EQ(wanted_ranges(rules, swing(), "torso_turn").at(0).low, -95.0);
}

TEST(WantedTimes, ThePelvisTurnsBackBeforeTheClubAndTheClubIsFastestAtTheBall) {
    const Rules rules = rules_of({leaf(kBelow, "transition.pelvis_lead_ms", "lead"),
                                  leaf(kBelow, "sequence.fastest_at_ball_ms", "early"),
                                  leaf(kAbove, "sequence.fastest_at_ball_ms", "late")},
                                 {{"lead", 20.0}, {"early", -12.0}, {"late", 6.0}});
    const auto times = wanted_times(rules, swing());
    ASSERT_EQ(times.size(), 2U);
    const double back_s = swing().sequence.find(Segment::Club)->reversal_t_s;
    const double impact_s = swing().moments.time_s(Moment::Impact);
    EXPECT_EQ(times[0].part, Segment::Pelvis);
    EXPECT_NEAR(times[0].to_s, back_s - 0.020, 1e-12);
    EXPECT_TRUE(std::isinf(times[0].from_s));
    EXPECT_EQ(times[1].part, Segment::Club);
    EXPECT_NEAR(times[1].from_s, impact_s - 0.012, 1e-12);
    EXPECT_NEAR(times[1].to_s, impact_s + 0.006, 1e-12);
    EXPECT_TRUE(wanted_times(rules_of({}, {}), swing()).empty());
    // Where neither reversal nor impact is known there is no place to show.
    Analysis without = swing();
    without.moments[Moment::Impact].reset();
    without.sequence.parts[index_of(Segment::Club)].reset();
    EXPECT_TRUE(wanted_times(rules, without).empty());
}

} // namespace
} // namespace kite
