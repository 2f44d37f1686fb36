// Clocks, rings, cutting, mounting and feedback of the bay, on numbers made here by hand or by the
// simulator's own truth.

#include "core/base/units.h"
#include "core/live/bay.h"
#include "core/live/feedback.h"
#include "core/measures/analyse.h"
#include "simulate/bay.h"
#include "support/findings.h"

#include <gtest/gtest.h>

#include <algorithm>
#include <cmath>
#include <random>
#include <set>
#include <string>

namespace kite::live {
namespace {

/// Tags of a clock that is off and drifts, with delays that are never less than nothing: an
/// exponential distribution (the textbook model of a queue's delay).
struct MadeClock {
    double offset_s;
    double drift;
    double mean_delay_s;
    std::mt19937 random{7};

    double device_s(double t_s) const { return offset_s + (1.0 + drift) * t_s; }
    double arrival_s(double t_s) {
        return t_s + std::exponential_distribution<double>(1.0 / mean_delay_s)(random);
    }
};

TEST(DeviceClock, IsGoodToTwoMillisecondsAfterTenSeconds) {
    for (const double drift : {-200e-6, 0.0, 200e-6})
        for (const double offset_s : {-4.0, 1.7e9}) {
            MadeClock made{offset_s, drift, 0.003};
            DeviceClock clock;
            for (double t = 0.0; t < 10.0; t += 0.002)
                clock.add(made.device_s(t), made.arrival_s(t));
            for (const double t : {6.0, 8.0, 10.0}) {
                const double off_s = clock.to_computer(made.device_s(t)) - t;
                EXPECT_LT(std::abs(off_s), 0.002) << drift << " " << offset_s;
                EXPECT_LT(std::abs(off_s), 3.0 * clock.u_s());
            }
            EXPECT_NEAR(clock.drift(), drift, 60e-6);
            EXPECT_NEAR(clock.offset_s(), made.device_s(10.0) - 10.0, 0.002);
            EXPECT_EQ(clock.restarts(), 0u);
        }
}

TEST(DeviceClock, OneTagThatIsWrongChangesNothing) {
    MadeClock made{3.0, 0.0, 0.002};
    DeviceClock clock;
    for (double t = 0.0; t < 5.0; t += 0.01)
        clock.add(made.device_s(t), made.arrival_s(t));
    const double before = clock.to_computer(made.device_s(5.0));
    EXPECT_FALSE(clock.add(made.device_s(5.0) + 70.0, 5.0));
    EXPECT_FALSE(clock.add(made.device_s(5.0) - 70.0, 5.0));
    EXPECT_FALSE(clock.add(std::nan(""), 5.0));
    EXPECT_DOUBLE_EQ(clock.to_computer(made.device_s(5.0)), before);
}

TEST(DeviceClock, ADeviceThatWasSwitchedOffStartsAgain) {
    MadeClock made{3.0, 0.0, 0.002};
    DeviceClock clock;
    for (double t = 0.0; t < 5.0; t += 0.01)
        clock.add(made.device_s(t), made.arrival_s(t));
    MadeClock anew{-100.0, 0.0, 0.002};
    for (double t = 7.0; t < 9.0; t += 0.01)
        clock.add(anew.device_s(t), anew.arrival_s(t));
    EXPECT_EQ(clock.restarts(), 1u);
    EXPECT_NEAR(clock.to_computer(anew.device_s(9.0)), 9.0, 0.003);
}

TEST(SampleRing, PutsSamplesInTheirPlaceHoweverTheyCome) {
    SampleRing ring;
    const auto add = [&](std::int32_t number) {
        return ring.add(number, 0.01 * number, {static_cast<double>(number), 0, 0, 0, 0, 0});
    };
    for (const std::int32_t number : {10, 12, 11, 15, 14})
        EXPECT_EQ(add(number), SampleRing::Added::New);
    EXPECT_EQ(add(12), SampleRing::Added::Doubled);
    EXPECT_EQ(ring.doubled(), 1u);
    ASSERT_EQ(ring.size(), 6u);
    for (std::size_t i = 0; i < ring.size(); ++i) {
        EXPECT_EQ(ring.at(i).there, i != 3); // 13 never came
        if (ring.at(i).there) {
            EXPECT_EQ(ring.at(i).values[0], 10.0 + static_cast<double>(i));
        }
    }
}

TEST(SampleRing, NumbersWrapAtTwoToTheThirtyFirst) {
    SampleRing ring;
    const std::int32_t last = 0x7fffffff;
    double t = 0.0;
    for (const std::int32_t number : {last - 1, last, 0, 1, 2})
        EXPECT_EQ(ring.add(number, t += 0.01, {}), SampleRing::Added::New) << number;
    EXPECT_EQ(ring.size(), 5u);
    EXPECT_EQ(ring.number(4) - ring.number(0), 4);
}

TEST(SampleRing, OneFarNumberIsAMistakeManyAreANewBeginning) {
    SampleRing ring;
    for (std::int32_t n = 0; n < 100; ++n)
        ring.add(n, 0.01 * n, {});
    EXPECT_EQ(ring.add(1000000000, 1.0, {}), SampleRing::Added::Odd);
    EXPECT_EQ(ring.size(), 100u);
    int restarts = 0;
    for (std::int32_t n = 0; n < 20; ++n)
        restarts += ring.add(500000000 + n, 5.0 + 0.01 * n, {}) == SampleRing::Added::Restarted;
    EXPECT_EQ(restarts, 1);
    EXPECT_LT(ring.size(), 25u);
}

TEST(SampleRing, HoldsHalfAMinuteAndCountsWhatWasLost) {
    SampleRing ring;
    for (std::int32_t n = 0; n < 30000; ++n)
        if (n % 50 != 0) // two in a hundred never come
            ring.add(n, 0.002 * n, {});
    ring.trim();
    EXPECT_NEAR(static_cast<double>(ring.size()), 15000.0, 2.0);
    EXPECT_NEAR(ring.lost_share(), 0.02, 0.001);
    EXPECT_NEAR(ring.rate_hz(), 500.0, 0.1);
    // However fast somebody sends, it stays bounded.
    for (std::int32_t n = 30000; n < 400000; ++n)
        ring.add(n, 60.0 + 1e-6 * n, {});
    EXPECT_LE(ring.size(), SampleRing::kMost);
}

/// What a bay makes of a plan, in simulated time.
struct HeardAll {
    std::vector<BaySwing> swings;
    std::vector<BaySwing> wholes;
    std::vector<BayShot> shots;
};
constexpr double kStart_s = 1.7e9;

template <class Before>
HeardAll hear(const simulate::BayPlan& plan, const Before& before) {
    simulate::BaySender sender(plan);
    Bay bay;
    HeardAll out;
    bay.on_swing = [&](BaySwing swing) { out.swings.push_back(std::move(swing)); };
    bay.on_whole = [&](BaySwing swing) { out.wholes.push_back(std::move(swing)); };
    bay.on_shot = [&](const BayShot& shot) { out.shots.push_back(shot); };
    before(bay, sender);
    while (const auto sent = sender.next())
        bay.take(sent->message, kStart_s + sent->at_s);
    bay.finish();
    return out;
}

TEST(Bay, FindsEverySwingAndNothingElse) {
    simulate::BayPlan plan;
    plan.seed = 4;
    plan.swings = 5;
    std::vector<simulate::BayTruth> truth;
    const HeardAll heard =
        hear(plan, [&](Bay&, const simulate::BaySender& sender) { truth = sender.truth(); });
    ASSERT_EQ(heard.swings.size(), truth.size());
    ASSERT_EQ(heard.wholes.size(), truth.size());
    int number = 0;
    std::size_t shot = 0;
    for (std::size_t i = 0; i < truth.size(); ++i) {
        const BaySwing& swing = heard.swings[i];
        EXPECT_EQ(swing.number, ++number);
        EXPECT_EQ(swing.practice, truth[i].practice);
        EXPECT_NEAR(swing.heard.cut.reference_s() - kStart_s, truth[i].impact_s,
                    truth[i].practice ? 0.06 : 0.003);
        EXPECT_TRUE(swing.heard.cut.counter_clockwise);
        EXPECT_GT(heard.wholes[i].heard.cut.range.end_s, swing.heard.cut.range.end_s + 0.8);
        if (truth[i].practice)
            continue;
        ASSERT_LT(shot, heard.shots.size());
        EXPECT_EQ(heard.shots[shot].number, swing.number);
        EXPECT_NEAR(heard.shots[shot++].numbers.club_speed_m_s, truth[i].launch.club_speed_m_s,
                    0.01);
    }
}

TEST(Bay, ALeftHanderIsToldByTheWayHeTurns) {
    simulate::BayPlan plan;
    plan.swings = 1;
    plan.practice_share = 0.0;
    plan.handed = Handedness::Left;
    std::vector<simulate::BayTruth> truth;
    const HeardAll heard =
        hear(plan, [&](Bay&, const simulate::BaySender& sender) { truth = sender.truth(); });
    ASSERT_EQ(heard.wholes.size(), 1u);
    EXPECT_FALSE(heard.wholes[0].heard.cut.counter_clockwise);
    const Outcome<Take> take = take_of(heard.wholes[0].heard);
    ASSERT_TRUE(take.ok());
    EXPECT_EQ(take.value.handed, Handedness::Left);
    // What was said of the hand before is set right, and that is said.
    for (const Handedness said : {Handedness::Left, Handedness::Right}) {
        Heard told = heard.wholes[0].heard;
        told.handed = said;
        const Outcome<Take> again = take_of(told);
        ASSERT_TRUE(again.ok());
        EXPECT_EQ(test::has_code(again.findings, "turns-other-way"), said == Handedness::Right);
    }
    const Outcome<Analysis> analysis = analyse(take.value, {});
    ASSERT_TRUE(analysis.ok());
    const double begin_s = first_frame_s(heard.wholes[0].heard) - kStart_s;
    for (Segment segment : kSequence) {
        const auto& part = analysis.value.sequence.parts[index_of(segment)];
        ASSERT_TRUE(part);
        EXPECT_NEAR(begin_s + part->peak_t_s, truth[0].peaks_s[index_of(segment)], 0.008);
    }
    // The left foot does not lead: at impact most of the weight is on the right one.
    EXPECT_GT(analysis.value.pressure.lead_half_t_s, 0.0);
    EXPECT_TRUE(analysis.value.moments[Moment::Finish]);
}

TEST(Bay, AGapIsNamedAndWhatLiesInItIsNotTold) {
    simulate::BayPlan plan;
    plan.swings = 1;
    plan.practice_share = 0.0;
    plan.lost_pct = plan.bursts_a_minute = 0.0;
    simulate::BaySender sender(plan);
    const double peak_s = sender.truth()[0].peaks_s[index_of(Segment::Torso)];
    Bay bay;
    std::optional<BaySwing> found;
    bay.on_swing = [&](BaySwing swing) { found = std::move(swing); };
    while (const auto sent = sender.next()) {
        const bool torso = sent->message.device == "back-2";
        if (!(torso && std::abs(sent->at_s - peak_s) < 0.04))
            bay.take(sent->message, kStart_s + sent->at_s);
    }
    ASSERT_TRUE(found);
    const Outcome<Take> take = take_of(found->heard);
    ASSERT_TRUE(take.ok());
    const Finding* said = test::find_code(take.findings, "link-gap");
    ASSERT_NE(said, nullptr);
    EXPECT_EQ(said->where, "torso");
    // 0.08 s were lost, from 0.04 s before the peak on: so long before impact, as it is said.
    const double before_ms = 1000.0 * (sender.truth()[0].impact_s - peak_s + 0.04);
    const std::size_t comma = said->what.find("ms, ");
    ASSERT_NE(comma, std::string::npos) << said->what;
    EXPECT_NEAR(std::stod(said->what.substr(comma + 4)), before_ms, 12.0) << said->what;
    EXPECT_NEAR(std::stod(said->what.substr(said->what.find("for ") + 4)), 80.0, 12.0);
    const Outcome<Analysis> analysis = analyse(take.value, {});
    const auto& torso = analysis.value.sequence.parts[index_of(Segment::Torso)];
    // Either it is not told, or its uncertainty covers the hole.
    if (torso && std::isfinite(torso->peak_t_s)) {
        EXPECT_GT(torso->peak_t_u_s, 0.004);
    }
    const auto& arm = analysis.value.sequence.parts[index_of(Segment::LeadArm)];
    ASSERT_TRUE(arm);
    EXPECT_LT(arm->peak_t_u_s, 0.004);
}

TEST(Bay, MakesTheBestOfTheSensorsThereAre) {
    for (const std::string missing : {"hip-1", "back-2", "arm-3", "grip-4", "arm-3 grip-4"}) {
        simulate::BayPlan plan;
        plan.swings = 2;
        plan.practice_share = 0.0;
        plan.rate_hz = missing == "arm-3" ? 1000.0 : 400.0;
        simulate::BaySender sender(plan);
        Bay bay;
        std::vector<BaySwing> found;
        bay.on_swing = [&](BaySwing swing) { found.push_back(std::move(swing)); };
        while (const auto sent = sender.next())
            if (missing.find(sent->message.device) == std::string::npos)
                bay.take(sent->message, kStart_s + sent->at_s);
        ASSERT_EQ(found.size(), 2u) << missing;
        for (std::size_t i = 0; i < 2; ++i) {
            EXPECT_FALSE(found[i].practice) << missing; // not said where nobody could feel a blow
            const Outcome<Take> take = take_of(found[i].heard);
            ASSERT_TRUE(take.ok()) << missing;
            const Outcome<Analysis> analysis = analyse(take.value, {});
            ASSERT_TRUE(analysis.ok()) << missing;
            std::size_t told = 0;
            for (Segment segment : kSequence)
                if (const auto& part = analysis.value.sequence.parts[index_of(segment)];
                    part && std::isfinite(part->peak_t_s)) {
                    ++told;
                    EXPECT_NEAR(first_frame_s(found[i].heard) - kStart_s + part->peak_t_s,
                                sender.truth()[i].peaks_s[index_of(segment)], 0.008)
                        << missing;
                }
            EXPECT_GE(told, 2u) << missing;
        }
    }
}

TEST(Bay, ARestlessAddressIsReadAndSaid) {
    // Waggling until the takeaway: a sensor shaken by 30° a second, as the table of the simulator's
    // own truth has the peaks.
    simulate::BayPlan plan;
    plan.swings = 1;
    plan.practice_share = 0.0;
    plan.between = false;
    simulate::BaySender sender(plan);
    Bay bay;
    std::optional<BaySwing> found;
    bay.on_swing = [&](BaySwing swing) { found = std::move(swing); };
    while (auto sent = sender.next()) {
        if (auto* imu = std::get_if<Imu>(&sent->message.body))
            imu->gyro_deg_s.y() += 30.0 * std::sin(2.0 * kPi * 3.0 * sent->at_s);
        bay.take(sent->message, kStart_s + sent->at_s);
    }
    ASSERT_TRUE(found);
    const Outcome<Take> take = take_of(found->heard);
    ASSERT_TRUE(take.ok());
    EXPECT_TRUE(std::any_of(take.findings.begin(), take.findings.end(), [](const Finding& finding) {
        return finding.code == "restless-address";
    }));
    const Outcome<Analysis> analysis = analyse(take.value, {});
    ASSERT_TRUE(analysis.ok());
    for (Segment segment : {Segment::Pelvis, Segment::Torso}) {
        const auto& part = analysis.value.sequence.parts[index_of(segment)];
        ASSERT_TRUE(part);
        EXPECT_NEAR(first_frame_s(found->heard) - kStart_s + part->peak_t_s,
                    sender.truth()[0].peaks_s[index_of(segment)], 0.015);
    }
}

TEST(Bay, ASlippedSensorIsNamed) {
    simulate::BayPlan plan;
    plan.swings = 4;
    plan.practice_share = 0.0;
    plan.slips_at = 3;
    const HeardAll heard = hear(plan, [](Bay&, const simulate::BaySender&) {});
    ASSERT_EQ(heard.swings.size(), 4u);
    for (std::size_t i = 0; i < 4; ++i) {
        const auto& findings = heard.swings[i].findings;
        const bool named =
            std::any_of(findings.begin(), findings.end(), [](const Finding& finding) {
                return finding.code == "mount-slipped" && finding.where == "torso";
            });
        EXPECT_EQ(named, i >= 2) << i;
    }
}

TEST(Bay, SlowHeldSwingsWithoutABallCountInADrill) {
    simulate::BayPlan plan;
    plan.swings = 3;
    plan.slow = true; // with waggles, walking, looks to the target and placing of balls between
    // Full swings alone: nothing of it is one.
    const HeardAll full = hear(plan, [](Bay&, const simulate::BaySender&) {});
    EXPECT_TRUE(full.swings.empty());
    std::vector<simulate::BayTruth> truth;
    const HeardAll drill = hear(plan, [&](Bay& bay, const simulate::BaySender& sender) {
        bay.set_drill(true);
        bay.set_handed(Handedness::Right);
        truth = sender.truth();
    });
    ASSERT_EQ(drill.swings.size(), 3u);
    for (std::size_t i = 0; i < 3; ++i) {
        EXPECT_TRUE(drill.swings[i].practice); // nothing was struck
        EXPECT_GT(drill.swings[i].heard.cut.range.end_s - kStart_s, truth[i].impact_s);
        EXPECT_LT(drill.swings[i].heard.cut.range.begin_s - kStart_s, truth[i].impact_s - 3.0);
        const Outcome<Take> take = take_of(drill.swings[i].heard);
        ASSERT_TRUE(take.ok()) << text_of(take.findings.front());
        const Outcome<Analysis> analysis = analyse(take.value, {});
        EXPECT_TRUE(analysis.ok()) << text_of(analysis.findings.front());
    }
}

TEST(Bay, AMovementThatWasNoSwingCanBeKeptByHand) {
    simulate::BayPlan plan;
    plan.swings = 1;
    plan.slow = true;
    plan.between = false;
    simulate::BaySender sender(plan);
    Bay bay;
    std::vector<BaySwing> found;
    bay.on_swing = [&](BaySwing swing) { found.push_back(std::move(swing)); };
    while (const auto sent = sender.next())
        bay.take(sent->message, kStart_s + sent->at_s);
    ASSERT_TRUE(found.empty());
    EXPECT_TRUE(bay.keep_by_hand());
    ASSERT_EQ(found.size(), 1u);
    EXPECT_TRUE(found[0].by_hand);
    EXPECT_NEAR(found[0].heard.cut.fastest_s - kStart_s, sender.truth()[0].impact_s, 0.3);
}

TEST(Bay, MountingFindsHowSensorsSit) {
    for (const Handedness handed : {Handedness::Right, Handedness::Left}) {
        simulate::BayPlan plan;
        plan.seed = 21;
        plan.swings = 1;
        plan.practice_share = 0.0;
        plan.between = false;
        plan.mounting = true;
        plan.handed = handed;
        simulate::BaySender sender(plan);
        Bay bay;
        std::optional<BaySwing> found;
        bay.on_swing = [&](BaySwing swing) { found = std::move(swing); };
        MountGuide guide(handed, kStart_s);
        double looked_s = 0.0;
        while (const auto sent = sender.next()) {
            bay.take(sent->message, kStart_s + sent->at_s);
            if (sent->at_s < looked_s + 0.2)
                continue;
            looked_s = sent->at_s;
            if (guide.step() != MountGuide::Step::Done)
                guide.look(bay.parts({bay.now_s() - 28.0, bay.now_s()}), bay.now_s());
            if (guide.step() == MountGuide::Step::Done && bay.mounts().empty())
                bay.set_mounts(guide.result().value.mounts);
        }
        ASSERT_EQ(guide.step(), MountGuide::Step::Done);
        for (Segment segment : kSequence) {
            const double apart_deg =
                deg_from_rad(bay.mounts().at(segment).angularDistance(sender.mount(segment)));
            EXPECT_LT(apart_deg, 5.0) << name_of(segment);
        }
        ASSERT_TRUE(found);
        const Outcome<Take> take = take_of(found->heard);
        ASSERT_TRUE(take.ok());
        const Outcome<Analysis> analysis = analyse(take.value, {});
        ASSERT_TRUE(analysis.ok());
        for (Segment segment : kSequence) {
            const auto& part = analysis.value.sequence.parts[index_of(segment)];
            ASSERT_TRUE(part) << name_of(segment);
            EXPECT_NEAR(first_frame_s(found->heard) - kStart_s + part->peak_t_s,
                        sender.truth()[0].peaks_s[index_of(segment)], 0.008);
        }
    }
}

TEST(Bay, MountingIsSeenByTheWay) {
    simulate::BayPlan plan;
    plan.seed = 22;
    plan.swings = 1;
    plan.practice_share = 0.0;
    for (const bool anyhow : {true, false}) {
        plan.mounting = anyhow;
        simulate::BaySender sender(plan);
        Bay bay;
        int told = 0;
        bay.on_mounted = [&] { ++told; };
        bay.watch_for_mounting();
        while (const auto sent = sender.next())
            bay.take(sent->message, kStart_s + sent->at_s);
        EXPECT_EQ(told, anyhow ? 1 : 0);
        EXPECT_EQ(bay.mounts().size(), anyhow ? 4u : 0u);
        for (const auto& [segment, mount] : bay.mounts())
            EXPECT_LT(deg_from_rad(mount.angularDistance(sender.mount(segment))), 5.0);
    }
}

TEST(Bay, MountingSaysWhatIsMissing) {
    // A body that turned about the vertical: gravity and axis tell the same, not where the ball is.
    Samples samples;
    samples.rate_hz = 100.0;
    for (int i = 0; i < 1000; ++i) {
        const double t = 0.01 * i;
        const double rate = t > 6.0 ? 30.0 * std::sin(2.0 * kPi * (t - 6.0) / 4.0) : 0.0;
        samples.times_s.push_back(t);
        samples.values.push_back({0.0, 0.0, rate, 0.0, 0.0, 1.0});
    }
    const Outcome<Mounting> found = find_mounting({{Segment::Pelvis, samples}}, Handedness::Right,
                                                  {0.0, 5.0}, {5.0, 6.0}, {6.0, 10.0});
    ASSERT_FALSE(found.ok());
    EXPECT_EQ(found.findings[0].code, "no-turn"); // it went one way only
    for (auto& value : samples.values)
        value[2] *= value[2] < 0.0 ? 2.0 : 1.0;
    const Outcome<Mounting> both = find_mounting({{Segment::Pelvis, samples}}, Handedness::Right,
                                                 {0.0, 5.0}, {5.0, 6.0}, {6.0, 10.0});
    ASSERT_FALSE(both.ok());
    EXPECT_EQ(both.findings[0].code, "no-lean");
    // A body that bent by 30 degrees, then turned about something else than its own axis: standing
    // upright its sensor had lain another way.
    Samples bent = samples;
    for (std::size_t i = 0; i < bent.values.size(); ++i) {
        const bool upright = bent.times_s[i] < 5.0;
        const double down = upright ? 70.0 * kPi / 180.0 : 0.0;
        bent.values[i][1] = 0.5 * bent.values[i][2];
        bent.values[i][3] = std::sin(down);
        bent.values[i][5] = std::cos(down);
    }
    const Outcome<Mounting> apart = find_mounting({{Segment::Torso, bent}}, Handedness::Right,
                                                  {0.0, 4.9}, {5.0, 6.0}, {6.0, 10.0});
    ASSERT_FALSE(apart.ok());
    EXPECT_EQ(apart.findings[0].code, "not-in-one-piece") << apart.findings[0].what;
    EXPECT_EQ(apart.findings[0].where, "torso");
}

// Upright for seven seconds, then bent over the ball, and no turn: after twenty seconds more there
// is nothing to wait for. Before that one may still turn.
TEST(Bay, MountingWaitsTwentySecondsForTheTurn) {
    Samples samples;
    samples.rate_hz = 100.0;
    for (int i = 0; i < 4000; ++i) {
        const double t = 0.01 * i;
        const double bent = t < 7.0 ? 0.0 : 35.0 * kPi / 180.0;
        samples.times_s.push_back(t);
        samples.values.push_back({0.0, 0.0, 0.0, 0.0, std::sin(bent), std::cos(bent)});
    }
    MountGuide guide(Handedness::Right, 0.0);
    std::map<MountGuide::Step, double> since_s;
    for (double now_s = 0.5; now_s < 39.0; now_s += 0.1) {
        guide.look({{Segment::Pelvis, samples}}, now_s);
        since_s.try_emplace(guide.step(), now_s);
    }
    // Five seconds upright are known at half a second more, for what is still on its way.
    EXPECT_NEAR(since_s[MountGuide::Step::Address], 5.6, 0.5);
    EXPECT_NEAR(since_s[MountGuide::Step::Turn], 7.4, 0.4);
    ASSERT_EQ(guide.step(), MountGuide::Step::Failed);
    EXPECT_NEAR(since_s[MountGuide::Step::Failed] - since_s[MountGuide::Step::Address], 20.0, 0.6);
    EXPECT_EQ(guide.result().findings.front().code, "no-turn");
}

TEST(Bay, AShotToldTwiceIsOneShot) {
    simulate::BayPlan plan;
    plan.swings = 2; // its monitor tells every shot three times
    plan.practice_share = 0.0;
    plan.between = false;
    const HeardAll heard = hear(plan, [](Bay&, const simulate::BaySender&) {});
    ASSERT_EQ(heard.shots.size(), 2u);
    EXPECT_EQ(heard.shots[0].number, 1);
    EXPECT_EQ(heard.shots[1].number, 2);
}

TEST(Bay, NumbersFromTheNetworkDoNotFillMemory) {
    Bay bay;
    std::mt19937 random(3);
    for (int i = 0; i < 300000; ++i) {
        Message message;
        message.device = "flood-" + std::to_string(random() % 400);
        message.device_s = static_cast<double>(random() % 1000);
        Imu imu;
        imu.number = static_cast<std::int32_t>(random() & 0x7fffffff);
        message.body = imu;
        bay.take(message, kStart_s + 1e-4 * i);
    }
    EXPECT_LE(bay.devices().size(), Bay::kMostDevices);
    EXPECT_LT(bay.memory_bytes(), 100u << 20);
}

TEST(Bay, TheDeviceThatWasSilentLongestMakesRoom) {
    Bay bay;
    const auto say = [&](std::size_t device, double t_s) {
        Message message;
        message.device = "device-" + std::to_string(device);
        message.body = Imu{};
        bay.take(message, kStart_s + t_s);
    };
    for (std::size_t i = 0; i < Bay::kMostDevices; ++i)
        say(i, 0.01 * static_cast<double>(i));
    say(0, 5.0); // the first is heard again: the second has been silent longest
    say(Bay::kMostDevices, 6.0);
    std::set<std::string> names;
    for (const DeviceFacts& facts : bay.devices())
        names.insert(facts.name);
    EXPECT_EQ(names.size(), Bay::kMostDevices);
    EXPECT_EQ(names.count("device-0"), 1u);
    EXPECT_EQ(names.count("device-1"), 0u);
    EXPECT_EQ(names.count("device-" + std::to_string(Bay::kMostDevices)), 1u);
}

/// Samples of a sensor that sits straight, upright, at 500 a second.
class Moving {
public:
    explicit Moving(const Feedback::Rule& rule) : feedback_(rule) {}
    std::vector<std::pair<double, Cue>> cues;

    void go(double seconds, double pelvis_deg_s, double arm_deg_s) {
        for (const double end = t_ + seconds; t_ < end; t_ += 0.002) {
            Imu pelvis;
            pelvis.gyro_deg_s = {0.0, 0.0, pelvis_deg_s};
            pelvis.force_g = {0.0, 0.0, 1.0};
            Imu arm;
            arm.gyro_deg_s = {0.0, -arm_deg_s, 0.0};
            arm.force_g = {0.0, 0.0, 1.0};
            for (const auto& [segment, imu] :
                 {std::pair(Segment::Pelvis, pelvis), std::pair(Segment::LeadArm, arm)})
                if (const auto cue = feedback_.add(segment, t_, imu))
                    cues.emplace_back(t_, *cue);
        }
    }

private:
    Feedback feedback_;
    double t_ = 100.0;
};

TEST(Feedback, PelvisPastSquareBeforeTheArmsStartDown) {
    Feedback::Rule rule;
    rule.from_deg = 0.0;
    Moving good(rule);
    good.go(1.0, 0.0, 0.0);
    good.go(1.0, -40.0, -120.0); // back: the pelvis 40° closed
    good.go(1.2, 50.0, 0.0);     // it opens by 60° while the arms wait
    EXPECT_TRUE(good.cues.empty());
    good.go(0.3, 50.0, 150.0);
    ASSERT_EQ(good.cues.size(), 1u);
    EXPECT_EQ(good.cues[0].second, Cue::Good);
    EXPECT_LT(good.cues[0].first, 103.2 + 0.02); // at once

    Moving early(rule);
    early.go(1.0, 0.0, 0.0);
    early.go(1.0, -40.0, -120.0);
    early.go(0.3, 50.0, 150.0); // both together
    ASSERT_EQ(early.cues.size(), 1u);
    EXPECT_EQ(early.cues[0].second, Cue::Early);
}

TEST(Feedback, HoldWithinABand) {
    Feedback::Rule rule;
    rule.wanted = Wanted::HoldOpen;
    rule.from_deg = 40.0;
    rule.to_deg = 50.0;
    Moving moving(rule);
    moving.go(1.0, 0.0, 0.0);
    moving.go(1.5, 30.0, 0.0); // to 45°
    ASSERT_EQ(moving.cues.size(), 1u);
    EXPECT_EQ(moving.cues[0].second, Cue::Inside);
    EXPECT_NEAR(moving.cues[0].first, 101.0 + 40.0 / 30.0, 0.05);
    moving.go(2.0, 0.0, 0.0); // held: a rest that is no address
    EXPECT_EQ(moving.cues.size(), 1u);
    moving.go(0.5, 30.0, 0.0);
    ASSERT_EQ(moving.cues.size(), 2u);
    EXPECT_EQ(moving.cues[1].second, Cue::Outside);
    // A left-hander opens the other way.
    rule.handed = Handedness::Left;
    Moving left(rule);
    left.go(1.0, 0.0, 0.0);
    left.go(1.5, -30.0, 0.0);
    ASSERT_EQ(left.cues.size(), 1u);
    EXPECT_EQ(left.cues[0].second, Cue::Inside);
}

} // namespace
} // namespace kite::live
