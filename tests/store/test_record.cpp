// The record through its public face; raw access to the file only to damage it and to look at it.

#include "core/base/results_version.h"
#include "store/backups.h"
#include "store/connection.h"
#include "store/film_beside.h"
#include "store/measured.h"
#include "store/packing.h"
#include "store/record.h"
#include "store/record_fixture.h"
#include "store/rows.h"
#include "store/schema.h"
#include "store/told.h"
#include "support/findings.h"
#include "support/temporary_folder.h"

#include <gtest/gtest.h>

#include <map>
#include <random>
#include <set>
#include <thread>

using kite::test::TemporaryFolder;
using namespace kite::store;

using kite::test::has_code;
using kite::test::noise;
using kite::test::swing_of;
using kite::test::TheRecord;

// FIPS 180-4, example of one block.
TEST(Packing, HashesAsTheStandardDoes) {
    EXPECT_EQ(sha256_of("abc"), "ba7816bf8f01cfea414140de5dae2223b00361a396177a9cb410ff61f20015ad");
}

TEST(Packing, GivesBackTheSameOrNothing) {
    const std::string bytes = noise(7) + std::string(50000, 'a');
    const std::string packed = pack(bytes);
    EXPECT_LT(packed.size(), 21000U);
    EXPECT_EQ(unpack(packed, bytes.size()), bytes);
    EXPECT_FALSE(unpack(packed, bytes.size() - 1)) << "larger than it may be";
    for (std::size_t at = 0; at < packed.size(); at += 101) {
        std::string damaged = packed;
        damaged[at] = static_cast<char>(damaged[at] ^ 0x10);
        EXPECT_EQ(unpack(damaged, bytes.size()).value_or(bytes), bytes) << at;
    }
    EXPECT_FALSE(unpack("", 100));
}

TEST_F(TheRecord, KeepsCapturesByteForByteAndOnce) {
    const auto record = open();
    ASSERT_TRUE(record);
    const std::string capture = noise(1) + std::string(1, '\0') + "end";
    const auto first = record->add({swing_of(capture, "a.c3d")}, "", "");
    const auto again = record->add({swing_of(capture, "copy of a.c3d")}, "", "");
    ASSERT_TRUE(first.ok() && again.ok());
    EXPECT_TRUE(first.value[0].is_new);
    EXPECT_FALSE(again.value[0].is_new);
    EXPECT_EQ(first.value[0].id, again.value[0].id);
    // Told whose it is, it is still the same swing; another golfer's is another one.
    const auto told = record->add({swing_of(capture, "a.c3d")}, "Bo", "Spring");
    EXPECT_EQ(told.value[0].id, first.value[0].id);
    const auto other = record->add({swing_of(capture, "a.c3d")}, "Iva", "");
    EXPECT_NE(other.value[0].id, first.value[0].id);
    EXPECT_TRUE(other.value[0].is_new);
    EXPECT_FALSE(record->add({swing_of(capture, "a.c3d")}, "Bo", "Spring").value[0].is_new);
    const auto swings = record->swings({});
    ASSERT_EQ(swings.value.size(), 2U);
    EXPECT_EQ(swings.value[0].at("golfer"), "Bo");
    EXPECT_EQ(swings.value[0].at("lesson"), "Spring");
    EXPECT_EQ(swings.value[1].at("lesson"), nullptr);
    EXPECT_EQ(record->capture(sha256_of(capture)).value, capture);
    Connection raw(folder.path("record.db"), Access::Read);
    EXPECT_EQ(raw.value("SELECT count(*) FROM capture").toInt(), 1);
}

TEST_F(TheRecord, FindsSwingsByGolferLessonAndWords) {
    const auto record = open();
    const auto ids = fill(*record);
    EXPECT_EQ(record->swings({"Ottoline Vroom", "", "", false}).value.size(), 2U);
    EXPECT_EQ(record->swings({"Ottoline  Vroom ", "Spring", "", false}).value.size(), 2U);
    EXPECT_EQ(record->swings({"Nobody", "", "", false}).value.size(), 0U);
    const auto found = [&](const std::string& words) {
        return record->swings({"", "", words, false}).value.size();
    };
    EXPECT_EQ(found("vroo"), 2U) << "words may be begun";
    EXPECT_EQ(found("s1.csv otto"), 1U) << "all of them count";
    EXPECT_EQ(found("wrists early"), 3U) << "what the first fix is called";
    EXPECT_EQ(found("summer"), 0U);
    EXPECT_EQ(found("  "), 3U);
    for (const char* odd : {"\"", "a OR", "NEAR(", "*", "col:x", "'; DROP TABLE swing; --"}) {
        EXPECT_TRUE(record->swings({"", "", odd, false}).ok()) << odd;
        EXPECT_EQ(found(odd), 0U) << odd;
    }
    EXPECT_TRUE(record->change("swing", ids[2], {{"note", "Hüfte früher"}}).empty());
    EXPECT_EQ(found("hufte"), 1U) << "without the dots too";
    const Row golfer = record->rows("golfer").value.front();
    record->change("golfer", golfer.at("id"), {{"name", "Tilda"}});
    EXPECT_EQ(found("vroom"), 0U);
    EXPECT_EQ(found("tilda"), 2U);
}

TEST_F(TheRecord, BinsAndDeletesForGoodInBackupsToo) {
    auto record = open();
    const auto ids = fill(*record);
    const std::string secret = "Ottoline Vroom";
    ASSERT_TRUE(record->change("swing", ids[0], {{"note", "kneelingalbatross"}}).empty());
    ASSERT_TRUE(record->back_up_daily().empty());
    const auto backups = backups_of(folder.path("record.db"));
    ASSERT_EQ(backups.size(), 1U);
    std::string golfer;
    for (const Row& row : record->rows("golfer").value)
        if (row.at("name") == secret)
            golfer = row.at("id");
    ASSERT_TRUE(record->bin({golfer}).empty());
    EXPECT_EQ(record->swings({}).value.size(), 1U) << "the golfer's swings go along";
    EXPECT_EQ(record->swings({"", "", "", true}).value.size(), 2U);
    ASSERT_TRUE(record->restore({golfer}).empty());
    EXPECT_EQ(record->swings({}).value.size(), 3U);
    ASSERT_TRUE(record->bin({golfer}).empty());
    const auto emptied = record->empty_bin();
    ASSERT_TRUE(emptied.ok());
    EXPECT_EQ(emptied.value, 2U);
    EXPECT_TRUE(record->check().value.problems.empty());
    EXPECT_EQ(record->swings({}).value.size(), 1U);
    const std::string kept = noise(2).substr(1000, 60);
    record.reset();
    for (const std::filesystem::path& file : {folder.path("record.db"), backups.front()}) {
        const std::string left =
            TemporaryFolder::read(file) + TemporaryFolder::read(file.string() + "-wal");
        EXPECT_NE(left.find(kept), std::string::npos) << "what was not deleted is still there";
        for (const std::string& gone :
             {secret, std::string("kneelingalbatross"), noise(0).substr(1000, 60),
              noise(1).substr(1000, 60), ids[0]})
            EXPECT_EQ(left.find(gone), std::string::npos) << file;
    }
}

TEST_F(TheRecord, TakesStepsBackAndDoesThemAgain) {
    const auto record = open();
    const auto ids = fill(*record);
    const auto note = [&] { return record->swing(ids[0]).value.at("note"); };
    record->change("swing", ids[0], {{"note", "one"}});
    record->change("swing", ids[0], {{"note", "two"}, {"mark", "good"}});
    EXPECT_TRUE(record->undo().value);
    EXPECT_EQ(note(), "one");
    EXPECT_EQ(record->swing(ids[0]).value.at("mark"), nullptr);
    EXPECT_TRUE(record->undo().value);
    EXPECT_EQ(note(), nullptr);
    EXPECT_TRUE(record->redo().value);
    EXPECT_EQ(note(), "one");
    EXPECT_EQ(record->swings({"", "", "one", false}).value.size(), 1U);
    // The adding of the last swing, and of what was made for it.
    EXPECT_TRUE(record->undo().value);
    EXPECT_TRUE(record->undo().value);
    EXPECT_EQ(record->swings({}).value.size(), 2U);
    EXPECT_TRUE(record->redo().value);
    EXPECT_EQ(record->swings({}).value.size(), 3U);
    EXPECT_TRUE(record->check().value.problems.empty());
}

TEST_F(TheRecord, DoesNotTakeBackWhatAnotherChangedSince) {
    const auto record = open();
    const auto ids = fill(*record);
    record->change("swing", ids[0], {{"note", "mine"}});
    const auto other = open();
    EXPECT_FALSE(other->undo().value) << "the steps of another hand are not its own";
    ASSERT_TRUE(other->change("swing", ids[0], {{"note", "theirs"}}).empty());
    const auto undone = record->undo();
    EXPECT_TRUE(has_code(undone.findings, "changed-since"));
    EXPECT_EQ(record->swing(ids[0]).value.at("note"), "theirs");
}

// A model kept beside: the record after thousands of actions must be what the model says.
TEST_F(TheRecord, IsSoundAfterRandomActionsAndEqualToTheirReplay) {
    auto record = open();
    std::mt19937 random(20261126);
    const auto any = [&](std::size_t n) {
        return std::uniform_int_distribution<std::size_t>(0, n - 1)(random);
    };
    using State = std::map<std::string, std::pair<std::string, bool>>; // swing → note, in the bin
    State now;
    std::vector<State> past;
    std::vector<State> undone;
    std::vector<std::string> ids;
    const auto step = [&](State next) {
        past.push_back(now);
        undone.clear();
        now = std::move(next);
    };
    for (int action = 0; action < 1500; ++action) {
        State next = now;
        switch (any(7)) {
        case 0: {
            if (ids.size() >= 40)
                break;
            const auto kept = record->add(
                {swing_of(noise(static_cast<std::uint32_t>(1000 + ids.size()), 300), "x.csv")},
                "G" + std::to_string(any(3)), "");
            ASSERT_TRUE(kept.ok());
            ids.push_back(kept.value[0].id);
            next[ids.back()] = {"", false};
            step(next);
            break;
        }
        case 1:
        case 2: {
            if (ids.empty())
                break;
            const std::string& id = ids[any(ids.size())];
            const std::string note = "note " + std::to_string(any(1000));
            if (now[id].first == note)
                break;
            ASSERT_TRUE(record->change("swing", id, {{"note", note}}).empty());
            next[id].first = note;
            step(next);
            break;
        }
        case 3: {
            if (ids.empty())
                break;
            const std::string& id = ids[any(ids.size())];
            const bool in_bin = now[id].second;
            ASSERT_TRUE((in_bin ? record->restore({id}) : record->bin({id})).empty());
            next[id].second = !in_bin;
            step(next);
            break;
        }
        case 4:
        case 5: {
            const auto done = record->undo();
            ASSERT_TRUE(done.ok()) << done.findings[0].what;
            ASSERT_EQ(done.value, !past.empty());
            if (past.empty())
                break;
            undone.push_back(now);
            // What was added is in the bin then.
            State before = past.back();
            for (const auto& [id, state] : now)
                if (before.count(id) == 0)
                    before[id] = {state.first, true};
            now = before;
            past.pop_back();
            break;
        }
        default: {
            const auto done = record->redo();
            ASSERT_TRUE(done.ok());
            ASSERT_EQ(done.value, !undone.empty());
            if (undone.empty())
                break;
            past.push_back(now);
            now = undone.back();
            undone.pop_back();
        }
        }
    }
    State found;
    for (const bool in_bin : {false, true})
        for (const Row& swing : record->swings({"", "", "", in_bin}).value)
            found[swing.at("id")] = {
                swing.at("note").is_null() ? "" : swing.at("note").get<std::string>(), in_bin};
    EXPECT_EQ(found, now);
    const auto check = record->check();
    EXPECT_TRUE(check.value.problems.empty())
        << (check.value.problems.empty() ? "" : check.value.problems[0]);
}

TEST_F(TheRecord, LeavesAloneWhatIsNotItsOwn) {
    folder.write("text.db",
                 "This is no record, but a longer text than a head would be. " + noise(3));
    const std::string text = bytes("text.db");
    EXPECT_FALSE(open(Opening::Write, "text.db"));
    EXPECT_TRUE(has_code(findings, "not-a-record"));
    EXPECT_EQ(bytes("text.db"), text);
    {
        Connection other(folder.path("other.db"), Access::Write);
        other.run("CREATE TABLE books (title TEXT)");
    }
    const std::string other = bytes("other.db");
    EXPECT_FALSE(open(Opening::Write, "other.db"));
    EXPECT_TRUE(has_code(findings, "not-a-record"));
    EXPECT_EQ(bytes("other.db"), other);
    EXPECT_FALSE(open(Opening::Read, "none.db"));
    EXPECT_TRUE(has_code(findings, "no-record"));
    EXPECT_FALSE(std::filesystem::exists(folder.path("none.db")));
}

TEST_F(TheRecord, RefusesANewerVersionUnchanged) {
    fill(*open());
    const std::string whole = bytes();
    {
        Connection raw(folder.path("record.db"), Access::Write);
        raw.run("PRAGMA user_version = 2");
    }
    EXPECT_FALSE(open(Opening::Write));
    EXPECT_TRUE(has_code(findings, "newer-record"));
    folder.write("record.db", whole);
    {
        Connection raw(folder.path("record.db"), Access::Write);
        raw.run("UPDATE meta SET value = '99' WHERE key = 'schema_version'");
        raw.run("ALTER TABLE swing ADD COLUMN mood TEXT");
    }
    const std::string before = bytes();
    for (const Opening opening : {Opening::Read, Opening::Write}) {
        EXPECT_FALSE(open(opening));
        EXPECT_TRUE(has_code(findings, "newer-record"));
    }
    EXPECT_EQ(bytes(), before);
}

// The schema of every release stays as a file; what was made by it opens today.
TEST_F(TheRecord, OpensTheRecordsOfEveryRelease) {
    ASSERT_EQ(kSchemaVersion, 1) << "keep the schema of the new version as a file too";
    const std::string schema = TemporaryFolder::read(KITE_SCHEMAS "/1.sql");
    ASSERT_FALSE(schema.empty());
    const auto described = [](Connection& connection) {
        std::string out;
        QSqlQuery query =
            connection.run("SELECT sql FROM sqlite_master WHERE sql IS NOT NULL AND name NOT "
                           "LIKE 'swing\\_words\\_%' ESCAPE '\\' ORDER BY rowid");
        while (query.next())
            out += query.value(0).toString().toStdString() + ";\n";
        return out;
    };
    {
        Connection old(folder.path("record.db"), Access::Write);
        std::size_t from = 0;
        for (std::size_t end = schema.find(";\n"); end != std::string::npos;
             from = end + 2, end = schema.find(";\n", from))
            old.run(schema.substr(from, end - from));
        old.run("INSERT INTO meta VALUES ('schema_version', '1')");
        old.sign(1);
    }
    const auto record = open();
    ASSERT_TRUE(record) << findings[0].what;
    EXPECT_EQ(fill(*record).size(), 3U);
    EXPECT_TRUE(record->check().value.problems.empty());
    Connection raw(folder.path("record.db"), Access::Read);
    EXPECT_EQ(described(raw), schema) << "the schema changed without a new version";
}

TEST_F(TheRecord, SavesWhatCanBeSavedOfADamagedOne) {
    fill(*open());
    const std::string whole = bytes();
    folder.write("record.db", whole.substr(0, whole.size() - 30000));
    const std::string cut = bytes();
    EXPECT_FALSE(open(Opening::Write));
    ASSERT_TRUE(has_code(findings, "damaged"));
    EXPECT_NE(findings[0].what.find("Nothing was written"), std::string::npos);
    EXPECT_EQ(bytes(), cut);
    const auto rescued = open(Opening::Write, "record.rescued.db");
    ASSERT_TRUE(rescued);
    const auto swings = rescued->swings({});
    EXPECT_GE(swings.value.size(), 1U);
    EXPECT_LT(swings.value.size(), 3U) << "some of it was cut off";
    for (const Row& swing : swings.value)
        EXPECT_TRUE(rescued->capture(swing.at("sha256")).ok());
    EXPECT_TRUE(rescued->check().value.problems.empty());
}

TEST_F(TheRecord, ShowsNoRowThatDamageHasChanged) {
    fill(*open());
    {
        Connection raw(folder.path("record.db"), Access::Write);
        raw.run("UPDATE swing SET file = 'other.csv' WHERE file = 's1.csv'");
        raw.run("UPDATE capture SET data = zeroblob(100) WHERE sha256 = ?",
                {QString::fromStdString(sha256_of(noise(2)))});
    }
    const auto record = open();
    const auto swings = record->swings({});
    EXPECT_EQ(swings.value.size(), 2U);
    EXPECT_TRUE(has_code(swings.findings, "damaged-row"));
    EXPECT_TRUE(has_code(record->capture(sha256_of(noise(2))).findings, "damaged"));
    EXPECT_EQ(record->check().value.problems.size(), 2U);
    // The file added again mends its capture.
    ASSERT_TRUE(record->add({swing_of(noise(2), "s2.csv")}, "Bo", "Spring").ok());
    EXPECT_EQ(record->capture(sha256_of(noise(2))).value, noise(2));
}

TEST_F(TheRecord, GoesOutAndInWithoutLoss) {
    const auto record = open();
    const auto ids = fill(*record);
    record->change(
        "swing", ids[0],
        {{"note", "ä, \"quoted\"\nline"}, {"guess_open_deg", 12.125}, {"flight", "draw"}});
    const std::string golfer = record->swing(ids[0]).value.at("golfer_id");
    record->change("golfer", golfer, {{"height_m", 1.83}, {"film_consent", 1}});
    record->make("plan", {{"golfer_id", golfer}, {"plan", "{}"}});
    record->make(
        "verdict",
        {{"swing_id", ids[0]}, {"fault", "cast"}, {"overruled", 1}, {"reason", "a drill"}});
    ASSERT_TRUE(record->export_golfer("Ottoline Vroom", folder.path("out.zip")).empty());
    EXPECT_TRUE(has_code(record->export_golfer("Nobody", folder.path("no.zip")), "no-such-golfer"));
    EXPECT_FALSE(std::filesystem::exists(folder.path("no.zip")));
    const auto other = open(Opening::Write, "other.db");
    const auto first = other->import_golfers(folder.path("out.zip"));
    ASSERT_TRUE(first.ok()) << first.findings[0].what;
    EXPECT_EQ(first.value.swings, 2U);
    EXPECT_EQ(other->import_golfers(folder.path("out.zip")).value.rows, 0U)
        << "twice changes nothing";
    for (const char* kind : {"golfer", "lesson", "swing", "verdict", "plan"})
        for (const Row& row : other->rows(kind).value)
            EXPECT_EQ(row, record->row(kind, row.at("id")).value) << "field by field";
    EXPECT_EQ(other->rows("swing").value.size(), 2U);
    EXPECT_EQ(other->rows("plan").value.size(), 1U);
    EXPECT_EQ(other->rows("verdict").value.size(), 1U);
    EXPECT_EQ(other->capture(sha256_of(noise(0))).value, noise(0));
    EXPECT_EQ(other->result(ids[0]).value.json, record->result(ids[0]).value.json);
    EXPECT_EQ(other->swings({"", "", "quoted", false}).value.size(), 1U);
    // The later state of a row holds, whichever comes last.
    record->change("swing", ids[0], {{"note", "later"}});
    ASSERT_TRUE(record->export_golfer("Ottoline Vroom", folder.path("later.zip")).empty());
    EXPECT_EQ(other->import_golfers(folder.path("later.zip")).value.rows, 1U);
    EXPECT_EQ(other->import_golfers(folder.path("out.zip")).value.rows, 0U);
    EXPECT_EQ(other->swing(ids[0]).value.at("note"), "later");
}

TEST_F(TheRecord, ExportsNothingWhereACaptureIsDamaged) {
    fill(*open());
    {
        Connection raw(folder.path("record.db"), Access::Write);
        raw.run("UPDATE capture SET data = zeroblob(100)");
    }
    const auto said = open()->export_golfer("Ottoline Vroom", folder.path("out.zip"));
    ASSERT_TRUE(has_code(said, "damaged"));
    EXPECT_NE(said[0].what.find("Nothing was written"), std::string::npos);
    EXPECT_FALSE(std::filesystem::exists(folder.path("out.zip")));
    EXPECT_FALSE(std::filesystem::exists(folder.path("out.zip.part")));
}

TEST_F(TheRecord, TakesNothingFromADamagedZip) {
    {
        const auto record = open();
        fill(*record);
        ASSERT_TRUE(record->export_golfer("Ottoline Vroom", folder.path("out.zip")).empty());
    }
    const std::string zip = bytes("out.zip");
    const auto other = open(Opening::Write, "other.db");
    std::mt19937 random(4);
    for (int i = 0; i < 60; ++i) {
        std::string damaged = zip;
        if (i % 3 == 0)
            damaged.resize(random() % zip.size());
        else
            damaged[random() % zip.size()] ^= static_cast<char>(1U << random() % 8);
        folder.write("bad.zip", damaged);
        const auto taken = other->import_golfers(folder.path("bad.zip"));
        // A bit in what is not read, such as a date, may be other.
        if (!taken.ok())
            EXPECT_EQ(other->swings({}).value.size(), 0U) << "all or nothing";
        else
            for (const Row& swing : other->swings({}).value)
                EXPECT_TRUE(other->capture(swing.at("sha256")).ok());
        if (taken.ok())
            break;
    }
    EXPECT_TRUE(other->check().value.problems.empty());
}

TEST_F(TheRecord, IsWrittenByTwoAtOnce) {
    open();
    std::vector<std::thread> hands;
    for (std::uint32_t hand = 0; hand < 3; ++hand)
        hands.emplace_back([&, hand] {
            const auto record = Record::open(folder.path("record.db"), Opening::Write);
            for (std::uint32_t i = 0; i < 20; ++i)
                EXPECT_TRUE(
                    record.value
                        ->add({swing_of(noise(hand * 100 + i, 3000), "x.csv")}, "Bo", "Spring")
                        .ok());
        });
    for (std::thread& hand : hands)
        hand.join();
    const auto record = open();
    EXPECT_EQ(record->swings({}).value.size(), 60U);
    EXPECT_EQ(record->rows("golfer").value.size(), 1U) << "one golfer, whoever named him first";
    EXPECT_TRUE(record->check().value.problems.empty());
}

TEST_F(TheRecord, KeepsResultsWithTheirVersion) {
    const auto record = open();
    const auto ids = fill(*record);
    EXPECT_EQ(record->result(ids[0]).value.version, kite::kResultsVersion);
    ASSERT_TRUE(
        record->put_result(ids[0], {kite::kResultsVersion + 1, "{}"}, "flip", "Flip").empty());
    EXPECT_EQ(record->result(ids[0]).value.json, "{}");
    EXPECT_EQ(record->swing(ids[0]).value.at("first_fix"), "flip");
    EXPECT_EQ(record->swing(ids[0]).value.at("results_version"), kite::kResultsVersion + 1);
    EXPECT_EQ(record->swing(ids[0].substr(0, 8)).value.at("id"), ids[0]);
    EXPECT_TRUE(has_code(record->swing("zzzz").findings, "no-such-row"));
    EXPECT_TRUE(has_code(record->bin({"zzzz"}), "no-such-row"));
}

// By the calendar: 26 November 2026 is a Thursday.
// What was measured before a moment was moved is not shown as if it were measured now.
TEST_F(TheRecord, KnowsAResultOfBeforeItsMomentsWereMoved) {
    const auto record = open();
    const std::string id = fill(*record).front();
    ASSERT_EQ(record->result(id).value.version, kite::kResultsVersion);
    ASSERT_TRUE(record->change("swing", id, {{"note", "windy"}}).empty());
    EXPECT_EQ(record->result(id).value.version, kite::kResultsVersion);
    ASSERT_TRUE(record->change("swing", id, {{"moved", R"({"top":1.25})"}}).empty());
    EXPECT_EQ(record->result(id).value.version, 0);
    ASSERT_TRUE(record->put_result(id, {kite::kResultsVersion, "{}"}, "", "").empty());
    // Taken back it is of before again.
    ASSERT_TRUE(record->undo().value);
    EXPECT_EQ(record->result(id).value.version, 0);
}

TEST_F(TheRecord, AFileWrittenAgainIsTheSameSwing) {
    auto record = open();
    const auto ids = fill(*record);
    ASSERT_TRUE(
        record->change("swing", ids[0], {{"note", "windy"}, {"moved", R"({"top":1.25})"}}).empty());
    NewSwing corrected = swing_of(noise(9), "s0.csv");
    corrected.first_fix = "flip";
    ASSERT_TRUE(record->keep_anew(ids[0], corrected).empty());
    Row row = record->swing(ids[0]).value;
    EXPECT_EQ(record->capture(row.at("sha256")).value, noise(9));
    EXPECT_EQ(row.at("first_fix"), "flip");
    EXPECT_EQ(row.at("note"), "windy");
    EXPECT_EQ(row.at("lesson"), "Spring");
    EXPECT_EQ(row.at("moved"), nullptr);
    EXPECT_EQ(record->result(ids[0]).value.version, kite::kResultsVersion);
    EXPECT_EQ(record->swings({}).value.size(), 3U);
    // Taken back: the first capture again, to be measured again.
    ASSERT_TRUE(record->undo().value);
    row = record->swing(ids[0]).value;
    EXPECT_EQ(record->capture(row.at("sha256")).value, noise(0));
    EXPECT_EQ(row.at("moved"), R"({"top":1.25})");
    EXPECT_EQ(record->result(ids[0]).value.version, 0);
    ASSERT_TRUE(record->redo().value);
    EXPECT_TRUE(has_code(record->keep_anew("zzzz", corrected), "no-such-row"));
    // What was measured without the launch numbers beside it is to be measured again.
    ASSERT_TRUE(record->change("swing", ids[1], {{"launch", R"({"carry_m":142})"}}).empty());
    ASSERT_TRUE(record->keep_anew(ids[1], swing_of(noise(10), "s1.csv")).empty());
    EXPECT_EQ(record->result(ids[1]).value.version, 0);
    // What no swing holds any more goes with the bin, and no step leads to it.
    ASSERT_TRUE(record->bin({ids[1]}).empty());
    ASSERT_TRUE(record->empty_bin().ok());
    EXPECT_FALSE(record->capture(sha256_of(noise(0))).ok());
    while (record->undo().value) {
    }
    EXPECT_EQ(record->capture(record->swing(ids[0]).value.at("sha256")).value, noise(9));
    EXPECT_TRUE(record->check().value.problems.empty());
}

TEST(MovedMoments, ComeBackAsTheyWereKept) {
    const std::map<kite::Moment, double> moved{{kite::Moment::Top, 1.25},
                                               {kite::Moment::Impact, 1.5}};
    EXPECT_EQ(moved_moments(column_of(moved)), moved);
    EXPECT_EQ(column_of({}), "");
    for (const char* nothing : {"", "{}", "[]", "{\"tip\": 1}", "{\"top\": \"late\"}", "{"})
        EXPECT_TRUE(moved_moments(nothing).empty()) << nothing;
}

TEST(ToldOfASwing, IsAsItWasSaid) {
    const Row swing{{"told",
                     R"({"handed":"left","club":"wedge","convention":"plane","swing":2,)"
                     R"("cutoffs":["club=30","torso=x","nose=9"],"up":"z","target_deg":"25",)"
                     R"("face":"open","goal":"speed","school":"stretch"})"},
                    {"moved", R"({"top":1.25})"},
                    {"launch", R"({"carry_m":150.0})"}};
    const HowMeasured how = how_measured(swing);
    EXPECT_EQ(how.read.handed, kite::Handedness::Left);
    EXPECT_EQ(how.read.club, kite::ClubKind::Wedge);
    EXPECT_EQ(how.options.convention, kite::RateConvention::Plane);
    EXPECT_EQ(how.options.swing, 2U);
    EXPECT_EQ(how.options.cutoff_hz,
              (std::map<kite::Segment, double>{{kite::Segment::Club, 30.0}}));
    EXPECT_TRUE(how.read.axes.up.has_value());
    EXPECT_EQ(how.read.axes.target_deg, 25.0);
    EXPECT_EQ(how.rules.face, kite::FaceHabit::Open);
    EXPECT_EQ(how.rules.goal, kite::Goal::Speed);
    EXPECT_EQ(how.rules.school.id, "stretch");
    EXPECT_EQ(how.options.moved_s.at(kite::Moment::Top), 1.25);
    EXPECT_EQ(how.launch->carry_m, 150.0);
    // Nonsense is as if nothing had been said.
    for (const char* told :
         {"", "[]", "7", R"({"handed":7,"swing":-1,"cutoffs":{},"school":"/no"})"}) {
        const HowMeasured usual = how_measured({{"told", told}});
        EXPECT_FALSE(usual.read.handed || usual.options.swing || usual.launch) << told;
        EXPECT_EQ(usual.rules.school.id, "none") << told;
    }
}

TEST_F(TheRecord, LongWorkCanBeGivenUpAndLeavesNothing) {
    const auto record = open();
    fill(*record);
    const auto out = folder.path("golfer.zip");
    std::size_t told = 0;
    const auto refuse = [&](std::size_t done, std::size_t of) {
        told = of;
        return done < 1;
    };
    const auto said = record->export_golfer("Ottoline Vroom", out, refuse);
    EXPECT_TRUE(kite::test::has_code(said, "given-up")) << kite::test::codes_of(said);
    EXPECT_EQ(told, 2U);
    EXPECT_FALSE(std::filesystem::exists(out));
    EXPECT_FALSE(std::filesystem::exists(out.string() + ".part"));
    ASSERT_TRUE(record->export_golfer("Ottoline Vroom", out).empty());
    const auto other = open(Opening::Write, "other.db");
    EXPECT_FALSE(other->import_golfers(out, refuse).ok());
    EXPECT_TRUE(other->swings({}).value.empty()) << "a half import stayed";
    EXPECT_EQ(other->import_golfers(out).value.swings, 2U);
}

TEST(Backups, AreThinnedToDaysWeeksAndMonths) {
    std::vector<std::string> days;
    const int lengths[] = {31, 28, 31, 30, 31, 30, 31, 31, 30, 31, 26};
    for (int month = 1; month <= 11; ++month)
        for (int day = 1; day <= lengths[month - 1]; ++day) {
            const auto two = [](int n) { return (n < 10 ? "0" : "") + std::to_string(n); };
            days.push_back("2026-" + two(month) + "-" + two(day));
        }
    const std::vector<std::string> kept{"2026-01-31", "2026-02-28", "2026-03-31", "2026-04-30",
                                        "2026-05-31", "2026-06-30", "2026-07-31", "2026-08-31",
                                        "2026-09-30", "2026-10-31", "2026-11-01", "2026-11-08",
                                        "2026-11-15", "2026-11-20", "2026-11-21", "2026-11-22",
                                        "2026-11-23", "2026-11-24", "2026-11-25", "2026-11-26"};
    EXPECT_EQ(days_to_keep(days), kept);
    EXPECT_TRUE(days_to_keep({"yesterday", "2026-02-30"}).empty());
}

TEST_F(TheRecord, WhatIsDeletedForGoodTakesItsFilmWithIt) {
    auto record = open();
    const auto kept = record->add(
        {swing_of(noise(1), "a.film.json"), swing_of(noise(2), "b.film.json")}, "Alva", "First");
    ASSERT_TRUE(kept.ok());
    const auto film = folder.write("elsewhere.mp4", noise(3));
    std::filesystem::create_directory(folder.path("pictures"));
    folder.write("pictures/1.png", "a picture");
    for (const KeptSwing& swing : kept.value)
        ASSERT_TRUE(keep_film(record->path(), swing.id, "a.film.json", "{}",
                              {{film, "face-on.mp4"}, {folder.path("pictures"), "pictures"}})
                        .empty());
    const auto first = film_folder(record->path(), kept.value[0].id);
    const auto second = film_folder(record->path(), kept.value[1].id);
    EXPECT_EQ(TemporaryFolder::read(first / "face-on.mp4"), noise(3));
    EXPECT_EQ(TemporaryFolder::read(first / "pictures" / "1.png"), "a picture");
    EXPECT_EQ(TemporaryFolder::read(first / "a.film.json"), "{}");
    // In the bin it can still come back; deleted for good it cannot, and neither can its film.
    ASSERT_TRUE(record->bin({kept.value[0].id}).empty());
    EXPECT_TRUE(std::filesystem::exists(first));
    ASSERT_TRUE(record->empty_bin().ok());
    EXPECT_FALSE(std::filesystem::exists(first));
    EXPECT_TRUE(std::filesystem::exists(second));
    // The user's own file stays.
    EXPECT_TRUE(std::filesystem::exists(film));
}

TEST_F(TheRecord, FilmThatCannotBeCopiedLeavesNothingHalf) {
    auto record = open();
    const auto findings_now = keep_film(record->path(), "abc", "a.film.json", "{}",
                                        {{folder.path("there-is-none.mp4"), "face-on.mp4"}});
    EXPECT_TRUE(has_code(findings_now, "film-not-kept"));
    EXPECT_FALSE(std::filesystem::exists(film_folder(record->path(), "abc")));
    // Nothing leads out of the folder.
    EXPECT_TRUE(film_folder(record->path(), "../../etc").empty());
    EXPECT_TRUE(film_folder(record->path(), "").empty());
    EXPECT_TRUE(
        has_code(keep_film(record->path(), "..", "a.film.json", "{}", {}), "film-not-kept"));
}
