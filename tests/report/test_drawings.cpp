// What drawings show: read back from their lines and words, in millimetres.

#include "core/measures/analyse.h"
#include "formats/practice/drills_json.h"
#include "formats/rules/rules_json.h"
#include "report/pictures/drawings.h"
#include "report/pictures/history_drawing.h"
#include "report/pictures/sets_drawing.h"
#include "simulate/simulate.h"

#include <gtest/gtest.h>

#include <algorithm>
#include <cmath>

namespace kite::report {
namespace {

/// Every number is one, and everything lies on the sheet (words may reach over its edge a little).
void expect_sound(const Drawing& drawing, const std::string& of, double over_mm = 2.0) {
    EXPECT_FALSE(drawing.shapes.empty()) << of;
    for (const Shape& shape : drawing.shapes)
        for (const Spot& spot : shape.points) {
            ASSERT_TRUE(std::isfinite(spot.x_mm) && std::isfinite(spot.y_mm)) << of;
            EXPECT_GE(spot.x_mm, -over_mm) << of << " " << shape.words;
            EXPECT_LE(spot.x_mm, drawing.width_mm + over_mm) << of << " " << shape.words;
            EXPECT_GE(spot.y_mm, -over_mm) << of << " " << shape.words;
            EXPECT_LE(spot.y_mm, drawing.height_mm + over_mm) << of << " " << shape.words;
        }
}

std::vector<Shape> discs(const Drawing& drawing, Ink fill) {
    std::vector<Shape> out;
    std::copy_if(
        drawing.shapes.begin(), drawing.shapes.end(), std::back_inserter(out),
        [&](const Shape& shape) { return shape.kind == Shape::Kind::Disc && shape.fill == fill; });
    return out;
}

const Shape* words_with(const Drawing& drawing, const std::string& text) {
    const auto found =
        std::find_if(drawing.shapes.begin(), drawing.shapes.end(), [&](const Shape& shape) {
            return shape.kind == Shape::Kind::Words && shape.words.find(text) != std::string::npos;
        });
    return found == drawing.shapes.end() ? nullptr : &*found;
}

LessonPoint lesson(const char* day, std::initializer_list<double> values) {
    LessonPoint out;
    out.day = *find_date(day);
    std::vector<double> all;
    for (double value : values) {
        out.swings.push_back({value, 0.5});
        all.push_back(value);
    }
    out.summary = summarise(all);
    out.low = out.summary.mean - 1.0;
    out.high = out.summary.mean + 1.0;
    return out;
}

HistoryLane lane_of(std::initializer_list<LessonPoint> lessons) {
    HistoryLane out;
    out.name = "Pelvis lead, ms";
    out.lessons = lessons;
    return out;
}

TEST(HistoryDrawing, LaterIsFurtherRightAndMoreIsHigher) {
    const Drawing drawing = history_drawing(
        {lane_of({lesson("2026-03-02", {10.0, 12.0, 14.0}), lesson("2026-03-12", {20.0, 22.0}),
                  lesson("2026-04-11", {16.0})})},
        {}, 180.0, 60.0, 1.0, {});
    expect_sound(drawing, "history");
    EXPECT_EQ(discs(drawing, Ink::Club).size(), 6U) << "one dot a swing";
    const auto means = discs(drawing, Ink::Paper);
    ASSERT_EQ(means.size(), 3U);
    EXPECT_LT(means[0].points[0].x_mm, means[1].points[0].x_mm);
    EXPECT_LT(means[1].points[0].x_mm, means[2].points[0].x_mm);
    // Ten days and thirty days: in proportion.
    EXPECT_NEAR((means[2].points[0].x_mm - means[1].points[0].x_mm) /
                    (means[1].points[0].x_mm - means[0].points[0].x_mm),
                3.0, 1e-6);
    EXPECT_GT(means[0].points[0].y_mm, means[2].points[0].y_mm) << "12 lies below 16";
    EXPECT_GT(means[2].points[0].y_mm, means[1].points[0].y_mm) << "16 lies below 21";
    // Heights in proportion to the values: means 12, 21 and 16.
    EXPECT_NEAR((means[0].points[0].y_mm - means[1].points[0].y_mm) /
                    (means[0].points[0].y_mm - means[2].points[0].y_mm),
                9.0 / 4.0, 1e-6);
    // The lane's ends are named by its least and greatest value.
    EXPECT_NE(words_with(drawing, "22"), nullptr);
    EXPECT_NE(words_with(drawing, "10"), nullptr);
}

TEST(HistoryDrawing, LessonsOfOneDayStandBesideEachOther) {
    const Drawing drawing =
        history_drawing({lane_of({lesson("2026-03-02", {10.0}), lesson("2026-03-02", {10.0}),
                                  lesson("2026-03-09", {10.0})})},
                        {}, 180.0, 60.0, 1.0, {});
    expect_sound(drawing, "one day");
    const auto means = discs(drawing, Ink::Paper);
    ASSERT_EQ(means.size(), 3U);
    EXPECT_GT(std::abs(means[0].points[0].x_mm - means[1].points[0].x_mm), 1.5);
    EXPECT_NEAR(means[0].points[0].y_mm, means[1].points[0].y_mm, 1e-9) << "all alike, no crash";
}

TEST(HistoryDrawing, WhatWasNeverMeasuredSaysSo) {
    const Drawing drawing = history_drawing(
        {lane_of({}), lane_of({lesson("2026-03-02", {1.0, 3.0})})}, {}, 180.0, 60.0, 1.0, {});
    expect_sound(drawing, "empty lane");
    EXPECT_NE(words_with(drawing, "not measured yet"), nullptr);
    expect_sound(history_drawing({lane_of({})}, {}, 180.0, 60.0, 1.0, {}), "nothing at all");
}

TEST(HistoryDrawing, PlansAndPracticeStandAtTheirDays) {
    const auto event = [](HistoryEvent::Kind kind, const char* day, const char* words = "") {
        return HistoryEvent{*find_date(day), kind, words};
    };
    const Drawing drawing = history_drawing(
        {lane_of({lesson("2026-03-02", {10.0}), lesson("2026-04-11", {12.0})})},
        {event(HistoryEvent::Kind::Lesson, "2026-03-02"),
         event(HistoryEvent::Kind::PlanBegins, "2026-03-03", "start from the ground"),
         event(HistoryEvent::Kind::Practised, "2026-03-07"),
         event(HistoryEvent::Kind::Counted, "2026-03-22", "8 of 10"),
         event(HistoryEvent::Kind::PlanEnds, "2026-03-30")},
        180.0, 60.0, 1.0, {});
    expect_sound(drawing, "events");
    const auto practised = discs(drawing, Ink::LeadArm);
    ASSERT_EQ(practised.size(), 1U);
    const auto means = discs(drawing, Ink::Paper);
    const auto at = [&](double days) {
        const double first = means.front().points[0].x_mm;
        // The second mean stands forty days on.
        for (const Shape& mean : means)
            if (mean.points[0].x_mm > first + 20.0)
                return first + days / 40.0 * (mean.points[0].x_mm - first);
        return first;
    };
    EXPECT_NEAR(practised[0].points[0].x_mm, at(5.0), 0.01);
    ASSERT_NE(words_with(drawing, "start from the ground"), nullptr);
    EXPECT_NEAR(words_with(drawing, "start from the ground")->points[0].x_mm, at(1.0), 0.01);
    EXPECT_NE(words_with(drawing, "8 of 10"), nullptr);
}

Analysis swing_of(std::uint32_t seed) {
    simulate::SwingParameters parameters;
    parameters.seed = seed;
    parameters.noise_mm = 0.3;
    return analyse(simulate::make_take(parameters), {}).value;
}

TEST(StairDrawing, PartsFastestLaterStandFurtherRight) {
    const Analysis analysis = swing_of(1);
    const Reading reading = read_swing(analysis, formats::plain_rules());
    const Drawing drawing = stair_drawing(analysis, reading, 170.0, 80.0, {});
    expect_sound(drawing, "stair");
    EXPECT_FALSE(drawing.says.empty());
    for (const char* part : {"pelvis", "torso", "lead arm", "club"})
        EXPECT_NE(words_with(drawing, part), nullptr) << part;
    // An analysis without parts is a sentence, not a blank.
    const Drawing none = stair_drawing({}, {}, 170.0, 80.0, {});
    EXPECT_TRUE(std::any_of(none.shapes.begin(), none.shapes.end(), [](const Shape& shape) {
        return shape.kind == Shape::Kind::Words && shape.words.size() > 10;
    }));
}

TEST(KiteDrawing, NamesItsMomentAndIsSoundWithAndWithoutParts) {
    const Take take = simulate::make_take({});
    const Analysis analysis = analyse(take, {}).value;
    for (Moment moment : {Moment::Address, Moment::Top, Moment::Impact}) {
        const Drawing drawing = kite_drawing({take, analysis}, analysis.moments.time_s(moment),
                                             "at the top", 60.0, 70.0, {});
        expect_sound(drawing, std::string(key_of(moment)));
        EXPECT_NE(words_with(drawing, "at the top"), nullptr);
    }
    Analysis none = analysis;
    none.motion.clear();
    for (const Shape& shape : kite_drawing({take, none}, 1.0, "then", 60.0, 70.0, {}).shapes)
        for (const Spot& spot : shape.points)
            EXPECT_TRUE(std::isfinite(spot.x_mm) && std::isfinite(spot.y_mm));
}

TEST(SetsDrawing, TwoSetsShareOneStair) {
    const std::vector<Analysis> swings{swing_of(1), swing_of(2), swing_of(3), swing_of(4)};
    const SetStair first = stair_of_set({&swings[0], &swings[1]});
    const SetStair second = stair_of_set({&swings[2], &swings[3]});
    const Drawing both = sets_drawing(first, second, 180.0, 90.0, 1.0, {});
    expect_sound(both, "sets");
    // The peaks of a set alone lie where they lie beside another one.
    const Drawing alone = sets_drawing(first, {}, 180.0, 90.0, 1.0, {});
    expect_sound(alone, "one set");
    EXPECT_GT(both.shapes.size(), alone.shapes.size());
    const Drawing neither = sets_drawing({}, {}, 180.0, 90.0, 1.0, {});
    expect_sound(neither, "no set");
    EXPECT_NE(words_with(both, "impact"), nullptr);
    ASSERT_NE(words_with(both, "100 ms"), nullptr);
    EXPECT_LT(words_with(both, "100 ms")->points[0].x_mm,
              words_with(both, "impact")->points[0].x_mm)
        << "before the ball is to the left";
}

TEST(DrillDrawing, EveryShippedDrillIsDrawnOnItsSheet) {
    for (const Drill& drill : formats::shipped_drills().drills) {
        expect_sound(drill_drawing(drill.figure, 84.0, 34.0), drill.id, 0.0);
        expect_sound(drill_drawing(drill.figure, 50.0, 60.0), drill.id, 0.0);
    }
}

} // namespace
} // namespace kite::report
