// Angles, rates and storage files: sources without positions.

#include "core/measures/analyse.h"
#include "formats/reader.h"
#include "simulate/truth.h"
#include "support/findings.h"
#include "support/swing_files.h"

#include <gtest/gtest.h>

#include <algorithm>

using namespace kite;
using kite::test::has_code;
using namespace kite::formats;

namespace {

Outcome<Take> read(const std::string& bytes, const char* name) {
    return read_take(std::string_view(bytes), name, {});
}

} // namespace

TEST(AnglesCsv, GivesWhatAnglesCan) {
    const simulate::SwingParameters parameters;
    const Take exact = simulate::make_take(parameters);
    const auto take = read(test::angles_csv(exact), "angles.csv");
    ASSERT_TRUE(take.ok()) << text_of(take.findings.front());
    const auto from_poses = analyse(exact, {});
    const auto from_angles = analyse(take.value, {});
    ASSERT_TRUE(from_angles.ok());
    for (Segment segment : {Segment::Pelvis, Segment::Torso, Segment::LeadArm})
        EXPECT_NEAR(from_angles.value.sequence.find(segment)->peak_t_s,
                    from_poses.value.sequence.find(segment)->peak_t_s, 0.002)
            << key_of(segment);
    // The club is fastest at the ball, and where the ball was is known less well without positions:
    // it says so.
    const SegmentSequence& club = *from_angles.value.sequence.find(Segment::Club);
    EXPECT_NEAR(club.peak_t_s, from_poses.value.sequence.find(Segment::Club)->peak_t_s,
                2.5 * club.peak_t_u_s);
    EXPECT_LT(club.peak_t_u_s, 0.008);
    EXPECT_NEAR(from_angles.value.separation->at_top_deg, from_poses.value.separation->at_top_deg,
                0.2);
    // No positions: what needs them is not available, and impact is where the shaft comes back.
    EXPECT_TRUE(std::isnan(from_angles.value.position(Segment::Pelvis, Moment::Top).sway_m));
    EXPECT_TRUE(std::isnan(from_angles.value.hinge_path.downswing.along));
    EXPECT_EQ(from_angles.value.moments.impact_source, ImpactSource::Shaft);
}

TEST(AnglesCsv, TakesMissingTiltAsZeroAndSaysSo) {
    std::string bytes = "time_s,pelvis_turn_deg\n";
    for (int i = 0; i < 60; ++i)
        bytes += fixed(i / 60.0, 4) + "," + std::to_string(i) + "\n";
    const auto take = read(bytes, "turn.csv");
    ASSERT_TRUE(take.ok());
    EXPECT_TRUE(has_code(take.findings, "angles-assumed"));
    EXPECT_NEAR(angles_of(take.value.find(Segment::Pelvis)->q_lab_segment[30]).turn_rad,
                rad_from_deg(30.0), 1e-9);
}

// Left-handed: in the lab as measured, opening to the target turns clockwise from above.
TEST(AnglesCsv, MirrorsALeftHander) {
    std::string bytes = "# handed: left\ntime_s,pelvis_turn_deg\n";
    for (int i = 0; i < 60; ++i)
        bytes += fixed(i / 60.0, 4) + ",-20\n";
    const auto take = read(bytes, "left.csv");
    ASSERT_TRUE(take.ok());
    EXPECT_NEAR(angles_of(take.value.find(Segment::Pelvis)->q_lab_segment[30]).turn_rad,
                rad_from_deg(20.0), 1e-9);
}

TEST(RatesCsv, GivesTheSequenceAlone) {
    const simulate::SwingParameters parameters;
    const auto take = read(test::rates_csv(parameters), "rates.csv");
    ASSERT_TRUE(take.ok()) << text_of(take.findings.front());
    const auto result = analyse(take.value, {});
    ASSERT_TRUE(result.ok());
    EXPECT_TRUE(has_code(result.findings, "rates-only"));
    const simulate::Truth truth = simulate::calc_truth(simulate::SwingModel(parameters));
    for (Segment segment : kSequence) {
        EXPECT_NEAR(result.value.sequence.find(segment)->peak_t_s,
                    truth.parts[index_of(segment)].peak_t_s, 0.006)
            << key_of(segment);
        EXPECT_NEAR(result.value.sequence.find(segment)->reversal_t_s,
                    truth.parts[index_of(segment)].reversal_t_s, 0.006)
            << key_of(segment);
    }
    EXPECT_EQ(result.value.moments.impact_source, ImpactSource::Peak);
    EXPECT_FALSE(result.value.separation);
}

TEST(RatesCsv, NeedsABackswing) {
    std::string bytes = "time_s,club_rate_deg_s\n";
    for (int i = 0; i < 120; ++i)
        bytes +=
            fixed(i / 120.0, 4) + "," + fixed(2000.0 * std::sin(3.14159 * i / 120.0), 2) + "\n";
    const auto result = analyse(read(bytes, "down.csv").value, {});
    ASSERT_FALSE(result.ok());
    EXPECT_EQ(result.findings.front().code, "half-a-swing");
}

TEST(Storage, ReadsDegreesAndRadians) {
    const simulate::SwingParameters parameters;
    const Take exact = simulate::make_take(parameters);
    const auto degrees = read(test::storage_file(exact, true), "swing.sto");
    const auto radians = read(test::storage_file(exact, false), "swing.mot");
    ASSERT_TRUE(degrees.ok()) << text_of(degrees.findings.front());
    ASSERT_TRUE(radians.ok()) << text_of(radians.findings.front());
    for (const Take* take : {&degrees.value, &radians.value})
        for (Segment segment : kSequence)
            for (std::size_t i = 0; i < exact.frames; i += 50)
                EXPECT_LT(take->find(segment)->q_lab_segment[i].angularDistance(
                              exact.find(segment)->q_lab_segment[i]),
                          1e-4);
}

TEST(Storage, NamesTheLineOfTheFile) {
    const auto no_end = read("swing\nversion=1\ntime\tpelvis_turn\n0\t1\n", "a.sto");
    ASSERT_FALSE(no_end.ok());
    EXPECT_EQ(no_end.findings.front().code, "no-endheader");
    const auto word =
        read("swing\ninDegrees=yes\nendheader\ntime\tpelvis_turn\n0\t1\n0.1\tx\n", "a.sto");
    ASSERT_FALSE(word.ok());
    EXPECT_EQ(word.findings.front().where, "line 6, column pelvis_turn");
}
