#include "formats/json/lesson_json.h"
#include "formats/reader.h"
#include "support/temporary_folder.h"

#include <gtest/gtest.h>

#include <cmath>

using namespace kite::formats;

TEST(LessonList, ComesBackAsItWasWritten) {
    Lesson lesson;
    lesson.name = "Tuesday";
    lesson.swings = {{"/elsewhere/a.csv", "Ann \"A\"", "first", {}, {}, kite::kMissing, {}},
                     {"/elsewhere/b.c3d", "Ben", "", {}, {}, kite::kMissing, {}}};
    const auto back = parse_lesson(write_lesson(lesson), "/here/lesson.json");
    ASSERT_TRUE(back.ok());
    EXPECT_EQ(back.value.name, "Tuesday");
    ASSERT_EQ(back.value.swings.size(), 2u);
    EXPECT_EQ(back.value.swings[0].file, "/here/a.csv");
    EXPECT_EQ(back.value.swings[0].golfer, "Ann \"A\"");
}

TEST(LessonList, RefusesDamageAndNamesThePlace) {
    EXPECT_EQ(parse_lesson("{\"kite-hinge\": ", "l.json").findings.front().code, "bad-json");
    EXPECT_EQ(parse_lesson("[1, 2]", "l.json").findings.front().code, "not-a-lesson");
    EXPECT_EQ(parse_lesson("{\"kite-hinge\": \"lesson 9\"}", "l.json").findings.front().code,
              "not-a-lesson");
    EXPECT_EQ(parse_lesson("{\"kite-hinge\": \"lesson 1\"}", "l.json").findings.front().code,
              "no-swings");
}

TEST(LessonList, StaysInItsFolder) {
    const auto lesson = parse_lesson(
        R"({"kite-hinge": "lesson 1", "swings": [{"file": "/etc/passwd"}, {"file": "../x.csv"}, 7, {"file": "ok.csv"}]})",
        "/here/lesson.json");
    ASSERT_TRUE(lesson.ok());
    ASSERT_EQ(lesson.value.swings.size(), 1u);
    EXPECT_EQ(lesson.value.swings[0].file, "/here/ok.csv");
    EXPECT_EQ(lesson.findings.size(), 3u);
    EXPECT_EQ(lesson.findings[2].where, "swings, entry 3");
}

TEST(LessonList, WhatIsKnownOfASwingComesBack) {
    Lesson lesson;
    lesson.name = "Two";
    LessonSwing swing;
    swing.file = "/here/a.csv";
    swing.golfer = "Ada";
    swing.day = "2026-10-08";
    swing.flight = "pull";
    swing.guess_open_deg = 41.5;
    swing.launch = kite::LaunchNumbers();
    swing.launch->carry_m = 140.0;
    lesson.swings = {swing, {"/here/b.csv", "Ada", "", {}, {}, kite::kMissing, {}}};
    const auto back = parse_lesson(write_lesson(lesson), "/here/lesson.json");
    ASSERT_EQ(back.value.swings.size(), 2u);
    EXPECT_EQ(back.value.swings[0].day, "2026-10-08");
    EXPECT_EQ(back.value.swings[0].flight, "pull");
    EXPECT_EQ(back.value.swings[0].guess_open_deg, 41.5);
    ASSERT_TRUE(back.value.swings[0].launch.has_value());
    EXPECT_EQ(back.value.swings[0].launch->carry_m, 140.0);
    EXPECT_FALSE(back.value.swings[1].launch.has_value());
    EXPECT_TRUE(std::isnan(back.value.swings[1].guess_open_deg));
}

// The shipped demo: at least two golfers, one of them left-handed, ten swings, all readable.
TEST(LessonList, TheDemoIsWhole) {
    const auto demo = read_lesson(std::filesystem::path(KITE_DEMO_FOLDER) / "lesson.json");
    ASSERT_TRUE(demo.ok());
    ASSERT_EQ(demo.value.swings.size(), 10u);
    int left = 0;
    for (const LessonSwing& swing : demo.value.swings) {
        const auto take = read_take(swing.file, {});
        ASSERT_TRUE(take.ok()) << swing.file;
        left += take.value.handed == kite::Handedness::Left ? 1 : 0;
    }
    EXPECT_EQ(left, 3);
}

TEST(LessonList, TheDemosEarlierLessonsAreWhole) {
    const auto earlier =
        read_lesson(std::filesystem::path(KITE_DEMO_FOLDER) / "../earlier/lesson.json");
    ASSERT_TRUE(earlier.ok());
    ASSERT_EQ(earlier.value.swings.size(), 9u);
    for (const LessonSwing& swing : earlier.value.swings) {
        EXPECT_TRUE(read_take(swing.file, {}).ok()) << swing.file;
        EXPECT_TRUE(swing.launch.has_value() && !swing.day.empty()) << swing.file;
    }
}
