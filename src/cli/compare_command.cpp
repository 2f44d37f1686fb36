#include "cli/analysis_arguments.h"
#include "cli/commands.h"
#include "core/reading/set_reading.h"
#include "core/sets/comparison.h"
#include "core/sets/history.h"
#include "formats/json/comparison_json.h"
#include "formats/practice/drills_json.h"
#include "formats/results/comparison_table.h"

#include <iostream>
#include <memory>

namespace kite::cli {

namespace {

struct CompareArguments : AnalysisArguments {
    std::vector<std::string> before;
    std::vector<std::string> after;
    std::string question;
    std::string sessions;
    bool json = false;
};

/// What decides the first fix of the earlier swings, where they have one.
std::string question_of(const std::vector<Reading>& before, const Rules& rules) {
    return usual_question(read_set(before).reading.first_fix.value_or(""), nullptr,
                          formats::shipped_drills(), rules.book);
}

int run_compare(const CompareArguments& arguments) {
    std::vector<Analysis> before;
    std::vector<Analysis> after;
    std::vector<Reading> readings;
    if (!arguments.question.empty() && find_measure(arguments.question) == nullptr) {
        std::cerr << "kite-hinge-cli: there is no measure \"" << arguments.question
                  << "\". compare --json lists their keys.\n";
        return kWrongUsage;
    }
    const Rules rules = arguments.rules();
    const auto read = [&](const std::vector<std::string>& files, std::vector<Analysis>& set) {
        return analyse_files(files, arguments.read_options(), arguments.measuring_options(), rules,
                             {}, [&](const AnalysedFile& result) {
                                 set.push_back(result.analysis);
                                 if (&set == &before)
                                     readings.push_back(result.reading);
                             });
    };
    bool all = read(arguments.before, before);
    all = read(arguments.after, after) && all;
    if (before.empty() || after.empty()) {
        std::cerr << "kite-hinge-cli: there is no swing left to compare.\n";
        return kSomeFailed;
    }
    CompareOptions options;
    options.question =
        arguments.question.empty() ? question_of(readings, rules) : arguments.question;
    if (!arguments.sessions.empty())
        options.sessions = arguments.sessions == "one" ? Sessions::One : Sessions::Two;
    const Comparison comparison = compare_sets(before, after, options);
    std::cout << (arguments.json ? formats::to_json(comparison) : formats::to_table(comparison))
              << "\n";
    return all ? kDone : kSomeFailed;
}

} // namespace

void add_compare(CLI::App& app, std::function<int()>& run) {
    const auto arguments = std::make_shared<CompareArguments>();
    CLI::App* command =
        app.add_subcommand("compare", "Say of every measure whether it has changed");
    command->add_option("--before", arguments->before, "Swings of the first set")->required();
    command->add_option("--after", arguments->after, "Swings of the second set")->required();
    command->add_option("--question", arguments->question,
                        "Key of the measure that was worked on: tested by itself (else what "
                        "decides the first fix of the earlier swings)");
    command
        ->add_option("--sessions", arguments->sessions,
                     "Were both sets made in one session, or were markers, sensors or cameras put "
                     "on anew: one, two (usually two)")
        ->check(CLI::IsMember({"one", "two"}));
    command->add_flag("--json", arguments->json, "One JSON object");
    arguments->add_to(*command);
    command->callback([arguments, &run] { run = [arguments] { return run_compare(*arguments); }; });
}

} // namespace kite::cli
