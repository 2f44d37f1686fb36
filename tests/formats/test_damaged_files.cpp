// Damage of every kind: whatever comes in, something is said and nothing crashes. Run under the
// sanitizers too. Random damage prints its seed.

#include "core/measures/analyse.h"
#include "core/reading/words.h"
#include "formats/json/analysis_json.h"
#include "formats/json/lesson_json.h"
#include "formats/reader.h"
#include "formats/rules/rules_json.h"
#include "support/swing_files.h"
#include "support/temporary_folder.h"

#include <gtest/gtest.h>

#include <random>

using namespace kite;
using namespace kite::formats;

namespace {

/// Reads, and if that works analyses and writes; every error must have words.
void go_through(const std::string& bytes, const char* name) {
    const auto take = read_take(std::string_view(bytes), name, {});
    for (const Finding& finding : take.findings)
        EXPECT_FALSE(finding.what.empty());
    if (!take.ok())
        return;
    EXPECT_LE(take.value.frames, 4 * bytes.size());
    const auto result = analyse(take.value, {});
    const Reading reading = read_swing(result.value, formats::plain_rules());
    write_words(result.value, reading);
    EXPECT_FALSE(to_json(name, result.value, reading, result.findings).empty());
}

std::vector<test::SwingFile> short_swings() {
    simulate::SwingParameters parameters;
    parameters.rate_hz = 60.0;
    parameters.lead_in_s = 0.3;
    parameters.follow_s = 0.3;
    return test::swing_files(parameters);
}

} // namespace

TEST(Files, AreKnownByWhatIsInThemWhateverTheyAreCalled) {
    for (const auto& [name, whole] : short_swings()) {
        SCOPED_TRACE(name);
        const auto told = read_take(std::string_view(whole), name, {});
        ASSERT_TRUE(told.ok());
        for (const char* other : {"recording", "recording.dat", "recording.txt"}) {
            const auto found = read_take(std::string_view(whole), other, {});
            ASSERT_TRUE(found.ok()) << other;
            EXPECT_EQ(found.value.source, told.value.source);
            EXPECT_EQ(found.value.frames, told.value.frames);
            EXPECT_EQ(found.value.rate_hz, told.value.rate_hz);
            EXPECT_EQ(found.value.segments.size(), told.value.segments.size());
        }
    }
}

TEST(DamagedFiles, RandomBytesAreRefused) {
    std::mt19937 random(4711);
    std::uniform_int_distribution<int> byte(0, 255);
    for (const char* name : {"noise.csv", "noise.c3d", "noise"}) {
        std::string bytes(5000, '\0');
        for (char& c : bytes)
            c = static_cast<char>(byte(random));
        EXPECT_FALSE(read_take(std::string_view(bytes), name, {}).ok()) << name;
    }
    EXPECT_FALSE(read_take(std::string_view(""), "empty.csv", {}).ok());
    EXPECT_FALSE(read_take(std::string_view(""), "empty.c3d", {}).ok());
}

TEST(DamagedFiles, AreSurvivedWhereverTheyEnd) {
    for (const auto& [name, whole] : short_swings())
        for (std::size_t size = 0; size < whole.size(); size += 1 + whole.size() / 150)
            go_through(whole.substr(0, size), name);
}

TEST(DamagedFiles, AreSurvivedWithAnyByteWrong) {
    const std::uint32_t seed = 20261125;
    SCOPED_TRACE("seed " + std::to_string(seed));
    std::mt19937 random(seed);
    std::uniform_int_distribution<int> byte(0, 255);
    for (const auto& [name, whole] : short_swings()) {
        // Headers are where damage hurts most: half of it goes into the first part.
        std::uniform_int_distribution<std::size_t> anywhere(0, whole.size() - 1);
        std::uniform_int_distribution<std::size_t> head(0, 1800);
        for (int round = 0; round < 150; ++round) {
            std::string bytes = whole;
            const int wrong = 1 + round % 5;
            for (int i = 0; i < wrong; ++i)
                bytes[round % 2 == 0 ? head(random) : anywhere(random)] =
                    static_cast<char>(byte(random));
            go_through(bytes, name);
        }
    }
}

TEST(DamagedFiles, WhatIsNotAFileIsSaid) {
    test::TemporaryFolder folder;
    EXPECT_EQ(read_take(folder.path("none.csv"), {}).findings.front().code, "no-file");
    EXPECT_EQ(read_take(folder.path(""), {}).findings.front().code, "not-a-file");
    EXPECT_EQ(read_take(folder.write("empty.csv", ""), {}).findings.front().code, "empty");
}
