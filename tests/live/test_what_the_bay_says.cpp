// What is said of sensors that cannot be as they say, of files that are none, of addresses that
// cannot be used: every case is made here by hand.
#include "core/live/mounting.h"
#include "core/live/swing_take.h"
#include "live/capture.h"
#include "live/hearing.h"
#include "live/listener.h"
#include "live/osc_packet.h"
#include "simulate/bay.h"
#include "support/findings.h"
#include "support/temporary_folder.h"

#include <gtest/gtest.h>

#include <cmath>

namespace kite::live {
namespace {

using Eigen::Vector3d;
using test::codes_of;
using test::find_code;
using test::has_code;

Vector3d leaning(double forwards_deg, double aside_deg) {
    const double f = forwards_deg * 3.14159265358979 / 180.0;
    const double a = aside_deg * 3.14159265358979 / 180.0;
    return Vector3d(std::sin(a), std::sin(f) * std::cos(a), std::cos(f) * std::cos(a));
}

/// One swing of a made-up bay as a capture's bytes.
std::string one_capture() {
    simulate::BayPlan plan;
    plan.swings = 1;
    plan.practice_share = 0.0;
    plan.between = false;
    simulate::BaySender sender(plan);
    Hearing hearing;
    std::string out;
    hearing.bay().on_whole = [&](const BaySwing& swing) { out = hearing.capture(swing); };
    constexpr std::int64_t kStart_ns = 1700000000000000000;
    while (const auto sent = sender.next()) {
        const std::string bytes = encode({sent->message});
        hearing.take({RawRecord::Kind::Packet,
                      kStart_ns + static_cast<std::int64_t>(sent->at_s * 1e9), bytes});
    }
    hearing.finish();
    return out;
}

} // namespace

// Common practice, no source: a trunk at address is bent by 20 to 45 degrees, an arm and a club
// hang.
TEST(SaidOfMounts, WhatNoAddressLooksLike) {
    const auto said = [](Segment segment, const Vector3d& up) {
        return check_mounts({{segment, up}}, {});
    };
    EXPECT_TRUE(said(Segment::Pelvis, leaning(25.0, 0.0)).empty());
    EXPECT_TRUE(said(Segment::Torso, leaning(45.0, 10.0)).empty());
    EXPECT_TRUE(said(Segment::LeadArm, leaning(20.0, 40.0)).empty()) << "an arm may hang aside";
    const auto lying = said(Segment::Pelvis, leaning(88.0, 0.0));
    const Finding* pelvis = find_code(lying, "mount-unlikely");
    ASSERT_NE(pelvis, nullptr);
    EXPECT_EQ(pelvis->where, "pelvis");
    EXPECT_NE(pelvis->what.find("88 degrees"), std::string::npos) << pelvis->what;
    EXPECT_TRUE(has_code(said(Segment::Torso, leaning(20.0, 50.0)), "mount-unlikely"));
    EXPECT_TRUE(has_code(said(Segment::Club, leaning(120.0, 0.0)), "mount-unlikely"));
}

// What sat straight once and lies 20 degrees off now has slipped; 10 degrees are another stance.
TEST(SaidOfMounts, WhatHasSlippedSinceTheSwingBefore) {
    const std::map<Segment, Vector3d> before{{Segment::Torso, leaning(40.0, 0.0)}};
    const auto slipped = check_mounts({{Segment::Torso, leaning(60.0, 0.0)}}, before);
    const Finding* finding = find_code(slipped, "mount-slipped");
    ASSERT_NE(finding, nullptr) << codes_of(slipped);
    EXPECT_NE(finding->what.find("20 degrees"), std::string::npos) << finding->what;
    EXPECT_TRUE(check_mounts({{Segment::Torso, leaning(50.0, 0.0)}}, before).empty());
    // A strange place that is the same as before was mounted so.
    const std::map<Segment, Vector3d> strange{{Segment::Pelvis, leaning(88.0, 0.0)}};
    EXPECT_TRUE(check_mounts(strange, strange).empty());
}

TEST(SaidOfBay, ASwingInWhichNobodyWasHeard) {
    const auto take = take_of(Heard{});
    EXPECT_FALSE(take.ok());
    EXPECT_TRUE(has_code(take.findings, "nothing-heard")) << codes_of(take.findings);
    const auto mounting = find_mounting({}, Handedness::Right, {0.0, 1.0}, {1.0, 2.0}, {2.0, 5.0});
    EXPECT_FALSE(mounting.ok());
    EXPECT_TRUE(has_code(mounting.findings, "nothing-heard")) << codes_of(mounting.findings);
}

TEST(SaidOfCaptures, WhatIsNoneAndWhatIsMore) {
    const auto none = read_capture("something else\n");
    EXPECT_FALSE(none.ok());
    EXPECT_TRUE(has_code(none.findings, "not-raw")) << codes_of(none.findings);
    // A file of the right kind that ends in its first lines.
    const auto headless = read_capture(kRawMagic);
    EXPECT_FALSE(headless.ok());
    EXPECT_EQ(find_code(headless.findings, "not-raw")->where, "line 2");
    // The recording of a session holds no swing of its own.
    const auto session = read_capture(raw_head("{}"));
    EXPECT_FALSE(session.ok());
    EXPECT_TRUE(has_code(session.findings, "whole-session")) << codes_of(session.findings);
    // A head that says nothing of a swing.
    const auto bad = read_capture(raw_head("{\"swing\": []}"));
    EXPECT_FALSE(bad.ok());
    const Finding* said = find_code(bad.findings, "bad-capture");
    ASSERT_NE(said, nullptr) << codes_of(bad.findings);
    EXPECT_EQ(said->where, "line 2");
}

// A capture cut anywhere is read as far as it goes, or refused with words: it never gives another
// swing than the whole one.
TEST(SaidOfCaptures, CutAnywhereTheyAreNoOtherSwing) {
    const std::string whole = one_capture();
    ASSERT_GT(whole.size(), 10000u);
    const auto meant = read_capture(whole);
    ASSERT_TRUE(meant.ok()) << codes_of(meant.findings);
    for (std::size_t kept = 0; kept < whole.size(); kept += whole.size() / 23 + 1) {
        const auto cut = read_capture(std::string_view(whole).substr(0, kept));
        if (!cut.ok()) {
            EXPECT_FALSE(cut.findings.empty()) << kept;
            EXPECT_FALSE(cut.findings.front().what.empty()) << kept;
            continue;
        }
        EXPECT_EQ(cut.value.cut.impact_s, meant.value.cut.impact_s) << kept;
        for (const auto& [segment, sensor] : cut.value.sensors)
            EXPECT_LE(sensor.samples.times_s.size(),
                      meant.value.sensors.at(segment).samples.times_s.size());
    }
}

TEST(SaidOfAddresses, WhatCannotBeListenedOnOrSentTo) {
    const auto nowhere = Listener::open("not an address", 0);
    const Finding* said = find_code(nowhere.findings, "no-address");
    ASSERT_NE(said, nullptr) << codes_of(nowhere.findings);
    EXPECT_NE(said->what.find("\"not an address\""), std::string::npos) << said->what;
    EXPECT_NE(said->mend.find("127.0.0.1"), std::string::npos) << said->mend;
    EXPECT_TRUE(has_code(Sender::open("not an address", 9).findings, "no-address"));
    const auto first = Listener::open(kLoopback, 0);
    ASSERT_TRUE(first.ok());
    const auto second = Listener::open(kLoopback, first.value->port());
    const Finding* taken = find_code(second.findings, "port-taken");
    ASSERT_NE(taken, nullptr) << codes_of(second.findings);
    EXPECT_NE(taken->what.find(std::to_string(first.value->port())), std::string::npos)
        << taken->what;
}

TEST(SaidOfRecordings, WhatIsThereIsNotWrittenOver) {
    test::TemporaryFolder folder;
    const auto path = folder.write("session.kitebay", "mine");
    const auto writer = RawWriter::create(path);
    EXPECT_FALSE(writer.ok());
    const Finding* said = find_code(writer.findings, "cannot-write");
    ASSERT_NE(said, nullptr) << codes_of(writer.findings);
    EXPECT_NE(said->what.find("already"), std::string::npos) << said->what;
    EXPECT_EQ(test::TemporaryFolder::read(path), "mine");
    EXPECT_TRUE(
        has_code(RawWriter::create(folder.path("no/such/folder")).findings, "cannot-write"));
}

} // namespace kite::live
