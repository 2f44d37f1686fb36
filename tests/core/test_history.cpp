// Measures over lessons, and what goes together.

#include "core/sets/history.h"
#include "core/sets/relation.h"
#include "formats/practice/drills_json.h"
#include "formats/rules/rules_json.h"

#include <gtest/gtest.h>

#include <cmath>

namespace kite {
namespace {

const std::vector<double> kX{10, 8, 13, 9, 11, 14, 6, 4, 12, 7, 5};
const std::vector<double> kY{8.04, 6.95, 7.58, 8.81, 8.33, 9.96, 7.24, 4.26, 10.84, 4.82, 5.68};

TEST(Relation, AgreesWithAPublishedExample) {
    // Anscombe's first set (American Statistician 27, 1973: slope 0.500 with standard error 0.118);
    // r, its interval and p as R's cor.test gives them for its own copy of the data. From memory.
    const Relation it = relate(kX, kY, std::vector<int>(kX.size(), 0));
    EXPECT_EQ(it.count, 11U);
    EXPECT_NEAR(it.slope, 0.5001, 1e-4);
    EXPECT_NEAR(it.r, 0.81642, 1e-5);
    EXPECT_NEAR(it.r_low, 0.4243912, 1e-6);
    EXPECT_NEAR(it.r_high, 0.9506933, 1e-6);
    EXPECT_NEAR(it.p, 0.00217, 1e-5);
    // 2.262 is the 97.5 % quantile of Student's t for 9 degrees of freedom (any table).
    EXPECT_NEAR(it.slope_high - it.slope, 2.262 * 0.1179, 1e-3);
}

TEST(Relation, DaysThatDifferInBothMakeNone) {
    // Within each day the more x the less y; over the days both rise.
    const std::vector<double> x{1, 2, 3, 11, 12, 13};
    const std::vector<double> y{5, 4, 3, 25, 24, 23};
    EXPECT_GT(relate(x, y, {0, 0, 0, 0, 0, 0}).r, 0.9);
    const Relation within = relate(x, y, {0, 0, 0, 1, 1, 1});
    EXPECT_NEAR(within.r, -1.0, 1e-12);
    EXPECT_NEAR(within.slope, -1.0, 1e-12);
    EXPECT_EQ(within.freedom, 3.0);
}

TEST(Relation, LeavesOutWhatIsMissingOrAlone) {
    std::vector<double> x = kX;
    x[3] = kMissing;
    EXPECT_EQ(relate(x, kY, std::vector<int>(kX.size(), 0)).count, 10U);
    std::vector<int> group(kX.size(), 0);
    group[0] = 7; // the only one of its day
    EXPECT_EQ(relate(kX, kY, group).count, 10U);
    EXPECT_FALSE(std::isfinite(relate({1, 2}, {1, 2}, {0, 0}).r));
    EXPECT_FALSE(std::isfinite(relate({1, 1, 1, 1}, {1, 2, 3, 4}, {0, 0, 0, 0}).r));
}

TEST(JoinByTime, FindsTheClocksSettingAndWhatHasNoPartner) {
    const std::vector<double> swings{100, 131, 175, 201, 266};
    // The monitor is 47 s ahead, missed the third swing and saw a practice ball at the end.
    const std::vector<double> shots{148, 178.5, 247.5, 313, 400};
    const Joined joined = join_by_time(shots, swings);
    const std::vector<std::optional<std::size_t>> wanted{0, 1, 3, 4, std::nullopt};
    EXPECT_EQ(joined.swing_of_shot, wanted);
    EXPECT_NEAR(joined.ahead_s, 47.0, 1.6);
    EXPECT_FALSE(joined.is_ambiguous);
}

// Two balls told within the tolerance of one swing: one of them is another's, or nobody's.
TEST(JoinByTime, ASwingHasOneShot) {
    const Joined joined = join_by_time({100.0, 103.0, 160.0}, {100.0, 160.0}, 8.0);
    const std::vector<std::optional<std::size_t>> wanted{0, std::nullopt, 1};
    EXPECT_EQ(joined.swing_of_shot, wanted);
    // And a shot goes to the nearer of two swings.
    const Joined nearer = join_by_time({105.0, 200.0}, {100.0, 106.0, 200.0}, 8.0);
    EXPECT_EQ(nearer.swing_of_shot, (std::vector<std::optional<std::size_t>>{1, 2}));
}

TEST(JoinByTime, SaysWhereTheClocksCouldBeSetOtherwise) {
    // A ball every half minute, one shot fewer than swings: either end may be the one that lacks.
    EXPECT_TRUE(join_by_time({0, 30, 60}, {1000, 1030, 1060, 1090}).is_ambiguous);
    EXPECT_TRUE(join_by_time({}, {1.0}).swing_of_shot.empty());
}

KeptMeasures swing(const char* lesson, const char* day, double tempo, bool good = false) {
    KeptMeasures out;
    out.lesson = lesson;
    out.day = *find_date(day);
    out.is_good = good;
    if (std::isfinite(tempo))
        out.values["tempo.ratio"] = {tempo, 0.05};
    return out;
}

TEST(History, GoesByLessonAndDay) {
    const std::vector<KeptMeasures> swings{
        swing("b", "2026-10-02", 3.0), swing("a", "2026-09-01", 2.0),
        swing("a", "2026-09-01", 2.4), swing("", "2026-09-20", 2.2),
        swing("", "2026-09-21", 2.3),  swing("b", "2026-10-02", 3.4),
        swing("b", "2026-10-02", 3.2), swing("b", "2026-10-02", kMissing)};
    const auto all = histories(swings, {find_measure("tempo.ratio")});
    ASSERT_EQ(all.size(), 1U);
    ASSERT_EQ(all[0].lessons.size(), 4U);
    EXPECT_EQ(all[0].lessons[0].lesson, "a");
    EXPECT_EQ(all[0].lessons[3].lesson, "b");
    EXPECT_EQ(all[0].lessons[3].summary.count, 3U);
    EXPECT_NEAR(all[0].lessons[3].summary.mean, 3.2, 1e-12);
    // t for two degrees of freedom is 4.303 (any table); SD 0.2.
    EXPECT_NEAR(all[0].lessons[3].high - 3.2, 4.303 * 0.2 / std::sqrt(3.0), 1e-3);
    EXPECT_FALSE(std::isfinite(all[0].lessons[1].low)) << "one swing has no scatter";
    EXPECT_FALSE(all[0].from_good);
    EXPECT_NEAR(all[0].baseline.mean, 2.2, 1e-12);
    EXPECT_NEAR(all[0].since_baseline.difference, 1.0, 1e-12);
}

TEST(History, FiveGoodSwingsMakeTheBaseline) {
    std::vector<KeptMeasures> swings;
    for (const double tempo : {2.9, 3.0, 3.1, 3.0})
        swings.push_back(swing("a", "2026-09-01", tempo, true));
    swings.push_back(swing("b", "2026-10-01", 2.0));
    EXPECT_FALSE(histories(swings, {find_measure("tempo.ratio")})[0].from_good);
    swings.push_back(swing("b", "2026-10-01", 3.5, true));
    const auto history = histories(swings, {find_measure("tempo.ratio")})[0];
    EXPECT_TRUE(history.from_good);
    EXPECT_NEAR(history.baseline.mean, 3.1, 1e-12);
}

TEST(History, ABestThatCannotBeToldApartSaysSo) {
    std::vector<KeptMeasures> swings;
    for (const double speed : {40.0, 43.0, 42.9, kMissing, 41.0}) {
        swings.push_back(swing("a", "2026-09-01", kMissing));
        swings.back().values["speed.club_head_m_s"] = {speed, 0.2};
    }
    const auto best = bests(swings);
    ASSERT_EQ(best.size(), 1U);
    EXPECT_EQ(best[0].measured.value, 43.0);
    // The largest of many is so by its error too (worked by hand): mean 41.725, variance 2.1692, of
    // which 0.04 are the measurement's: 43 is drawn to the mean by 1.84 % of 1.275.
    EXPECT_NEAR(best[0].value.value, 42.977, 1e-3);
    EXPECT_EQ(best[0].shared, 2) << "42.9 lies within 1.96 times 0.28";
}

TEST(History, AValueOfUnknownUncertaintyIsNoBest) {
    std::vector<KeptMeasures> swings;
    for (const double u : {0.2, kMissing}) {
        swings.push_back(swing("a", "2026-09-01", kMissing));
        swings.back().values["speed.club_head_m_s"] = {std::isfinite(u) ? 40.0 : 50.0, u};
    }
    const auto best = bests(swings);
    ASSERT_EQ(best.size(), 1U);
    EXPECT_EQ(best[0].measured.value, 40.0);
    EXPECT_EQ(best[0].shared, 1);
}

TEST(History, ClubsAreNotMixed) {
    std::vector<KeptMeasures> swings{swing("a", "2026-09-01", 3.0), swing("a", "2026-09-01", 2.0)};
    swings[1].club = ClubKind::Driver;
    const auto irons = of_club(swings, ClubKind::Iron);
    ASSERT_EQ(irons.size(), 1U);
    EXPECT_EQ(irons[0].values.at("tempo.ratio").value, 3.0);
}

// What differs from session to session counts in a change since the first.
TEST(History, SessionsThatLieApartMakeTheChangeLessSure) {
    std::vector<KeptMeasures> steady;
    std::vector<KeptMeasures> apart;
    int day = 1;
    for (const double mean : {3.0, 3.0, 3.0, 3.4}) {
        const std::string name = "lesson " + std::to_string(day);
        const std::string when = "2026-09-0" + std::to_string(day++);
        for (const double off : {-0.05, 0.0, 0.05, 0.02}) {
            steady.push_back(swing(name.c_str(), when.c_str(), mean + off));
            apart.push_back(swing(name.c_str(), when.c_str(), mean + off + (day % 2) * 0.6));
        }
    }
    const auto* measure = find_measure("tempo.ratio");
    const MeasureHistory one = histories(steady, {measure})[0];
    const MeasureHistory other = histories(apart, {measure})[0];
    EXPECT_GT(other.since_baseline.error, 1.5 * one.since_baseline.error);
    EXPECT_EQ(one.baseline_lessons, 1);
    EXPECT_FALSE(one.from_good);
    EXPECT_GT(session_scatter(apart).at("tempo.ratio").sd, 0.25);
    // Learning in even steps is no scatter between sessions (by hand: every step 0.5).
    std::vector<KeptMeasures> learning;
    for (int lesson = 0; lesson < 4; ++lesson)
        for (const double off : {-0.05, 0.0, 0.05})
            learning.push_back(swing(("l" + std::to_string(lesson)).c_str(),
                                     ("2026-09-0" + std::to_string(lesson + 1)).c_str(),
                                     2.0 + 0.5 * lesson + off));
    EXPECT_NEAR(session_scatter(learning).at("tempo.ratio").sd, 0.0, 1e-9);
    EXPECT_GT(histories(learning, {measure})[0].since_baseline.low, 0.5);
}

TEST(History, FeelAgainstFact) {
    std::vector<KeptMeasures> swings;
    for (const double error : {10.0, 12.0, kMissing}) {
        swings.push_back(swing("a", "2026-09-01", kMissing));
        swings.back().guess_error_deg = error;
    }
    const auto points = guess_history(swings);
    ASSERT_EQ(points.size(), 1U);
    EXPECT_EQ(points[0].summary.count, 2U);
    EXPECT_NEAR(points[0].summary.mean, 11.0, 1e-12);
}

TEST(History, WhatMattersBeginsWithTheDrillAndGoesOnWithTheFault) {
    const DrillBook& drills = formats::shipped_drills();
    const RuleBook& rules = formats::shipped_rule_book();
    const auto of_fault = measures_that_matter({"upper-body-first"}, {}, drills, rules, 4);
    ASSERT_EQ(of_fault.size(), 4U);
    EXPECT_EQ(std::string(of_fault[0]->key).rfind("transition.", 0), 0U) << of_fault[0]->key;
    // The drill's own measure first.
    const auto drill =
        std::find_if(drills.drills.begin(), drills.drills.end(),
                     [](const Drill& one) { return one.measure.kind == Term::Kind::Measure; });
    ASSERT_NE(drill, drills.drills.end());
    Plan plan;
    plan.main_drill = drill->id;
    EXPECT_EQ(measures_that_matter({"upper-body-first"}, {plan}, drills, rules, 4)[0]->key,
              drill->measure.key);
    // Of a golfer without either what is usually looked at.
    EXPECT_EQ(measures_that_matter({}, {}, drills, rules, 5).size(), 5U);
}

} // namespace
} // namespace kite
