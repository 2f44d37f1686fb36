#include "cli/arguments.h"
#include "cli/commands.h"
#include "cli/outputs.h"
#include "film/render/film_writer.h"
#include "formats/c3d/c3d.h"
#include "formats/film/film_json.h"
#include "formats/pose_csv/pose_csv.h"
#include "formats/reader.h"
#include "formats/text/bytes.h"
#include "formats/text/numbers.h"
#include "simulate/film_marks.h"
#include "simulate/golfers.h"
#include "simulate/planted_faults.h"
#include "simulate/simulate.h"

#include <iostream>
#include <memory>

namespace kite::cli {

namespace {

struct SimulateArguments {
    std::string out;
    std::vector<std::string> faults;
    std::string handed = "right";
    std::string club = "iron";
    std::uint32_t seed = 1;
    double rate_hz = 240.0;
    double noise_mm = 0.0;
    std::vector<std::string> views{"face-on", "down-the-line"};
    double mark_error_px = film::kUsualMarkError_px;
    bool film = false;
    int film_height_px = 1920;
    double blur_ms = 1.0;
    double grain = 3.0;
    double stored_rate_hz = 0.0; ///< 0: as it is filmed
    int turned_deg = 0;
    bool silent = false;
    Outputs outputs;
};

/// Phones as they usually stand, with what was asked of their pictures.
simulate::FilmSetup phones(const SimulateArguments& arguments) {
    std::vector<film::Side> sides;
    for (const std::string& name : arguments.views)
        sides.push_back(*film::find_side(name));
    simulate::FilmSetup setup = simulate::usual_phones(sides, arguments.rate_hz);
    setup.seed = arguments.seed;
    setup.mark_error_px = arguments.mark_error_px;
    for (simulate::FilmCamera& camera : setup.cameras) {
        const double smaller = arguments.film_height_px / camera.size_px.y();
        // Encoders take even numbers.
        camera.size_px = 2.0 * (0.5 * smaller * camera.size_px).array().round().matrix();
        camera.focal_px *= smaller;
        if (arguments.film)
            camera.focal_px *= 0.85; // the club stays inside
        camera.blur_s = arguments.film ? 1e-3 * arguments.blur_ms : 0.0;
    }
    return setup;
}

/// NAME.film.json beside NAME-face-on.mp4.
std::string film_beside(const std::filesystem::path& path, const simulate::FilmCamera& camera) {
    return path.stem().stem().string() + "-" + std::string(film::key_of(camera.side)) + ".mp4";
}

/// The film of every view beside the marks, which name it.
std::vector<Finding> write_films(const std::filesystem::path& path,
                                 const simulate::SwingModel& model,
                                 const simulate::FilmSetup& setup,
                                 const SimulateArguments& arguments, film::Marks& marks) {
    for (std::size_t i = 0; i < setup.cameras.size(); ++i) {
        film::View& view = marks.views[i];
        view.film = film_beside(path, setup.cameras[i]);
        film::FilmLook look;
        look.grain = arguments.grain;
        look.with_sound = !arguments.silent;
        look.stored.turned_deg = arguments.turned_deg;
        look.stored.stored_rate_hz =
            arguments.stored_rate_hz > 0.0 ? arguments.stored_rate_hz : arguments.rate_hz;
        std::vector<Finding> findings =
            film::film_swing(path.parent_path() / view.film, model, setup, setup.cameras[i], look);
        if (has_errors(findings))
            return findings;
    }
    return {};
}

/// Marks as an instructor makes them, and the film where it is wanted.
std::string marks_in_film(const std::filesystem::path& path,
                          const simulate::SwingParameters& parameters,
                          const SimulateArguments& arguments, std::vector<Finding>& findings) {
    const simulate::SwingModel model(parameters);
    const simulate::FilmSetup setup = phones(arguments);
    film::Marks marks = simulate::mark_film(model, setup);
    if (arguments.film)
        findings = write_films(path, model, setup, arguments, marks);
    return formats::write_film_marks(marks);
}

int run_simulate(const SimulateArguments& arguments) {
    const std::filesystem::path path(arguments.out);
    const std::string extension = formats::lower_case(path.extension().string());
    if (extension != ".csv" && extension != ".c3d" && extension != ".json")
        throw CLI::ValidationError(
            "OUT", "the file must end in .csv (poses), .c3d (markers) or .film.json (marks)");

    simulate::SwingParameters parameters = simulate::typical_swing(*find_club_kind(arguments.club));
    parameters.handed = *find_handedness(arguments.handed);
    parameters.rate_hz = arguments.rate_hz;
    parameters.noise_mm = arguments.noise_mm;
    parameters.seed = arguments.seed;
    for (const std::string& text : arguments.faults) {
        const bool has_strength = text.find('=') != std::string::npos;
        auto [id, strength] = has_strength ? key_and_number(text, "--fault") : std::pair(text, 1.0);
        // "early-extension/2": in the second way.
        const bool second = id.size() > 2 && id.compare(id.size() - 2, 2, "/2") == 0;
        if (second)
            id.resize(id.size() - 2);
        if (!(strength >= 0.0) || strength > 3.0)
            throw CLI::ValidationError("--fault", "the strength goes from 0 to 3");
        if (!simulate::plant(parameters, id, strength, second ? 2 : 1)) {
            std::string what = "\"" + id + "\" cannot be planted";
            what += "; known:";
            for (const std::string_view name : simulate::plantable_faults())
                what.append(" ").append(name);
            throw CLI::ValidationError("--fault", what);
        }
    }

    if (arguments.film && extension != ".json")
        throw CLI::ValidationError("--film", "film goes with marks: OUT must end in .film.json");
    std::vector<std::string> outputs{arguments.out};
    if (arguments.film)
        for (const auto& camera : phones(arguments).cameras)
            outputs.push_back((path.parent_path() / film_beside(path, camera)).string());
    for (const std::string& out : outputs)
        if (arguments.outputs.refuse(out, {}))
            return kSomeFailed;
    std::string bytes;
    std::vector<Finding> findings;
    if (extension == ".c3d")
        bytes = formats::write_c3d(simulate::make_markers(parameters)).value;
    else if (extension == ".json")
        bytes = marks_in_film(path, parameters, arguments, findings);
    else
        bytes = formats::write_pose_csv(simulate::make_take(parameters));
    if (!has_errors(findings))
        findings = formats::write_bytes(path, bytes, arguments.outputs.old());
    for (const Finding& finding : findings)
        std::cerr << formats::text_of(path, finding) << "\n";
    return has_errors(findings) ? kSomeFailed : kDone;
}

} // namespace

void add_simulate(CLI::App& app, std::function<int()>& run) {
    const auto arguments = std::make_shared<SimulateArguments>();
    CLI::App* command = app.add_subcommand("simulate", "Write a made-up swing with known truth");
    command
        ->add_option(
            "OUT", arguments->out,
            "File to write: .csv for poses, .c3d for markers, .film.json for marks in film")
        ->required();
    command
        ->add_option("--fault", arguments->faults,
                     "Plant a fault, ID or ID=STRENGTH (0 to 3); may be repeated")
        ->allow_extra_args(false);
    command->add_option("--handed", arguments->handed, "Right- or left-handed golfer")
        ->check(CLI::IsMember({"right", "left"}))
        ->capture_default_str();
    command->add_option("--club", arguments->club, "Kind of club")
        ->check(CLI::IsMember({"driver", "wood", "iron", "wedge"}))
        ->capture_default_str();
    command->add_option("--seed", arguments->seed, "Seed of the noise")->capture_default_str();
    command->add_option("--rate", arguments->rate_hz, "Frames a second")
        ->check(CLI::Range(50.0, 5000.0))
        ->capture_default_str();
    command
        ->add_option("--noise-mm", arguments->noise_mm,
                     "Marker noise, standard deviation a coordinate")
        ->check(CLI::Range(0.0, 50.0))
        ->capture_default_str();
    command->add_option("--view", arguments->views, "Where the film's cameras stand")
        ->allow_extra_args(false)
        ->check(CLI::IsMember({"face-on", "down-the-line", "above"}))
        ->capture_default_str();
    command
        ->add_option("--mark-error-px", arguments->mark_error_px,
                     "Error of the marks in film, standard deviation a coordinate")
        ->check(CLI::Range(0.0, 50.0))
        ->capture_default_str();
    command->add_flag("--film", arguments->film,
                      "Write the film of every view too (.mp4 beside the marks)");
    command->add_option("--film-height", arguments->film_height_px, "Of its pictures, pixels")
        ->check(CLI::Range(120, 3840))
        ->capture_default_str();
    command->add_option("--blur-ms", arguments->blur_ms, "How long its shutter is open")
        ->check(CLI::Range(0.0, 20.0))
        ->capture_default_str();
    command->add_option("--grain", arguments->grain, "Of its pictures, of 255")
        ->check(CLI::Range(0.0, 60.0))
        ->capture_default_str();
    command
        ->add_option("--stored-rate", arguments->stored_rate_hz,
                     "Pictures a second that it plays at: slow motion; else as filmed")
        ->check(CLI::Range(5.0, 1000.0));
    command
        ->add_option("--turned", arguments->turned_deg,
                     "Stored lying, with a note to turn it clockwise")
        ->check(CLI::IsMember({0, 90, 180, 270}));
    command->add_flag("--silent", arguments->silent, "Without a sound track");
    arguments->outputs.add_to(*command);
    command->callback(
        [arguments, &run] { run = [arguments] { return run_simulate(*arguments); }; });
}

} // namespace kite::cli
