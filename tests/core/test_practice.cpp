// Drills are found, plans made of them, rungs gone up and down by rule.

#include "core/practice/eye.h"
#include "core/practice/plan.h"

#include <gtest/gtest.h>

#include <boost/date_time/gregorian/gregorian_types.hpp>

namespace kite {
namespace {

using boost::gregorian::days;

Drill drill(const char* id, std::vector<std::string> faults) {
    Drill out;
    out.id = out.title = id;
    out.faults = std::move(faults);
    out.places = {PracticePlace::Indoors, PracticePlace::Range};
    out.measure.kind = Term::Kind::Measure;
    out.measure.key = "transition.pelvis_lead_ms";
    out.rehearsal = {60.0, kMissing};
    out.swing = {20.0, kMissing};
    return out;
}

DrillBook book() {
    DrillBook out;
    out.drills = {drill("Other", {"b", "a"}), drill("Made for a", {"a"}), drill("Third", {"c"})};
    out.drills[0].needs = {"a chair"};
    out.drills[0].cautions = {"back"};
    out.drills[1].not_for = {"low-back"};
    out.drills[2].places = {PracticePlace::Range};
    out.cautions = {{"always", "Pain: stop."}, {"back", "Warm up."}, {"coach", "Ask."}};
    out.limits = {{"low-back", "low back"}};
    return out;
}

Reading reading_with(const char* fault) {
    Reading out;
    Fault one;
    one.id = one.title = fault;
    one.evidence = 1.0;
    out.faults = {one};
    choose(out);
    return out;
}

PlanWish wish() {
    PlanWish out;
    out.first_day = *find_date("2026-11-30"); // a Monday: cal(1)
    out.practises.fill(true);
    return out;
}

std::vector<std::string> ids_of(const std::vector<const Drill*>& drills) {
    std::vector<std::string> out;
    for (const Drill* one : drills)
        out.push_back(one->id);
    return out;
}

TEST(Drills, AreFoundByFaultPlaceMeansCautionAndWords) {
    const DrillBook drills = book();
    using Ids = std::vector<std::string>;
    DrillWish asked;
    asked.fault = "a";
    EXPECT_EQ(ids_of(find_drills(drills, asked)), (Ids{"Made for a", "Other"}));
    asked.limits = {"low-back"};
    EXPECT_EQ(ids_of(find_drills(drills, asked)), (Ids{"Other"}));
    DrillWish place;
    place.place = PracticePlace::Indoors;
    EXPECT_EQ(ids_of(find_drills(drills, place)), (Ids{"Other", "Made for a"}));
    DrillWish needs;
    needs.needs = "nothing";
    EXPECT_EQ(ids_of(find_drills(drills, needs)), (Ids{"Made for a", "Third"}));
    needs.needs = "Chair";
    EXPECT_EQ(ids_of(find_drills(drills, needs)), (Ids{"Other"}));
    DrillWish caution;
    caution.caution = "back";
    EXPECT_EQ(ids_of(find_drills(drills, caution)), (Ids{"Other"}));
    DrillWish words;
    words.words = "MADE for";
    EXPECT_EQ(ids_of(find_drills(drills, words)), (Ids{"Made for a"}));
}

TEST(Drills, CautionsThatAlwaysHoldAreThereWhateverTheDrillSays) {
    const DrillBook drills = book();
    EXPECT_EQ(cautions_of(drills, drills.drills[0]),
              (std::vector<std::string>{"Pain: stop.", "Warm up.", "Ask."}));
    EXPECT_EQ(cautions_of(drills, drills.drills[2]).size(), 2u);
}

TEST(Dates, AreWhatTheCalendarHas) {
    // 2024 and 2000 are leap years, 2100 is not (Gregorian rule).
    EXPECT_TRUE(find_date("2024-02-29"));
    EXPECT_TRUE(find_date("2000-02-29"));
    EXPECT_FALSE(find_date("2100-02-29"));
    for (const char* bad : {"", "2026-13-01", "2026-00-10", "2026-04-31", "26-04-01", "2026-4-1",
                            "2026-04-1x", "x026-04-01", "2026-04-011"})
        EXPECT_FALSE(find_date(bad)) << bad;
    EXPECT_EQ(text_of(*find_date("2026-11-30")), "2026-11-30");
}

TEST(Plans, HaveOneDrillAndAtMostOneHelper) {
    const DrillBook drills = book();
    auto plan = make_plan(reading_with("a"), drills, {}, wish());
    ASSERT_TRUE(plan.ok());
    EXPECT_EQ(plan.value.main_drill, "Made for a");
    EXPECT_EQ(plan.value.helper, "Other");
    // As the school prefers it.
    EXPECT_EQ(make_plan(reading_with("a"), drills, {"Other"}, wish()).value.main_drill, "Other");
    // Little time: one alone.
    PlanWish little = wish();
    little.minutes = 10;
    EXPECT_EQ(make_plan(reading_with("a"), drills, {}, little).value.helper, "");
    // Nothing to mend, nothing left.
    EXPECT_FALSE(make_plan(Reading{}, drills, {}, wish()).ok());
    PlanWish spared = wish();
    EXPECT_FALSE(make_plan(reading_with("c"), drills, {}, spared).ok()) << "not indoors";
    spared.place = PracticePlace::Range;
    EXPECT_TRUE(make_plan(reading_with("c"), drills, {}, spared).ok());
}

TEST(Plans, SayWhyThereIsNone) {
    const auto nothing = make_plan(Reading{}, book(), {}, wish());
    ASSERT_EQ(nothing.findings.size(), 1u);
    EXPECT_EQ(nothing.findings[0].code, "nothing-to-mend");
    const auto elsewhere = make_plan(reading_with("c"), book(), {}, wish());
    ASSERT_EQ(elsewhere.findings.size(), 1u);
    EXPECT_EQ(elsewhere.findings[0].code, "no-drill");
    EXPECT_NE(elsewhere.findings[0].what.find("\"c\""), std::string::npos);
    EXPECT_FALSE(elsewhere.findings[0].mend.empty());
    // A golfer who may do none of the drills for it is told so too, not given a wrong one.
    PlanWish spared = wish();
    spared.limits = {"low-back"};
    DrillBook one = book();
    one.drills = {one.drills[1]};
    EXPECT_EQ(make_plan(reading_with("a"), one, {}, spared).findings.at(0).code, "no-drill");
}

TEST(Plans, FitTheDaysAndTheMinutes) {
    const DrillBook drills = book();
    PlanWish asked = wish();
    asked.practises = {true, false, true, false, true, false, false};
    asked.next_lesson = *find_date("2026-12-10");
    for (int minutes : {5, 10, 20, 60}) {
        asked.minutes = minutes;
        const Plan plan = make_plan(reading_with("a"), drills, {}, asked).value;
        ASSERT_EQ(plan.days.size(), 11u);
        std::string kinds;
        for (const PlanDay& day : plan.days) {
            kinds += key_of(day.kind)[0];
            double sum_s = 0.0;
            for (const PlanItem& item : day.items)
                sum_s += duration_s(item);
            EXPECT_LE(sum_s, 60.0 * minutes) << minutes;
            EXPECT_EQ(day.items.empty(),
                      day.kind == PlanDayKind::Rest || day.kind == PlanDayKind::Lesson);
        }
        // Monday, Wednesday, Friday; the last one measures; the lesson on Thursday week.
        EXPECT_EQ(kinds, "prprprrprml");
    }
}

TEST(Plans, TheUsualSessionIsWholeWhereThereIsTime) {
    DrillBook drills = book();
    PlanWish asked = wish();
    asked.place = PracticePlace::Range;
    asked.minutes = 40;
    const Plan plan = make_plan(reading_with("a"), drills, {}, asked).value;
    const auto& items = plan.days[0].items;
    // Three sets of twelve slow, two of eight fluid, ten balls (common practice, no source).
    ASSERT_GE(items.size(), 3u);
    EXPECT_EQ(items[0].sets * 100 + items[0].repetitions, 312);
    EXPECT_EQ(items[1].sets * 100 + items[1].repetitions, 208);
    EXPECT_EQ(items[2].tempo, PlanTempo::Ball);
    EXPECT_EQ(items[2].repetitions, 10);
}

TEST(Plans, NobodyPractisesMoreThanSixDaysInARow) {
    const Plan plan = make_plan(reading_with("a"), book(), {}, wish()).value;
    EXPECT_EQ(plan.days[6].kind, PlanDayKind::Rest);
    EXPECT_EQ(plan.days[5].kind, PlanDayKind::Practice);
}

TEST(Plans, WhatWasDoneStaysWhenTheDaysChange) {
    const DrillBook drills = book();
    Plan plan = make_plan(reading_with("a"), drills, {}, wish()).value;
    plan.days[0].done = true;
    plan.days[2].note = "knee was stiff";
    plan.wish.practises.fill(false);
    plan.wish.first_day = *find_date("2026-12-02");
    plan_days(plan, drills);
    ASSERT_EQ(text_of(plan.days[0].date), "2026-11-30");
    EXPECT_TRUE(plan.days[0].done);
    EXPECT_EQ(plan.days[1].note, "knee was stiff");
    EXPECT_EQ(plan.days[2].kind, PlanDayKind::Rest);
}

struct Rungs : testing::Test {
    DrillBook drills = book();
    const Drill& one = drills.drills[1];
    Plan plan = make_plan(reading_with("a"), drills, {}, wish()).value;
    Date day = plan.wish.first_day;

    void count(int passed, int of) {
        plan.counts.push_back({day, one.id, rung_on(plan, one, day).rung, of, passed, false, 0.0});
    }
    int rung() const { return rung_on(plan, one, day).rung; }
};

TEST_F(Rungs, GoUpWithEightOfTenAndDownBelowHalf) {
    EXPECT_EQ(rung(), 1);
    count(8, 10);
    EXPECT_EQ(rung(), 2);
    count(7, 10);
    EXPECT_EQ(rung(), 2) << "not enough, but more than half";
    count(9, 9);
    EXPECT_EQ(rung(), 2) << "too few swings were counted";
    count(16, 20);
    EXPECT_EQ(rung(), 3);
    count(4, 10);
    EXPECT_EQ(rung(), 2);
}

TEST_F(Rungs, TheNextSessionStartsOneLower) {
    count(10, 10);
    count(10, 10);
    EXPECT_EQ(rung(), 3);
    EXPECT_EQ(rung_before(plan, one, day).rung, 1) << "when the day began";
    day += days(2);
    EXPECT_EQ(rung(), 2);
    day = plan.wish.first_day;
    EXPECT_EQ(rung(), 3) << "later counts do not change what was";
}

TEST_F(Rungs, ADrillIsLearnedWhenItsLastRungWasPassedInTwoSessions) {
    for (int i = 0; i < 6; ++i)
        count(10, 10);
    EXPECT_EQ(rung(), 6);
    EXPECT_FALSE(rung_on(plan, one, day).learned);
    count(10, 10);
    EXPECT_FALSE(rung_on(plan, one, day).learned) << "once more in the same session";
    day += days(1);
    count(10, 10);
    count(10, 10);
    EXPECT_TRUE(rung_on(plan, one, day).learned);
}

TEST_F(Rungs, SwingsAreCountedAgainstTheBandAndUnmeasuredOnesAreNot) {
    Analysis analysis;
    EXPECT_FALSE(check_swing(one, analysis, false).passed);
    analysis.transition.pelvis_lead_ms = 30.0;
    EXPECT_TRUE(*check_swing(one, analysis, false).passed);
    EXPECT_FALSE(*check_swing(one, analysis, true).passed) << "a rehearsal asks for more";
    analysis.transition.pelvis_lead_ms = 19.0;
    PlanCheck missed = check_swing(one, analysis, false);
    EXPECT_FALSE(*missed.passed);
    EXPECT_EQ(count_swings(plan, one, {missed, missed}, day).swings, 0) << "no club on rung 1";
    missed.rehearsal = true;
    const PlanCount counted = count_swings(plan, one, {missed, {}, missed}, day);
    EXPECT_EQ(counted.swings, 2);
    EXPECT_EQ(counted.passed, 0);
    EXPECT_NEAR(counted.mean, 19.0, 1e-12);
}

TEST(Plans, SayEverythingAndAlwaysTheCautions) {
    const DrillBook drills = book();
    const Plan plan = make_plan(reading_with("a"), drills, {}, wish()).value;
    std::string all;
    for (const std::string& line : lines_of(plan, drills, plan.wish.first_day))
        all += line + "\n";
    for (const char* wanted : {"Made for a", "20 ms or more", "60 ms or more", "Pain: stop.",
                               "Ask.", "Now on rung 1, no club", "2026-11-30", "Then measure: 10"})
        EXPECT_NE(all.find(wanted), std::string::npos) << wanted << "\n" << all;
}

} // namespace
} // namespace kite

// ---- the eye

namespace kite {
namespace {

EyeGuess eye_guess(const char* day, EyeAngle angle, EyeView view, double truth, double said) {
    EyeGuess out;
    out.day = *find_date(day);
    out.angle = angle;
    out.view = view;
    out.truth_deg = truth;
    out.said_deg = said;
    return out;
}

} // namespace

TEST(Eye, BiasAndScatterByHand) {
    // Off by 2, 4 and 9: mean 5, SD sqrt(13) (worked by hand); u = SD / sqrt(3).
    const std::vector<EyeGuess> guesses{
        eye_guess("2026-11-23", EyeAngle::PelvisTurn, EyeView::FaceOn, 40.0, 42.0),
        eye_guess("2026-11-24", EyeAngle::PelvisTurn, EyeView::FaceOn, -10.0, -6.0),
        eye_guess("2026-11-29", EyeAngle::PelvisTurn, EyeView::FaceOn, 0.0, 9.0),
        eye_guess("2026-11-30", EyeAngle::PelvisTurn, EyeView::DownTheLine, 0.0, 20.0),
        eye_guess("2026-11-30", EyeAngle::Separation, EyeView::FaceOn, 0.0, 30.0)};
    const EyeScore one = score(guesses, EyeAngle::PelvisTurn, EyeView::FaceOn);
    EXPECT_EQ(one.count, 3U);
    EXPECT_NEAR(one.bias_deg, 5.0, 1e-12);
    EXPECT_NEAR(one.scatter_deg, std::sqrt(13.0), 1e-12);
    EXPECT_NEAR(one.bias_u_deg, std::sqrt(13.0 / 3.0), 1e-12);
    // A single estimate tells no scatter.
    const EyeScore single = score(guesses, EyeAngle::Separation, EyeView::FaceOn);
    EXPECT_EQ(single.count, 1U);
    EXPECT_FALSE(std::isfinite(single.bias_u_deg));
    EXPECT_EQ(score(guesses, EyeAngle::TorsoTurn, EyeView::FaceOn).count, 0U);
    // Monday 23 November 2026 to Sunday the 29th is one week, Monday the 30th the next (a
    // calendar).
    const auto weeks = by_week(guesses, EyeAngle::PelvisTurn);
    ASSERT_EQ(weeks.size(), 2U);
    EXPECT_EQ(text_of(weeks[0].monday), "2026-11-23");
    EXPECT_EQ(weeks[0].score.count, 3U);
    EXPECT_EQ(text_of(weeks[1].monday), "2026-11-30");
}

} // namespace kite
