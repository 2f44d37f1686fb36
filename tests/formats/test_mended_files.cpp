// Files as they come: wrong units, words and clocks are mended when there is one way only and said,
// or refused by name; and no file makes a reader throw.

#include "core/measures/analyse.h"
#include "formats/json/lesson_json.h"
#include "formats/reader.h"
#include "simulate/truth.h"
#include "support/findings.h"
#include "support/swing_files.h"
#include "support/temporary_folder.h"

#include <gtest/gtest.h>

#include <algorithm>
#include <cmath>
#include <filesystem>
#include <sstream>

using namespace kite;
using kite::test::has_code;
using namespace kite::formats;

namespace {

Outcome<Take> read(const std::string& bytes, const char* name = "swing.csv") {
    return read_take(std::string_view(bytes), name, {});
}

simulate::SwingParameters left_hander() {
    simulate::SwingParameters parameters;
    parameters.handed = Handedness::Left;
    return parameters;
}

/// The table with every number put through a function of its row and column.
template <class Change>
std::string with_numbers(const std::string& table, const Change& change) {
    std::istringstream in(table);
    std::string out;
    std::size_t row = 0;
    for (std::string line; std::getline(in, line);) {
        const bool data = !line.empty() && line[0] != '#' && line.rfind("time", 0) != 0;
        if (!data) {
            out += line + "\n";
            continue;
        }
        std::istringstream fields(line);
        std::size_t column = 0;
        for (std::string field; std::getline(fields, field, ','); ++column)
            out += (column == 0 ? "" : ",") + change(row, column, field);
        out += "\n";
        ++row;
    }
    return out;
}

/// The table with every value of the first column put through a function.
template <class Change>
std::string with_times(const std::string& table, const Change& change) {
    std::string out;
    std::size_t row = 0;
    for (std::size_t at = 0; at < table.size();) {
        const std::size_t end = table.find('\n', at);
        const std::string line = table.substr(at, end - at);
        const std::size_t comma = line.find(',');
        out += row == 0 ? line : change(std::stod(line)) + line.substr(comma);
        out += "\n";
        ++row;
        at = end + 1;
    }
    return out;
}

} // namespace

TEST(Metadata, AWordThatSaysNothingIsNeverTakenForRight) {
    const std::string rates = test::rates_csv(left_hander());
    const auto links = read("# handed: links\n" + rates);
    ASSERT_FALSE(links.ok());
    EXPECT_EQ(links.findings.front().code, "bad-handed");
    EXPECT_NE(links.findings.front().where.find("line 1"), std::string::npos);
    const auto left = read("# handed: left\n" + rates);
    ASSERT_TRUE(left.ok());
    EXPECT_EQ(left.value.handed, Handedness::Left);
    EXPECT_TRUE(left.value.handed_said);
    EXPECT_FALSE(read(rates).value.handed_said);
}

TEST(Metadata, ABadContactIsNamedNotDropped) {
    const std::string rates = test::rates_csv({});
    EXPECT_EQ(read("# contact_s: soon\n" + rates).findings.front().code, "bad-contact");
    const auto late = read("# contact_s: 99\n" + rates);
    ASSERT_TRUE(late.ok());
    EXPECT_TRUE(has_code(late.findings, "contact-outside"));
    EXPECT_FALSE(late.value.contact_s);
}

// The rate is 240 Hz in each; only the time column is written otherwise.
TEST(Times, InMillisecondsInFramesOrNotAtAllAreTheSameSwing) {
    simulate::SwingParameters parameters;
    parameters.rate_hz = 240.0;
    const std::string rates = test::rates_csv(parameters);
    const auto peak_s = [](const Outcome<Take>& take) {
        return analyse(take.value, {}).value.sequence.find(Segment::Pelvis)->peak_t_s;
    };
    const double expected_s = peak_s(read(rates));

    const auto milliseconds =
        read(with_times(rates, [](double t) { return fixed(1000.0 * t, 3); }));
    ASSERT_TRUE(milliseconds.ok());
    EXPECT_TRUE(has_code(milliseconds.findings, "time-unit-mended"));
    EXPECT_NEAR(peak_s(milliseconds), expected_s, 1e-4);

    int frame = 0;
    const auto frames = read("# rate_hz: 240\n" +
                             with_times(rates, [&](double) { return std::to_string(frame++); }));
    ASSERT_TRUE(frames.ok());
    EXPECT_TRUE(has_code(frames.findings, "time-unit-mended"));
    EXPECT_NEAR(peak_s(frames), expected_s, 1e-4);

    std::string without;
    for (std::size_t at = 0; at < rates.size();) {
        const std::size_t end = rates.find('\n', at);
        const std::size_t comma = rates.find(',', at);
        without += rates.substr(comma + 1, end - comma);
        at = end + 1;
    }
    const auto even = read("# rate_hz: 240\n" + without);
    ASSERT_TRUE(even.ok()) << text_of(even.findings.front());
    EXPECT_TRUE(has_code(even.findings, "times-from-rate"));
    EXPECT_NEAR(peak_s(even), expected_s, 1e-4);
    EXPECT_FALSE(read(without).ok());
}

// Stamps that tremble by 1 ms although the samples are even: the swing is the same.
TEST(Times, ThatTrembleAreLaidEven) {
    simulate::SwingParameters parameters;
    parameters.rate_hz = 240.0;
    const std::string rates = test::rates_csv(parameters);
    std::mt19937 random(5);
    std::uniform_real_distribution<double> tremble(-0.001, 0.001);
    const auto take =
        read(with_times(rates, [&](double t) { return fixed(t + tremble(random), 6); }));
    ASSERT_TRUE(take.ok());
    const simulate::Truth truth = simulate::calc_truth(simulate::SwingModel(parameters));
    const auto result = analyse(take.value, {});
    ASSERT_TRUE(result.ok());
    for (Segment segment : kSequence)
        EXPECT_NEAR(result.value.sequence.find(segment)->peak_t_s,
                    truth.parts[index_of(segment)].peak_t_s, 0.003)
            << key_of(segment);
}

TEST(Tables, WithoutAHeaderAreCalledThat) {
    const std::string rates = test::rates_csv({});
    const auto take = read(rates.substr(rates.find('\n') + 1));
    ASSERT_FALSE(take.ok());
    const std::string said = text_of(take.findings.front());
    EXPECT_NE(said.find("header"), std::string::npos) << said;
    EXPECT_EQ(said.find("twice"), std::string::npos) << said;
}

TEST(Units, MetresThatAreMillimetresAreMended) {
    const simulate::SwingParameters parameters;
    Take take = simulate::make_take(parameters);
    const auto as_is = analyse(take, {});
    for (auto& [segment, poses] : take.segments)
        for (auto& p : poses.p_lab_m)
            p *= 1000.0;
    for (auto& [point, path] : take.points_lab_m)
        for (auto& p : path)
            p *= 1000.0;
    const auto back = read(write_pose_csv(take));
    ASSERT_TRUE(back.ok()) << text_of(back.findings.front());
    const auto result = analyse(back.value, {});
    ASSERT_TRUE(result.ok());
    EXPECT_TRUE(has_code(back.findings, "unit-mended") || has_code(result.findings, "unit-mended"));
    EXPECT_NEAR(result.value.position(Segment::Pelvis, Moment::Top).sway_m,
                as_is.value.position(Segment::Pelvis, Moment::Top).sway_m, 1e-4);
}

// A gyro of ±1000 °/s, which a club goes past (the model's goes to over 2000): what it did beyond
// is not known.
TEST(Sensors, AtTheEndOfTheirRangeTellNoPeak) {
    simulate::SwingParameters parameters;
    parameters.rate_hz = 200.0;
    parameters.lead_in_s = 0.9;
    const auto take = read(with_numbers(
        test::sensor_csv(parameters), [](std::size_t, std::size_t, const std::string& field) {
            return fixed(std::clamp(std::stod(field), -1000.0, 1000.0), 6);
        }));
    ASSERT_TRUE(take.ok()) << text_of(take.findings.front());
    EXPECT_TRUE(has_code(take.findings, "gyro-clipped"));
    const auto result = analyse(take.value, {});
    const SegmentSequence* club = result.value.sequence.find(Segment::Club);
    EXPECT_TRUE(club == nullptr || std::isnan(club->peak_deg_s) || club->peak_t_u_s > 0.005);
}

TEST(Sensors, OneEmptySampleCostsNoMoreThanItself) {
    simulate::SwingParameters parameters;
    parameters.rate_hz = 200.0;
    parameters.lead_in_s = 0.9;
    const std::string whole = test::sensor_csv(parameters);
    const auto holed =
        read(with_numbers(whole, [](std::size_t row, std::size_t column, const std::string& field) {
            return row == 210 && column > 0 && column < 7 ? std::string() : field;
        }));
    ASSERT_TRUE(holed.ok()) << text_of(holed.findings.front());
    const auto expected = analyse(read(whole).value, {});
    const auto result = analyse(holed.value, {});
    ASSERT_TRUE(result.ok());
    EXPECT_NEAR(result.value.sequence.find(Segment::Pelvis)->peak_t_s,
                expected.value.sequence.find(Segment::Pelvis)->peak_t_s, 0.001);
    EXPECT_NEAR(result.value.position(Segment::Pelvis, Moment::Impact).turn_deg,
                expected.value.position(Segment::Pelvis, Moment::Impact).turn_deg, 1.0);
}

// 1e999 has no value as a double; the list is refused, the program lives.
TEST(LessonList, ANumberBeyondAllNumbersIsDamage) {
    const auto lesson = parse_lesson(
        R"({"kite-hinge": "lesson 1", "swings": [{"file": "a.csv", "x": 1e999}]})", "/here/l.json");
    ASSERT_FALSE(lesson.ok());
    EXPECT_EQ(lesson.findings.front().code, "bad-json");
}

TEST(LessonList, NamesNothingOutsideItsFolderByADetour) {
    const auto lesson = parse_lesson(
        R"({"kite-hinge": "lesson 1", "swings": [{"file": "a/../../x.csv"}, {"file": "a/../y.csv"}]})",
        "/here/lesson.json");
    ASSERT_TRUE(lesson.ok());
    ASSERT_EQ(lesson.value.swings.size(), 1U);
    EXPECT_EQ(std::filesystem::path(lesson.value.swings[0].file).lexically_normal(), "/here/y.csv");
}

// A sparse file of 64 GB costs no disk; read whole, it would cost the program.
TEST(ReadTake, NeverThrowsWhateverThePathHolds) {
    test::TemporaryFolder folder;
    const auto huge = folder.path("huge.csv");
    folder.write("huge.csv", "time_s\n");
    std::filesystem::resize_file(huge, std::uintmax_t{64} << 30);
    for (const auto& path : {huge, folder.path(""), folder.path("absent.c3d"),
                             std::filesystem::path("/dev/null"), std::filesystem::path("")}) {
        Outcome<Take> take;
        EXPECT_NO_THROW(take = read_take(path, {})) << path;
        EXPECT_FALSE(take.ok()) << path;
        EXPECT_FALSE(take.findings.empty()) << path;
    }
    EXPECT_EQ(read_take(huge, {}).findings.front().code, "too-large");
}
