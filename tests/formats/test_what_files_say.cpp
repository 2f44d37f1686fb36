// What is said of files that are not whole, not ours or not sensible: the sentence, the place and
// what is kept, for damages put in by hand.
#include "core/measures/analyse.h"
#include "core/motion/beside.h"
#include "core/motion/uniform.h"
#include "formats/bvh/bvh.h"
#include "formats/c3d/c3d.h"
#include "formats/c3d/c3d_file.h"
#include "formats/film/film_json.h"
#include "formats/json/lesson_json.h"
#include "formats/mapping/column_mapping.h"
#include "formats/names/name_table.h"
#include "formats/reader.h"
#include "formats/rules/rules_json.h"
#include "formats/text/bytes.h"
#include "formats/text/delimited.h"
#include "support/c3d_bytes.h"
#include "support/findings.h"
#include "support/swing_files.h"
#include "support/temporary_folder.h"

#include <gtest/gtest.h>

#include <functional>
#include <sstream>

using namespace kite;
using namespace kite::formats;
using kite::test::codes_of;
using kite::test::find_code;
using kite::test::has_code;

namespace {

Outcome<Take> take_of(const std::string& bytes, const char* name, const ReadOptions& options = {}) {
    return read_take(std::string_view(bytes), name, options);
}

std::string replaced(std::string text, const std::string& from, const std::string& to) {
    for (std::size_t at = text.find(from); at != std::string::npos;
         at = text.find(from, at + to.size()))
        text.replace(at, from.size(), to);
    return text;
}

/// Every line of a text as `change` makes it; lines that it makes empty are left out. Rows count
/// from the header's 0; comments come as they are.
std::string with_lines(const std::string& text,
                       const std::function<std::string(const std::string& line, int row)>& change) {
    std::istringstream in(text);
    std::string out;
    std::string line;
    int row = 0;
    while (std::getline(in, line)) {
        const bool comment = line.rfind('#', 0) == 0;
        const std::string changed = comment ? line : change(line, row++);
        out += changed.empty() ? "" : changed + "\n";
    }
    return out;
}

std::vector<std::string> fields_of(const std::string& line) {
    std::vector<std::string> out{""};
    for (char c : line)
        if (c == ',')
            out.emplace_back();
        else
            out.back() += c;
    return out;
}

std::string line_of(const std::vector<std::string>& fields) {
    std::string out;
    for (std::size_t i = 0; i < fields.size(); ++i)
        out += (i == 0 ? "" : ",") + fields[i];
    return out;
}

/// A table in which the columns whose names begin with a word hold nothing; without their header
/// they are gone.
std::string emptied(const std::string& csv, const std::string& word, bool header_too) {
    std::vector<bool> named;
    return with_lines(csv, [&](const std::string& line, int row) {
        std::vector<std::string> fields = fields_of(line);
        if (row == 0)
            for (const std::string& field : fields)
                named.push_back(field.rfind(word, 0) == 0);
        for (std::size_t i = fields.size(); i-- > 0;)
            if (named[i] && header_too)
                fields.erase(fields.begin() + static_cast<std::ptrdiff_t>(i));
            else if (named[i] && row > 0)
                fields[i].clear();
        return line_of(fields);
    });
}

/// A table with another time column: `time_of` of the row, from 0.
std::string with_times(const std::string& csv, const std::function<double(int)>& time_of) {
    return with_lines(csv, [&](const std::string& line, int row) {
        return row == 0 ? line : fixed(time_of(row - 1), 7) + line.substr(line.find(','));
    });
}

const simulate::SwingParameters kPlain;

} // namespace

// The signature of PNG and its first chunk (PNG specification, 5.2).
TEST(SaidOfFiles, WhatIsOfAnotherKindIsNotTakenForATable) {
    const std::string picture("\x89PNG\r\n\x1a\n\0\0\0\rIHDR\0\0\0\x01\0\0\0\x01\x08\0\0\0\0", 29);
    const auto read = take_of(picture, "swing.png");
    EXPECT_FALSE(read.ok());
    const Finding* said = find_code(read.findings, "format-unknown");
    ASSERT_NE(said, nullptr) << codes_of(read.findings);
    EXPECT_NE(said->mend.find("C3D"), std::string::npos) << said->mend;
    // Under the name of a table somebody means a table: it is said what is in it instead.
    EXPECT_EQ(find_code(take_of(picture, "swing.csv").findings, "format-unknown"), nullptr);
}

TEST(SaidOfFiles, ConversionWantsMarkers) {
    const std::string csv = test::rates_csv(kPlain);
    const auto markers = read_markers(csv, "rates.csv", {});
    EXPECT_FALSE(markers.ok());
    EXPECT_TRUE(has_code(markers.findings, "no-markers"));
}

TEST(SaidOfFiles, NothingIsWrittenOfNoMarkers) {
    MarkerTake empty;
    EXPECT_TRUE(has_code(write_c3d(empty).findings, "nothing-to-write"));
    empty.frames = 10;
    EXPECT_TRUE(has_code(write_c3d(empty).findings, "nothing-to-write")) << "frames of nothing";
    empty.labels = {"LASI"};
    empty.tracks_m = {std::vector<Eigen::Vector3d>(10, Eigen::Vector3d::Zero())};
    EXPECT_TRUE(write_c3d(empty).ok());
}

// The header claims ten frames more than there are: what is there is read, and both numbers said.
TEST(SaidOfBvh, EveryBrokenPlaceOfTheHierarchyByItsLine) {
    const std::string whole = "HIERARCHY\nROOT Hips\n{\n OFFSET 0 0 0\n CHANNELS 3 Xposition "
                              "Yposition Zposition\n End Site\n {\n  OFFSET 0 1 0\n }\n}\nMOTION\n"
                              "Frames: 2\nFrame Time: 0.01\n0 0 0\n1 1 1\n";
    ASSERT_TRUE(parse_bvh(whole).ok());
    struct Damage {
        const char* from;
        const char* to;
        const char* code;
        const char* line; ///< where it stands
    };
    for (const Damage& damage :
         {Damage{"HIERARCHY", "HIERARCHIE", "no-hierarchy", "line 1"},
          Damage{"ROOT", "JOINT", "no-root", "line 2"},
          Damage{"{\n OFFSET 0 0 0", "\n OFFSET 0 0 0", "hierarchy-broken", "line 4"},
          Damage{"OFFSET 0 0 0", "OFFSET 0 zero 0", "bad-offset", "line 4"},
          Damage{"CHANNELS 3", "CHANNELS three", "bad-channels", "line 5"},
          Damage{"CHANNELS 3", "CHANNELS 7", "bad-channels", "line 5"},
          Damage{"Yposition", "Yspeed", "bad-channel", "line 5"},
          Damage{" End Site", " Tail Site", "hierarchy-broken", "line 6"},
          Damage{"CHANNELS 3 Xposition Yposition Zposition", "CHANNELS 0", "no-channels",
                 "line 13"},
          Damage{"Frames: 2", "Frames: two", "bad-frames", "line 12"},
          Damage{"Frames: 2", "Frames: -1", "bad-frames", "line 12"},
          Damage{"0.01", "fast", "bad-frame-time", "line 13"},
          Damage{"0.01", "100", "bad-frame-time", "line 13"},
          Damage{"MOTION", "MOTIONS", "hierarchy-broken", "line 11"}}) {
        const auto read = parse_bvh(replaced(whole, damage.from, damage.to));
        EXPECT_FALSE(read.ok()) << damage.to;
        const Finding* said = find_code(read.findings, damage.code);
        ASSERT_NE(said, nullptr) << damage.to << ": " << codes_of(read.findings);
        EXPECT_EQ(said->where, damage.line) << damage.to;
        EXPECT_FALSE(said->mend.empty());
    }
    // Cut anywhere within the hierarchy it ends too early; nothing is read from beyond the end.
    for (std::size_t length = 0; length < whole.find("Frames"); ++length)
        EXPECT_FALSE(parse_bvh(whole.substr(0, length)).ok()) << length;
    // Deeper than any body.
    std::string deep = "HIERARCHY\nROOT Hips\n{\nOFFSET 0 0 0\nCHANNELS 0\n";
    for (int i = 0; i < 300; ++i)
        deep += "JOINT j\n{\nOFFSET 0 0 0\nCHANNELS 0\n";
    EXPECT_TRUE(has_code(parse_bvh(deep).findings, "too-deep"));
}

TEST(SaidOfC3d, WhatTheParametersCannotBe) {
    const auto said_of = [](const test::C3dBytes& made,
                            const std::function<void(std::string&)>& damage) {
        std::string bytes = made.build();
        damage(bytes);
        return parse_c3d(bytes).findings;
    };
    const auto leave = [](std::string&) {};
    test::C3dBytes whole;
    EXPECT_TRUE(said_of(whole, leave).empty()) << codes_of(said_of(whole, leave));
    test::C3dBytes flat;
    flat.integers = true;
    flat.scale = 0.0;
    const auto scale = said_of(flat, leave);
    ASSERT_TRUE(has_code(scale, "bad-scale")) << codes_of(scale);
    EXPECT_NE(find_code(scale, "bad-scale")->where.find("POINT:SCALE"), std::string::npos);
    // The chain of parameters ends at once, and within a name.
    const auto none = said_of(whole, [](std::string& bytes) { bytes[516] = '\0'; });
    EXPECT_TRUE(has_code(none, "no-parameters")) << codes_of(none);
    const auto cut = said_of(whole, [](std::string& bytes) { bytes.resize(520); });
    EXPECT_TRUE(has_code(cut, "parameters-broken")) << codes_of(cut);
    // A parameter that claims more values than the file has bytes.
    const auto huge = said_of(whole, [](std::string& bytes) {
        const std::size_t type = bytes.find("USED") + 6;
        bytes.replace(type + 1, 4, "\3\xff\xff\xff");
    });
    EXPECT_TRUE(has_code(huge, "parameters-broken")) << codes_of(huge);
    // A processor that nobody built.
    const auto processor = said_of(whole, [](std::string& bytes) { bytes[515] = 99; });
    EXPECT_TRUE(has_code(processor, "processor")) << codes_of(processor);
}

TEST(SaidOfFilm, APictureMarkedTwiceIsTheMiddleOfBoth) {
    const auto read = read_film_marks(
        R"({"kite-hinge": "film 1", "views": [{"view": "face-on", "size_px": [100, 200],
            "capture_rate_hz": 240, "marks": [
            {"t_s": 0.5, "wrist": [10, 20], "head": [50, 60]},
            {"t_s": 0.25, "wrist": [5, 5]},
            {"t_s": 0.5, "wrist": [14, 28], "grip": [1, 2]}]}]})");
    const Finding* said = find_code(read.findings, "marked-twice");
    ASSERT_NE(said, nullptr) << codes_of(read.findings);
    EXPECT_NE(said->where.find("/views/0"), std::string::npos) << said->where;
    const auto& frames = read.value.views.at(0).frames;
    ASSERT_EQ(frames.size(), 2U) << "and in order of their times";
    EXPECT_EQ(frames[0].t_s, 0.25);
    EXPECT_EQ(*frames[1][film::Point::Wrist], film::Pixel(12.0, 24.0));
    EXPECT_EQ(*frames[1][film::Point::Head], film::Pixel(50.0, 60.0));
    EXPECT_EQ(*frames[1][film::Point::Grip], film::Pixel(1.0, 2.0));
}

TEST(SaidOfBvh, FramesThatAreMissing) {
    const std::string whole = test::bvh_file(kPlain);
    const auto frames = parse_bvh(whole).value.frames();
    const std::string bytes = replaced(whole, "Frames: " + std::to_string(frames),
                                       "Frames: " + std::to_string(frames + 10));
    const auto skeleton = parse_bvh(bytes);
    ASSERT_TRUE(skeleton.ok());
    EXPECT_EQ(skeleton.value.frames(), frames);
    const Finding* said = find_code(skeleton.findings, "frames-missing");
    ASSERT_NE(said, nullptr) << codes_of(skeleton.findings);
    EXPECT_NE(said->what.find("claims " + std::to_string(frames + 10)), std::string::npos)
        << said->what;
    EXPECT_NE(said->what.find("holds " + std::to_string(frames)), std::string::npos) << said->what;
}

// A row that ends in its middle is not half a frame.
TEST(SaidOfBvh, ALastRowThatIsCut) {
    std::string bytes = test::bvh_file(kPlain);
    const auto frames = parse_bvh(bytes).value.frames();
    bytes.resize(bytes.size() - 40);
    const auto skeleton = parse_bvh(bytes);
    EXPECT_TRUE(has_code(skeleton.findings, "frames-missing")) << codes_of(skeleton.findings);
    EXPECT_EQ(skeleton.value.frames(), frames - 1);
}

TEST(SaidOfBvh, JointsThatASwingNeeds) {
    const auto take = take_of(replaced(test::bvh_file(kPlain), "LeftUpLeg", "Bone17"), "swing.bvh");
    EXPECT_FALSE(take.ok());
    const Finding* said = find_code(take.findings, "joints-missing");
    ASSERT_NE(said, nullptr) << codes_of(take.findings);
    EXPECT_EQ(said->where, "HIERARCHY");
}

// A skeleton in inches fits metres, centimetres or millimetres by no size: the leg tells, and it is
// said. 1 in = 0.0254 m (NIST SP 811).
TEST(SaidOfBvh, AUnitThatTheLegTells) {
    const std::string plain = test::bvh_file(kPlain);
    bool motion = false;
    const std::string out = with_lines(plain, [&](const std::string& line, int) {
        const bool values = motion && line.rfind("Frame", 0) != 0;
        motion = motion || line.rfind("MOTION", 0) == 0;
        if (!values)
            return line;
        std::istringstream in(line);
        std::string inches;
        double value = 0.0;
        while (in >> value)
            inches += (inches.empty() ? "" : " ") + fixed(value / 2.54, 4);
        return inches;
    });
    const auto take = take_of(out, "swing.bvh");
    ASSERT_TRUE(take.ok()) << codes_of(take.findings);
    EXPECT_TRUE(has_code(take.findings, "unit-from-golfer")) << codes_of(take.findings);
    EXPECT_FALSE(has_code(take_of(plain, "swing.bvh").findings, "unit-from-golfer"));
    // The leg is taken for 0.86 m: lengths agree to what this model's leg is beside that.
    const auto meant = take_of(plain, "swing.bvh");
    EXPECT_NEAR(*take.value.club_length_m / *meant.value.club_length_m, 1.0, 0.15);
}

TEST(SaidOfSensors, HeadingAndGravity) {
    const std::string csv = test::sensor_csv(kPlain);
    const auto take = take_of(csv, "sensors.csv");
    ASSERT_TRUE(take.ok()) << codes_of(take.findings);
    EXPECT_TRUE(has_code(take.findings, "heading-assumed"));
    EXPECT_FALSE(has_code(take.findings, "no-gravity"));
    // The torso's accelerometer says nothing at all.
    const auto without = take_of(emptied(csv, "torso_a", false), "sensors.csv");
    const Finding* said = find_code(without.findings, "no-gravity");
    ASSERT_NE(said, nullptr) << codes_of(without.findings);
    EXPECT_NE(said->what.find("torso"), std::string::npos) << said->what;
    EXPECT_EQ(without.value.find(Segment::Torso), nullptr);
    EXPECT_NE(without.value.find(Segment::Pelvis), nullptr);
}

// One sample of every gyro is lost at rest, each at another time: there is stillness all the same,
// and the peaks stay where they are.
TEST(SaidOfSensors, ALostSampleAtRestCostsNoStillness) {
    const std::string csv = test::sensor_csv(kPlain);
    const std::string out = with_lines(csv, [](const std::string& line, int row) {
        std::vector<std::string> fields = fields_of(line);
        if (row > 0 && row < 140 && row % 7 == 0)
            fields[static_cast<std::size_t>(1 + 6 * (row / 7 % 4))].clear(); // another part's
        return line_of(fields);
    });
    const auto meant = analyse(take_of(csv, "sensors.csv").value, {});
    const auto take = take_of(out, "sensors.csv");
    ASSERT_TRUE(take.ok()) << codes_of(take.findings);
    const auto result = analyse(take.value, {});
    ASSERT_TRUE(result.ok()) << codes_of(result.findings);
    for (Segment segment : kSequence)
        EXPECT_NEAR(result.value.sequence.find(segment)->before_impact_ms,
                    meant.value.sequence.find(segment)->before_impact_ms, 1.0)
            << key_of(segment);
}

TEST(SaidOfMarkersFiles, WhichNamesWereReadAsOurs) {
    MarkerTake markers = simulate::make_markers(kPlain);
    for (std::string& label : markers.labels)
        if (label == "CLB3")
            label = "ClubHead";
    const auto take = take_of(write_trc(markers), "named.trc");
    const Finding* said = find_code(take.findings, "markers-renamed");
    ASSERT_NE(said, nullptr) << codes_of(take.findings);
    EXPECT_NE(said->what.find("ClubHead as CLB3"), std::string::npos) << said->what;
    EXPECT_FALSE(has_code(take_of(write_trc(simulate::make_markers(kPlain)), "plain.trc").findings,
                          "markers-renamed"));
}

TEST(SaidOfTables, APartWithoutAnyValue) {
    Take take = simulate::make_take(kPlain);
    for (auto& q : take.segments.at(Segment::Torso).q_lab_segment)
        q.coeffs().setConstant(kMissing);
    const auto read = take_of(write_pose_csv(take), "swing.csv");
    const Finding* said = find_code(read.findings, "segment-empty");
    ASSERT_NE(said, nullptr) << codes_of(read.findings);
    EXPECT_EQ(said->where, "column torso_qw");
    EXPECT_EQ(read.value.find(Segment::Torso), nullptr);
    EXPECT_NE(read.value.find(Segment::Club), nullptr);
}

TEST(SaidOfTables, ALongTextIsShownShortAndAWholeOneWhole) {
    const auto said = [](const std::string& value) {
        const auto table = read_delimited("time_s,a\n0," + value + "\n0.1,2\n");
        const Finding* finding = find_code(table.findings, "not-a-number");
        return finding == nullptr ? codes_of(table.findings) : finding->what;
    };
    const std::string whole = "twenty-four letters here";
    EXPECT_NE(said(whole).find("\"" + whole + "\""), std::string::npos) << said(whole);
    EXPECT_NE(said(whole + "s").find("\"" + whole + "\u2026\""), std::string::npos)
        << said(whole + "s");
    EXPECT_TRUE(has_code(read_delimited("time_s,\"a\n0,1\n").findings, "header-broken"));
}

TEST(SaidOfTables, TiltWithoutTurn) {
    const std::string csv =
        emptied(test::angles_csv(simulate::make_take(kPlain)), "torso_turn", true);
    const auto take = take_of(csv, "angles.csv");
    const Finding* said = find_code(take.findings, "turn-missing");
    ASSERT_NE(said, nullptr) << codes_of(take.findings);
    EXPECT_NE(said->what.find("torso"), std::string::npos) << said->what;
    EXPECT_NE(said->mend.find("torso_turn_deg"), std::string::npos) << said->mend;
}

TEST(SaidOfTables, TimesThatAreNoSeconds) {
    const auto base_of = [](double step_s) {
        std::vector<double> times_s;
        for (int row = 0; row < 500; ++row)
            times_s.push_back(row * step_s);
        return find_time_base(times_s, std::nullopt);
    };
    const auto slow = base_of(0.2);
    const Finding* low = find_code(slow.findings, "rate-too-low");
    ASSERT_NE(low, nullptr) << codes_of(slow.findings);
    EXPECT_NE(low->what.find("only 5 frames"), std::string::npos) << low->what;
    EXPECT_TRUE(has_code(base_of(2e-5).findings, "rate-too-high"));
    EXPECT_TRUE(base_of(0.1).ok()) << "ten a second is little, but may be read";
    EXPECT_TRUE(base_of(5e-5).ok());
    // A table says 0.2 for 0.2 ms: no swing was ever taken at five frames a second.
    const std::string csv = test::angles_csv(simulate::make_take(kPlain));
    const auto take = take_of(with_times(csv, [](int row) { return row * 0.2; }), "slow.csv");
    ASSERT_TRUE(take.ok());
    EXPECT_TRUE(has_code(take.findings, "time-unit-mended")) << codes_of(take.findings);
    EXPECT_NEAR(take.value.rate_hz, 5000.0, 1.0);
}

// Every fifth row is gone: the motion is brought to even times, and the peaks stay where they were.
TEST(SaidOfTables, TimesThatAreUneven) {
    const std::string csv = test::angles_csv(simulate::make_take(kPlain));
    const std::string out = with_lines(
        csv, [](const std::string& line, int row) { return row % 5 == 3 ? std::string() : line; });
    const auto take = take_of(out, "uneven.csv");
    ASSERT_TRUE(take.ok()) << codes_of(take.findings);
    const Finding* said = find_code(take.findings, "time-irregular");
    ASSERT_NE(said, nullptr) << codes_of(take.findings);
    const auto meant = analyse(take_of(csv, "even.csv").value, {});
    const auto result = analyse(take.value, {});
    ASSERT_TRUE(result.ok());
    for (Segment segment : kSequence)
        EXPECT_NEAR(result.value.sequence.find(segment)->before_impact_ms,
                    meant.value.sequence.find(segment)->before_impact_ms, 4.0)
            << key_of(segment);
}

TEST(SaidOfMappings, AColumnThatIsNotThere) {
    const auto text = map_table("t,hip\n0,1\n1,2\n",
                                {"", {{"t", "time_s", 1.0}, {"chest", "torso_turn_deg", 1.0}}, {}});
    EXPECT_FALSE(text.ok());
    const Finding* said = find_code(text.findings, "column-absent");
    ASSERT_NE(said, nullptr);
    EXPECT_NE(said->what.find("\"chest\""), std::string::npos) << said->what;
    EXPECT_EQ(said->where, "header row");
}

TEST(SaidOfMappings, ABrokenStoreIsNotUsed) {
    for (const char* bytes : {"{}", "[3]", "[{\"name\": 1}]", "nonsense", ""}) {
        const auto store = MappingStore::parse(bytes);
        EXPECT_TRUE(has_code(store.findings, "mappings-broken")) << bytes;
        EXPECT_TRUE(store.value.mappings().empty()) << bytes;
    }
    EXPECT_TRUE(MappingStore::parse("[]").ok());
}

TEST(SaidOfNames, ABrokenTableIsLeftAlone) {
    test::TemporaryFolder folder;
    for (const char* bytes : {"[]", "{", R"({"markers": 3})"}) {
        const auto path = folder.write("names.json", bytes);
        const auto findings = NameTable::add_user_markers(path, {{"Shaft A", "CLB1"}});
        EXPECT_TRUE(has_code(findings, "names-broken")) << bytes << codes_of(findings);
        EXPECT_EQ(read_bytes(path).value, bytes) << "not a byte of it changes";
    }
    const auto path = folder.write("good.json", R"({"joints": {"hip_l": "left_hip"}})");
    EXPECT_TRUE(NameTable::add_user_markers(path, {{"Shaft A", "CLB1"}}).empty());
    const auto table = NameTable::with_user_names(path);
    EXPECT_EQ(table.value.find_marker("shaft a"), "CLB1");
    EXPECT_EQ(table.value.find_joint("hip_l"), "left_hip") << "what else it held stays";
}

TEST(SaidOfFiles, WhatCannotBeWrittenLeavesTheOldOneWhole) {
    test::TemporaryFolder folder;
    const auto nowhere = write_bytes(folder.path("no-such-folder/a.csv"), "new");
    EXPECT_TRUE(has_code(nowhere, "unwritable")) << codes_of(nowhere);
    // A folder stands where the file should: the new one cannot be put there.
    std::filesystem::create_directory(folder.path("taken"));
    folder.write("taken/a.csv", "old");
    const auto taken = write_bytes(folder.path("taken"), "new");
    EXPECT_TRUE(has_code(taken, "unwritable")) << codes_of(taken);
    EXPECT_EQ(read_bytes(folder.path("taken/a.csv")).value, "old");
    EXPECT_FALSE(std::filesystem::exists(folder.path("taken.part"))) << "nothing is left behind";
}

TEST(SaidOfRules, ASchoolThatIsNotThere) {
    const auto rules = rules_with_school("no-such-school");
    EXPECT_FALSE(rules.ok());
    const Finding* said = find_code(rules.findings, "no-school");
    ASSERT_NE(said, nullptr);
    for (const School& school : shipped_schools())
        EXPECT_NE(said->mend.find(school.id), std::string::npos) << school.id;
}

TEST(SaidOfRules, WhatIsNoRuleFileAndWhatIsABadOne) {
    EXPECT_TRUE(has_code(parse_rule_book("{}").findings, "not-rules"));
    EXPECT_TRUE(has_code(parse_rule_book(R"({"kite-hinge": "rules 99"})").findings, "not-rules"));
    EXPECT_TRUE(has_code(parse_rule_book("[1e999]").findings, "bad-json") ||
                !parse_rule_book("[1e999]").ok());
    const auto school = parse_school(R"({"kite-hinge": "school 1", "id": 7})", shipped_rule_book());
    EXPECT_FALSE(school.ok());
    const Finding* said = find_code(school.findings, "bad-rule");
    ASSERT_NE(said, nullptr) << codes_of(school.findings);
    EXPECT_EQ(said->where.rfind("line 1", 0), 0u) << said->where;
}

TEST(SaidOfLessons, SwingsThatNameNoFileOfTheFolder) {
    const auto lesson = parse_lesson(
        R"({"kite-hinge": "lesson 1", "name": "x", "swings": [{"file": "../a.csv"}, {"note": "?"},
            7, {"file": "b.csv"}]})",
        "folder/lesson.json");
    int left_out = 0;
    for (const Finding& finding : lesson.findings)
        left_out += finding.code == "swing-without-file" ? 1 : 0;
    EXPECT_EQ(left_out, 3) << codes_of(lesson.findings);
    ASSERT_EQ(lesson.value.swings.size(), 1u);
    EXPECT_EQ(lesson.value.swings[0].file.filename(), "b.csv");
    EXPECT_EQ(find_code(lesson.findings, "swing-without-file")->where, "swings, entry 1");
}

TEST(SaidOfForces, OwnOnesGiveWayAndClocksAreNamed) {
    Take take = simulate::make_take(kPlain);
    ASSERT_FALSE(take.lead_force_n.empty());
    take.contact_s.reset();
    ForceRecord record;
    for (int i = 0; i < 400; ++i) {
        record.times_s.push_back(i / 100.0);
        record.lead_n.push_back(500.0);
        record.trail_n.push_back(300.0);
    }
    std::vector<Finding> findings;
    attach_forces(take, record, findings);
    EXPECT_TRUE(has_code(findings, "force-replaced")) << codes_of(findings);
    EXPECT_TRUE(has_code(findings, "force-clock")) << codes_of(findings);
    EXPECT_NEAR(take.lead_force_n[take.frames / 2], 500.0, 1e-9);
    take.contact_s = 1.0;
    take.lead_force_n.clear();
    take.trail_force_n.clear();
    record.contact_s = 1.2;
    findings.clear();
    attach_forces(take, record, findings);
    EXPECT_FALSE(has_code(findings, "force-replaced")) << codes_of(findings);
    EXPECT_FALSE(has_code(findings, "force-clock")) << codes_of(findings);
}
