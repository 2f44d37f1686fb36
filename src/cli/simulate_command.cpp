#include "cli/arguments.h"
#include "cli/commands.h"
#include "formats/c3d/c3d.h"
#include "formats/film/film_json.h"
#include "formats/pose_csv/pose_csv.h"
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

struct Arguments {
    std::string out;
    std::vector<std::string> faults;
    std::string handed = "right";
    std::string club = "iron";
    std::uint32_t seed = 1;
    double rate_hz = 240.0;
    double noise_mm = 0.0;
    std::vector<std::string> views{"face-on", "down-the-line"};
    double mark_error_px = film::kUsualMarkError_px;
};

/// Marks as an instructor makes them.
std::string marks_in_film(const simulate::SwingParameters& parameters, const Arguments& arguments) {
    std::vector<film::Side> sides;
    for (const std::string& name : arguments.views)
        sides.push_back(*film::find_side(name));
    simulate::FilmSetup setup = simulate::usual_phones(sides, parameters.rate_hz);
    setup.seed = arguments.seed;
    setup.mark_error_px = arguments.mark_error_px;
    return formats::write_film_marks(simulate::mark_film(simulate::SwingModel(parameters), setup));
}

int run_simulate(const Arguments& arguments) {
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
            what += second ? " in a second way; known so:" : "; known:";
            for (const std::string_view name :
                 second ? simulate::faults_with_two_ways() : simulate::plantable_faults())
                what.append(" ").append(name);
            throw CLI::ValidationError("--fault", what);
        }
    }

    std::string bytes;
    if (extension == ".c3d")
        bytes = formats::write_c3d(simulate::make_markers(parameters)).value;
    else if (extension == ".json")
        bytes = marks_in_film(parameters, arguments);
    else
        bytes = formats::write_pose_csv(simulate::make_take(parameters));
    const std::vector<Finding> findings = formats::write_bytes(path, bytes);
    for (const Finding& finding : findings)
        std::cerr << formats::text_of(path, finding) << "\n";
    return has_errors(findings) ? kSomeFailed : kDone;
}

} // namespace

void add_simulate(CLI::App& app, std::function<int()>& run) {
    const auto arguments = std::make_shared<Arguments>();
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
    command->callback(
        [arguments, &run] { run = [arguments] { return run_simulate(*arguments); }; });
}

} // namespace kite::cli
