#include "formats/names/name_table.h"
#include "formats/reader.h"
#include "support/swing_files.h"
#include "support/temporary_folder.h"

#include <gtest/gtest.h>

using namespace kite;
using namespace kite::formats;

TEST(NameTable, KnowsOtherNamesWithoutCasePrefixAndSigns) {
    const NameTable table = NameTable::shipped();
    EXPECT_EQ(table.find_marker("LASI"), "LASI");
    EXPECT_EQ(table.find_marker("golfer:r_asis"), "RASI");
    EXPECT_EQ(table.find_marker("Left Shoulder"), "LSHO");
    EXPECT_EQ(table.find_marker("Club Head"), "CLB3");
    EXPECT_EQ(table.find_marker("nonsense"), std::nullopt);
    EXPECT_EQ(table.find_joint("LeftForeArm"), "left_elbow");
    EXPECT_EQ(table.find_joint("RightUpLeg"), "right_hip");
    EXPECT_EQ(table.find_joint("Hips"), "hips");
}

TEST(NameTable, LaysTheUsersNamesOverIt) {
    test::TemporaryFolder folder;
    const auto path = folder.write("names.json", R"({"markers": {"Shaft A": "CLB1", "bad": 3}})");
    const auto table = NameTable::with_user_names(path);
    ASSERT_TRUE(table.ok());
    EXPECT_EQ(table.value.find_marker("shaft_a"), "CLB1");
    EXPECT_EQ(table.value.find_marker("LASI"), "LASI");
    EXPECT_EQ(table.findings.front().code, "name-broken");
    EXPECT_FALSE(NameTable::with_user_names(folder.write("broken.json", "{")).ok());
    EXPECT_FALSE(NameTable::with_user_names(folder.path("none.json")).ok());
}

// A capture by other names is the same swing.
TEST(NameTable, ReadsACaptureByOtherNames) {
    simulate::SwingParameters parameters;
    MarkerTake markers = simulate::make_markers(parameters);
    for (std::string& label : markers.labels) {
        if (label == "LASI")
            label = "L_ASIS";
        else if (label == "CLB3")
            label = "ClubHead";
        else if (label == "LWRA")
            label = "L.Wrist.Thumb";
    }
    const auto take = read_take(std::string_view(write_trc(markers)), "named.trc", {});
    ASSERT_TRUE(take.ok()) << text_of(take.findings.front());
    EXPECT_NE(take.value.find(Segment::Pelvis), nullptr);
    EXPECT_NE(take.value.find(Segment::LeadArm), nullptr);
    EXPECT_NEAR(*take.value.club_length_m, parameters.club_length_m(), 1e-3);
}
