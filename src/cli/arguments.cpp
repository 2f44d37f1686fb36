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

AxisHints axis_hints(const std::string& up, const std::string& target,
                     const std::string& target_deg) {
    AxisHints out;
    for (const auto& [text, hint, option] :
         {std::tuple(&up, &out.up, "--up"), std::tuple(&target, &out.target, "--target")}) {
        if (text->empty())
            continue;
        *hint = find_axis(*text);
        if (!*hint)
            throw CLI::ValidationError(option, "\"" + *text + "\" is not an axis such as z or -x");
    }
    if (!target_deg.empty()) {
        out.target_deg = formats::parse_number(target_deg);
        if (!out.target_deg)
            throw CLI::ValidationError("--target-deg",
                                       "\"" + target_deg + "\" is not a number of degrees");
    }
    return out;
}

Segment segment_of(const std::string& key, std::string_view option) {
    for (Segment segment : kAllSegments)
        if (key == key_of(segment))
            return segment;
    throw CLI::ValidationError(std::string(option),
                               "\"" + key + "\" is not a segment: pelvis, torso, lead_arm or club");
}

} // namespace kite::cli
