// Makes the demo lesson: an invented evening with three invented golfers, one of them left-handed.
// Usage: kite-hinge-make-demo FOLDER. The same swings come out every time.

#include "core/base/units.h"
#include "formats/c3d/c3d.h"
#include "formats/json/lesson_json.h"
#include "formats/pose_csv/pose_csv.h"
#include "formats/text/bytes.h"
#include "formats/text/numbers.h"
#include "simulate/golfers.h"
#include "simulate/planted_faults.h"
#include "simulate/simulate.h"
#include "simulate/swing_model.h"

#include <iostream>
#include <string>
#include <vector>

namespace {

using namespace kite;

struct DemoSwing {
    const char* file;
    const char* golfer;
    const char* note;
    Handedness handed;
    ClubKind club;
    const char* fault;
    double strength;
};

const std::vector<DemoSwing> kSwings{
    {"01-alva-iron.csv", "Alva", "First ball, pulled", Handedness::Right, ClubKind::Iron,
     "upper-body-first", 1.2},
    {"02-alva-iron.csv", "Alva", "Hurried from the top", Handedness::Right, ClubKind::Iron,
     "upper-body-first", 0.9},
    {"03-alva-iron.csv", "Alva", "Waited for the hips", Handedness::Right, ClubKind::Iron,
     "upper-body-first", 0.45},
    {"04-alva-iron.csv", "Alva", "Counted one, two", Handedness::Right, ClubKind::Iron, "", 0.0},
    {"05-alva-iron.csv", "Alva", "The one to keep", Handedness::Right, ClubKind::Iron, "", 0.0},
    {"06-jonas-driver.csv", "Jonas", "Left-handed, arms and body at once", Handedness::Left,
     ClubKind::Driver, "bunched-peaks", 1.3},
    {"07-jonas-driver.csv", "Jonas", "The same thought again", Handedness::Left, ClubKind::Driver,
     "bunched-peaks", 1.45},
    {"08-jonas-driver.csv", "Jonas", "Belt buckle first", Handedness::Left, ClubKind::Driver, "",
     0.0},
    {"09-priska-wedge.csv", "Priska", "Wedge, thrown from the top", Handedness::Right,
     ClubKind::Wedge, "out-of-order", 1.0},
    {"10-priska-wedge.c3d", "Priska", "With markers, unhurried", Handedness::Right, ClubKind::Wedge,
     "", 0.0},
};

bool save(const std::filesystem::path& path, const std::string& bytes) {
    const auto findings = formats::write_bytes(path, bytes);
    for (const Finding& finding : findings)
        std::cerr << formats::text_of(path, finding) << "\n";
    return !has_errors(findings);
}

/// Rotation speeds as another system might write them: other names, milliseconds, one column in
/// radians, the hips counted the other way. For the import assistant.
std::string strange_table(const simulate::SwingParameters& parameters) {
    const simulate::SwingModel model(parameters);
    std::string out = "Row;Clock (ms);Hip spin;Ribcage rate;Arm rate (rad/s);Shaft rate;Remark\n";
    const auto rows = static_cast<int>(model.duration_s() * parameters.rate_hz);
    for (int i = 0; i < rows; ++i) {
        const double t_s = i / parameters.rate_hz;
        const auto rate = [&](Segment segment) { return model.rate_deg_s(segment, t_s); };
        out += std::to_string(i) + ";" + formats::format_fixed(ms_from_s(t_s), 2) + ";" +
               formats::format_fixed(-rate(Segment::Pelvis), 2) + ";" +
               formats::format_fixed(rate(Segment::Torso), 2) + ";" +
               formats::format_fixed(rad_from_deg(rate(Segment::LeadArm)), 4) + ";" +
               formats::format_fixed(rate(Segment::Club), 2) + ";" + (i == 0 ? "start" : "") + "\n";
    }
    return out;
}

} // namespace

int main(int argc, char** argv) {
    if (argc != 2) {
        std::cerr << "usage: kite-hinge-make-demo FOLDER\n";
        return 2;
    }
    const std::filesystem::path folder(argv[1]);
    std::error_code error;
    std::filesystem::create_directories(folder, error);
    formats::Lesson lesson;
    lesson.name = "Wet Thursday, the indoor net";
    std::mt19937 random(20260425);
    bool ok = true;
    for (const DemoSwing& swing : kSwings) {
        simulate::SwingParameters parameters = simulate::typical_swing(swing.club);
        parameters.handed = swing.handed;
        parameters.noise_mm = 0.4;
        parameters.seed = static_cast<std::uint32_t>(lesson.swings.size()) + 11;
        parameters.rate_hz = 240.0;
        parameters.follow_s = 0.75;
        simulate::scatter(parameters, random, 0.7);
        if (*swing.fault != '\0')
            simulate::plant(parameters, swing.fault, swing.strength);
        const std::filesystem::path path = folder / swing.file;
        if (path.extension() == ".c3d")
            ok = save(path, formats::write_c3d(simulate::make_markers(parameters)).value) && ok;
        else
            ok = save(path, formats::write_pose_csv(simulate::make_take(parameters))) && ok;
        lesson.swings.push_back({path, swing.golfer, swing.note});
    }
    ok = save(folder / "lesson.json", formats::write_lesson(lesson)) && ok;
    // Not in the lesson: nobody knows it before the assistant is asked.
    const std::filesystem::path strange = folder / "strange" / "ribcage-rig.csv";
    std::filesystem::create_directories(strange.parent_path(), error);
    ok = save(strange, strange_table(simulate::typical_swing(ClubKind::Iron))) && ok;
    return ok ? 0 : 1;
}
