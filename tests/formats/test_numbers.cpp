#include "formats/text/numbers.h"

#include <gtest/gtest.h>

#include <clocale>
#include <cmath>

using namespace kite::formats;

TEST(Numbers, AreReadWholeOrNotAtAll) {
    EXPECT_DOUBLE_EQ(*parse_number("1.5"), 1.5);
    EXPECT_DOUBLE_EQ(*parse_number("-2e-3"), -0.002);
    EXPECT_DOUBLE_EQ(*parse_number("+4"), 4.0);
    EXPECT_DOUBLE_EQ(*parse_number("1,5", true), 1.5);
    for (const char* text :
         {"", "1.5x", "abc", "1,5", "--1", "0x10", "1e999", "inf", "nan", "1.2.3"})
        EXPECT_FALSE(parse_number(text)) << text;
}

TEST(Numbers, MissingIsNotZero) {
    for (const char* text : {"", "NaN", "nan", "-"})
        EXPECT_TRUE(is_missing_text(text)) << text;
    EXPECT_FALSE(is_missing_text("0"));
}

TEST(Numbers, AreWrittenWithoutLocale) {
    EXPECT_EQ(format_fixed(1.5, 2), "1.50");
    EXPECT_EQ(format_fixed(-0.001, 1), "0.0");
    EXPECT_EQ(format_fixed(std::nan(""), 2), "");
    EXPECT_DOUBLE_EQ(*parse_number(format_number(0.1 + 0.2)), 0.1 + 0.2);
}

// Seconds of 1 January 1970 as POSIX counts them: 1,000,000,000 was 2001-09-09T01:46:40 (IEEE Std
// 1003.1; a date that is widely printed).
TEST(Numbers, ClocksAreSeconds) {
    EXPECT_EQ(parse_clock("2001-09-09T01:46:40Z"), 1e9);
    EXPECT_EQ(parse_clock("2001-09-09 01:46:40"), 1e9);
    EXPECT_EQ(parse_clock("10:15"), 36900.0);
    EXPECT_NEAR(*parse_clock("10:15:03.25"), 36903.25, 1e-9);
    for (const char* bad : {"", "10", "24:00", "10:60", "10:15:61", "-1:15", "10:15:03:01", "1O:15",
                            "2026-02-30T10:15", "10.5:15", "10:15:", ":15", "10:1e1"})
        EXPECT_FALSE(parse_clock(bad).has_value()) << bad;
}
