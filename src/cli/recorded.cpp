#include "cli/recorded.h"

#include "cli/arguments.h"
#include "cli/commands.h"
#include "store/measured.h"

#include <algorithm>
#include <iostream>

namespace kite::cli {

using store::Record;
using store::Row;

bool say(const std::vector<Finding>& findings) {
    for (const Finding& finding : findings)
        std::cerr << text_of(finding) << "\n";
    return has_errors(findings);
}

std::unique_ptr<Record> open_for_reading(const Place& place, int& status) {
    auto opened = Record::open(place.path(), store::Opening::Read);
    // What is damaged is read as far as it goes, but not as if it were whole.
    const bool damaged = holds(opened.findings, "damaged");
    status = say(opened.findings) || damaged ? kSomeFailed : kDone;
    return std::move(opened.value);
}

std::string told_of(const AnalysisArguments& arguments) {
    store::HowMeasured how;
    how.read.handed = find_handedness(arguments.handed);
    how.read.club = find_club_kind(arguments.club);
    how.read.axes = axis_hints(arguments.up, arguments.target, arguments.target_deg);
    // A path holds wherever the program is started.
    if (!arguments.names.empty())
        how.names_file = std::filesystem::absolute(arguments.names).string();
    how.options = arguments.analysis_options();
    how.rules = arguments.rules();
    std::error_code error;
    if (std::filesystem::is_regular_file(how.rules.school_source, error))
        how.rules.school_source = std::filesystem::absolute(how.rules.school_source).string();
    return store::told_of(how);
}

std::unique_ptr<const Again> measure_again(Record& record, const Row& swing) {
    return measure_again(record, swing, store::how_measured(swing));
}

std::vector<store::HowMeasured> measured_as_one(const std::vector<Row>& swings,
                                                const AnalysisArguments& arguments) {
    std::vector<store::HowMeasured> out;
    for (const Row& swing : swings)
        out.push_back(store::how_measured(swing));
    const AnalysisArguments nothing_said;
    const Rules rules = arguments.rules();
    const AnalysisOptions said = arguments.analysis_options();
    bool alike = true;
    bool one_school = arguments.school == nothing_said.school;
    for (const store::HowMeasured& how : out) {
        alike = alike && store::measured_alike(how.options, out.front().options);
        one_school = one_school && how.rules.school_source == out.front().rules.school_source;
    }
    if (!alike)
        std::cerr << "These swings were kept as they were measured in different ways. Here all are "
                     "measured in the usual way.\n";
    for (store::HowMeasured& how : out) {
        if (!alike)
            how.options = store::usual_of(how.options);
        if (arguments.convention != nothing_said.convention)
            how.options.convention = said.convention;
        if (arguments.separation != nothing_said.separation)
            how.options.separation = said.separation;
        if (arguments.top != nothing_said.top)
            how.options.top = said.top;
        if (!said.cutoff_hz.empty())
            how.options.cutoff_hz = said.cutoff_hz;
        if (!one_school) {
            const FaceHabit face = how.rules.face;
            const Goal goal = how.rules.goal;
            how.rules = rules;
            how.rules.face = face;
            how.rules.goal = goal;
        }
        if (arguments.face != nothing_said.face)
            how.rules.face = rules.face;
        if (arguments.goal != nothing_said.goal)
            how.rules.goal = rules.goal;
    }
    return out;
}

std::unique_ptr<const Again> measure_again(Record& record, const Row& swing,
                                           store::HowMeasured how) {
    auto bytes = record.capture(swing.at("sha256").get<std::string>());
    if (say(bytes.findings))
        return nullptr;
    auto out = std::make_unique<Again>();
    say(how.missing);
    out->how = std::move(how);
    out->bytes = std::move(bytes.value);
    const auto& launch = out->how.launch;
    out->measured =
        analyse_file(swing.at("file").get<std::string>(), &out->bytes, out->how.read,
                     out->how.options, out->how.rules, launch ? &*launch : nullptr, nullptr);
    say_errors(out->measured);
    if (!out->measured.ok)
        return nullptr;
    // What the instructor saw otherwise holds.
    const auto overruled = record.overruled(store::text_in(swing, "id"));
    say(overruled.findings);
    overrule(out->measured.reading, overruled.value);
    out->title = store::title_of(out->measured.reading.first_fix.value_or(""), out->how.rules);
    return out;
}

} // namespace kite::cli
