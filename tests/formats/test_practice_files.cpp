// Drill and plan files: what ships is whole, what is damaged is named, what is written comes back.

#include "formats/practice/drills_json.h"
#include "formats/practice/eye_json.h"
#include "formats/practice/plan_calendar.h"
#include "formats/practice/plan_json.h"
#include "formats/rules/rules_json.h"
#include "formats/rules/school_edit.h"
#include "support/temporary_folder.h"

#include <gtest/gtest.h>
#include <nlohmann/json.hpp>

#include <cmath>
#include <cstdlib>
#include <filesystem>
#include <fstream>

namespace kite::formats {
namespace {

using Json = nlohmann::ordered_json;

Json shipped() {
    return Json::parse(test::TemporaryFolder::read(KITE_RULES_FOLDER "/drills.json"));
}

TEST(ShippedDrills, AreAtLeastTwentyAndComplete) {
    const DrillBook& book = shipped_drills();
    EXPECT_GE(book.drills.size(), 20u);
    for (const Drill& drill : book.drills) {
        EXPECT_GE(drill.steps.size(), 3u) << drill.id;
        EXPECT_FALSE(drill.sides.empty() || drill.part_swing.empty()) << drill.id;
        EXPECT_FALSE(drill.figure.poses.empty()) << drill.id;
        EXPECT_GE(cautions_of(book, drill).size(), 3u) << drill.id;
        // What is left of a rehearsal in the swing is less of the same.
        EXPECT_FALSE(drill.swing.from > drill.rehearsal.from) << drill.id;
        EXPECT_FALSE(drill.swing.to < drill.rehearsal.to) << drill.id;
    }
}

TEST(ShippedDrills, CoverEveryFaultIndoorsOrOnTheRangeAndSpareEveryLimit) {
    for (const FaultRule& fault : shipped_rule_book().faults) {
        if (fault.phase == Phase::SetUp)
            continue; // is put right at address, not drilled
        DrillWish asked;
        asked.fault = fault.id;
        EXPECT_FALSE(find_drills(shipped_drills(), asked).empty()) << fault.id;
    }
    for (const auto& [limit, name] : shipped_drills().limits) {
        DrillWish asked;
        asked.limits = {limit};
        const auto left = find_drills(shipped_drills(), asked).size();
        EXPECT_LT(left, shipped_drills().drills.size()) << limit;
        EXPECT_GT(left, 10u) << limit;
    }
}

TEST(ShippedDrills, AreWhatTheSchoolsPrefer) {
    for (const School& school : shipped_schools())
        for (const std::string& drill : school.drills)
            EXPECT_NE(shipped_drills().find(drill), nullptr) << school.id << " " << drill;
}

TEST(DrillFiles, SayWhereTheyAreDamaged) {
    const std::string whole = shipped().dump(1);
    ASSERT_TRUE(parse_drill_book(whole, shipped_rule_book()).ok());
    const auto error_of = [](const Json& file) {
        const auto read = parse_drill_book(file.dump(1), shipped_rule_book());
        EXPECT_TRUE(read.value.drills.empty()) << "nothing of a damaged file is used";
        return read.ok() ? std::string() : text_of(read.findings.front());
    };
    struct Damage {
        const char* pointer;
        Json value;
        const char* named;
    };
    const Damage damages[] = {
        {"/drills/0/faults/0", "no-such-fault", "no-such-fault"},
        {"/drills/0/measure", {{"measure", "no.such"}}, "no.such"},
        {"/drills/0/swing", {{"from", 5}, {"to", 1}}, "upside down"},
        {"/drills/0/swing", Json::object(), "has an end"},
        {"/drills/0/rungs", {4, 2}, "rungs"},
        {"/drills/0/rungs", {0, 7}, "rungs"},
        {"/drills/0/places/0", "moon", "moon"},
        {"/drills/0/cautions/0", "none", "caution"},
        {"/drills/0/steps", Json::array(), "steps"},
        {"/drills/0/title", 7, "text"},
        {"/drills/1/id", shipped()["drills"][0]["id"], "twice"},
        {"/drills/0/figure/poses", Json::array(), "poses"},
        {"/drills/0/figure/view", "behind", "face-on"},
        {"/drills/0/colour", "red", "colour"},
        {"/drills", Json::array(), "no drills"},
        {"/kite-hinge", "rules 1", "drills 1"},
    };
    for (const Damage& damage : damages) {
        Json file = shipped();
        file[Json::json_pointer(damage.pointer)] = damage.value;
        EXPECT_NE(error_of(file).find(damage.named), std::string::npos)
            << damage.pointer << ": " << error_of(file);
    }
    for (std::size_t cut = 0; cut < whole.size(); cut += 997)
        EXPECT_FALSE(parse_drill_book(whole.substr(0, cut), shipped_rule_book()).ok()) << cut;
}

// However deep brackets go, the reader does not go down with them.
TEST(RuleFiles, NestedWithoutEndAreRefused) {
    std::string condition = "{\"value\":{\"measure\":\"tempo.ratio\"},\"above\":\"x\"}";
    std::string term = "{\"measure\":\"tempo.ratio\"}";
    for (int i = 0; i < 4000; ++i) {
        condition = "{\"all\":[" + condition + "]}";
        term = "{\"difference\":[" + term + "," + "{\"measure\":\"tempo.ratio\"}]}";
    }
    const auto book_with = [](const std::string& when) {
        return "{\"kite-hinge\":\"rules 1\",\"limits\":{\"x\":{\"value\":1,\"width\":1,\"source\":"
               "\"s\"}},\"faults\":[{\"id\":\"a\",\"phase\":\"backswing\",\"title\":\"t\",\"why\":"
               "\"w\",\"when\":" +
               when + "}]}";
    };
    const auto deep = parse_rule_book(book_with(condition));
    ASSERT_FALSE(deep.ok());
    EXPECT_NE(text_of(deep.findings.front()).find("too deeply"), std::string::npos);
    EXPECT_FALSE(parse_rule_book(book_with("{\"value\":" + term + ",\"above\":\"x\"}")).ok());
    EXPECT_TRUE(
        parse_rule_book(book_with("{\"all\":[{\"any\":[{\"value\":{\"measure\":\"tempo.ratio\"},"
                                  "\"above\":\"x\"}]}]}"))
            .ok());
}

Plan some_plan() {
    Reading reading;
    Fault fault;
    fault.id = "early-extension";
    fault.title = "The pelvis moves towards the ball";
    fault.evidence = 1.0;
    reading.faults = {fault};
    choose(reading);
    PlanWish wish;
    wish.first_day = *find_date("2026-11-27");
    wish.next_lesson = *find_date("2026-12-04");
    Plan plan = make_plan(reading, shipped_drills(), {}, wish).value;
    plan.golfer = "Jonas; \"Wanja\", with a comma \\ and an ü";
    plan.days[1].done = true;
    plan.days[1].note = "two lines\nof a note";
    plan.counts.push_back({wish.first_day, plan.main_drill, 2, 10, 9, true, -0.75});
    plan.counts.push_back({wish.first_day, plan.main_drill, 3, 12, 5, false, kMissing});
    return plan;
}

TEST(PlanFiles, ComeBackAsTheyWere) {
    const test::TemporaryFolder folder;
    const Plan plan = some_plan();
    ASSERT_TRUE(write_plan(folder.path("plan.json"), plan).empty());
    const auto read = read_plan(folder.path("plan.json"));
    ASSERT_TRUE(read.ok()) << text_of(read.findings.front());
    EXPECT_EQ(to_json(read.value), to_json(plan));
    EXPECT_EQ(read.value.golfer, plan.golfer);
    EXPECT_EQ(read.value.days[1].note, plan.days[1].note);
    EXPECT_TRUE(std::isnan(read.value.counts[1].mean));
    EXPECT_EQ(read.value.wish.next_lesson, plan.wish.next_lesson);
}

TEST(PlanFiles, DamageIsNamedAndNothingIsOverwritten) {
    const test::TemporaryFolder folder;
    const std::string whole = to_json(some_plan());
    for (std::size_t cut = 0; cut + 3 < whole.size(); cut += 101)
        EXPECT_FALSE(parse_plan(whole.substr(0, cut)).ok()) << cut;
    struct Damage {
        const char* pointer;
        Json value;
    };
    const Damage damages[] = {{"/days/0/date", "2026-02-30"},
                              {"/days/0/kind", "party"},
                              {"/counts/0/passed", 11},
                              {"/counts/0/rung", 7},
                              {"/wish/minutes", 1e9},
                              {"/wish/days/0", "someday"},
                              {"/main_drill", ""},
                              {"/days/0/items/0/sets", 1.5},
                              {"/kite-hinge", "plan 9"},
                              {"/sound", true}};
    for (const Damage& damage : damages) {
        Json file = Json::parse(whole);
        file[Json::json_pointer(damage.pointer)] = damage.value;
        EXPECT_FALSE(parse_plan(file.dump()).ok()) << damage.pointer;
    }
    EXPECT_FALSE(write_plan(folder.path("no-folder") / "plan.json", some_plan()).empty());
}

// An independent validator (python3-jsonschema) takes what ships and what is written, and refuses
// what the readers refuse.
TEST(Schemas, HoldForWhatShipsAndWhatIsWritten) {
    const test::TemporaryFolder folder;
    const std::filesystem::path rules(KITE_RULES_FOLDER);
    const auto validate = [&](const char* schema, const std::filesystem::path& file) {
        const std::string command = KITE_PYTHON " " KITE_REFERENCE_FOLDER "/validate.py '" +
                                    (rules / "schema" / schema).string() + "' '" + file.string() +
                                    "' > '" + folder.path("said.txt").string() + "'";
        return std::system(command.c_str()) == 0;
    };
    const auto said = [&] { return test::TemporaryFolder::read(folder.path("said.txt")); };
    EXPECT_TRUE(validate("rules.schema.json", rules / "faults.json")) << said();
    EXPECT_TRUE(validate("drills.schema.json", rules / "drills.json")) << said();
    int schools = 0;
    for (const auto& file : std::filesystem::directory_iterator(rules / "schools")) {
        EXPECT_TRUE(validate("school.schema.json", file.path())) << file.path() << said();
        ++schools;
    }
    EXPECT_EQ(schools, static_cast<int>(shipped_schools().size()));
    ASSERT_TRUE(write_plan(folder.path("plan.json"), some_plan()).empty());
    EXPECT_TRUE(validate("plan.schema.json", folder.path("plan.json"))) << said();

    Json damaged = shipped();
    damaged["drills"][0]["rungs"] = {4, 9};
    EXPECT_FALSE(validate("drills.schema.json", folder.write("damaged.json", damaged.dump())));
    EXPECT_FALSE(parse_drill_book(damaged.dump(), shipped_rule_book()).ok());
}

TEST(SchoolFiles, AreChangedInOnePlaceAndKeepTheRest) {
    for (const School& school : shipped_schools()) {
        const std::string bytes(shipped_school_file(school.id));
        ASSERT_FALSE(bytes.empty()) << school.id;
        std::string own = copy_of_school(bytes, "own", "My own");
        Limit limit;
        limit.value = 33.0;
        limit.width = 4.0;
        limit.source = "tried";
        limit.by_face = {{FaceHabit::Shut, 40.0}};
        own = with_limit(own, "square-hips.turn", limit, "°");
        own = with_weight(own, "slide", 3.0);
        own = with_no_fault(own, "cast", "we do not mind");
        auto read = parse_school(own, shipped_rule_book());
        ASSERT_TRUE(read.ok()) << school.id << text_of(read.findings.front());
        EXPECT_EQ(read.value.name, "My own");
        EXPECT_EQ(read.value.limits.at("square-hips.turn").value, 33.0);
        EXPECT_EQ(read.value.limits.at("square-hips.turn").by_face.at(FaceHabit::Shut), 40.0);
        EXPECT_EQ(read.value.weights.at("slide"), 3.0);
        EXPECT_EQ(read.value.no_fault.at("cast"), "we do not mind");
        EXPECT_EQ(read.value.adds.size(), school.adds.size());
        EXPECT_EQ(read.value.cues, school.cues);
        // And back again: as if nothing had been.
        own = without_limit(with_weight(with_no_fault(own, "cast", {}), "slide", 1.0),
                            "square-hips.turn");
        read = parse_school(own, shipped_rule_book());
        ASSERT_TRUE(read.ok());
        EXPECT_EQ(read.value.limits.count("square-hips.turn"), 0u);
        EXPECT_EQ(read.value.weights.count("slide"), 0u);
        EXPECT_EQ(read.value.no_fault.count("cast"), 0u);
    }
}

// RFC 5545, 3.1: lines of at most 75 octets that end in CR LF; 3.3.5: UTC stamps.
TEST(PlanCalendar, KeepsToTheStandard) {
    const std::string text = to_calendar(some_plan(), shipped_drills(), "20261127T101500Z");
    std::size_t begin = 0;
    while (begin < text.size()) {
        const auto end = text.find("\r\n", begin);
        ASSERT_NE(end, std::string::npos);
        EXPECT_LE(end - begin, 75u);
        EXPECT_EQ(text.substr(begin, end - begin).find_first_of("\r\n"), std::string::npos);
        begin = end + 2;
    }
    EXPECT_NE(text.find("DTSTAMP:20261127T101500Z\r\n"), std::string::npos);
    EXPECT_NE(text.find("two lines\\nof a note"), std::string::npos);
    EXPECT_EQ(utc_stamp().size(), 16u);
    EXPECT_EQ(utc_stamp().back(), 'Z');
}

// An independent reader (python3-icalendar) finds the same days.
TEST(PlanCalendar, IsAcceptedByAnotherReader) {
    const test::TemporaryFolder folder;
    const Plan plan = some_plan();
    const auto path = folder.path("plan.ics");
    std::ofstream(path, std::ios::binary)
        << to_calendar(plan, shipped_drills(), "20261127T101500Z");
    const auto out = folder.path("days.txt");
    const std::string command = KITE_PYTHON " " KITE_REFERENCE_FOLDER "/read_calendar.py '" +
                                path.string() + "' > '" + out.string() + "'";
    ASSERT_EQ(std::system(command.c_str()), 0);
    std::string wanted;
    for (const PlanDay& day : plan.days)
        if (day.kind != PlanDayKind::Rest)
            wanted += kite::text_of(day.date) + "\n";
    EXPECT_EQ(test::TemporaryFolder::read(out.string()), wanted);
}

} // namespace
} // namespace kite::formats

namespace kite {

TEST(EyeFile, ComesBackAsItWasWritten) {
    const test::TemporaryFolder folder;
    EyeGuess angle;
    angle.day = *find_date("2026-11-29");
    angle.view = EyeView::DownTheLine;
    angle.angle = EyeAngle::Separation;
    angle.truth_deg = 41.25;
    angle.said_deg = -3.0;
    EyeGuess order;
    order.day = angle.day;
    order.truth_order = "pelvis torso lead_arm club";
    order.said_order = "torso pelvis lead_arm club";
    const auto path = folder.path("eye.json");
    EXPECT_TRUE(formats::read_eye(path).ok()); // nothing yet
    EXPECT_TRUE(formats::read_eye(path).value.empty());
    ASSERT_TRUE(formats::write_eye(path, {angle, order}).empty());
    EXPECT_EQ(formats::read_eye(path).value, (std::vector<EyeGuess>{angle, order}));
}

TEST(EyeFile, DamageIsNamedWithItsPlace) {
    const char* const damaged[] = {
        "",
        "{",
        R"({"kite-hinge": "eye 2", "guesses": []})",
        R"({"kite-hinge": "eye 1", "guesses": [{"day": "2026-02-30", "view": "face-on", "truth_order": "a", "said_order": "b"}]})",
        R"({"kite-hinge": "eye 1", "guesses": [{"day": "2026-02-03", "view": "behind", "truth_order": "a", "said_order": "b"}]})",
        R"({"kite-hinge": "eye 1", "guesses": [{"day": "2026-02-03", "view": "face-on", "angle": "hip", "truth_deg": 1, "said_deg": 2}]})",
        R"({"kite-hinge": "eye 1", "guesses": [{"day": "2026-02-03", "view": "face-on", "angle": "separation", "truth_deg": 1}]})",
        R"({"kite-hinge": "eye 1", "guesses": [{"day": "2026-02-03", "view": "face-on", "angle": "separation", "truth_deg": 1, "said_deg": 1e9}]})",
        R"({"kite-hinge": "eye 1", "guesses": [{"day": "2026-02-03", "view": "face-on"}]})"};
    for (const char* bytes : damaged) {
        const auto read = formats::parse_eye(bytes);
        EXPECT_FALSE(read.ok()) << bytes;
        EXPECT_TRUE(read.value.empty());
        for (const Finding& finding : read.findings)
            EXPECT_FALSE(finding.mend.empty()) << bytes;
    }
}

} // namespace kite
