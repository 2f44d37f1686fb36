#include "core/base/language.h"
#include "formats/pose_csv/pose_csv.h"
#include "formats/results/measures_csv.h"
#include "formats/text/csv_field.h"
#include "formats/text/numbers.h"
#include "simulate/simulate.h"
#include "support/comma_locale.h"

#include <gtest/gtest.h>

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

TEST(Numbers, AreWrittenAsTheyAreRead) {
    EXPECT_EQ(fixed(1.5, 2), "1.50");
    EXPECT_EQ(fixed(-0.001, 1), "0.0");
    EXPECT_EQ(fixed(-12.345, 1), "-12.3");
    EXPECT_EQ(fixed(std::nan(""), 2), "");
    EXPECT_EQ(kite::digits(239.7602, 4), "239.8");
    EXPECT_EQ(kite::digits(0.0000123, 2), "1.2e-05");
    EXPECT_DOUBLE_EQ(*parse_number(format_number(0.1 + 0.2)), 0.1 + 0.2);
}

// A process in most of Europe: nothing that a file or a sentence says changes with it.
TEST(Numbers, AreTheSameWhereACommaIsTheDecimalSign) {
    const kite::Take take = kite::simulate::make_take({});
    const std::string table = write_pose_csv(take);
    const kite::test::CommaLocale comma;
    ASSERT_TRUE(comma.is_set()) << "the package \"locales\" is missing";
    EXPECT_EQ(std::to_string(1.5).substr(0, 3), "1,5") << "else this shows nothing";
    EXPECT_EQ(fixed(1.5, 2), "1.50");
    EXPECT_EQ(kite::digits(239.7602, 4), "239.8");
    EXPECT_EQ(format_number(0.5), "0.5");
    EXPECT_EQ(parse_number("0.5"), 0.5);
    EXPECT_EQ(kite::written(-1.25, 1, {}), "−1.3");
    EXPECT_EQ(write_pose_csv(take), table);
}

// RFC 4180, 2.5 to 2.7: a field with comma, quote or line end stands in quotes, a quote in it
// twice.
TEST(CsvField, IsQuotedWhereItMustBe) {
    EXPECT_EQ(csv_field("plain text"), "plain text");
    EXPECT_EQ(csv_field(""), "");
    EXPECT_EQ(csv_field("a,b"), "\"a,b\"");
    EXPECT_EQ(csv_field("say \"so\""), "\"say \"\"so\"\"\"");
    EXPECT_EQ(csv_field("two\nlines"), "\"two\nlines\"");
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
