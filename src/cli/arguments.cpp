#include "cli/arguments.h"

#include "formats/text/numbers.h"

#include <CLI/CLI.hpp>

namespace kite::cli {

std::pair<std::string, double> key_and_number(const std::string& text, std::string_view option) {
    const auto equals = text.find('=');
    const auto value = equals == std::string::npos
                           ? std::nullopt
                           : formats::parse_number(std::string_view(text).substr(equals + 1));
    if (!value)
        throw CLI::ValidationError(std::string(option), "\"" + text + "\" is not NAME=NUMBER");
    return {text.substr(0, equals), *value};
}

Segment segment_of(const std::string& key, std::string_view option) {
    for (Segment segment : kAllSegments)
        if (key == key_of(segment))
            return segment;
    throw CLI::ValidationError(std::string(option),
                               "\"" + key + "\" is not a segment: pelvis, torso, lead_arm or club");
}

} // namespace kite::cli
