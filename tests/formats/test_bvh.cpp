#include "core/measures/analyse.h"
#include "formats/bvh/bvh.h"
#include "formats/reader.h"
#include "reference/assimp_values.h"
#include "simulate/truth.h"
#include "support/swing_files.h"
#include "support/temporary_folder.h"

#include <gtest/gtest.h>

using namespace kite;
using namespace kite::formats;

// Source: 01_01.bvh of Debian's assimp-testmodels, a real capture: 2,752 frames at 1/120 s; joint
// positions as Assimp reads them (tests/reference/assimp_bvh.cpp).
TEST(Bvh, ReadsARealCaptureLikeAssimp) {
    const std::string bytes = test::TemporaryFolder::read(KITE_WALK_BVH);
    ASSERT_FALSE(bytes.empty()) << "the package assimp-testmodels is missing";
    const auto file = parse_bvh(bytes);
    ASSERT_TRUE(file.ok()) << text_of(file.findings.front());
    EXPECT_EQ(file.value.frames(), 2752U);
    EXPECT_NEAR(file.value.frame_time_s, 1.0 / 120.0, 1e-6);
    for (const auto& expected : reference::kAssimpJoints) {
        const auto positions = file.value.positions(expected.frame);
        bool found = false;
        for (std::size_t j = 0; j < positions.size(); ++j) {
            if (file.value.joints[j].name != expected.joint || found)
                continue;
            found = true;
            EXPECT_LT((positions[j] - Eigen::Vector3d(expected.position[0], expected.position[1],
                                                      expected.position[2]))
                          .norm(),
                      2e-4)
                << expected.joint << " in frame " << expected.frame;
        }
        EXPECT_TRUE(found) << expected.joint;
    }
    // No golf in it: joints are found, and it is said in words that nothing is swung.
    const auto take = read_take(std::string_view(bytes), "01_01.bvh", {});
    EXPECT_TRUE(take.ok());
    EXPECT_NEAR(take.value.rate_hz, 120.0, 1e-9);
}

// A television's 119.88 (120 / 1.001) is no 120: over ten seconds 10 ms.
TEST(Bvh, KeepsATelevisionsRate) {
    for (const auto& [frame_time, rate_hz] :
         {std::pair("0.0083417", 120.0 / 1.001), std::pair("0.0083333", 120.0),
          std::pair("0.00833", 120.0), std::pair("0.0166833", 60.0 / 1.001)}) {
        std::string bytes = test::bvh_file({});
        const auto at = bytes.find("Frame Time: ");
        ASSERT_NE(at, std::string::npos);
        bytes.replace(at, bytes.find('\n', at) - at, "Frame Time: " + std::string(frame_time));
        EXPECT_NEAR(read_take(std::string_view(bytes), "s.bvh", {}).value.rate_hz, rate_hz, 1e-6)
            << frame_time;
    }
}

// Inside evidence: the same swing as joints gives the sequence of the poses.
TEST(Bvh, GivesTheSwing) {
    const simulate::SwingParameters parameters;
    const simulate::Truth truth = simulate::calc_truth(simulate::SwingModel(parameters));
    const auto take = read_take(std::string_view(test::bvh_file(parameters)), "swing.bvh", {});
    ASSERT_TRUE(take.ok()) << text_of(take.findings.front());
    EXPECT_NEAR(*take.value.arm_length_m, parameters.arm_length_m, 1e-4);
    EXPECT_NEAR(*take.value.club_length_m, parameters.club_length_m(), 1e-4);
    const auto result = analyse(take.value, {});
    ASSERT_TRUE(result.ok());
    for (Segment segment : {Segment::LeadArm, Segment::Club})
        EXPECT_NEAR(result.value.sequence.find(segment)->peak_t_s,
                    truth.parts[index_of(segment)].peak_t_s, 0.004);
    EXPECT_NEAR(result.value.position(Segment::Pelvis, Moment::Top).sway_m,
                truth.pelvis.at(Moment::Top).sway_m, 0.003);
}

TEST(Bvh, SaysWhereItIsBroken) {
    const std::string good =
        "HIERARCHY\nROOT Hips\n{\n OFFSET 0 0 0\n CHANNELS 3 Xrotation Yrotation "
        "Zrotation\n}\nMOTION\nFrames: 1\nFrame Time: 0.01\n0 0 0\n";
    EXPECT_TRUE(parse_bvh(good).ok());
    const auto where = [&](const std::string& from, const std::string& to) {
        std::string text = good;
        text.replace(text.find(from), from.size(), to);
        const auto file = parse_bvh(text);
        return file.findings.empty()
                   ? std::string("fine")
                   : file.findings.front().code + " @ " + file.findings.front().where;
    };
    EXPECT_EQ(where("HIERARCHY", "HIERARCHIE"), "no-hierarchy @ line 1");
    EXPECT_EQ(where("OFFSET 0 0 0", "OFFSET 0 zero 0"), "bad-offset @ line 4");
    EXPECT_EQ(where("Yrotation", "Yspin"), "bad-channel @ line 5");
    EXPECT_EQ(where("CHANNELS 3", "CHANNELS 9"), "bad-channels @ line 5");
    EXPECT_EQ(where("0.01", "0"), "bad-frame-time @ line 9");
    EXPECT_EQ(where("0 0 0\n", "0 x 0\n").substr(0, 10), "bad-offset");
    EXPECT_EQ(where("Frames: 1", "Frames: 99999999"), "frames-missing @ line 11");
}
