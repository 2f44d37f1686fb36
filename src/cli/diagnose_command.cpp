#include "cli/analysis_arguments.h"
#include "cli/commands.h"
#include "core/base/number.h"
#include "core/reading/set_reading.h"
#include "core/reading/why.h"
#include "core/reading/words.h"

#include <cmath>
#include <iostream>
#include <memory>

namespace kite::cli {

namespace {

struct DiagnoseArguments : AnalysisArguments {
    std::vector<std::string> files;
    bool why = false;
};

void print(const std::string& title, const std::vector<std::string>& lines) {
    if (lines.empty())
        return;
    std::cout << title << "\n";
    for (const std::string& line : lines)
        std::cout << "  " << line << "\n";
}

/// Every listed fault from its verdict down to the measures, and what would change it.
void print_why(const Reading& reading, const Analysis& analysis) {
    for (const Fault* fault : listed_faults(reading)) {
        const Why why = explain(*fault, reading, analysis);
        std::cout << "\n"
                  << fault->title << " (" << fault->id << ", " << key_of(fault->phase)
                  << "): " << evidence_of(fault->evidence);
        if (fault->weight != 1.0)
            std::cout << ", weight " << fault->weight;
        std::cout << "\n";
        if (!fault->counts())
            std::cout << "  Does not count: " << fault->does_not_count << "\n";
        for (const WhyStep& step : why.steps) {
            std::cout << std::string(2 + 2 * static_cast<std::size_t>(step.depth), ' ')
                      << what_of(step);
            if (const std::string numbers = numbers_of(step); !numbers.empty())
                std::cout << ": " << numbers;
            if (step.judged->evidence || !step.judged->silent)
                std::cout << "; " << evidence_of(step.judged->evidence);
            if (std::isfinite(step.weight))
                std::cout << ", weight " << step.weight;
            std::cout << "\n";
        }
        for (const Fault* other : why.explains)
            std::cout << "  Leads to: " << other->title << " (" << other->id << ")\n";
        for (const Fault* other : why.behind)
            std::cout << "  May come from: " << other->title << " (" << other->id << ")\n";
        if (const std::string change = change_of(why); !change.empty())
            std::cout << "  " << change << "\n";
        if (reading.first_fix == fault->id)
            std::cout << "  " << first_of(reading) << "\n";
    }
}

int run_diagnose(const DiagnoseArguments& arguments) {
    std::vector<Analysis> analyses;
    std::vector<Reading> readings;
    const formats::ReadOptions read_options = arguments.read_options();
    const Rules rules = arguments.rules(); // readings point into them
    const bool all = analyse_files(arguments.files, read_options, arguments.measuring_options(),
                                   rules, arguments.beside(arguments.files.size(), read_options),
                                   [&](const AnalysedFile& result) {
                                       analyses.push_back(result.analysis);
                                       readings.push_back(result.reading);
                                   });
    if (analyses.empty())
        return kSomeFailed;
    const SetReading set = read_set(readings);
    // The swing that shows it best speaks for the set.
    const Analysis& analysis = analyses[set.example];
    const ReadingWords words = write_words(analysis, set.reading);
    if (analyses.size() > 1)
        std::cout << analyses.size() << " swings, read as one set.\n";
    std::cout << words.order << "\n\n" << words.fix_title << "\n";
    if (!words.fix_why.empty())
        std::cout << "  " << words.fix_why << "\n";
    for (const std::string& because : words.because)
        std::cout << "  " << because << "\n";
    for (const auto& share : set.shares)
        if (analyses.size() > 1 && set.reading.first_fix && share.id == *set.reading.first_fix)
            std::cout << "  Seen in " << share.present << " of " << share.judged << " swings ("
                      << fixed(100.0 * share.low, 0) << " to " << fixed(100.0 * share.high, 0)
                      << " % of such swings, 95 %).\n";
    if (!words.leads_to.empty())
        std::cout << "  " << words.leads_to << "\n";
    if (!words.ball.empty())
        std::cout << "  " << words.ball << "\n";
    std::cout << "\n";
    print("At address", words.set_up);
    print("What is good", words.good);
    std::cout << "\n" << words.certainty << "\n" << words.given << "\n";
    if (arguments.why)
        print_why(readings[set.example], analysis);
    return all ? kDone : kSomeFailed;
}

} // namespace

void add_diagnose(CLI::App& app, std::function<int()>& run) {
    const auto arguments = std::make_shared<DiagnoseArguments>();
    CLI::App* command =
        app.add_subcommand("diagnose", "The reading in words; several files are one set");
    command->add_option("FILE", arguments->files, "Swing files of one golfer")->required();
    command->add_flag(
        "--why", arguments->why,
        "Every fault from its verdict down to the measures, and what would change it");
    arguments->add_to(*command);
    arguments->add_beside_to(*command);
    command->callback(
        [arguments, &run] { run = [arguments] { return run_diagnose(*arguments); }; });
}

} // namespace kite::cli
