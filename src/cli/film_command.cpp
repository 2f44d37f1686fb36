#include "cli/commands.h"
#include "core/film/strike.h"
#include "film/film.h"
#include "film/sound.h"
#include "formats/reader.h"
#include "formats/text/numbers.h"

#include <iostream>
#include <memory>

namespace kite::cli {

namespace {

struct FilmArguments {
    std::vector<std::string> files;
    double capture_rate_hz = 0.0;
    bool times = false;
};

void print_strike(const std::filesystem::path& path, double slow_motion) {
    const Outcome<film::Sound> sound = film::read_sound(path);
    for (const Finding& finding : sound.findings)
        std::cerr << text_of(finding) << "\n";
    if (const auto strike = film::find_strike(sound.value.values, sound.value.rate_hz))
        std::cout << "strike heard at "
                  << fixed((sound.value.starts_s + strike->t_s) / slow_motion, 4) << " s, "
                  << fixed(strike->above, 0) << " times louder than before it\n";
    else
        std::cout << "no strike stands out in the sound\n";
}

int run_film(const FilmArguments& arguments) {
    int status = kDone;
    for (const std::string& name : arguments.files) {
        const std::filesystem::path path(name);
        const Outcome<std::shared_ptr<film::Film>> film = film::Film::open(path);
        for (const Finding& finding : film.findings)
            std::cerr << formats::text_of(path, finding) << "\n";
        if (!film.ok()) {
            status = kSomeFailed;
            continue;
        }
        const film::FilmFacts& facts = film.value->facts();
        const double capture_hz = arguments.capture_rate_hz > 0.0
                                      ? arguments.capture_rate_hz
                                      : facts.capture_rate_hz.value_or(0.0);
        const double slow = film::slow_motion_of(facts, capture_hz);
        if (arguments.times) {
            std::cout << "picture,stored_s,real_s\n";
            for (std::size_t i = 0; i < facts.pictures(); ++i)
                std::cout << i + 1 << "," << fixed(facts.stored_s[i], 6) << ","
                          << fixed(facts.real_s(i, capture_hz), 6) << "\n";
            continue;
        }
        std::cout << name << "\n"
                  << facts.pictures() << " pictures, " << facts.size_px.x() << " x "
                  << facts.size_px.y() << " upright, turned by " << facts.turned_deg << " degrees, "
                  << facts.codec << "\n";
        if (facts.has_times)
            std::cout << "stored at " << fixed(facts.stored_rate_hz, 3) << " a second\n";
        if (capture_hz > 0.0)
            std::cout << "filmed at " << fixed(capture_hz, 3) << " a second"
                      << (arguments.capture_rate_hz > 0.0 ? " (as you said)"
                                                          : " (as the file says)")
                      << ": plays " << fixed(slow, 2) << " times slower than it was\n";
        else
            std::cout << "the file does not say how it was filmed: give --capture-rate\n";
        if (facts.has_sound)
            print_strike(path, slow);
        else
            std::cout << "no sound\n";
    }
    return status;
}

} // namespace

void add_film(CLI::App& app, std::function<int()>& run) {
    const auto arguments = std::make_shared<FilmArguments>();
    CLI::App* command =
        app.add_subcommand("film", "Say what a film is: pictures, times, capture rate, strike");
    command->add_option("FILE", arguments->files, "Film files, or folders of numbered pictures")
        ->required();
    command
        ->add_option("--capture-rate", arguments->capture_rate_hz,
                     "Pictures a second that it was filmed with, where the file does not say")
        ->check(CLI::Range(1.0, 10000.0));
    command->add_flag("--times", arguments->times, "Print the time of every picture (CSV)");
    command->callback([arguments, &run] { run = [arguments] { return run_film(*arguments); }; });
}

} // namespace kite::cli
