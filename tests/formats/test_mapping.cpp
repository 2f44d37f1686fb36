// Tables with columns of other names: guessing, mapping, remembering. Factors are those of the
// units themselves: 1 in = 0.0254 m exactly (NIST SP 811), 180° = π rad.

#include "formats/mapping/column_mapping.h"
#include "formats/names/name_table.h"
#include "formats/reader.h"
#include "formats/text/delimited.h"
#include "support/swing_files.h"
#include "support/temporary_folder.h"

#include <gtest/gtest.h>

using namespace kite;
using namespace kite::formats;

namespace {

constexpr double kDegPerRad = 57.29577951308232;

const ColumnUse* find_use(const ColumnMapping& mapping, const std::string& ours) {
    for (const ColumnUse& use : mapping.uses)
        if (use.ours == ours)
            return &use;
    return nullptr;
}

std::string first_line_of(const std::string& text) {
    return text.substr(0, text.find('\n'));
}

} // namespace

TEST(ColumnMapping, GuessesByTheWordsOfTheHeader) {
    const ColumnMapping guess = guess_mapping({"frame", "clock (ms)", "hip rotation",
                                               "thorax rot speed", "l arm velocity (rad/s)",
                                               "shaft rate [dps]", "pelvis side bend", "comment"});
    ASSERT_NE(find_use(guess, "time_s"), nullptr);
    EXPECT_EQ(find_use(guess, "time_s")->theirs, "clock (ms)");
    EXPECT_DOUBLE_EQ(find_use(guess, "time_s")->factor, 0.001);
    ASSERT_NE(find_use(guess, "pelvis_turn_deg"), nullptr);
    EXPECT_EQ(find_use(guess, "pelvis_turn_deg")->theirs, "hip rotation");
    ASSERT_NE(find_use(guess, "torso_rate_deg_s"), nullptr);
    ASSERT_NE(find_use(guess, "lead_arm_rate_deg_s"), nullptr);
    EXPECT_NEAR(find_use(guess, "lead_arm_rate_deg_s")->factor, kDegPerRad, 1e-9);
    ASSERT_NE(find_use(guess, "club_rate_deg_s"), nullptr);
    ASSERT_NE(find_use(guess, "pelvis_side_tilt_deg"), nullptr);
    EXPECT_EQ(guess.uses.size(), 6u) << "frame and comment are nothing of ours";
    for (const auto& [name, factor] : {std::pair("time (s)", 1.0), std::pair("seconds", 1.0),
                                       std::pair("time in milliseconds", 0.001)})
        EXPECT_DOUBLE_EQ(find_use(guess_mapping({name}), "time_s")->factor, factor) << name;
    // Milliseconds are of times alone.
    EXPECT_DOUBLE_EQ(find_use(guess_mapping({"pelvis rotation (ms 4)"}), "pelvis_turn_deg")->factor,
                     1.0);
}

TEST(ColumnMapping, UsesNothingTwiceAndKnowsOurOwnNames) {
    const ColumnMapping guess = guess_mapping({"time_s", "time", "club_turn_deg", "club rotation"});
    ASSERT_EQ(guess.uses.size(), 2u);
    EXPECT_EQ(guess.uses[0].theirs, "time_s");
    EXPECT_EQ(guess.uses[1].theirs, "club_turn_deg");
}

TEST(ColumnMapping, TurnsUnitsAndSignsAndKeepsComments) {
    const ColumnMapping mapping{"",
                                {{"t", "time_s", 0.001},
                                 {"hip", "pelvis_turn_deg", -kDegPerRad},
                                 {"up", "pelvis_z_m", 0.0254}},
                                {}};
    const auto text =
        map_table("# handed: left\nt;hip;who;up\n250;0,5;Ada;40\n254;;Ada;\n", mapping);
    ASSERT_TRUE(text.ok());
    const auto table = read_delimited(text.value);
    ASSERT_TRUE(table.ok());
    EXPECT_EQ(table.value.find_comment("handed"), "left");
    EXPECT_DOUBLE_EQ((*table.value.find("time_s"))[0], 0.25);
    EXPECT_NEAR((*table.value.find("pelvis_turn_deg"))[0], -28.64788975654116, 1e-9);
    EXPECT_NEAR((*table.value.find("pelvis_z_m"))[0], 1.016, 1e-12);
    EXPECT_TRUE(std::isnan((*table.value.find("pelvis_turn_deg"))[1]));
}

TEST(ColumnMapping, CountsRowsWhereThereIsNoTime) {
    ColumnMapping mapping{"", {{"hip", "pelvis_turn_deg", 1.0}}, 250.0};
    const auto text = map_table("hip,other\n1,5\n2,6\n3,7\n", mapping);
    ASSERT_TRUE(text.ok());
    EXPECT_EQ(first_line_of(text.value), "time_s,pelvis_turn_deg");
    const auto table = read_delimited(text.value);
    EXPECT_DOUBLE_EQ((*table.value.find("time_s"))[2], 0.008);
    mapping.uses.push_back({"gone", "torso_turn_deg", 1.0});
    const auto refused = map_table("hip,other\n1,5\n", mapping);
    ASSERT_FALSE(refused.ok());
    EXPECT_NE(refused.findings.back().what.find("gone"), std::string::npos);
}

TEST(MappingStore, ComesBackAndChoosesTheMappingThatFits) {
    test::TemporaryFolder folder;
    const auto path = folder.path("deep/mappings.json");
    MappingStore store;
    store.put({"small", {{"hip", "pelvis_turn_deg", 1.0}}, {}});
    store.put(
        {"large", {{"hip", "pelvis_turn_deg", -1.0}, {"chest", "torso_turn_deg", 1.0}}, 200.0});
    store.put({"small", {{"hip", "pelvis_turn_deg", 2.0}}, {}}); // gives way to the newer one
    EXPECT_TRUE(store.save(path).empty());
    const auto back = MappingStore::load(path);
    ASSERT_TRUE(back.ok());
    ASSERT_EQ(back.value.mappings().size(), 2u);
    const auto* large = back.value.find_for("# note: x\nHip,Chest,Rest\n1,2,3\n");
    ASSERT_NE(large, nullptr);
    EXPECT_EQ(large->name, "large");
    EXPECT_EQ(large->rows_hz, 200.0);
    EXPECT_EQ(large->uses[0].factor, -1.0);
    const auto* small = back.value.find_for("hip\n1\n");
    ASSERT_NE(small, nullptr);
    EXPECT_EQ(small->uses[0].factor, 2.0);
    EXPECT_EQ(back.value.find_for("chest\n1\n"), nullptr);
    EXPECT_EQ(back.value.find_for(std::string_view("hip\0\n1\n", 7)), nullptr) << "no text";
    EXPECT_EQ(back.value.find_for(""), nullptr);
}

TEST(MappingStore, NamesWhatIsBrokenAndUsesTheRest) {
    test::TemporaryFolder folder;
    EXPECT_TRUE(MappingStore::load(folder.path("absent.json")).ok());
    for (const char* bytes :
         {"{", "{}", "[1]", R"([{"columns": 3}])",
          R"([{"name": "a", "columns": [{"theirs": "x", "ours": "no_such"}]}])"}) {
        const auto store = MappingStore::load(folder.write("m.json", bytes));
        ASSERT_FALSE(store.ok()) << bytes;
        EXPECT_FALSE(store.findings[0].mend.empty());
    }
    const auto half = MappingStore::load(folder.write(
        "m.json", R"([7, {"name": "b", "columns": [{"theirs": "x", "ours": "time_s"}]}])"));
    EXPECT_EQ(half.value.mappings().size(), 1u);
}

// The same swing under other names and in other units is the same swing.
TEST(MappingStore, AMappedTableIsReadLikeOurOwn) {
    const Take take = simulate::make_take({});
    const std::string ours = test::angles_csv(take);
    std::string theirs = test::angles_csv(take, "_deg", rad_from_deg(1.0));
    ColumnMapping mapping{"rig", {{"clock", "time_s", 1.0}}, {}};
    const auto rename = [&](const std::string& from, const std::string& to) {
        theirs.replace(theirs.find(from), from.size(), to);
    };
    rename("time_s", "Clock");
    for (Segment segment : kSequence)
        for (const char* angle : {"_turn_deg", "_side_tilt_deg", "_forward_bend_deg"}) {
            const std::string key = std::string(key_of(segment)) + angle;
            rename(key, "Col " + std::to_string(mapping.uses.size()));
            mapping.uses.push_back({"col " + std::to_string(mapping.uses.size()), key, kDegPerRad});
        }
    auto store = std::make_shared<MappingStore>();
    store->put(mapping);
    ReadOptions options;
    options.mappings = store;
    const auto expected = read_take(ours, "a.csv", {});
    const auto mapped = read_take(theirs, "a.csv", options);
    ASSERT_TRUE(expected.ok());
    ASSERT_TRUE(mapped.ok()) << mapped.findings.back().what;
    ASSERT_EQ(mapped.value.frames, expected.value.frames);
    for (std::size_t i = 0; i < expected.value.frames; i += 50)
        EXPECT_LT(mapped.value.find(Segment::Club)
                      ->q_lab_segment[i]
                      .angularDistance(expected.value.find(Segment::Club)->q_lab_segment[i]),
                  1e-5);
    EXPECT_FALSE(read_take(theirs, "a.csv", {}).ok()) << "without the mapping nobody knows it";
}

TEST(UserNames, AreAddedToWhatTheFileHolds) {
    test::TemporaryFolder folder;
    const auto path = folder.write(
        "names.json", R"({"markers": {"Old": "LASI"}, "columns": {"Ball": "ball_speed_mph"}})");
    EXPECT_TRUE(NameTable::add_user_markers(path, {{"Front R", "RASI"}}).empty());
    const auto table = NameTable::with_user_names(path);
    ASSERT_TRUE(table.ok());
    EXPECT_EQ(table.value.find_marker("old"), "LASI");
    EXPECT_EQ(table.value.find_marker("s1:front_r"), "RASI");
    EXPECT_EQ(table.value.find_column("ball"), "ball_speed_mph");
    EXPECT_TRUE(NameTable::add_user_markers(path, {{"C7", ""}}).empty());
    EXPECT_EQ(NameTable::with_user_names(path).value.find_marker("C7"), std::nullopt)
        << "a shipped name can be taken away";
    const auto broken = folder.write("broken.json", "{\"markers\": 3}");
    EXPECT_TRUE(has_errors(NameTable::add_user_markers(broken, {{"a", "LASI"}})));
    EXPECT_EQ(test::TemporaryFolder::read(broken), "{\"markers\": 3}") << "it is left alone";
    const auto markers = NameTable::our_markers();
    EXPECT_EQ(markers.size(), 27u) << "docs/markers.md: ten pairs and seven single ones";
}
