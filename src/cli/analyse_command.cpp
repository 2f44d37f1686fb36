#include "cli/arguments.h"
#include "cli/commands.h"
#include "core/measures/analyse.h"
#include "core/reading/reading.h"
#include "formats/json/analysis_json.h"
#include "formats/reader.h"
#include "formats/text/analysis_table.h"

#include <cstdio>
#include <iostream>
#include <memory>

namespace kite::cli {

namespace {

struct Arguments {
    std::vector<std::string> files;
    bool json = false;
    bool table = false;
    std::string handed;
    std::string club;
    std::string convention = "axis";
    std::string separation = "projected";
    std::string top = "club";
    std::vector<std::string> cutoffs;
    std::string up;
    std::string target;
};

/// One file; its result goes to standard output, its problems to standard error.
bool analyse_file(const std::string& file, const formats::ReadOptions& read_options,
                  const AnalysisOptions& options, bool json) {
    const auto complain = [&](const std::vector<Finding>& findings) {
        for (const Finding& finding : findings)
            if (finding.severity == Finding::Severity::Error)
                std::cerr << formats::text_of(file, finding) << "\n";
    };
    const Outcome<Take> take = formats::read_take(std::filesystem::path(file), read_options);
    if (!take.ok()) {
        complain(take.findings);
        return false;
    }
    const Outcome<Analysis> analysis = analyse(take.value, options);
    if (!analysis.ok()) {
        complain(analysis.findings);
        return false;
    }
    std::vector<Finding> findings = take.findings;
    findings.insert(findings.end(), analysis.findings.begin(), analysis.findings.end());
    const Reading reading = read_swing(analysis.value);
    std::cout << (json ? formats::to_json(file, analysis.value, reading, findings)
                       : formats::to_table(file, analysis.value, reading, findings))
              << std::endl;
    return true;
}

int run_analyse(const Arguments& arguments) {
    formats::ReadOptions read_options;
    read_options.handed = find_handedness(arguments.handed);
    read_options.club = find_club_kind(arguments.club);
    for (const auto& [text, hint, option] :
         {std::tuple(&arguments.up, &read_options.axes.up, "--up"),
          std::tuple(&arguments.target, &read_options.axes.target, "--target")}) {
        if (text->empty())
            continue;
        *hint = find_axis(*text);
        if (!*hint)
            throw CLI::ValidationError(option, "\"" + *text + "\" is not an axis such as z or -x");
    }
    AnalysisOptions options;
    options.convention = *find_convention(arguments.convention);
    options.separation = *find_separation(arguments.separation);
    options.top = *find_top(arguments.top);
    for (const std::string& text : arguments.cutoffs) {
        const auto [key, hz] = key_and_number(text, "--cutoff");
        if (!(hz > 0.0))
            throw CLI::ValidationError("--cutoff", "the cut-off must be above 0 Hz");
        options.cutoff_hz[segment_of(key, "--cutoff")] = hz;
    }
    bool all = true;
    for (const std::string& file : arguments.files)
        all = analyse_file(file, read_options, options, arguments.json) && all;
    return all ? kDone : kSomeFailed;
}

} // namespace

void add_analyse(CLI::App& app, std::function<int()>& run) {
    const auto arguments = std::make_shared<Arguments>();
    CLI::App* command = app.add_subcommand("analyse", "Measure swings and read them");
    command->add_option("FILE", arguments->files, "Swing files: pose CSV or C3D")->required();
    auto* json = command->add_flag("--json", arguments->json, "One JSON object a file, one a line");
    command->add_flag("--table", arguments->table, "A table to read (the usual)")->excludes(json);
    command
        ->add_option("--handed", arguments->handed,
                     "Right- or left-handed golfer; else the file's own word")
        ->check(CLI::IsMember({"right", "left"}));
    command->add_option("--club", arguments->club, "Kind of club; else the file's own word")
        ->check(CLI::IsMember({"driver", "wood", "iron", "wedge"}));
    command->add_option("--convention", arguments->convention, "Which rotation speed")
        ->check(CLI::IsMember({"axis", "resultant", "plane"}))
        ->capture_default_str();
    command->add_option("--separation", arguments->separation, "How separation is taken")
        ->check(CLI::IsMember({"projected", "joint"}))
        ->capture_default_str();
    command->add_option("--top", arguments->top, "Whose reversal is the top")
        ->check(CLI::IsMember({"club", "arm"}))
        ->capture_default_str();
    command
        ->add_option("--cutoff", arguments->cutoffs,
                     "Low-pass cut-off, SEGMENT=HZ; may be repeated")
        ->allow_extra_args(false);
    command->add_option("--up", arguments->up, "Up axis of a marker file, such as z");
    command->add_option("--target", arguments->target, "Target axis of a marker file, such as +x");
    command->callback([arguments, &run] { run = [arguments] { return run_analyse(*arguments); }; });
}

} // namespace kite::cli
