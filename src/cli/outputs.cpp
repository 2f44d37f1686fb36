#include "cli/outputs.h"

#include <cstdio>
#include <filesystem>
#include <iostream>

namespace kite::cli {

namespace fs = std::filesystem;

void Outputs::add_to(CLI::App& command) {
    const bool forces = command.get_option_no_throw("--force") != nullptr;
    command.add_flag(forces ? "--overwrite" : "--overwrite,--force", replace,
                     "Replace a file that is there already; never a record, nor what is read");
}

bool Outputs::refuse(const std::string& to, const std::vector<std::string>& reads) const {
    if (to.empty())
        return false;
    const auto say = [&](const char* what, const char* mend) {
        std::cerr << to << ": " << what << " " << mend << "\n";
        return true;
    };
    std::error_code error;
    const fs::path path(to);
    if (!fs::exists(path, error))
        return false;
    for (const std::string& read : reads)
        if (!read.empty() && fs::equivalent(path, read, error) && !error)
            return say("This is what is read; it was left as it is.", "Name another file.");
    if (formats::is_database(path))
        return say("This is a record or another database; it was left as it is.",
                   "Name another file.");
    if (!replace && fs::is_regular_file(path, error))
        return say("There is a file of this name already; it was left as it is.",
                   "Name another, or say --overwrite.");
    return false;
}

bool lost_standard_output() {
    std::cout.flush();
    const bool lost = !std::cout || std::fflush(stdout) != 0 || std::ferror(stdout) != 0;
    if (lost)
        std::cerr << "kite-hinge-cli: not all of it could be written to standard output. Look "
                     "whether the disk is full, or whether its reader ended.\n";
    return lost;
}

} // namespace kite::cli
