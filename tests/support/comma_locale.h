#pragma once

#include "support/temporary_folder.h"

#include <clocale>
#include <cstdlib>
#include <string>

namespace kite::test {

/// While it lives the process writes numbers as most of Europe does: "12,5". The locale is made
/// from the definitions that the system's package brings, since few machines have it ready.
class CommaLocale {
public:
    CommaLocale() {
        const std::string place = folder_.path("de_DE.UTF-8").string();
        const std::string command = "localedef -i de_DE -f UTF-8 '" + place + "' >/dev/null 2>&1";
        if (std::system(command.c_str()) != 0)
            return;
        setenv("LOCPATH", folder_.path("").c_str(), 1);
        set_ = std::setlocale(LC_ALL, "de_DE.UTF-8") != nullptr &&
               std::string(std::localeconv()->decimal_point) == ",";
    }
    ~CommaLocale() {
        std::setlocale(LC_ALL, "C");
        unsetenv("LOCPATH");
    }
    CommaLocale(const CommaLocale&) = delete;
    CommaLocale& operator=(const CommaLocale&) = delete;

    bool is_set() const { return set_; }

private:
    TemporaryFolder folder_;
    bool set_ = false;
};

} // namespace kite::test
