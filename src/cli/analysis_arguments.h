#pragma once

#include "core/measures/analyse.h"
#include "core/reading/reading.h"
#include "formats/format.h"

#include <CLI/CLI.hpp>

#include <functional>
#include <string>
#include <vector>

namespace kite::cli {

/// What was measured beside the motion of each file.
struct Beside {
    std::vector<LaunchNumbers> launch; ///< one a file, or none
    std::vector<std::string> forces;   ///< a force file a motion file, or none
};

/// The options of every command that analyses swings.
struct AnalysisArguments {
    std::string handed;
    std::string club;
    std::string convention = "axis";
    std::string separation = "projected";
    std::string top = "club";
    std::vector<std::string> cutoffs;
    std::string up;
    std::string target;
    std::string target_deg;
    std::string names;
    std::string launch;
    std::vector<std::string> forces;
    int swing = 0;
    std::string school = "none";
    std::string face = "square";
    std::string goal = "none";

    void add_to(CLI::App& command);
    /// What was measured beside the motion, for commands that take files one by one.
    void add_beside_to(CLI::App& command);
    /// Throw CLI::ValidationError for what the options' own checks cannot see.
    formats::ReadOptions read_options() const;
    AnalysisOptions analysis_options() const;
    /// For commands that give measures and no curves: quicker.
    AnalysisOptions measuring_options() const;
    Rules rules() const;
    /// For so many motion files, in their order.
    Beside beside(std::size_t files, const formats::ReadOptions& read_options) const;
};

/// One file, read, analysed and read in words. `ok` false: the findings hold the errors.
struct AnalysedFile {
    std::string file;
    bool ok = false;
    Analysis analysis;
    Reading reading;
    std::vector<Finding> findings;
};

/// One file; `bytes` are what it holds, if they are in memory already. What it throws is said as
/// its error: one bad file must not cost the others.
AnalysedFile analyse_file(const std::string& file, const std::string* bytes,
                          const formats::ReadOptions& read_options, const AnalysisOptions& options,
                          const Rules& rules, const LaunchNumbers* launch,
                          const std::string* forces);

/// Its errors to standard error, a line each.
void say_errors(const AnalysedFile& result);

/// "12 of 300 files" on a terminal while long work goes on; nothing elsewhere.
class Progress {
public:
    explicit Progress(std::size_t files);
    ~Progress();
    Progress(const Progress&) = delete;
    Progress& operator=(const Progress&) = delete;
    void done(std::size_t count) const;

private:
    std::size_t files_;
    bool shown_;
};

/// Analyses all files on all cores and hands each to `use` in the order given, one at a time; few
/// results are held at once, however many files there are. Errors go to standard error, a line a
/// problem; on a terminal the progress of long work is shown there. True: all files were fine.
bool analyse_files(const std::vector<std::string>& files, const formats::ReadOptions& read_options,
                   const AnalysisOptions& options, const Rules& rules, const Beside& beside,
                   const std::function<void(const AnalysedFile&)>& use);

} // namespace kite::cli
