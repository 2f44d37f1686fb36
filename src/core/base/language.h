#pragma once

#include <functional>
#include <string>
#include <vector>

namespace kite {

/// How texts and numbers are written. The core knows no languages: the application hands in its
/// translator and its locale, the command line uses plain English.
struct Language {
    std::function<std::string(const std::string&)> translate = [](const std::string& text) {
        return text;
    };
    std::function<std::string(double value, int decimals)>
        number; ///< empty: "12.3", minus as U+2212
};

/// A number as the language writes it.
std::string written(double value, int decimals, const Language& language);

/// A template, translated, with the values in its places {1}, {2} …
std::string filled(const std::string& text, const std::vector<std::string>& values,
                   const Language& language);

} // namespace kite
