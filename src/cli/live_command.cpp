#include "cli/analysis_arguments.h"
#include "cli/commands.h"
#include "formats/json/live_json.h"
#include "formats/reader.h"
#include "formats/text/bytes.h"
#include "live/hearing.h"
#include "live/listener.h"

#include <atomic>
#include <charconv>
#include <cmath>
#include <csignal>
#include <deque>
#include <iostream>
#include <memory>

namespace kite::cli {

namespace {

struct LiveArguments : AnalysisArguments {
    std::string address = live::kLoopback;
    int port = live::kUsualPort;
    int swings = 0;
    double seconds = 0.0;
    std::string record;
    std::string replay;
};

std::atomic<bool> asked_to_end{false};

extern "C" void end_soon(int /*signal*/) {
    asked_to_end = true;
}

/// Measures swings as they are found and prints a line each.
class Printer {
public:
    Printer(const LiveArguments& arguments, live::Hearing& hearing)
        : hearing_(hearing), options_(arguments.analysis_options()), rules_(arguments.rules()),
          most_(arguments.swings) {
        const formats::ReadOptions said = arguments.read_options();
        live::Bay& bay = hearing.bay();
        bay.set_handed(said.handed);
        bay.set_club(said.club);
        bay.on_mounted = [] {
            std::cerr << "The sensors sit as the golfer showed, standing still and turning.\n";
        };
        bay.watch_for_mounting();
        bay.on_swing = [this](live::BaySwing swing) { take(std::move(swing)); };
        bay.on_shot = [this](const live::BayShot& shot) { take(shot); };
    }

    /// What the run that is played again took, by number of the swing.
    void set_latencies(std::map<int, double> latencies_ms) {
        replayed_ = true;
        latencies_ms_ = std::move(latencies_ms);
    }
    bool enough() const { return most_ > 0 && printed_ >= most_; }
    /// A swing waits for its launch numbers no longer than this.
    void give_up_waiting() {
        constexpr double kLongest_s = 8.0;
        if (held_ && hearing_.bay().now_s() > held_->swing.heard.cut.reference_s() + kLongest_s)
            print();
    }
    void finish() {
        if (held_)
            print();
    }

private:
    struct Held {
        live::BaySwing swing;
        Analysis analysis;
        Reading reading;
        std::vector<Finding> findings;
        std::optional<double> latency_ms;
    };

    void take(live::BaySwing swing) {
        if (held_)
            print();
        if (enough())
            return;
        Held held;
        Outcome<Take> take = live::take_of(swing.heard);
        held.findings = swing.findings;
        held.findings.insert(held.findings.end(), take.findings.begin(), take.findings.end());
        if (take.ok()) {
            Outcome<Analysis> analysis = analyse(take.value, options_);
            held.findings.insert(held.findings.end(), analysis.findings.begin(),
                                 analysis.findings.end());
            held.analysis = std::move(analysis.value);
            if (!has_errors(held.findings))
                held.reading = read_swing(held.analysis, rules_);
        }
        held.latency_ms = latency_of(swing);
        held.swing = std::move(swing);
        held_ = std::move(held);
        // Where a launch monitor is heard its numbers come some seconds later.
        if (!hearing_.bay().has_launch())
            print();
    }

    void take(const live::BayShot& shot) {
        if (!held_ || held_->swing.number != shot.number)
            return;
        // Where there are launch numbers there was a ball.
        held_->swing.practice = false;
        held_->analysis.launch = shot.numbers;
        print();
    }

    std::optional<double> latency_of(const live::BaySwing& swing) {
        if (replayed_) {
            const auto known = latencies_ms_.find(swing.number);
            return known == latencies_ms_.end() ? std::nullopt : std::optional(known->second);
        }
        const double needed_s = swing.heard.cut.reference_s() + live::kNeededAfter_s;
        // To a tenth, so that it reads the same from the recording.
        const double latency_ms =
            std::round(1e4 * (static_cast<double>(live::now_ns()) * 1e-9 - needed_s)) / 10.0;
        hearing_.note("{\"swing\": " + std::to_string(swing.number) + ", \"latency_tenths_ms\": " +
                      std::to_string(std::lround(10.0 * latency_ms)) + "}");
        return latency_ms;
    }

    void print() {
        const Held held = std::move(*held_);
        held_.reset();
        if (enough())
            return;
        std::cout << formats::to_json(
                         {held.swing, held.latency_ms, held.analysis, held.reading, held.findings})
                  << std::endl;
        printed_ += held.swing.practice ? 0 : 1;
    }

    live::Hearing& hearing_;
    AnalysisOptions options_;
    Rules rules_;
    int most_ = 0;
    int printed_ = 0;
    bool replayed_ = false;
    std::map<int, double> latencies_ms_;
    std::optional<Held> held_;
};

/// The number after a key of a note that this program wrote.
std::optional<int> number_after(std::string_view json, std::string_view key) {
    const std::size_t at = json.find(key);
    if (at == std::string_view::npos)
        return std::nullopt;
    const std::string_view rest = json.substr(at + key.size());
    int value = 0;
    return std::from_chars(rest.data(), rest.data() + rest.size(), value).ec == std::errc()
               ? std::optional(value)
               : std::nullopt;
}

std::map<int, double> latencies_in(std::string_view records) {
    std::map<int, double> out;
    while (const auto record = live::next_record(records)) {
        if (record->kind != live::RawRecord::Kind::Note)
            continue;
        const auto swing = number_after(record->bytes, "\"swing\": ");
        const auto tenths = number_after(record->bytes, "\"latency_tenths_ms\": ");
        if (swing && tenths)
            out[*swing] = static_cast<double>(*tenths) / 10.0;
    }
    return out;
}

int replay(const LiveArguments& arguments, live::Hearing& hearing, Printer& printer) {
    const std::filesystem::path path(arguments.replay);
    const Outcome<std::string> bytes = formats::read_bytes(path);
    Outcome<live::RawFile> file;
    if (bytes.ok())
        file = live::open_raw(bytes.value);
    else
        file.findings = bytes.findings;
    for (const Finding& finding : file.findings)
        std::cerr << formats::text_of(path, finding) << "\n";
    if (!file.ok())
        return kSomeFailed;
    std::string_view records = file.value.records;
    printer.set_latencies(latencies_in(records));
    std::optional<double> begun_s;
    while (!printer.enough() && !asked_to_end) {
        const auto record = live::next_record(records);
        if (!record)
            break;
        if (!begun_s)
            begun_s = record->time_s();
        if (arguments.seconds > 0.0 && record->time_s() > *begun_s + arguments.seconds)
            break;
        hearing.take(*record);
        printer.give_up_waiting();
    }
    if (!printer.enough() && !records.empty() && !live::next_record(records))
        std::cerr << path.filename().string()
                  << ": The recording ends in the middle of a packet; what came before it was "
                     "used.\n";
    return kDone;
}

int listen(const LiveArguments& arguments, live::Hearing& hearing, Printer& printer) {
    auto listener = live::Listener::open(arguments.address, arguments.port);
    for (const Finding& finding : listener.findings)
        std::cerr << text_of(finding) << "\n";
    if (!listener.ok())
        return kSomeFailed;
    if (!arguments.record.empty()) {
        auto writer = live::RawWriter::create(arguments.record);
        for (const Finding& finding : writer.findings)
            std::cerr << text_of(finding) << "\n";
        if (!writer.ok())
            return kSomeFailed;
        hearing.record_to(std::move(writer.value));
    }
    std::signal(SIGINT, end_soon);
    std::signal(SIGTERM, end_soon);
    std::cerr << "Listening on " << arguments.address << ", port " << listener.value->port()
              << (listener.value->is_loopback() ? ".\n" : ": anybody on this network can send.\n");
    constexpr int kWait_ms = 20;
    constexpr std::int64_t kQuiet_ns = 100000000;
    const std::int64_t begun_ns = live::now_ns();
    std::int64_t last_ns = begun_ns;
    bool failed = false;
    while (!printer.enough() && !asked_to_end) {
        listener.value->wait(kWait_ms, [&](std::int64_t time_ns, std::string_view bytes) {
            last_ns = std::max(last_ns, time_ns);
            hearing.take({live::RawRecord::Kind::Packet, time_ns, bytes});
        });
        const std::int64_t now_ns = live::now_ns();
        if (now_ns - last_ns > kQuiet_ns) {
            last_ns = now_ns;
            hearing.take({live::RawRecord::Kind::Tick, now_ns, {}});
        }
        printer.give_up_waiting();
        if (hearing.counts().recording_failed && !failed) {
            failed = true;
            std::cerr << arguments.record << ": The disk takes no more; listening goes on.\n";
        }
        if (arguments.seconds > 0.0 &&
            static_cast<double>(now_ns - begun_ns) * 1e-9 > arguments.seconds)
            break;
    }
    return kDone;
}

int run_live(const LiveArguments& arguments) {
    live::Hearing hearing;
    Printer printer(arguments, hearing);
    const int status = arguments.replay.empty() ? listen(arguments, hearing, printer)
                                                : replay(arguments, hearing, printer);
    if (status != kDone)
        return status;
    hearing.finish();
    printer.finish();
    const live::HeardCounts& counts = hearing.counts();
    if (counts.packets == 0)
        std::cerr << "Nothing was heard. Check that the devices are awake and send to this address "
                     "and port; kite-hinge-bay stands in for them.\n";
    if (counts.not_understood > 0)
        std::cerr << counts.not_understood
                  << " messages were not understood, the last: " << counts.last_problem << "\n";
    return kDone;
}

} // namespace

void add_live(CLI::App& app, std::function<int()>& run) {
    const auto arguments = std::make_shared<LiveArguments>();
    CLI::App* command =
        app.add_subcommand("live", "Hear swings from sensors and measure each as it is made");
    command
        ->add_option("--port", arguments->port,
                     "UDP port that the devices send to (0: any that is free)")
        ->check(CLI::Range(0, 65535));
    command->add_option("--address", arguments->address,
                        "Address of this computer to listen on; 0.0.0.0 for all of them");
    command->add_option("--swings", arguments->swings, "End after so many swings with a ball")
        ->check(CLI::PositiveNumber);
    command->add_option("--seconds", arguments->seconds, "End after so long")
        ->check(CLI::PositiveNumber);
    auto* record = command->add_option("--record", arguments->record,
                                       "Write all that arrives to this new file");
    command->add_option("--replay", arguments->replay, "Hear such a file instead of the network")
        ->excludes(record);
    arguments->add_to(*command);
    command->callback([arguments, &run] { run = [arguments] { return run_live(*arguments); }; });
}

} // namespace kite::cli
