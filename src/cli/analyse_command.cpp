#include "cli/analysis_arguments.h"
#include "cli/commands.h"
#include "formats/json/analysis_json.h"
#include "formats/results/analysis_table.h"
#include "formats/results/measures_csv.h"

#include <iostream>
#include <memory>

namespace kite::cli {

namespace {

struct AnalyseArguments : AnalysisArguments {
    std::vector<std::string> files;
    bool json = false;
    bool csv = false;
    bool table = false;
};

int run_analyse(const AnalyseArguments& arguments) {
    if (arguments.csv)
        std::cout << formats::measures_csv_header();
    const formats::ReadOptions read_options = arguments.read_options();
    const Rules rules = arguments.rules();
    const bool all = analyse_files(
        arguments.files, read_options, arguments.measuring_options(), rules,
        arguments.beside(arguments.files.size(), read_options), [&](const AnalysedFile& result) {
            if (arguments.csv)
                std::cout << formats::measures_csv_row(result.file, result.analysis);
            else if (arguments.json)
                std::cout << formats::to_json(result.file, result.analysis, result.reading,
                                              result.findings)
                          << "\n";
            else
                std::cout << formats::to_table(result.file, result.analysis, result.reading,
                                               result.findings)
                          << "\n";
            std::cout.flush();
        });
    return all ? kDone : kSomeFailed;
}

} // namespace

void add_analyse(CLI::App& app, std::function<int()>& run) {
    const auto arguments = std::make_shared<AnalyseArguments>();
    CLI::App* command = app.add_subcommand("analyse", "Measure swings and read them");
    command->add_option("FILE", arguments->files, "Swing files, of any known format")->required();
    auto* json = command->add_flag("--json", arguments->json, "One JSON object a file, one a line");
    auto* csv = command->add_flag("--csv", arguments->csv, "The measures, a row a swing");
    command->add_flag("--table", arguments->table, "A table to read (the usual)")
        ->excludes(json)
        ->excludes(csv);
    json->excludes(csv);
    arguments->add_to(*command);
    arguments->add_beside_to(*command);
    command->callback([arguments, &run] { run = [arguments] { return run_analyse(*arguments); }; });
}

} // namespace kite::cli
