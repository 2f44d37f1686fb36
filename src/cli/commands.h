#pragma once

#include <CLI/CLI.hpp>

#include <functional>

namespace kite::cli {

/// Exit status: 0 done; 1 some files failed, the others were done and printed; 2 wrong usage.
enum Status { kDone = 0, kSomeFailed = 1, kWrongUsage = 2 };

/// Adds a subcommand; `run` is set to its work when it was chosen.
void add_analyse(CLI::App& app, std::function<int()>& run);
void add_compare(CLI::App& app, std::function<int()>& run);
void add_convert(CLI::App& app, std::function<int()>& run);
void add_diagnose(CLI::App& app, std::function<int()>& run);
void add_film(CLI::App& app, std::function<int()>& run);
void add_live(CLI::App& app, std::function<int()>& run);
void add_plan(CLI::App& app, std::function<int()>& run);
void add_record(CLI::App& app, std::function<int()>& run);
void add_report(CLI::App& app, std::function<int()>& run);
void add_simulate(CLI::App& app, std::function<int()>& run);

} // namespace kite::cli
