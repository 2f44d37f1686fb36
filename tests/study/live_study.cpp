// What the bay makes of a link as it is: swings of both generators through clocks that lie, packets
// that come late, twice, shuffled or not at all, with waggles, walking, balls placed and practice
// swings between. Time is simulated. Usage: kite-live-study [SWINGS] [WORDS]. Its table stands in
// docs/accuracy.md.

#include "core/measures/analyse.h"
#include "live/hearing.h"
#include "live/osc_packet.h"
#include "simulate/bay.h"
#include "study/golfer.h"

#include <algorithm>
#include <chrono>
#include <cmath>
#include <cstdio>
#include <cstdlib>
#include <cstring>
#include <map>
#include <string>
#include <vector>

using namespace kite;

namespace {

struct Tally {
    int shots = 0;
    int practices = 0;
    int missed = 0;
    int invented = 0;
    int mistaken = 0; ///< a shot called practice, or the other way round
    int unread = 0;   ///< found, but nothing could be measured
    int launch_wrong = 0;
    int right = 0;
    int tied = 0;
    int not_told = 0; ///< a part's peak was not seen
    int wrong = 0;
    int peaks = 0;
    int peaks_near = 0;
    int covered = 0;
    double squares = 0.0;
    double heard_s = 0.0;
    double busy_s = 0.0;
    double clock_worst_ms = 0.0;
    std::size_t memory = 0;

    void print(const char* name) const {
        const double n = std::max(1, peaks);
        const int orders = std::max(1, right + tied + not_told + wrong);
        std::printf("| %-28s | %4d | %4d | %3d | %3d | %3d | %3d | %3d | %5.1f ms | %5.1f %% | "
                    "%5.1f %% | %5.1f | %4.1f | %4.1f | %4.1f %% | %4.2f | %4.1f %% | %3.0f |\n",
                    name, shots, practices, missed, invented, mistaken, unread, launch_wrong,
                    std::sqrt(squares / n), 100.0 * peaks_near / n, 100.0 * covered / n,
                    100.0 * right / orders, 100.0 * tied / orders, 100.0 * not_told / orders,
                    100.0 * wrong / orders, clock_worst_ms, 100.0 * busy_s / std::max(1.0, heard_s),
                    static_cast<double>(memory) / 1e6);
        std::fflush(stdout);
    }
};

/// A stroke of the study's own generator.
simulate::Stroke stroke_of(const study::Golfer& golfer, bool practice) {
    const auto motion = std::make_shared<const study::Motion>(golfer);
    simulate::Stroke out;
    out.practice = practice;
    out.impact_s = motion->impact_s();
    out.duration_s = motion->end_s();
    out.pose = [motion](double t_s) {
        simulate::BodyPose pose;
        for (Segment segment : kSequence) {
            const auto at = motion->pose(segment, t_s);
            pose[index_of(segment)] = {at.q, at.p};
        }
        return pose;
    };
    const auto truth = study::truth_of(*motion);
    for (std::size_t i = 0; i < out.peaks_s.size(); ++i)
        out.peaks_s[i] = truth.parts[i].peak_s;
    out.club_head_m_s = 40.0;
    return out;
}

simulate::Stroke other_stroke(std::uint32_t seed, int index, bool practice) {
    std::mt19937 random(seed * 7919u + static_cast<std::uint32_t>(index));
    study::Golfer golfer = study::draw_golfer(random);
    golfer.handed = Handedness::Right;
    // Sensors take every part as square at address; how far it is not is no fault of the link.
    golfer.open_at_address_deg = {};
    if (practice)
        for (study::Turning::Plan& plan : golfer.plans)
            plan.loss = 0.0;
    return stroke_of(golfer, practice);
}

void count_order(const Analysis& analysis, const simulate::BayTruth& truth, Tally& tally) {
    const Sequence& sequence = analysis.sequence;
    if (sequence.order.size() < kSequence.size()) {
        ++tally.not_told;
        return;
    }
    bool tied = false;
    bool right = true;
    for (std::size_t i = 0; i + 1 < sequence.order.size(); ++i) {
        const double here = truth.peaks_s[index_of(sequence.order[i])];
        const double next = truth.peaks_s[index_of(sequence.order[i + 1])];
        if (here <= next)
            continue;
        right = false;
        tied = tied || sequence.is_tied(sequence.order[i], sequence.order[i + 1]);
    }
    ++(right ? tally.right : tied ? tally.tied : tally.wrong);
}

void run(const char* name, simulate::BayPlan plan, int swings, bool other) {
    Tally tally;
    constexpr int kASession = 20;
    constexpr double kStart_s = 1.8e9;
    for (int session = 0; session * kASession < swings; ++session) {
        plan.seed = 100u + static_cast<std::uint32_t>(session);
        plan.swings = std::min(kASession, swings - session * kASession);
        if (other)
            plan.strokes = [seed = plan.seed](int index, bool practice, std::mt19937&) {
                return other_stroke(seed, index, practice);
            };
        simulate::BaySender sender(plan);
        live::Hearing hearing;
        struct Found {
            live::BaySwing swing;
            Outcome<Analysis> analysis;
            std::optional<LaunchNumbers> launch;
        };
        std::map<int, Found> found;
        hearing.bay().set_handed(Handedness::Right);
        hearing.bay().on_swing = [&](live::BaySwing swing) {
            Found& here = found[swing.number];
            Outcome<Take> take = live::take_of(swing.heard);
            if (take.ok())
                here.analysis = analyse(take.value, {});
            else
                here.analysis.findings = take.findings;
            here.swing = std::move(swing);
        };
        hearing.bay().on_shot = [&](const live::BayShot& shot) {
            found[shot.number].launch = shot.numbers;
        };
        double next_look_s = 10.0;
        while (const auto sent = sender.next()) {
            const std::string bytes = live::encode({sent->message});
            const auto time_ns = static_cast<std::int64_t>((kStart_s + sent->at_s) * 1e9);
            const auto begun = std::chrono::steady_clock::now();
            hearing.take({live::RawRecord::Kind::Packet, time_ns, bytes});
            tally.busy_s +=
                std::chrono::duration<double>(std::chrono::steady_clock::now() - begun).count();
            if (sent->at_s < next_look_s)
                continue;
            next_look_s += 1.0;
            tally.memory = std::max(tally.memory, hearing.memory_bytes());
            for (live::Role role : live::kRoles)
                if (const live::Device* device = hearing.bay().device_of(role);
                    device != nullptr && role != live::Role::Launch && plan.clocks)
                    tally.clock_worst_ms =
                        std::max(tally.clock_worst_ms,
                                 1e3 * std::abs(device->clock().to_computer(
                                                    sender.device_s(role, sent->at_s)) -
                                                kStart_s - simulate::kShortestWay_s - sent->at_s));
        }
        hearing.finish();
        tally.heard_s += sender.duration_s();
        for (const simulate::BayTruth& truth : sender.truth()) {
            ++(truth.practice ? tally.practices : tally.shots);
            const auto match = std::find_if(found.begin(), found.end(), [&](const auto& entry) {
                constexpr double kNear_s = 0.2;
                return std::abs(entry.second.swing.heard.cut.reference_s() - kStart_s -
                                truth.impact_s) < kNear_s;
            });
            if (match == found.end()) {
                ++tally.missed;
                if (std::getenv("KITE_STUDY_SHOW") != nullptr)
                    std::printf("missed %s at %.3f of session %d\n",
                                truth.practice ? "practice" : "shot", truth.impact_s, session);
                continue;
            }
            const Found here = std::move(match->second);
            found.erase(match);
            tally.mistaken += here.swing.practice != truth.practice ? 1 : 0;
            if (!truth.practice && plan.launch && !here.launch)
                ++tally.launch_wrong;
            if (here.launch && (truth.practice || std::abs(here.launch->club_speed_m_s -
                                                           truth.launch.club_speed_m_s) > 0.01))
                ++tally.launch_wrong;
            if (!here.analysis.ok()) {
                ++tally.unread;
                if (std::getenv("KITE_STUDY_SHOW") != nullptr)
                    for (const Finding& finding : here.analysis.findings)
                        std::printf("unread: %s\n", text_of(finding).c_str());
                continue;
            }
            // What all packets are late by is in all times alike.
            const double begin_s =
                live::first_frame_s(here.swing.heard) - kStart_s - simulate::kShortestWay_s;
            for (Segment segment : kSequence) {
                const auto& part = here.analysis.value.sequence.parts[index_of(segment)];
                if (!part || !std::isfinite(part->peak_t_s))
                    continue;
                const SegmentSequence& peak = *part;
                const double off_s = begin_s + peak.peak_t_s - truth.peaks_s[index_of(segment)];
                ++tally.peaks;
                tally.squares += 1e6 * off_s * off_s;
                tally.peaks_near += std::abs(off_s) <= 0.008 ? 1 : 0;
                tally.covered += std::abs(off_s) <= 1.96 * peak.peak_t_u_s ? 1 : 0;
                if (std::abs(off_s) > 0.008 && std::getenv("KITE_STUDY_SHOW") != nullptr)
                    std::printf("%s off %.1f ms, u %.1f, session %d at %.2f\n",
                                std::string(name_of(segment)).c_str(), 1e3 * off_s,
                                1e3 * peak.peak_t_u_s, session, truth.impact_s);
            }
            // A practice swing's club has no sharp peak; its order is no verdict.
            if (!truth.practice)
                count_order(here.analysis.value, truth, tally);
        }
        tally.invented += static_cast<int>(found.size());
        if (std::getenv("KITE_STUDY_SHOW") != nullptr)
            for (const auto& [number, here] : found)
                std::printf("invented at %.3f of session %d%s\n",
                            here.swing.heard.cut.reference_s() - kStart_s, session,
                            here.swing.practice ? " (practice)" : "");
    }
    tally.print(name);
}

/// A session over and over, on clocks and numbers that go on: what the bay holds after eight hours.
void eight_hours() {
    simulate::BayPlan plan;
    plan.swings = 20;
    simulate::BaySender sender(plan);
    std::vector<simulate::BaySent> session;
    while (const auto sent = sender.next())
        session.push_back(*sent);
    const double length_s = sender.duration_s();
    live::Bay bay;
    int swings = 0;
    bay.on_swing = [&](const live::BaySwing&) { ++swings; };
    constexpr double kHour_s = 3600.0;
    constexpr double kStart_s = 1.8e9;
    double hour_s = kHour_s;
    const auto begun = std::chrono::steady_clock::now();
    for (int round = 0; round * length_s < 8.0 * kHour_s; ++round) {
        const double later_s = round * length_s;
        for (const simulate::BaySent& sent : session) {
            live::Message message = sent.message;
            message.device_s = *message.device_s + later_s;
            const auto later = [&](double rate_hz) {
                return static_cast<std::int32_t>(std::llround(later_s * rate_hz));
            };
            if (auto* imu = std::get_if<live::Imu>(&message.body))
                imu->number += later(plan.rate_hz);
            else if (auto* feet = std::get_if<live::Feet>(&message.body))
                feet->number += later(plan.plate_hz);
            else if (auto* shot = std::get_if<live::Shot>(&message.body))
                shot->number += 1000 * round;
            bay.take(message, kStart_s + later_s + sent.at_s);
            if (later_s + sent.at_s > hour_s) {
                std::printf("after %.0f h: %d swings, %.1f MB\n", hour_s / kHour_s, swings,
                            static_cast<double>(bay.memory_bytes()) / 1e6);
                hour_s += kHour_s;
            }
        }
    }
    const double took_s =
        std::chrono::duration<double>(std::chrono::steady_clock::now() - begun).count();
    std::printf("%d swings in 8 h, heard in %.0f s\n", swings, took_s);
}

} // namespace

int main(int argc, char** argv) {
    const int swings = argc > 1 ? std::atoi(argv[1]) : 500;
    const char* words = argc > 2 ? argv[2] : "";
    std::puts("| link | shots | practice | missed | invented | mistaken | unread | launch | peaks "
              "RMS | within 8 ms | covered | order right % | tied % | not told % | wrong % | clock "
              "at worst, ms | of a core | MB |\n"
              "|---|---|---|---|---|---|---|---|---|---|---|---|---|---|---|---|---|---|");
    const auto row = [&](const char* name, const simulate::BayPlan& plan, bool other) {
        if (std::strstr(name, words) != nullptr)
            run(name, plan, swings, other);
    };
    simulate::BayPlan quiet;
    quiet.jitter_ms = 1.0;
    quiet.lost_pct = 0.0;
    quiet.bursts_a_minute = 0.0;
    quiet.doubled_pct = 0.0;
    const simulate::BayPlan usual;
    simulate::BayPlan bad;
    bad.jitter_ms = 12.0;
    bad.lost_pct = 3.0;
    bad.bursts_a_minute = 6.0;
    bad.doubled_pct = 2.0;
    simulate::BayPlan slow = usual;
    slow.rate_hz = 200.0;
    slow.plate_hz = 200.0;
    simulate::BayPlan no_clock = usual;
    no_clock.clocks = false;
    row("quiet", quiet, false);
    row("usual", usual, false);
    row("usual, other golfers", usual, true);
    row("bad", bad, false);
    row("bad, other golfers", bad, true);
    row("usual, 200 a second", slow, false);
    row("usual, no clocks", no_clock, false);
    if (std::strstr("eight hours", words) != nullptr)
        eight_hours();
    return 0;
}
