// Makes the demo lesson: an invented evening with three invented golfers, one of them left-handed.
// Usage: kite-hinge-make-demo FOLDER. The same swings come out every time.

#include "core/base/units.h"
#include "film/render/film_writer.h"
#include "formats/c3d/c3d.h"
#include "formats/film/film_json.h"
#include "formats/json/lesson_json.h"
#include "formats/pose_csv/pose_csv.h"
#include "formats/reader.h"
#include "formats/text/bytes.h"
#include "formats/text/numbers.h"
#include "simulate/film_marks.h"
#include "simulate/golfers.h"
#include "simulate/planted_faults.h"
#include "simulate/simulate.h"
#include "simulate/swing_model.h"

#include <array>
#include <cmath>
#include <iostream>
#include <random>
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

/// What the record of the demo holds from earlier lessons of one golfer: from body first to hips
/// first, and a little faster.
struct EarlierDay {
    const char* day;
    double strength;   ///< of upper-body-first
    double club_speed; ///< m/s, of the launch monitor
    std::array<double, 3> guesses_deg;
};
const std::vector<EarlierDay> kEarlier{{"2026-09-17", 1.6, 35.6, {{58, 55, 60}}},
                                       {"2026-10-08", 1.3, 36.1, {{52, 50, 54}}},
                                       {"2026-11-05", 0.9, 36.9, {{47, 45, 49}}}};

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
        out += std::to_string(i) + ";" + fixed(ms_from_s(t_s), 2) + ";" +
               fixed(-rate(Segment::Pelvis), 2) + ";" + fixed(rate(Segment::Torso), 2) + ";" +
               fixed(rad_from_deg(rate(Segment::LeadArm)), 4) + ";" +
               fixed(rate(Segment::Club), 2) + ";" + (i == 0 ? "start" : "") + "\n";
    }
    return out;
}

/// Short and at half the rate: they are there for their numbers.
bool make_earlier(const std::filesystem::path& folder) {
    std::error_code error;
    std::filesystem::create_directories(folder, error);
    formats::Lesson lesson;
    lesson.name = "Earlier lessons";
    std::mt19937 random(20260917);
    std::normal_distribution<double> scatter;
    bool ok = true;
    for (const EarlierDay& day : kEarlier)
        for (const double guess_deg : day.guesses_deg) {
            simulate::SwingParameters parameters = simulate::typical_swing(ClubKind::Iron);
            parameters.noise_mm = 0.4;
            parameters.seed = static_cast<std::uint32_t>(lesson.swings.size()) + 71;
            parameters.rate_hz = 120.0;
            parameters.lead_in_s = 0.5;
            parameters.follow_s = 0.45;
            simulate::scatter(parameters, random, 0.7);
            simulate::plant(parameters, "upper-body-first", day.strength);
            formats::LessonSwing swing;
            swing.file = folder / ("alva-" + std::string(day.day) + "-" +
                                   std::to_string(lesson.swings.size() % 3 + 1) + ".csv");
            swing.golfer = "Alva";
            swing.day = day.day;
            swing.flight = day.strength > 1.0 ? "pull" : "straight";
            swing.guess_open_deg = guess_deg;
            LaunchNumbers launch;
            const auto rounded = [](double value) { return std::round(10.0 * value) / 10.0; };
            launch.club_speed_m_s = rounded(day.club_speed + 0.3 * scatter(random));
            launch.ball_speed_m_s = rounded(1.33 * launch.club_speed_m_s + 0.4 * scatter(random));
            launch.carry_m = std::round(2.75 * launch.ball_speed_m_s + 2.0 * scatter(random));
            launch.start_direction_deg = rounded(-2.0 * day.strength + scatter(random));
            launch.curve_m = rounded(-1.0 + 2.0 * scatter(random));
            swing.launch = launch;
            ok = save(swing.file, formats::write_pose_csv(simulate::make_take(parameters))) && ok;
            lesson.swings.push_back(swing);
        }
    return save(folder / "lesson.json", formats::write_lesson(lesson)) && ok;
}

/// Film of one swing by two phones and by one of them with what was marked in it, and film in slow
/// motion that is still to be marked. Small: half the pixels of a phone.
bool make_film(const std::filesystem::path& folder) {
    std::error_code error;
    std::filesystem::create_directories(folder, error);
    const auto phones = [](const std::vector<film::Side>& sides) {
        simulate::FilmSetup setup = simulate::usual_phones(sides, 240.0);
        setup.mark_error_px = 1.0;
        for (simulate::FilmCamera& camera : setup.cameras) {
            camera.size_px /= 2.0;
            camera.focal_px /= 1.75; // the golfer as large as hands and club allow
            camera.blur_s = 0.0005;
        }
        return setup;
    };
    const auto film = [&](const std::string& name, const simulate::SwingModel& model,
                          const simulate::FilmSetup& setup, const simulate::FilmCamera& camera,
                          double stored_hz) {
        film::FilmLook look;
        look.grain = 2.0;
        look.stored.quality = 42;
        look.stored.stored_rate_hz = stored_hz;
        return film::film_swing(folder / name, model, setup, camera, look).empty();
    };
    simulate::SwingParameters parameters = simulate::typical_swing(ClubKind::Iron);
    simulate::plant(parameters, "upper-body-first", 1.0);
    parameters.lead_in_s = 0.4;
    parameters.follow_s = 0.4;
    const simulate::SwingModel model(parameters);
    const simulate::FilmSetup both = phones({film::Side::FaceOn, film::Side::DownTheLine});
    film::Marks marks = simulate::mark_film(model, both);
    bool ok = true;
    for (std::size_t i = 0; i < both.cameras.size(); ++i) {
        marks.views[i].film = std::string(film::key_of(marks.views[i].side)) + ".mp4";
        ok = film(marks.views[i].film, model, both, both.cameras[i], 240.0) && ok;
    }
    ok = save(folder / "two-phones.film.json", formats::write_film_marks(marks)) && ok;
    marks.views.pop_back();
    ok = save(folder / "one-phone.film.json", formats::write_film_marks(marks)) && ok;

    parameters = simulate::typical_swing(ClubKind::Iron);
    simulate::plant(parameters, "slide", 1.0);
    parameters.lead_in_s = 0.4;
    parameters.follow_s = 0.4;
    const simulate::FilmSetup one = phones({film::Side::FaceOn});
    return film("to-be-marked.mp4", simulate::SwingModel(parameters), one, one.cameras.front(),
                30.0) &&
           ok;
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
        lesson.swings.push_back({path, swing.golfer, swing.note, {}, {}, kMissing, {}});
    }
    ok = save(folder / "lesson.json", formats::write_lesson(lesson)) && ok;
    // Not in the lesson: nobody knows it before the assistant is asked.
    const std::filesystem::path strange = folder / "strange" / "ribcage-rig.csv";
    std::filesystem::create_directories(strange.parent_path(), error);
    ok = save(strange, strange_table(simulate::typical_swing(ClubKind::Iron))) && ok;
    ok = make_film(folder.parent_path() / "film") && ok;
    ok = make_earlier(folder.parent_path() / "earlier") && ok;
    return ok ? 0 : 1;
}
