#include "cli/analysis_arguments.h"
#include "cli/arguments.h"
#include "cli/commands.h"
#include "cli/outputs.h"
#include "core/motion/orientation.h"
#include "formats/c3d/c3d.h"
#include "formats/markers/marker_file.h"
#include "formats/pose_csv/pose_csv.h"
#include "formats/reader.h"
#include "formats/results/series_csv.h"
#include "formats/text/bytes.h"
#include "formats/text/numbers.h"
#include "formats/trc/trc.h"

#include <iostream>
#include <memory>

namespace kite::cli {

namespace {

struct ConvertArguments : AnalysisArguments {
    std::string in;
    std::string out;
    bool series = false;
    Outputs outputs;
};

bool report(const std::string& file, const std::vector<Finding>& findings) {
    for (const Finding& finding : findings)
        if (finding.severity != Finding::Severity::Note)
            std::cerr << formats::text_of(file, finding) << "\n";
    return !has_errors(findings);
}

int run_convert(const ConvertArguments& arguments) {
    const std::filesystem::path out(arguments.out);
    const std::string extension = formats::lower_case(out.extension().string());
    if (extension != ".csv" && extension != ".c3d" && extension != ".trc")
        throw CLI::ValidationError(
            "OUT", "the file must end in .csv (poses, or time series), .c3d or .trc (markers)");
    if (arguments.outputs.refuse(arguments.out, {arguments.in, arguments.names}))
        return kSomeFailed;
    const formats::ReadOptions options = arguments.read_options();
    std::string bytes;
    if (extension == ".csv") {
        const Outcome<Take> take = formats::read_take(std::filesystem::path(arguments.in), options);
        if (!report(arguments.in, take.findings))
            return kSomeFailed;
        if (arguments.series) {
            const Outcome<Analysis> analysis = analyse(take.value, arguments.analysis_options());
            if (!report(arguments.in, analysis.findings))
                return kSomeFailed;
            bytes = formats::to_series_csv(analysis.value);
        } else if (take.value.segments.empty()) {
            std::cerr << arguments.in
                      << ": There are no orientations in this file to write as poses. "
                      << "Use --series for its rates.\n";
            return kSomeFailed;
        } else {
            if (!take.value.also.empty())
                std::cerr << arguments.in
                          << ": Poses have no place for how unsure the cameras leave them, and "
                             "sparse marks become gaps; analyse the marks themselves.\n";
            bytes = formats::write_pose_csv(take.value);
        }
    } else {
        const Outcome<std::string> file = formats::read_bytes(arguments.in);
        if (!report(arguments.in, file.findings))
            return kSomeFailed;
        Outcome<MarkerTake> markers = formats::read_markers(file.value, arguments.in, options);
        if (!report(arguments.in, markers.findings))
            return kSomeFailed;
        // Labels and axes stay as they are unless axes were asked for.
        if (options.axes.up || options.axes.target || options.axes.target_deg) {
            AxisHints hints = options.axes;
            hints.file_up = markers.value.up_axis;
            const Outcome<Setting> setting = find_setting(markers.value, hints);
            if (!report(arguments.in, setting.findings))
                return kSomeFailed;
            rotate_to_lab(markers.value, setting.value.axes);
            markers.value.up_axis = SignedAxis{2, +1};
        }
        if (extension == ".trc") {
            bytes = formats::write_trc(markers.value);
        } else {
            Outcome<std::string> c3d = formats::write_c3d(markers.value);
            if (!report(arguments.out, c3d.findings))
                return kSomeFailed;
            bytes = std::move(c3d.value);
        }
    }
    return report(arguments.out, formats::write_bytes(out, bytes, arguments.outputs.old()))
               ? kDone
               : kSomeFailed;
}

} // namespace

void add_convert(CLI::App& app, std::function<int()>& run) {
    const auto arguments = std::make_shared<ConvertArguments>();
    CLI::App* command = app.add_subcommand(
        "convert",
        "Write a swing in another format: poses or time series (.csv), markers (.c3d, .trc)");
    command->add_option("IN", arguments->in, "File to read")->required();
    command->add_option("OUT", arguments->out, "File to write")->required();
    command->add_flag("--series", arguments->series,
                      "To .csv: the measured curves over time instead of poses");
    arguments->outputs.add_to(*command);
    arguments->add_to(*command);
    command->callback([arguments, &run] { run = [arguments] { return run_convert(*arguments); }; });
}

} // namespace kite::cli
