#include "core/motion/rotation.h"
#include "formats/pose_csv/pose_csv.h"
#include "formats/reader.h"
#include "simulate/simulate.h"

#include <gtest/gtest.h>

#include <algorithm>
#include <cmath>

using namespace kite;
using namespace kite::formats;

namespace {

Outcome<Take> read_pose(const std::string& bytes, const ReadOptions& options = {}) {
    return read_take(std::string_view(bytes), "swing.csv", options);
}

/// `rows` rows at 100 Hz of a pelvis that turns by 1° a row about z; quaternion written by hand.
std::string small_file(const std::string& separator, char decimal, const std::string& line_end,
                       std::size_t rows = 40) {
    std::string out;
    const auto number = [&](double value) {
        char buffer[32];
        std::snprintf(buffer, sizeof buffer, "%.9f", value);
        std::string text = buffer;
        std::replace(text.begin(), text.end(), '.', decimal);
        return text;
    };
    out += "# kite-hinge: pose 1" + line_end + "# handed: right" + line_end + "# club: wedge" +
           line_end;
    out += "# arm_length_m: " + number(0.62) + line_end;
    out += "time_s" + separator + "pelvis_qw" + separator + "pelvis_qx" + separator + "pelvis_qy" +
           separator + "\"pelvis_qz\" " + line_end;
    for (std::size_t i = 0; i < rows; ++i) {
        const double half = 0.5 * static_cast<double>(i) * 3.14159265358979 / 180.0;
        out += number(static_cast<double>(i) / 100.0) + separator + number(std::cos(half)) +
               separator + "0" + separator + " 0 " + separator + number(std::sin(half)) + line_end;
    }
    return out;
}

void expect_small(const Outcome<Take>& take, const std::string& what) {
    ASSERT_TRUE(take.ok()) << what << ": "
                           << (take.findings.empty() ? "" : text_of(take.findings.front()));
    EXPECT_NEAR(take.value.rate_hz, 100.0, 1e-6) << what;
    EXPECT_EQ(take.value.frames, 40u) << what;
    EXPECT_EQ(take.value.club, ClubKind::Wedge) << what;
    EXPECT_DOUBLE_EQ(*take.value.arm_length_m, 0.62) << what;
    const BodyAngles angles = angles_of(take.value.find(Segment::Pelvis)->q_lab_segment[30]);
    EXPECT_NEAR(angles.turn_rad * 180.0 / 3.14159265358979, 30.0, 1e-6) << what;
}

} // namespace

TEST(PoseCsv, ReadsEveryDialect) {
    expect_small(read_pose(small_file(",", '.', "\n")), "plain");
    expect_small(read_pose(small_file(",", '.', "\r\n")), "CRLF");
    expect_small(read_pose(small_file(";", ',', "\n")), "semicolon and decimal comma");
    expect_small(read_pose(small_file("\t", '.', "\n")), "tab");
    expect_small(read_pose(small_file("\t", ',', "\r\n")), "tab, decimal comma, CRLF");
    expect_small(read_pose("\xEF\xBB\xBF" + small_file(",", '.', "\n")), "byte-order mark");
    std::string open_end = small_file(",", '.', "\n");
    open_end.pop_back();
    expect_small(read_pose(open_end), "no line end at the end");
    expect_small(read_pose("\n\n" + small_file(",", '.', "\n") + "\n\n"), "blank lines");
}

TEST(PoseCsv, ComesBackAsItWasWritten) {
    simulate::SwingParameters parameters;
    parameters.handed = Handedness::Left;
    Take take = simulate::make_take(parameters);
    take.contact_s = 1.7654;
    take.lead_force_n.assign(take.frames, 400.0);
    take.trail_force_n.assign(take.frames, 350.5);
    const auto back = read_pose(write_pose_csv(take));
    ASSERT_TRUE(back.ok());
    EXPECT_EQ(back.value.handed, Handedness::Left);
    EXPECT_EQ(back.value.frames, take.frames);
    EXPECT_DOUBLE_EQ(*back.value.contact_s, 1.7654);
    EXPECT_DOUBLE_EQ(back.value.trail_force_n[9], 350.5);
    for (const auto& [segment, series] : take.segments) {
        for (std::size_t i = 0; i < take.frames; i += 13) {
            EXPECT_LT(
                back.value.find(segment)->q_lab_segment[i].angularDistance(series.q_lab_segment[i]),
                1e-6);
            EXPECT_LT((back.value.find(segment)->p_lab_m[i] - series.p_lab_m[i]).norm(), 1e-6);
        }
    }
    EXPECT_EQ(back.value.points_lab_m.size(), take.points_lab_m.size());
}

// The file holds the lab as measured: for a left-hander y points to the ball, so turning open to
// the target is clockwise from above and the quaternion's z is negative.
TEST(PoseCsv, MirrorsALeftHander) {
    std::string text = small_file(",", '.', "\n");
    text.replace(text.find("right"), 5, "left");
    const auto left = read_pose(text);
    ASSERT_TRUE(left.ok());
    const BodyAngles angles = angles_of(left.value.find(Segment::Pelvis)->q_lab_segment[30]);
    EXPECT_NEAR(angles.turn_rad * 180.0 / 3.14159265358979, -30.0, 1e-6);
    ReadOptions options;
    options.handed = Handedness::Right;
    EXPECT_GT(
        angles_of(read_pose(text, options).value.find(Segment::Pelvis)->q_lab_segment[30]).turn_rad,
        0.0)
        << "what the user says counts";
}

TEST(PoseCsv, MissingValuesAreGapsNotZeros) {
    std::string text = small_file(",", '.', "\n");
    // Row 21: the quaternion's values are missing.
    const auto row = text.find("\n0.200000000,") + 1;
    text.replace(row, text.find('\n', row) - row, "0.200000000,,NaN,-,");
    const auto take = read_pose(text);
    ASSERT_TRUE(take.ok());
    EXPECT_FALSE(is_finite(take.value.find(Segment::Pelvis)->q_lab_segment[20]));
    EXPECT_TRUE(is_finite(take.value.find(Segment::Pelvis)->q_lab_segment[21]));
    EXPECT_EQ(take.findings.front().code, "gap-filled");
}

TEST(PoseCsv, UnknownColumnsAreNamedAndPassedOver) {
    std::string text = small_file(",", '.', "\n");
    for (auto at = text.find("time_s"); at != std::string::npos; at = text.find('\n', at + 1)) {
        const auto end = text.find('\n', at + 1);
        if (end == std::string::npos)
            break;
        text.insert(end, at == text.find("time_s") ? ",heart_rate" : ",60");
        if (text.find('\n', end) == std::string::npos)
            break;
    }
    const auto take = read_pose(text);
    ASSERT_TRUE(take.ok()) << text_of(take.findings.front());
    EXPECT_EQ(take.findings.front().code, "column-unknown");
    EXPECT_EQ(take.findings.front().where, "column heart_rate");
}

TEST(PoseCsv, AContactMarkOutsideIsSaidAndNotUsed) {
    std::string text = small_file(",", '.', "\n");
    text.insert(text.find("time_s"), "# contact_s: 99\n");
    const auto take = read_pose(text);
    ASSERT_TRUE(take.ok());
    EXPECT_FALSE(take.value.contact_s);
    EXPECT_EQ(take.findings.front().where, "line 5, contact_s");
}

// Every refusal names the place and the mend.
struct Damage {
    const char* name;
    std::string bytes;
    const char* code;
    std::string where;
};

class DamagedPoseCsv : public testing::TestWithParam<Damage> {};

TEST_P(DamagedPoseCsv, IsRefusedWithPlaceAndMend) {
    const auto take = read_pose(GetParam().bytes);
    ASSERT_FALSE(take.ok());
    const auto error =
        std::find_if(take.findings.begin(), take.findings.end(),
                     [](const Finding& f) { return f.severity == Finding::Severity::Error; });
    EXPECT_EQ(error->code, GetParam().code) << text_of(*error);
    EXPECT_EQ(error->where, GetParam().where) << text_of(*error);
    EXPECT_FALSE(error->what.empty());
    EXPECT_FALSE(error->mend.empty());
}

namespace {

std::string changed(const std::string& from, const std::string& to) {
    std::string text = small_file(",", '.', "\n");
    const auto at = text.find(from);
    return at == std::string::npos ? "the test itself is wrong" : text.replace(at, from.size(), to);
}

std::vector<Damage> damages() {
    // Lines 1 to 4 are comments, 5 the header, row k (from 0) stands on line k + 6.
    return {
        {"only_comments", "# kite-hinge: pose 1\n# handed: right\n", "no-header", "line 2"},
        {"only_header", "# kite-hinge: pose 1\ntime_s,pelvis_qw,pelvis_qx,pelvis_qy,pelvis_qz\n",
         "too-few-frames", ""},
        {"later_version", changed("pose 1", "pose 2"), "version", "line 1, kite-hinge"},
        {"bad_handed", changed("handed: right", "handed: both"), "bad-handed", "line 2, handed"},
        {"bad_club", changed("club: wedge", "club: stick"), "bad-club", "line 3, club"},
        {"bad_length", changed("arm_length_m: 0.62", "arm_length_m: -1"), "bad-length",
         "line 4, arm_length_m"},
        {"no_time", changed("time_s", "clock"), "columns-missing", "header row"},
        {"half_quaternion", changed("pelvis_qy", "spare"), "columns-missing", "header row"},
        {"no_segments", changed("pelvis_qw,pelvis_qx,pelvis_qy,\"pelvis_qz\"", "a,b,c,d"),
         "no-segments", "header row"},
        {"column_twice", changed("pelvis_qx", "pelvis_qw"), "column-twice", "line 5"},
        {"not_a_number", changed("0.100000000,", "0.100000000,tree,"), "field-count", "line 16"},
        {"word", changed("\n0.100000000,0.99", "\n0.100000000,0x99"), "not-a-number",
         "line 16, column pelvis_qw"},
        {"infinity", changed("\n0.100000000,", "\ninf,"), "not-a-number", "line 16, column time_s"},
        {"time_backwards", changed("\n0.100000000,", "\n0.010000000,"), "time-backwards",
         "line 16, column time_s"},
        {"time_missing", changed("\n0.100000000,", "\n,"), "time-missing",
         "line 16, column time_s"},
        {"not_unit", changed("\n0.100000000,0.99", "\n0.100000000,7.99"), "not-unit",
         "line 16, column pelvis_qw"},
        {"missing_field", changed("\n0.100000000,", "\n"), "field-count", "line 16"},
        {"binary_inside", changed("\n0.100000000,", std::string("\n\0\1\2", 4)), "binary",
         "byte " + std::to_string(small_file(",", '.', "\n").find("\n0.100000000,") + 1)},
        {"open_quote", changed("\n0.100000000,", "\n\"0.1,"), "field-count", "line 16"},
    };
}

} // namespace

INSTANTIATE_TEST_SUITE_P(All, DamagedPoseCsv, testing::ValuesIn(damages()),
                         [](const auto& test) { return test.param.name; });

TEST(PoseCsv, ALastRowCutShortIsLeftOutWithAWarning) {
    std::string text = small_file(",", '.', "\n");
    text.resize(text.size() - 20);
    const auto take = read_pose(text);
    ASSERT_TRUE(take.ok());
    EXPECT_EQ(take.value.frames, 39u);
    EXPECT_EQ(take.findings.front().code, "row-cut");
    EXPECT_EQ(take.findings.front().where, "line 45");
}
