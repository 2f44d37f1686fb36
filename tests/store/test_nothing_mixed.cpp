// What promised to be kept apart: golfers of one name, a lesson in the bin, results measured
// elsewhere, a bin that is emptied while another program takes something out of it.

#include "core/base/results_version.h"
#include "store/connection.h"
#include "store/measured.h"
#include "store/record_fixture.h"
#include "store/rows.h"
#include "store/told.h"
#include "support/findings.h"

#include <gtest/gtest.h>
#include <nlohmann/json.hpp>

#include <thread>

using namespace kite;
using namespace kite::store;
using namespace kite::test;

namespace {

class NothingMixed : public TheRecord {
protected:
    /// Two golfers of one name with a lesson of one name each, and a swing in each.
    struct Twins {
        std::string first;
        std::string second;
        std::string swing_of_first;
    };
    Twins make_twins(Record& record) {
        Twins out;
        out.first = record.make("golfer", {{"name", "Ruth"}, {"handed", "left"}}).value;
        out.second = record.make("golfer", {{"name", "Ruth"}}).value;
        const auto lesson = [&](const std::string& golfer) {
            return record
                .make("lesson", {{"golfer_id", golfer}, {"name", "Spring"}, {"day", "2026-04-01"}})
                .value;
        };
        out.swing_of_first =
            record.add_to_lesson(swing_of(noise(1), "a.csv"), lesson(out.first)).value.id;
        record.add_to_lesson(swing_of(noise(2), "b.csv"), lesson(out.second));
        return out;
    }
};

} // namespace

TEST_F(NothingMixed, GolfersOfOneNameAreToldApartByTheirIds) {
    const auto record = open();
    const Twins twins = make_twins(*record);
    const auto both = record->swings({"Ruth", "", "", false});
    ASSERT_TRUE(has_code(both.findings, "ambiguous-name"));
    EXPECT_NE(both.findings[0].what.find(twins.first), std::string::npos) << "says which there are";
    EXPECT_NE(both.findings[0].what.find(twins.second), std::string::npos);
    EXPECT_TRUE(both.value.empty());
    const auto one = record->swings({twins.first, "", "", false});
    ASSERT_EQ(one.value.size(), 1U);
    EXPECT_EQ(one.value[0].at("id"), twins.swing_of_first);
    EXPECT_EQ(record->swings({twins.first.substr(0, 8), "Spring", "", false}).value.size(), 1U);
    EXPECT_TRUE(has_code(record->add({swing_of(noise(3), "c.csv")}, "Ruth", "").findings,
                         "ambiguous-name"));
    EXPECT_EQ(record->rows("swing").value.size(), 2U) << "given to neither";
    ASSERT_TRUE(record->add({swing_of(noise(3), "c.csv")}, twins.second, "Spring").ok());
    EXPECT_EQ(record->swings_of_golfer(twins.second).value.size(), 2U);
    EXPECT_EQ(record->rows("golfer").value.size(), 2U);
    EXPECT_TRUE(has_code(record->export_golfer("Ruth", folder.path("r.zip")), "ambiguous-name"));
    EXPECT_FALSE(std::filesystem::exists(folder.path("r.zip")));
    ASSERT_TRUE(record->export_golfer(twins.first, folder.path("r.zip")).empty());
    const auto other = open(Opening::Write, "other.db");
    ASSERT_TRUE(other->import_golfers(folder.path("r.zip")).ok());
    EXPECT_EQ(other->rows("golfer").value.size(), 1U);
    EXPECT_EQ(record->lesson_called("Spring", twins.first).ok(), true);
    EXPECT_TRUE(has_code(record->lesson_called("Spring", "").findings, "ambiguous-name"));
    EXPECT_TRUE(has_code(record->lesson_called("Autumn", twins.first).findings, "no-such-lesson"));
}

TEST_F(NothingMixed, ALessonInTheBinTakesNothing) {
    const auto record = open();
    const std::string golfer = record->make("golfer", {{"name", "Bo"}}).value;
    const std::string lesson =
        record->make("lesson", {{"golfer_id", golfer}, {"name", "a"}, {"day", "2026-04-01"}}).value;
    ASSERT_TRUE(record->undo().value);
    EXPECT_TRUE(has_code(record->add_to_lesson(swing_of(noise(1), "a.csv"), lesson).findings,
                         "in-the-bin"));
    EXPECT_TRUE(record->rows("swing").value.empty());
}

TEST_F(NothingMixed, ResultsMeasuredElsewhereAreOfBefore) {
    const auto record = open();
    const auto ids = fill(*record);
    ASSERT_TRUE(record->export_golfer("Ottoline Vroom", folder.path("out.zip")).empty());
    const auto other = open(Opening::Write, "other.db");
    ASSERT_TRUE(other->import_golfers(folder.path("out.zip")).ok());
    EXPECT_NE(other->result(ids[0]).value.version, kResultsVersion);
    EXPECT_FALSE(other->result(ids[0]).value.json.empty()) << "still there, should all else fail";
}

TEST_F(NothingMixed, MovedMomentsThatComeInMakeTheNumbersOld) {
    const auto record = open();
    const auto ids = fill(*record);
    ASSERT_TRUE(record->export_golfer("Ottoline Vroom", folder.path("out.zip")).empty());
    const auto other = open(Opening::Write, "other.db");
    ASSERT_TRUE(other->import_golfers(folder.path("out.zip")).ok());
    other->put_result(ids[0], {kResultsVersion, "{}"}, "", "");
    other->put_result(ids[1], {kResultsVersion, "{}"}, "", "");
    record->change("swing", ids[0], {{"moved", column_of({{Moment::Top, 1.5}})}});
    record->change("swing", ids[1], {{"note", "no other numbers"}});
    ASSERT_TRUE(record->export_golfer("Ottoline Vroom", folder.path("later.zip")).empty());
    ASSERT_TRUE(other->import_golfers(folder.path("later.zip")).ok());
    EXPECT_EQ(other->result(ids[0]).value.version, 0);
    EXPECT_EQ(other->result(ids[1]).value.version, kResultsVersion);
}

// Another program takes a swing out of the bin while this one waits for it to be done.
TEST_F(NothingMixed, WhatIsTakenOutOfTheBinMeanwhileStays) {
    const auto record = open();
    const auto ids = fill(*record);
    const Row whole = record->row("swing", ids[0]).value;
    ASSERT_TRUE(record->bin({ids[0], ids[1]}).empty());
    Connection other(folder.path("record.db"), Access::Write);
    std::thread emptying;
    other.as_one([&] {
        emptying = std::thread([&] {
            const auto second = Record::open(folder.path("record.db"), Opening::Write);
            EXPECT_EQ(second.value->empty_bin().value, 1U);
        });
        std::this_thread::sleep_for(std::chrono::milliseconds(400)); // it has begun, and waits
        Rows(other).put(table_of("swing"), whole);
    });
    emptying.join();
    EXPECT_TRUE(record->swing(ids[0]).ok());
    EXPECT_FALSE(record->row("swing", ids[1]).ok());
    EXPECT_TRUE(record->check().value.problems.empty());
}

TEST_F(NothingMixed, TextsOfTheExportedTableAreNoFormulas) {
    const auto record = open();
    const auto ids = fill(*record);
    record->change("swing", ids[0], {{"note", "=HYPERLINK(\"x\")"}, {"tags", "@now"}});
    ASSERT_TRUE(record->export_golfer("Ottoline Vroom", folder.path("out.zip")).empty());
    const std::string command = "/usr/bin/python3 -m zipfile -e '" +
                                folder.path("out.zip").string() + "' '" + folder.path("").string() +
                                "'";
    ASSERT_EQ(std::system(command.c_str()), 0);
    const std::string table = bytes("swings.csv");
    EXPECT_NE(table.find(",\"'=HYPERLINK(\"\"x\"\")\","), std::string::npos) << table;
    EXPECT_NE(table.find(",'@now,"), std::string::npos);
}

TEST(ToldOfASwing, IsWrittenAsItIsRead) {
    HowMeasured how = how_measured(Row::object());
    EXPECT_EQ(told_of(how), "");
    how.read.handed = Handedness::Left;
    how.read.club = ClubKind::Driver;
    how.read.axes.up = find_axis("-y");
    how.read.axes.target_deg = 12.25;
    how.options.convention = RateConvention::Plane;
    how.options.separation = SeparationMethod::Joint;
    how.options.top = TopDefinition::LeadArm;
    how.options.cutoff_hz[Segment::Club] = 27.5;
    how.options.swing = 3;
    how.rules.school_source = "stretch";
    how.rules.face = FaceHabit::Shut;
    how.rules.goal = Goal::Strike;
    const HowMeasured again = how_measured({{"told", told_of(how)}});
    EXPECT_EQ(again.read.handed, how.read.handed);
    EXPECT_EQ(again.read.club, how.read.club);
    EXPECT_TRUE(again.read.axes.up == how.read.axes.up);
    EXPECT_EQ(again.read.axes.target_deg, 12.25);
    EXPECT_TRUE(again.options == how.options);
    EXPECT_EQ(again.rules.school.id, "stretch");
    EXPECT_EQ(again.rules.face, FaceHabit::Shut);
    EXPECT_EQ(again.rules.goal, Goal::Strike);
    EXPECT_EQ(told_of(again), told_of(how));
    EXPECT_TRUE(usual_of(how.options).swing == how.options.swing);
    EXPECT_FALSE(measured_alike(how.options, usual_of(how.options)));
    // A school that is gone is named, not passed over.
    const HowMeasured gone = how_measured({{"told", R"({"school":"/no/such.json"})"}});
    ASSERT_EQ(gone.missing.size(), 1U);
    EXPECT_NE(gone.missing[0].what.find("school"), std::string::npos);
}
