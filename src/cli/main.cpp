#include "cli/commands.h"
#include "cli/outputs.h"

#include <csignal>
#include <exception>
#include <iostream>

int main(int argc, char** argv) {
    using namespace kite::cli;
    // A file that may not grow is an error of writing, to be said, and no reason to end.
    std::signal(SIGXFSZ, SIG_IGN);
    // A reader that ends early costs no more than the lines it did not read.
    std::signal(SIGPIPE, SIG_IGN);
    CLI::App app("Timing and order of the golf pivot: analyse swings without a display.",
                 "kite-hinge-cli");
    app.set_version_flag("--version", "kite-hinge-cli " KITE_VERSION);
    app.require_subcommand(1);
    std::function<int()> run;
    add_analyse(app, run);
    add_convert(app, run);
    add_compare(app, run);
    add_diagnose(app, run);
    add_film(app, run);
    add_live(app, run);
    add_plan(app, run);
    add_record(app, run);
    add_report(app, run);
    add_simulate(app, run);
    try {
        app.parse(argc, argv);
        const int status = run();
        return lost_standard_output() && status == kDone ? kSomeFailed : status;
    } catch (const CLI::ParseError& error) {
        if (error.get_exit_code() == static_cast<int>(CLI::ExitCodes::Success)) {
            app.exit(error); // --help, --version
            return lost_standard_output() ? kSomeFailed : kDone;
        }
        std::cerr << "kite-hinge-cli: " << error.what() << "\nSee kite-hinge-cli --help.\n";
        return kWrongUsage;
    } catch (const std::exception& error) {
        std::cerr << "kite-hinge-cli: " << error.what() << "\n";
        return kSomeFailed;
    }
}
