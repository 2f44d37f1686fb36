// What the record says where something cannot be done, and that nothing is lost then.

#include "store/backups.h"
#include "store/record_fixture.h"
#include "support/findings.h"

#include <gtest/gtest.h>

#include <filesystem>
#include <fstream>

using namespace kite::store;
using kite::test::codes_of;
using kite::test::find_code;
using kite::test::has_code;
using kite::test::noise;
using kite::test::swing_of;

namespace {

class SaidByTheRecord : public kite::test::TheRecord {};

} // namespace

TEST_F(SaidByTheRecord, WhatIsNoRecordOrNoFolderIsNotOpened) {
    folder.write("letter.db",
                 "Dear Ottoline, the swings are in the other file.\n" + std::string(4000, 'x'));
    EXPECT_EQ(open(Opening::Write, "letter.db"), nullptr);
    ASSERT_TRUE(has_code(findings, "not-a-record")) << codes_of(findings);
    EXPECT_NE(find_code(findings, "not-a-record")->what.find("letter.db"), std::string::npos);
    EXPECT_EQ(bytes("letter.db").substr(0, 5), "Dear ") << "it is left as it was";
    std::filesystem::create_directory(folder.path("a-folder"));
    EXPECT_EQ(open(Opening::Write, "a-folder"), nullptr);
    EXPECT_TRUE(has_code(findings, "not-a-record")) << codes_of(findings);
    EXPECT_EQ(open(Opening::Write, "letter.db/record.db"), nullptr);
    EXPECT_TRUE(has_code(findings, "cannot-open")) << codes_of(findings);
    EXPECT_EQ(open(Opening::Read, "not-there.db"), nullptr);
    EXPECT_FALSE(findings.empty());
    EXPECT_FALSE(std::filesystem::exists(folder.path("not-there.db"))) << "reading makes none";
}

TEST_F(SaidByTheRecord, ABackupIsNotWrittenOverAnything) {
    const auto record = open();
    fill(*record);
    folder.write("mine.db", "mine");
    const auto said = record->back_up(folder.path("mine.db"));
    ASSERT_TRUE(has_code(said, "file-exists")) << codes_of(said);
    EXPECT_EQ(bytes("mine.db"), "mine");
    ASSERT_TRUE(record->back_up(folder.path("copy.db")).empty());
    const auto copy = open(Opening::Read, "copy.db");
    ASSERT_NE(copy, nullptr);
    EXPECT_EQ(copy->swings({}).value.size(), 3U);
    EXPECT_TRUE(copy->check().value.problems.empty());
}

TEST_F(SaidByTheRecord, NamesThatItDoesNotKnowChangeNothing) {
    const auto record = open();
    const std::string id = fill(*record).front();
    const auto before = record->swing(id).value;
    const auto column = record->change("swing", id, {{"colour", "green"}});
    ASSERT_TRUE(has_code(column, "no-such-column")) << codes_of(column);
    EXPECT_NE(column.front().what.find("colour"), std::string::npos);
    EXPECT_EQ(record->swing(id).value, before);
    EXPECT_FALSE(record->swing("no-such-id").ok());
    const auto lost = record->capture(std::string(64, '0'));
    EXPECT_TRUE(has_code(lost.findings, "no-capture")) << codes_of(lost.findings);
    const auto nowhere = record->add_to_lesson(swing_of(noise(9), "s.csv"), "no-such-lesson");
    EXPECT_TRUE(has_code(nowhere.findings, "no-such-row")) << codes_of(nowhere.findings);
    EXPECT_EQ(record->swings({}).value.size(), 3U);
}

TEST_F(SaidByTheRecord, WhatIsNoZipOrAnotherZipIsNotTakenIn) {
    const auto record = open();
    folder.write("letter.zip", "Dear Bo,");
    const auto letter = record->import_golfers(folder.path("letter.zip"));
    ASSERT_TRUE(has_code(letter.findings, "not-a-zip")) << codes_of(letter.findings);
    EXPECT_NE(letter.findings.front().what.find("Nothing was taken in"), std::string::npos);
    // A ZIP of nothing: the end of central directory alone (PKWARE's APPNOTE, 4.3.16).
    folder.write("empty.zip", std::string("PK\x05\x06", 4) + std::string(18, '\0'));
    const auto empty = record->import_golfers(folder.path("empty.zip"));
    EXPECT_FALSE(empty.ok());
    EXPECT_TRUE(has_code(empty.findings, "bad-import") || has_code(empty.findings, "not-a-zip"))
        << codes_of(empty.findings);
    EXPECT_EQ(record->rows("golfer").value.size(), 0U);
}

TEST_F(SaidByTheRecord, ABackupThatCannotBeClearedIsNamed) {
    const auto record = open();
    const auto ids = fill(*record);
    ASSERT_TRUE(record->back_up_daily().empty());
    const auto backups = backups_of(folder.path("record.db"));
    ASSERT_EQ(backups.size(), 1U);
    std::ofstream(backups.front(), std::ios::binary) << std::string(4096, 'x');
    ASSERT_TRUE(record->bin({ids[0]}).empty());
    const auto emptied = record->empty_bin();
    EXPECT_TRUE(emptied.ok());
    EXPECT_EQ(record->swings({}).value.size(), 2U);
    const kite::Finding* said = find_code(emptied.findings, "backup-keeps");
    ASSERT_NE(said, nullptr) << codes_of(emptied.findings);
    EXPECT_NE(said->what.find(backups.front().filename().string()), std::string::npos);
}

TEST_F(SaidByTheRecord, WhoOpenedItToReadWritesNothing) {
    {
        const auto record = open();
        fill(*record);
    }
    const std::string before = bytes();
    const auto reader = open(Opening::Read);
    ASSERT_NE(reader, nullptr);
    const auto kept = reader->add({swing_of(noise(9), "s9.csv")}, "Bo", "Spring");
    ASSERT_TRUE(has_code(kept.findings, "read-only")) << codes_of(kept.findings);
    EXPECT_TRUE(has_code(reader->bin({reader->swings({}).value.front().at("id")}), "read-only"));
    EXPECT_FALSE(reader->undo().ok());
    EXPECT_EQ(reader->swings({}).value.size(), 3U);
    EXPECT_EQ(bytes(), before) << "byte for byte";
}
