#pragma once

#include "support/temporary_folder.h"

#include <gtest/gtest.h>
#include <nlohmann/json.hpp>

#include <algorithm>
#include <cstdlib>
#include <string>
#include <sys/wait.h>

namespace kite::test {

using Json = nlohmann::json;

struct Finished {
    int status = -1;
    std::string out;
    std::string err;
};

inline std::size_t lines(const std::string& text) {
    return static_cast<std::size_t>(std::count(text.begin(), text.end(), '\n'));
}

/// The real program, started as a user starts it, in a folder of its own.
class Cli : public testing::Test {
protected:
    /// `before`: what the shell does first, such as "ulimit -f 100;".
    Finished run(const std::string& arguments, const std::string& before = {}) {
        return run_program(KITE_CLI, arguments, before);
    }
    Finished run_program(const std::string& program, const std::string& arguments,
                         const std::string& before = {}) {
        // The tester's own tables and records are neither read nor written.
        const std::string command =
            before + " XDG_CONFIG_HOME='" + folder.path("config").string() + "' XDG_DATA_HOME='" +
            folder.path("data").string() + "' '" + program + "' " + arguments + " >'" +
            folder.path("out").string() + "' 2>'" + folder.path("err").string() + "' </dev/null";
        const int status = std::system(command.c_str());
        return {WIFEXITED(status) ? WEXITSTATUS(status) : -1,
                TemporaryFolder::read(folder.path("out")),
                TemporaryFolder::read(folder.path("err"))};
    }
    std::string quoted(const std::string& name) const {
        return "'" + folder.path(name).string() + "'";
    }
    TemporaryFolder folder;
};

} // namespace kite::test
