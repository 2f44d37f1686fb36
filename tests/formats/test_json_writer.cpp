// JSON as RFC 8259 has it; what was written is read again by nlohmann::json.
#include "formats/json/json_writer.h"

#include <gtest/gtest.h>
#include <nlohmann/json.hpp>

#include <limits>

namespace kite::formats {
namespace {

TEST(JsonWriter, PutsCommasWhereTheyBelong) {
    JsonWriter out;
    out.begin_object();
    out.key("none");
    out.begin_object();
    out.end_object();
    out.key("list");
    out.begin_array();
    out.value(true);
    out.null();
    out.begin_array();
    out.end_array();
    out.value("text");
    out.begin_object();
    out.member("a", false);
    out.end_object();
    out.end_array();
    out.key("as_is");
    out.value_as_is("[1,2]");
    out.member("last", std::string("x"));
    out.end_object();
    EXPECT_EQ(out.text(), R"({"none":{},"list":[true,null,[],"text",{"a":false}],)"
                          R"("as_is":[1,2],"last":"x"})");
}

TEST(JsonWriter, WritesNumbersThatAreReadAsTheSame) {
    for (const double number : {0.0, -0.0, 1.0, -17.0, 0.1, 1.0 / 3.0, 9.50030181712506e-05, 1e-300,
                                -2.5e20, 123456789012345680.0, std::numeric_limits<double>::max(),
                                std::numeric_limits<double>::denorm_min()}) {
        JsonWriter out;
        out.value(number);
        const auto again = nlohmann::json::parse(out.text());
        EXPECT_EQ(again.get<double>(), number);
        EXPECT_TRUE(again.is_number_float()) << out.text();
    }
    for (const double unknown :
         {std::numeric_limits<double>::quiet_NaN(), std::numeric_limits<double>::infinity()}) {
        JsonWriter out;
        out.value(unknown);
        EXPECT_EQ(out.text(), "null");
    }
}

TEST(JsonWriter, EscapesWhatMustBeAndReplacesWhatIsNoText) {
    for (const std::string text :
         {"a \"b\".csv", "C:\\swing", "two\nlines", "5 µs at 30°", "\x01", ""}) {
        JsonWriter out;
        out.begin_object();
        out.member(text, text);
        out.end_object();
        EXPECT_EQ(nlohmann::json::parse(out.text()).at(text), text);
        EXPECT_EQ(out.text().find('\n'), std::string::npos);
    }
    JsonWriter out;
    out.value(std::string("bad \xff byte"));
    EXPECT_EQ(nlohmann::json::parse(out.text()), "bad \uFFFD byte");
}

} // namespace
} // namespace kite::formats
