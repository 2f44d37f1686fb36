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
