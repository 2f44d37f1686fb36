#include "cli/analysis_arguments.h"

#include "cli/arguments.h"
#include "cli/in_order.h"
#include "formats/beside/force_csv.h"
#include "formats/beside/launch_csv.h"
#include "formats/mapping/user_tables.h"
#include "formats/names/name_table.h"
#include "formats/reader.h"
#include "formats/rules/rules_json.h"

#include <exception>
#include <iostream>
#include <malloc.h>
#include <new>
#include <unistd.h>

namespace kite::cli {

void AnalysisArguments::add_to(CLI::App& command) {
    command
        .add_option("--handed", handed, "Right- or left-handed golfer; else the file's own word")
        ->check(CLI::IsMember({"right", "left"}));
    command.add_option("--club", club, "Kind of club; else the file's own word")
        ->check(CLI::IsMember({"driver", "wood", "iron", "wedge"}));
    command.add_option("--convention", convention, "Which rotation speed")
        ->check(CLI::IsMember({"axis", "resultant", "plane"}))
        ->capture_default_str();
    command.add_option("--separation", separation, "How separation is taken")
        ->check(CLI::IsMember({"projected", "joint"}))
        ->capture_default_str();
    command.add_option("--top", top, "Whose reversal is the top")
        ->check(CLI::IsMember({"club", "arm"}))
        ->capture_default_str();
    command.add_option("--cutoff", cutoffs, "Low-pass cut-off, SEGMENT=HZ; may be repeated")
        ->allow_extra_args(false);
    command.add_option("--swing", swing, "Which swing of a take with several, from 1")
        ->check(CLI::Range(1, 1000));
    command
        .add_option("--school", school,
                    "By which school faults are weighed: none, stretch, depth-first, own-pivot, "
                    "shift-then-turn, finish-first, or the path of an own one")
        ->capture_default_str();
    command.add_option("--face", face, "How the golfer usually delivers the club face")
        ->check(CLI::IsMember({"square", "shut", "open"}))
        ->capture_default_str();
    command
        .add_option("--goal", goal,
                    "What the golfer wants most; it decides among faults that are nearly equal")
        ->check(CLI::IsMember({"none", "speed", "straight", "strike", "strain"}))
        ->capture_default_str();
    command.add_option("--up", up, "Up axis of a marker file, such as z");
    command.add_option("--target", target, "Target axis of a marker file, such as +x");
    command
        .add_option("--target-deg", target_deg,
                    "Target line of a marker file in degrees from its x axis, counter-clockwise "
                    "from above")
        ->excludes(command.get_option("--target"));
    command.add_option("--names", names, "Table of other marker and joint names (JSON)");
}

void AnalysisArguments::add_beside_to(CLI::App& command) {
    command.add_option("--launch", launch, "Launch numbers (CSV), a row a file in their order");
    command.add_option("--force", forces, "Forces under the feet (CSV) beside a file; once a file")
        ->allow_extra_args(false);
}

namespace {

const formats::NameTable& names_of(const formats::ReadOptions& options) {
    static const formats::NameTable kShipped = formats::NameTable::shipped();
    return options.names ? *options.names : kShipped;
}

} // namespace

formats::ReadOptions AnalysisArguments::read_options() const {
    Outcome<formats::ReadOptions> user = formats::read_options_of_user();
    formats::ReadOptions out = std::move(user.value);
    for (const Finding& finding : user.findings)
        std::cerr << kite::text_of(finding) << "\n";
    out.handed = find_handedness(handed);
    out.club = find_club_kind(club);
    out.axes = axis_hints(up, target, target_deg);
    if (!names.empty()) {
        const std::filesystem::path path(names);
        Outcome<formats::NameTable> table = formats::NameTable::with_user_names(path);
        for (const Finding& finding : table.findings)
            std::cerr << formats::text_of(path, finding) << "\n";
        if (!table.ok())
            throw CLI::ValidationError("--names", "the table of names cannot be used");
        out.names = std::make_shared<const formats::NameTable>(std::move(table.value));
    }
    return out;
}

AnalysisOptions AnalysisArguments::analysis_options() const {
    AnalysisOptions out;
    out.convention = *find_convention(convention);
    out.separation = *find_separation(separation);
    out.top = *find_top(top);
    if (swing > 0)
        out.swing = static_cast<std::size_t>(swing);
    for (const std::string& text : cutoffs) {
        const auto [key, hz] = key_and_number(text, "--cutoff");
        if (!(hz > 0.0))
            throw CLI::ValidationError("--cutoff", "the cut-off must be above 0 Hz");
        out.cutoff_hz[segment_of(key, "--cutoff")] = hz;
    }
    return out;
}

AnalysisOptions AnalysisArguments::measuring_options() const {
    AnalysisOptions out = analysis_options();
    out.curves = CurvesOf::Swing;
    return out;
}

Rules AnalysisArguments::rules() const {
    auto read = formats::rules_with_school(school);
    for (const Finding& finding : read.findings)
        std::cerr << formats::text_of(school, finding) << "\n";
    if (!read.ok())
        throw CLI::ValidationError("--school", "this school cannot be used");
    read.value.face = *find_face(face);
    read.value.goal = *find_goal(goal);
    return std::move(read.value);
}

Beside AnalysisArguments::beside(std::size_t files,
                                 const formats::ReadOptions& read_options) const {
    Beside out;
    out.forces = forces;
    if (!forces.empty() && forces.size() != files)
        throw CLI::ValidationError("--force", "give it once for each of the " +
                                                  std::to_string(files) + " files");
    if (launch.empty())
        return out;
    auto read = formats::read_launch_csv(std::filesystem::path(launch), names_of(read_options));
    for (const Finding& finding : read.findings)
        std::cerr << formats::text_of(launch, finding) << "\n";
    if (!read.ok())
        throw CLI::ValidationError("--launch", "the launch numbers cannot be used");
    if (read.value.size() != files)
        throw CLI::ValidationError("--launch", "there are " + std::to_string(read.value.size()) +
                                                   " shots for " + std::to_string(files) +
                                                   " files");
    out.launch = std::move(read.value);
    return out;
}

namespace {

AnalysedFile measure_file(const std::string& file, const std::string* bytes,
                          const formats::ReadOptions& read_options, const AnalysisOptions& options,
                          const Rules& rules, const LaunchNumbers* launch,
                          const std::string* forces) {
    AnalysedFile out;
    out.file = file;
    const std::filesystem::path path(file);
    Outcome<Take> take = bytes == nullptr ? formats::read_take(path, read_options)
                                          : formats::read_take(*bytes, path, read_options);
    out.findings = std::move(take.findings);
    if (has_errors(out.findings))
        return out;
    if (launch != nullptr)
        take.value.launch = *launch;
    if (forces != nullptr) {
        const auto record = formats::read_force_csv(std::filesystem::path(*forces),
                                                    take.value.handed, names_of(read_options));
        for (Finding finding : record.findings) {
            finding.what = *forces + ": " + finding.what;
            out.findings.push_back(std::move(finding));
        }
        if (!record.ok())
            return out;
        attach_forces(take.value, record.value, out.findings);
    }
    Outcome<Analysis> analysis = analyse(take.value, options);
    out.findings.insert(out.findings.end(), analysis.findings.begin(), analysis.findings.end());
    out.ok = !has_errors(out.findings);
    out.analysis = std::move(analysis.value);
    if (out.ok)
        out.reading = read_swing(out.analysis, rules);
    return out;
}

} // namespace

AnalysedFile analyse_file(const std::string& file, const std::string* bytes,
                          const formats::ReadOptions& read_options, const AnalysisOptions& options,
                          const Rules& rules, const LaunchNumbers* launch,
                          const std::string* forces) {
    AnalysedFile out;
    out.file = file;
    try {
        return measure_file(file, bytes, read_options, options, rules, launch, forces);
    } catch (const std::bad_alloc&) {
        out.findings.push_back({Finding::Severity::Error, "too-large",
                                "There is not enough memory for this file.", "",
                                "Cut it to the swing."});
    } catch (const std::exception& error) {
        out.findings.push_back(
            {Finding::Severity::Error, "task-failed",
             std::string("The swing could not be measured: ") + error.what() + ".", "",
             "Please keep the file: it shows a mistake of this program."});
    }
    return out;
}

void say_errors(const AnalysedFile& result) {
    for (const Finding& finding : result.findings)
        if (finding.severity == Finding::Severity::Error)
            std::cerr << formats::text_of(result.file, finding) << "\n";
}

Progress::Progress(std::size_t files) : files_(files), shown_(files >= 8 && isatty(2) != 0) {}
void Progress::done(std::size_t count) const {
    if (shown_)
        std::cerr << "\r" << count << " of " << files_ << " files" << std::flush;
}
Progress::~Progress() {
    if (shown_)
        std::cerr << "\r\033[K" << std::flush;
}

namespace {

/// What one file needed the next one needs too: freed memory is not handed back to the system in
/// between, to be asked for and filled with zeros again.
void keep_freed_memory() {
#ifdef __GLIBC__
    constexpr int kKept_bytes = 64 << 20;
    constexpr int kFrom_bytes = 32 << 20; // larger ones come and go by themselves
    mallopt(M_TRIM_THRESHOLD, kKept_bytes);
    mallopt(M_MMAP_THRESHOLD, kFrom_bytes);
    mallopt(M_TOP_PAD, 1 << 20);
#endif
}

} // namespace

bool analyse_files(const std::vector<std::string>& files, const formats::ReadOptions& read_options,
                   const AnalysisOptions& options, const Rules& rules, const Beside& beside,
                   const std::function<void(const AnalysedFile&)>& use) {
    keep_freed_memory();
    bool all = true;
    const Progress progress(files.size());
    in_order<AnalysedFile>(
        files.size(),
        [&](std::size_t i) {
            return analyse_file(files[i], nullptr, read_options, options, rules,
                                beside.launch.empty() ? nullptr : &beside.launch[i],
                                beside.forces.empty() ? nullptr : &beside.forces[i]);
        },
        [&](std::size_t i, const AnalysedFile& result) {
            say_errors(result);
            all = all && result.ok;
            if (result.ok)
                use(result);
            progress.done(i + 1);
            return static_cast<bool>(std::cout); // nobody reads on: nothing more is measured
        });
    return all;
}

} // namespace kite::cli
