// The bay: what a second of four sensors and a plate costs, how long a reading takes once its data
// is there, and how soon feedback is given. docs/performance.md has the figures.

#include "core/live/feedback.h"
#include "core/measures/analyse.h"
#include "core/reading/reading.h"
#include "formats/rules/rules_json.h"
#include "live/hearing.h"
#include "live/listener.h"
#include "live/osc_packet.h"
#include "simulate/bay.h"

#include <benchmark/benchmark.h>

#include <vector>

namespace {

using namespace kite;

/// A session of four sensors at 500 a second and a plate at 1,000, packed.
const std::vector<std::pair<std::int64_t, std::string>>& session() {
    static const auto made = [] {
        simulate::BayPlan plan;
        plan.swings = 4;
        simulate::BaySender sender(plan);
        std::vector<std::pair<std::int64_t, std::string>> out;
        while (const auto sent = sender.next())
            out.emplace_back(static_cast<std::int64_t>(1e9 * sent->at_s),
                             live::encode({sent->message}));
        return out;
    }();
    return made;
}

/// The share of one core that listening takes, measuring of swings included.
void live_share_of_a_core(benchmark::State& state) {
    double heard_s = 0.0;
    for (auto _ : state) {
        live::Hearing hearing;
        hearing.bay().on_swing = [](const live::BaySwing& swing) {
            const Outcome<Take> take = live::take_of(swing.heard);
            if (take.ok())
                benchmark::DoNotOptimize(analyse(take.value, {}));
        };
        for (const auto& [time_ns, bytes] : session())
            hearing.take({live::RawRecord::Kind::Packet, time_ns, bytes});
        heard_s += 1e-9 * static_cast<double>(session().back().first - session().front().first);
    }
    state.counters["heard_s_per_s"] = benchmark::Counter(heard_s, benchmark::Counter::kIsRate);
}
BENCHMARK(live_share_of_a_core)->Unit(benchmark::kMillisecond);

/// The same in a drill, where every movement is looked for.
void live_drill(benchmark::State& state) {
    double heard_s = 0.0;
    for (auto _ : state) {
        live::Hearing hearing;
        hearing.bay().set_drill(true);
        for (const auto& [time_ns, bytes] : session())
            hearing.take({live::RawRecord::Kind::Packet, time_ns, bytes});
        heard_s += 1e-9 * static_cast<double>(session().back().first - session().front().first);
    }
    state.counters["heard_s_per_s"] = benchmark::Counter(heard_s, benchmark::Counter::kIsRate);
}
BENCHMARK(live_drill)->Unit(benchmark::kMillisecond);

/// From the last packet that a swing needs to its reading.
void live_reading(benchmark::State& state) {
    std::vector<live::BaySwing> swings;
    live::Hearing hearing;
    hearing.bay().on_swing = [&](live::BaySwing swing) { swings.push_back(std::move(swing)); };
    for (const auto& [time_ns, bytes] : session())
        hearing.take({live::RawRecord::Kind::Packet, time_ns, bytes});
    const Rules rules = formats::rules_with_school("none").value;
    std::size_t i = 0;
    for (auto _ : state) {
        const Outcome<Take> take = live::take_of(swings[i++ % swings.size()].heard);
        const Outcome<Analysis> analysis = analyse(take.value, {});
        benchmark::DoNotOptimize(read_swing(analysis.value, rules));
    }
}
BENCHMARK(live_reading)->Unit(benchmark::kMillisecond);

/// From a packet's being sent over loopback to the cue that it makes, decoded and judged.
void live_feedback(benchmark::State& state) {
    auto listener = live::Listener::open(live::kLoopback, 0);
    const auto sender = live::Sender::open(live::kLoopback, listener.value->port());
    live::Hearing hearing;
    live::Feedback::Rule rule;
    rule.wanted = live::Wanted::HoldOpen;
    live::Feedback feedback(rule);
    std::size_t cues = 0;
    hearing.bay().on_sample = [&](Segment segment, double t_s, const live::Imu& imu) {
        cues += feedback.add(segment, t_s, imu) ? 1 : 0;
    };
    std::int32_t number = 0;
    const auto send = [&](double rate_deg_s) {
        live::Imu imu;
        imu.number = number;
        imu.gyro_deg_s = {0.0, 0.0, rate_deg_s};
        imu.force_g = {0.0, 0.0, 1.0};
        std::vector<live::Message> said{{"p", 0.002 * number, imu}};
        if (number++ % 500 == 0)
            said.push_back(
                {"p", said[0].device_s, live::About{live::Role::Pelvis, "m", 500.0, 1.0}});
        sender.value->send(live::encode(said));
        listener.value->wait(100, [&](std::int64_t time_ns, std::string_view bytes) {
            hearing.take({live::RawRecord::Kind::Packet, time_ns, bytes});
        });
    };
    for (auto _ : state)
        send(0.0);
    benchmark::DoNotOptimize(cues);
}
BENCHMARK(live_feedback)->Unit(benchmark::kMicrosecond);

} // namespace
