#include "cli/commands.h"
#include "core/live/messages.h"
#include "live/listener.h"
#include "live/osc_packet.h"
#include "simulate/bay.h"

#include <atomic>
#include <chrono>
#include <csignal>
#include <exception>
#include <iostream>
#include <map>

// The stand-in for sensors, plate and launch monitor: sends what they would.

namespace {

using namespace kite;

std::atomic<bool> asked_to_end{false};

extern "C" void end_soon(int /*signal*/) {
    asked_to_end = true;
}

struct BayArguments {
    simulate::BayPlan plan;
    std::string address = live::kLoopback;
    int port = live::kUsualPort;
    std::string handed = "right";
    std::string club = "iron";
    bool no_launch = false;
    bool no_clocks = false;
    bool no_between = false;
    bool quiet = false;
};

int run(BayArguments& arguments) {
    simulate::BayPlan& plan = arguments.plan;
    plan.handed = *find_handedness(arguments.handed);
    plan.club = *find_club_kind(arguments.club);
    plan.launch = !arguments.no_launch;
    plan.clocks = !arguments.no_clocks;
    plan.between = !arguments.no_between;
    const auto sender = live::Sender::open(arguments.address, arguments.port);
    for (const Finding& finding : sender.findings)
        std::cerr << text_of(finding) << "\n";
    if (!sender.ok())
        return cli::kSomeFailed;
    std::signal(SIGINT, end_soon);
    std::signal(SIGTERM, end_soon);
    simulate::BaySender bay(plan);
    if (!arguments.quiet)
        std::cerr << "Sending " << plan.swings << " swings to " << arguments.address << ", port "
                  << arguments.port << ", in " << static_cast<int>(bay.duration_s()) << " s.\n";
    const auto begun = std::chrono::steady_clock::now();
    while (!asked_to_end) {
        const auto sent = bay.next();
        if (!sent)
            break;
        sender.value->send_at(begun, sent->at_s, live::encode({sent->message}));
    }
    return cli::kDone;
}

} // namespace

int main(int argc, char** argv) {
    CLI::App app("Stands in for the devices of a bay: sends made-up swings as four sensors, a "
                 "pressure plate and a launch monitor would.",
                 "kite-hinge-bay");
    app.set_version_flag("--version", "kite-hinge-bay " KITE_VERSION);
    BayArguments arguments;
    simulate::BayPlan& plan = arguments.plan;
    app.add_option("--address", arguments.address, "Where to send to")->capture_default_str();
    app.add_option("--port", arguments.port, "UDP port there")
        ->check(CLI::Range(1, 65535))
        ->capture_default_str();
    app.add_option("--swings", plan.swings, "Swings with a ball")
        ->check(CLI::Range(1, 100000))
        ->capture_default_str();
    app.add_option("--seed", plan.seed, "Another number, other golfers and another network")
        ->capture_default_str();
    app.add_option("--handed", arguments.handed, "right or left")
        ->check(CLI::IsMember({"right", "left"}));
    app.add_option("--club", arguments.club, "driver, wood, iron or wedge")
        ->check(CLI::IsMember({"driver", "wood", "iron", "wedge"}));
    app.add_option("--rate", plan.rate_hz, "Samples a second of the sensors")
        ->check(CLI::Range(50.0, 2000.0))
        ->capture_default_str();
    app.add_option("--plate-rate", plan.plate_hz, "… of the plate; 0: there is none")
        ->check(CLI::Range(0.0, 2000.0))
        ->capture_default_str();
    app.add_flag("--no-launch", arguments.no_launch, "No launch monitor");
    app.add_flag("--orientation", plan.orientations, "Sensors send their own orientation too");
    app.add_flag("--no-clock", arguments.no_clocks, "Time tags say \"immediately\"");
    app.add_flag("--no-between", arguments.no_between, "No waggles, no walking, no ball placed");
    app.add_option("--practice", plan.practice_share,
                   "Share of swings with a practice swing before")
        ->check(CLI::Range(0.0, 1.0))
        ->capture_default_str();
    app.add_flag("--slow", plan.slow, "A drill: no ball, slow, held at the top");
    app.add_flag("--mounting", plan.mounting,
                 "Sensors sit anyhow; the golfer first stands upright, then turns both ways");
    app.add_option("--offset", plan.offset_s, "Clocks are off by up to so many seconds")
        ->check(CLI::Range(0.0, 1e6))
        ->capture_default_str();
    app.add_option("--drift", plan.drift_ppm, "… and drift by up to so many millionths")
        ->check(CLI::Range(0.0, 1000.0))
        ->capture_default_str();
    app.add_option("--jitter", plan.jitter_ms, "Mean delay of a packet, ms")
        ->check(CLI::Range(0.0, 100.0))
        ->capture_default_str();
    app.add_option("--lost", plan.lost_pct, "Packets lost, %")
        ->check(CLI::Range(0.0, 50.0))
        ->capture_default_str();
    app.add_option("--bursts", plan.bursts_a_minute, "Gaps of 10 to 60 ms a minute and device")
        ->check(CLI::Range(0.0, 600.0))
        ->capture_default_str();
    app.add_option("--doubled", plan.doubled_pct, "Packets that come twice, %")
        ->check(CLI::Range(0.0, 50.0))
        ->capture_default_str();
    app.add_option("--battery", plan.battery_a_minute, "Of the battery, used in a minute")
        ->check(CLI::Range(0.0, 1.0))
        ->capture_default_str();
    app.add_option("--slip", plan.slips_at, "The torso's sensor slips before this swing")
        ->check(CLI::PositiveNumber);
    app.add_option("--sleep", plan.sleeps_at, "The pelvis' sensor sleeps before this swing")
        ->check(CLI::PositiveNumber);
    app.add_flag("--quiet", arguments.quiet, "Say nothing");
    try {
        app.parse(argc, argv);
        if (plan.slips_at > plan.swings || plan.sleeps_at > plan.swings)
            throw CLI::ValidationError("--slip, --sleep", "there are not so many swings");
        return run(arguments);
    } catch (const CLI::ParseError& error) {
        if (error.get_exit_code() == static_cast<int>(CLI::ExitCodes::Success))
            return app.exit(error);
        std::cerr << "kite-hinge-bay: " << error.what() << "\nSee kite-hinge-bay --help.\n";
        return cli::kWrongUsage;
    } catch (const std::exception& error) {
        std::cerr << "kite-hinge-bay: " << error.what() << "\n";
        return cli::kSomeFailed;
    }
}
