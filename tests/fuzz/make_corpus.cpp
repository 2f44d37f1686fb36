// Writes one small swing a format, the seeds of the fuzzer. Usage: kite-make-corpus FOLDER

#include "formats/text/bytes.h"
#include "live/hearing.h"
#include "live/osc_packet.h"
#include "simulate/bay.h"
#include "support/swing_files.h"

#include <iostream>

namespace {

/// One swing in front of slow sensors: the session, and the capture of the swing.
std::pair<std::string, std::string> bay_files() {
    kite::simulate::BayPlan plan;
    plan.swings = 1;
    plan.rate_hz = 60.0;
    plan.plate_hz = 30.0;
    plan.practice_share = 0.0;
    plan.between = false;
    kite::simulate::BaySender sender(plan);
    kite::live::Hearing hearing;
    std::pair<std::string, std::string> out{kite::live::raw_head("{}"), {}};
    hearing.bay().on_swing = [&](const kite::live::BaySwing& swing) {
        out.second = hearing.capture(swing);
    };
    while (const auto sent = sender.next()) {
        const std::string bytes = kite::live::encode({sent->message});
        const kite::live::RawRecord record{kite::live::RawRecord::Kind::Packet,
                                           static_cast<std::int64_t>(1e9 * sent->at_s), bytes};
        hearing.take(record);
        kite::live::append(out.first, record);
    }
    return out;
}

} // namespace

int main(int argc, char** argv) {
    if (argc != 2)
        return 2;
    kite::simulate::SwingParameters parameters;
    parameters.rate_hz = 60.0;
    parameters.lead_in_s = 0.4;
    parameters.follow_s = 0.3;
    auto files = kite::test::swing_files(parameters);
    files.push_back({"launch", "club_speed_mph,ball_speed_m_s,carry_yd,note\n84.5,52,,low\n"});
    files.push_back({"force", "# contact_s: 0.2\ntime_s;left_force_n;right_force_n\n"
                              "0;400,5;380\n0,1;420;350\n0,3;500;\n"});
    files.push_back({"columns",
                     "# club: iron\nClock (ms);Hip rot;Chest rate (rad/s);Shaft speed;who\n"
                     "0;1,5;0,2;30;A\n10;1,6;0,3;31;\n20;1,7;0,2;33;A\n"});
    files.push_back({"mappings", R"([{"name": "rig", "rows_hz": 200, "columns": [
        {"theirs": "hip", "ours": "pelvis_turn_deg", "factor": -1.0},
        {"theirs": "chest", "ours": "torso_turn_deg", "factor": 57.3}]}])"});
    files.push_back({"lesson", R"({"kite-hinge": "lesson 1", "name": "x", "swings": [
        {"file": "a.csv", "golfer": "Ada", "note": ""}, {"file": "b/../../c.csv"}, {"file": 1e9}]})"});
    files.push_back({"rules", R"({"kite-hinge": "school 1", "id": "a", "name": "b", "limits":
        {"slide.sway": {"value": 3, "width": 1, "source": "c"}}, "weights": {"slide": 2}, "adds":
        [{"id": "d", "phase": "downswing", "title": "e", "why": "f", "when": {"any": [{"value":
        {"quantity": "pelvis_sway", "at": "impact - 20 ms"}, "above": "slide.sway", "say": "{1}"}]}}]})"});
    files.push_back(
        {"film", R"({"kite-hinge": "film 1", "handed": "right", "lengths_m": {"belt_stick": 1},
        "views": [{"view": "face-on", "size_px": [1080, 1920], "capture_rate_hz": 240, "offset_s":
        null, "camera": {"distance_m": 4.2, "height_m": 1.1}, "plumb_px": [[500, 2], [501, 1900]],
        "moments_s": {"impact": 0.02}, "marks": [{"t_s": 0, "belt_lead": [700, 900], "belt_trail":
        [300, 905.5], "wrist": [500, 990]}, {"t_s": 0.0042, "belt_lead": [702, 900]}]}]})"});
    const auto [session, capture] = bay_files();
    files.push_back({"packets", session});
    files.push_back({"swing.kitebay", capture});
    for (const auto& [name, bytes] : files) {
        const auto folder = std::filesystem::path(argv[1]) / name;
        std::filesystem::create_directories(folder);
        if (kite::has_errors(kite::formats::write_bytes(folder / "seed", bytes)))
            return 1;
        std::cout << name << " " << folder.string() << "\n";
    }
    return 0;
}
