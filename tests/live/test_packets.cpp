// Packets and recordings. What OSC 1.0 says is taken from its specification (opensoundcontrol.org,
// "The Open Sound Control 1.0 Specification", from memory): sizes are multiples of four, numbers
// are big-endian, "#bundle" is followed by a 64-bit time tag of which 1 means immediately.

#include "formats/reader.h"
#include "live/capture.h"
#include "live/hearing.h"
#include "live/listener.h"
#include "live/osc_packet.h"
#include "simulate/bay.h"
#include "support/temporary_folder.h"

#include <gtest/gtest.h>

#include <cmath>
#include <cstring>
#include <fstream>
#include <lo/lo.h>
#include <random>

namespace kite::live {
namespace {

std::string padded(std::string text) {
    text += '\0';
    while (text.size() % 4 != 0)
        text += '\0';
    return text;
}
std::string big_endian(std::uint32_t value) {
    return {static_cast<char>(value >> 24), static_cast<char>(value >> 16),
            static_cast<char>(value >> 8), static_cast<char>(value)};
}
std::string real(float value) {
    std::uint32_t bits = 0;
    std::memcpy(&bits, &value, sizeof bits);
    return big_endian(bits);
}
std::string imu_bytes(const std::string& path) {
    return padded(path) + padded(",iffffff") + big_endian(7) + real(1.5f) + real(-2.0f) +
           real(300.0f) + real(0.25f) + real(0.0f) + real(1.0f);
}
std::string bundle_of(std::uint32_t seconds, std::uint32_t fraction,
                      const std::vector<std::string>& elements) {
    std::string out = padded("#bundle") + big_endian(seconds) + big_endian(fraction);
    for (const std::string& element : elements)
        out += big_endian(static_cast<std::uint32_t>(element.size())) + element;
    return out;
}

TEST(OscPacket, AMessageByTheLetterOfTheSpecification) {
    const Packet bare = decode(imu_bytes("/kite/hip-1/imu"));
    ASSERT_EQ(bare.messages.size(), 1u);
    EXPECT_TRUE(bare.problems.empty());
    EXPECT_EQ(bare.messages[0].device, "hip-1");
    EXPECT_EQ(decode(imu_bytes("/kite/hip_left_1/imu")).messages.at(0).device, "hip_left_1");
    EXPECT_FALSE(bare.messages[0].device_s); // no bundle, no clock
    const Imu& imu = std::get<Imu>(bare.messages[0].body);
    EXPECT_EQ(imu.number, 7);
    EXPECT_EQ(imu.gyro_deg_s, Eigen::Vector3d(1.5, -2.0, 300.0));
    EXPECT_EQ(imu.force_g, Eigen::Vector3d(0.25, 0.0, 1.0));
    // 1970 is 2,208,988,800 s after 1900 (RFC 5905); half a second is 2³¹ of 2³².
    const Packet tagged =
        decode(bundle_of(2208988800u + 100u, 0x80000000u, {imu_bytes("/kite/a/imu")}));
    ASSERT_EQ(tagged.messages.size(), 1u);
    EXPECT_DOUBLE_EQ(*tagged.messages[0].device_s, 100.5);
    EXPECT_FALSE(decode(bundle_of(0, 1, {imu_bytes("/kite/a/imu")})).messages[0].device_s);
    // Bundles in a bundle keep their own times.
    const Packet nested =
        decode(bundle_of(0, 1,
                         {bundle_of(2208988800u, 0x40000000u, {imu_bytes("/kite/a/imu")}),
                          bundle_of(2208988801u, 0, {imu_bytes("/kite/a/imu")})}));
    ASSERT_EQ(nested.messages.size(), 2u);
    EXPECT_DOUBLE_EQ(*nested.messages[0].device_s, 0.25);
    EXPECT_DOUBLE_EQ(*nested.messages[1].device_s, 1.0);
}

TEST(OscPacket, WhatTheLibraryWritesIsRead) {
    // liblo's own serialising, with its types.
    lo_message message = lo_message_new();
    lo_message_add(message, "ssff", "lead_arm", "m 2", 400.0f, 0.5f);
    std::size_t size = 0;
    void* bytes = lo_message_serialise(message, "/kite/arm/about", nullptr, &size);
    const Packet packet = decode({static_cast<const char*>(bytes), size});
    std::free(bytes);
    lo_message_free(message);
    ASSERT_EQ(packet.messages.size(), 1u);
    const About& about = std::get<About>(packet.messages[0].body);
    EXPECT_EQ(about.role, Role::LeadArm);
    EXPECT_EQ(about.model, "m 2");
    EXPECT_DOUBLE_EQ(about.rate_hz, 400.0);
}

TEST(OscPacket, EverythingGoesThereAndBack) {
    Shot shot{3, {}};
    shot.numbers.club_speed_m_s = 41.5; // the others are not known
    const std::vector<Message> said{
        {"mat-5", 12.25, Feet{9, 400.0, 380.5}},
        {"mat-5", 12.25, About{Role::Plate, "x", 1000.0, 1.0}},
        {"mat-5", 12.25, shot},
        {"mat-5", 12.25, Orientation{1, Eigen::Quaterniond(0.6, 0.8, 0, 0)}}};
    const Packet packet = decode(encode(said));
    ASSERT_EQ(packet.messages.size(), 4u);
    EXPECT_NEAR(*packet.messages[0].device_s, 12.25, 1e-6);
    EXPECT_DOUBLE_EQ(std::get<Feet>(packet.messages[0].body).right_n, 380.5);
    const LaunchNumbers& launch = std::get<Shot>(packet.messages[2].body).numbers;
    EXPECT_DOUBLE_EQ(launch.club_speed_m_s, 41.5);
    EXPECT_TRUE(std::isnan(launch.carry_m));
    EXPECT_NEAR(std::get<Orientation>(packet.messages[3].body).q_world_sensor.x(), 0.8, 1e-6);
}

TEST(OscPacket, WhatCannotBeUnderstoodIsNamed) {
    const auto problem = [](const std::string& bytes) {
        const Packet packet = decode(bytes);
        EXPECT_TRUE(packet.messages.empty());
        return packet.problems.empty() ? std::string() : packet.problems[0];
    };
    EXPECT_NE(problem(padded("/oscillator/4/frequency") + padded(",f") + real(440.0f))
                  .find("/oscillator/4/frequency"),
              std::string::npos);
    EXPECT_NE(problem(imu_bytes("/kite/../imu")), "");
    EXPECT_NE(problem(imu_bytes("/kite/a b/imu")), "");
    EXPECT_NE(problem(imu_bytes("/kite/" + std::string(200, 'a') + "/imu")), "");
    EXPECT_NE(problem(padded("/kite/a/imu") + padded(",iff") + big_endian(1) + real(0) + real(0))
                  .find("iffffff"),
              std::string::npos);
    EXPECT_NE(problem(padded("/kite/a/about") + padded(",ssff") + padded("shoe") + padded("m") +
                      real(1.0f) + real(1.0f))
                  .find("shoe"),
              std::string::npos);
    EXPECT_NE(problem(padded("/kite/a/imu") + padded(",iffffff") + big_endian(7) +
                      real(std::nanf("")) + std::string(20, '\0')),
              "");
    EXPECT_NE(problem("no"), "");
    EXPECT_NE(problem(""), "");
    // Names of the network are made harmless before anybody reads them.
    EXPECT_EQ(problem(padded("/kite/\x1b[2J/x") + padded(",")).find('\x1b'), std::string::npos);
    // An element that says it is longer than the packet.
    EXPECT_NE(problem(bundle_of(0, 1, {}) + big_endian(0x7fffffff) + "abcd"), "");
}

TEST(OscPacket, DamagedBytesNeverEndTheProgram) {
    std::mt19937 random(11);
    const std::string good =
        bundle_of(5, 6, {imu_bytes("/kite/a/imu"), bundle_of(7, 8, {imu_bytes("/kite/b/imu")})});
    std::size_t understood = 0;
    for (int i = 0; i < 40000; ++i) {
        std::string bytes = good.substr(0, 1 + random() % good.size());
        for (std::size_t k = random() % 6; k > 0; --k)
            bytes[random() % bytes.size()] = static_cast<char>(random());
        understood += decode(bytes).messages.size();
    }
    EXPECT_GT(understood, 0u);
    std::string deep = imu_bytes("/kite/a/imu");
    for (int i = 0; i < 100; ++i)
        deep = bundle_of(0, 1, {deep});
    EXPECT_TRUE(decode(deep).messages.empty());
}

/// A session as a recording, in simulated time.
std::string session(const simulate::BayPlan& plan) {
    simulate::BaySender sender(plan);
    std::string out = raw_head("{}");
    while (const auto sent = sender.next())
        append(out, {RawRecord::Kind::Packet,
                     1700000000000000000 + static_cast<std::int64_t>(1e9 * sent->at_s),
                     encode({sent->message})});
    return out;
}

struct Played {
    std::vector<std::string> captures;
    std::vector<Heard> wholes;
    HeardCounts counts;
};
Played play(std::string_view recording) {
    Played out;
    Hearing hearing;
    hearing.bay().on_whole = [&](const BaySwing& swing) {
        out.captures.push_back(hearing.capture(swing));
        out.wholes.push_back(swing.heard);
    };
    Outcome<RawFile> file = open_raw(recording);
    while (const auto record = next_record(file.value.records))
        hearing.take(*record);
    hearing.finish();
    out.counts = hearing.counts();
    return out;
}

void expect_same(const Samples& a, const Samples& b) {
    EXPECT_EQ(a.times_s, b.times_s);
    EXPECT_EQ(a.values, b.values);
    EXPECT_EQ(a.rate_hz, b.rate_hz);
}

TEST(Recording, PlayedAgainItGivesTheSameToTheLastBit) {
    simulate::BayPlan plan;
    plan.swings = 2;
    plan.seed = 8;
    const std::string recording = session(plan);
    const Played once = play(recording);
    const Played again = play(recording);
    ASSERT_GE(once.wholes.size(), 2u);
    EXPECT_EQ(once.captures, again.captures);
    EXPECT_EQ(once.counts.not_understood, 0u);
}

TEST(Recording, ACaptureIsTheSwingAsItWasHeard) {
    for (const bool clocks : {true, false}) {
        simulate::BayPlan plan;
        plan.swings = 1;
        plan.practice_share = 0.0;
        plan.clocks = clocks;
        const Played played = play(session(plan));
        ASSERT_EQ(played.captures.size(), 1u);
        const Outcome<Heard> read = read_capture(played.captures[0]);
        ASSERT_TRUE(read.ok()) << text_of(read.findings[0]);
        const Heard& heard = played.wholes[0];
        ASSERT_EQ(read.value.sensors.size(), heard.sensors.size());
        for (const auto& [segment, sensor] : heard.sensors)
            expect_same(read.value.sensors.at(segment).samples, sensor.samples);
        expect_same(read.value.feet, heard.feet);
        EXPECT_EQ(read.value.cut.impact_s, heard.cut.impact_s);
        // It is a swing file like any other, for every command and every room.
        LaunchNumbers launch;
        launch.carry_m = 151.0;
        const Outcome<Take> take =
            formats::read_take(with_launch(played.captures[0], launch), "swing.kitebay", {});
        ASSERT_TRUE(take.ok());
        ASSERT_TRUE(take.value.launch);
        EXPECT_DOUBLE_EQ(take.value.launch->carry_m, 151.0);
        EXPECT_TRUE(std::isnan(take.value.launch->curve_m));
        EXPECT_GT(take.value.frames, 500u);
    }
}

TEST(Recording, DamageIsSaidAndEndsNothing) {
    simulate::BayPlan plan;
    plan.swings = 1;
    plan.practice_share = 0.0;
    plan.between = false;
    const Played played = play(session(plan));
    ASSERT_EQ(played.captures.size(), 1u);
    const std::string& whole = played.captures[0];
    const auto cut = formats::read_take(whole.substr(0, whole.size() - 5), "a.kitebay", {});
    EXPECT_TRUE(std::any_of(cut.findings.begin(), cut.findings.end(),
                            [](const Finding& finding) { return finding.code == "cut-short"; }));
    std::mt19937 random(5);
    for (int i = 0; i < 60; ++i) {
        std::string bytes = whole;
        for (int k = 0; k < 20; ++k)
            bytes[random() % (i % 2 == 0 ? 900 : bytes.size())] = static_cast<char>(random());
        formats::read_take(bytes, "a.kitebay", {});
    }
    EXPECT_FALSE(formats::read_take(raw_head("{}"), "a.kitebay", {}).ok());
    EXPECT_FALSE(formats::read_take(raw_head("{\"swing\": 3}"), "a.kitebay", {}).ok());
    EXPECT_FALSE(open_raw("kite-hinge-bay 1\n{}").ok());
    EXPECT_FALSE(open_raw("something else").ok());
}

TEST(Recording, IsNotWrittenOverAndSaysSo) {
    const test::TemporaryFolder folder;
    const auto path = folder.path("a.kitebay");
    {
        auto writer = RawWriter::create(path);
        ASSERT_TRUE(writer.ok());
        EXPECT_TRUE(writer.value->write({RawRecord::Kind::Note, 5, "{}"}));
    }
    EXPECT_FALSE(RawWriter::create(path).ok());
    EXPECT_FALSE(RawWriter::create(folder.path("no/such/folder.kitebay")).ok());
    const std::string bytes = test::TemporaryFolder::read(path);
    auto file = open_raw(bytes);
    ASSERT_TRUE(file.ok());
    const auto record = next_record(file.value.records);
    ASSERT_TRUE(record);
    EXPECT_EQ(record->kind, RawRecord::Kind::Note);
    EXPECT_EQ(record->time_ns, 5);
    EXPECT_EQ(record->bytes, "{}");
}

TEST(Hearing, AFloodOfStrangePacketsStaysBounded) {
    Hearing hearing;
    std::mt19937 random(2);
    std::string strange(60000, 'x');
    for (int i = 0; i < 4000; ++i) {
        strange[random() % strange.size()] = static_cast<char>(random());
        hearing.take({RawRecord::Kind::Packet, i * 100000, strange});
    }
    EXPECT_EQ(hearing.counts().not_understood, 4000u);
    EXPECT_LT(hearing.memory_bytes(), 1u << 20);
    // Packets that are understood, and large.
    std::vector<std::string> many(1500, imu_bytes("/kite/a/imu"));
    const std::string large = bundle_of(100, 0, many);
    for (int i = 0; i < 3000; ++i)
        hearing.take({RawRecord::Kind::Packet, i * 100000, large});
    EXPECT_LT(hearing.memory_bytes(), 80u << 20);
}

TEST(Listener, HearsWhatIsSentAndWhen) {
    auto listener = Listener::open("127.0.0.1", 0);
    ASSERT_TRUE(listener.ok());
    EXPECT_TRUE(listener.value->is_loopback());
    const auto sender = Sender::open("127.0.0.1", listener.value->port());
    ASSERT_TRUE(sender.ok());
    const std::int64_t before_ns = now_ns();
    sender.value->send("hello");
    sender.value->send(std::string(60000, 'y'));
    std::vector<std::pair<std::int64_t, std::size_t>> heard;
    while (heard.size() < 2 &&
           listener.value->wait(2000, [&](std::int64_t time_ns, std::string_view bytes) {
               heard.emplace_back(time_ns, bytes.size());
           }) > 0) {
    }
    ASSERT_EQ(heard.size(), 2u);
    EXPECT_EQ(heard[0].second, 5u);
    EXPECT_EQ(heard[1].second, 60000u);
    EXPECT_GT(heard[0].first, before_ns - 2000000);
    EXPECT_LT(heard[0].first, now_ns());
    // The port is taken; an address that is none.
    EXPECT_FALSE(Listener::open("127.0.0.1", listener.value->port()).ok());
    EXPECT_FALSE(Listener::open("not an address", 0).ok());
    const auto open = Listener::open("0.0.0.0", 0);
    ASSERT_TRUE(open.ok());
    EXPECT_FALSE(open.value->is_loopback());
}

} // namespace
} // namespace kite::live
