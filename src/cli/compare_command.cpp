#include "cli/analysis_arguments.h"
#include "cli/commands.h"
#include "core/sets/swing_set.h"
#include "formats/json/comparison_json.h"
#include "formats/results/comparison_table.h"

#include <iostream>
#include <memory>

namespace kite::cli {

namespace {

struct CompareArguments : AnalysisArguments {
    std::vector<std::string> before;
    std::vector<std::string> after;
    bool json = false;
};

int run_compare(const CompareArguments& arguments) {
    std::vector<Analysis> before;
    std::vector<Analysis> after;
    const Rules rules = arguments.rules();
    const auto read = [&](const std::vector<std::string>& files, std::vector<Analysis>& set) {
        return analyse_files(files, arguments.read_options(), arguments.measuring_options(), rules,
                             {},
                             [&](const AnalysedFile& result) { set.push_back(result.analysis); });
    };
    bool all = read(arguments.before, before);
    all = read(arguments.after, after) && all;
    if (before.empty() || after.empty()) {
        std::cerr << "kite-hinge-cli: there is no swing left to compare.\n";
        return kSomeFailed;
    }
    const std::vector<MeasureChange> changes = compare_sets(before, after);
    std::cout << (arguments.json ? formats::to_json(changes) : formats::to_table(changes)) << "\n";
    return all ? kDone : kSomeFailed;
}

} // namespace

void add_compare(CLI::App& app, std::function<int()>& run) {
    const auto arguments = std::make_shared<CompareArguments>();
    CLI::App* command =
        app.add_subcommand("compare", "Say of every measure whether a change is real");
    command->add_option("--before", arguments->before, "Swings of the first set")->required();
    command->add_option("--after", arguments->after, "Swings of the second set")->required();
    command->add_flag("--json", arguments->json, "One JSON object");
    arguments->add_to(*command);
    command->callback([arguments, &run] { run = [arguments] { return run_compare(*arguments); }; });
}

} // namespace kite::cli
