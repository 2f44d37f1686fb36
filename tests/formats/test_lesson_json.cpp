#include "formats/json/lesson_json.h"
#include "formats/reader.h"
#include "support/temporary_folder.h"

#include <gtest/gtest.h>

using namespace kite::formats;

TEST(LessonList, ComesBackAsItWasWritten) {
    Lesson lesson;
    lesson.name = "Tuesday";
    lesson.swings = {{"/elsewhere/a.csv", "Ann \"A\"", "first"}, {"/elsewhere/b.c3d", "Ben", ""}};
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
