#include "core/measures/analyse.h"
#include "formats/reader.h"
#include "formats/trc/trc.h"
#include "simulate/truth.h"
#include "support/swing_files.h"

#include <gtest/gtest.h>

#include <algorithm>

using namespace kite;
using namespace kite::formats;

namespace {

/// Written by hand after the usual layout: two markers, one of them hidden in the second frame.
const std::string kByHand = "PathFileType\t4\t(X/Y/Z)\tx.trc\r\n"
                            "DataRate\tCameraRate\tNumFrames\tNumMarkers\tUnits\tOrigDataRate\r\n"
                            "100.00\t100.00\t3\t2\tmm\t100.00\r\n"
                            "Frame#\tTime\tAA\t\t\tBB\t\t\r\n"
                            "\t\tX1\tY1\tZ1\tX2\tY2\tZ2\r\n"
                            "\r\n"
                            "1\t0.000\t1000\t2000\t3000\t10\t20\t30\r\n"
                            "2\t0.010\t1001\t2001\t3001\t\t\t\r\n"
                            "3\t0.020\t1002\t2002\t3002\t12\t22\t32\r\n";

std::string padded(std::string text) {
    for (int i = 4; i <= 20; ++i)
        text += std::to_string(i) + "\t" + fixed((i - 1) / 100.0, 3) +
                "\t1002\t2002\t3002\t12\t22\t32\r\n";
    return text;
}

} // namespace

TEST(Trc, ReadsWhatWasWrittenByHand) {
    const auto markers = read_trc_markers(padded(kByHand), {});
    ASSERT_TRUE(markers.ok()) << text_of(markers.findings.front());
    ASSERT_EQ(markers.value.labels, (std::vector<std::string>{"AA", "BB"}));
    EXPECT_EQ(markers.value.frames, 20U);
    EXPECT_DOUBLE_EQ(markers.value.rate_hz, 100.0);
    EXPECT_LT((markers.value.tracks_m[0][1] - Eigen::Vector3d(1.001, 2.001, 3.001)).norm(), 1e-12);
    EXPECT_FALSE(markers.value.tracks_m[1][1].allFinite());
    EXPECT_NEAR(markers.value.tracks_m[1][2].z(), 0.032, 1e-12);
}

TEST(Trc, NamesThePlaceOfDamage) {
    const auto code = [](const std::string& from, const std::string& to) {
        std::string text = padded(kByHand);
        text.replace(text.find(from), from.size(), to);
        const auto markers = read_trc_markers(text, {});
        return markers.findings.empty()
                   ? std::string("fine")
                   : markers.findings.front().code + " @ " + markers.findings.front().where;
    };
    EXPECT_EQ(code("Frame#", "Row"), "no-labels @ line 4");
    EXPECT_EQ(code("2001", "two"), "not-a-number @ line 8, marker AA");
    EXPECT_EQ(code("0.010\t", "\t"), "row-broken @ line 8, column Time");
    EXPECT_EQ(code("0.020", "0.005"), "time-backwards @ data row 3");
    EXPECT_EQ(code("100.00\t100.00\t3", "-1\t100.00\t3"), "bad-rate @ line 3");
    EXPECT_EQ(code("mm", "ell"), "unit-unknown @ line 3, Units");
}

// Inside evidence: what was written comes back, and gives the same swing as C3D.
TEST(Trc, ComesBackAndGivesTheSwing) {
    simulate::SwingParameters parameters;
    parameters.handed = Handedness::Left;
    const MarkerTake markers = simulate::make_markers(parameters);
    const std::string text = write_trc(markers);
    // Five lines of head and an empty one, then a row a frame (the format's usual layout).
    EXPECT_EQ(static_cast<std::size_t>(std::count(text.begin(), text.end(), '\n')),
              6 + markers.frames);
    const auto back = read_trc_markers(text, {});
    ASSERT_TRUE(back.ok());
    ASSERT_EQ(back.value.labels, markers.labels);
    for (std::size_t m = 0; m < markers.labels.size(); ++m)
        for (std::size_t i = 0; i < markers.frames; i += 37)
            EXPECT_LT((back.value.tracks_m[m][i] - markers.tracks_m[m][i]).norm(), 1e-6);
    ReadOptions options;
    options.handed = Handedness::Left;
    const auto take = read_take(std::string_view(write_trc(markers)), "swing.trc", options);
    ASSERT_TRUE(take.ok()) << text_of(take.findings.front());
    const auto result = analyse(take.value, {});
    ASSERT_TRUE(result.ok());
    const simulate::Truth truth = simulate::calc_truth(simulate::SwingModel(parameters));
    for (Segment segment : kSequence)
        EXPECT_NEAR(result.value.sequence.find(segment)->peak_t_s,
                    truth.parts[index_of(segment)].peak_t_s, 0.004);
}
