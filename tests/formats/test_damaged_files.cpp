// Damage of every kind: whatever comes in, something is said and nothing crashes. Run under the
// sanitizers too. Random damage prints its seed.

#include "core/measures/analyse.h"
#include "core/reading/words.h"
#include "formats/c3d/c3d.h"
#include "formats/json/analysis_json.h"
#include "formats/json/lesson_json.h"
#include "formats/pose_csv/pose_csv.h"
#include "simulate/simulate.h"
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
    const Reading reading = read_swing(result.value);
    write_words(result.value, reading);
    EXPECT_FALSE(to_json(name, result.value, reading, result.findings).empty());
}

std::string short_swing(bool c3d) {
    simulate::SwingParameters parameters;
    parameters.rate_hz = 60.0;
    parameters.lead_in_s = 0.2;
    parameters.follow_s = 0.3;
    return c3d ? write_c3d(simulate::make_markers(parameters)).value
               : write_pose_csv(simulate::make_take(parameters));
}

} // namespace

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
    for (const bool c3d : {false, true}) {
        const std::string whole = short_swing(c3d);
        for (std::size_t size = 0; size < whole.size(); size += c3d ? 97 : 211)
            go_through(whole.substr(0, size), c3d ? "cut.c3d" : "cut.csv");
    }
}

TEST(DamagedFiles, AreSurvivedWithAnyByteWrong) {
    const std::uint32_t seed = 20261125;
    SCOPED_TRACE("seed " + std::to_string(seed));
    std::mt19937 random(seed);
    std::uniform_int_distribution<int> byte(0, 255);
    for (const bool c3d : {false, true}) {
        const std::string whole = short_swing(c3d);
        // Headers are where damage hurts most: half of it goes into the first part.
        std::uniform_int_distribution<std::size_t> anywhere(0, whole.size() - 1);
        std::uniform_int_distribution<std::size_t> head(0, 1800);
        for (int round = 0; round < 300; ++round) {
            std::string bytes = whole;
            const int wrong = 1 + round % 5;
            for (int i = 0; i < wrong; ++i)
                bytes[round % 2 == 0 ? head(random) : anywhere(random)] =
                    static_cast<char>(byte(random));
            go_through(bytes, c3d ? "wrong.c3d" : "wrong.csv");
        }
    }
}

TEST(DamagedFiles, WhatIsNotAFileIsSaid) {
    test::TemporaryFolder folder;
    EXPECT_EQ(read_take(folder.path("none.csv"), {}).findings.front().code, "no-file");
    EXPECT_EQ(read_take(folder.path(""), {}).findings.front().code, "not-a-file");
    EXPECT_EQ(read_take(folder.write("empty.csv", ""), {}).findings.front().code, "empty");
}
