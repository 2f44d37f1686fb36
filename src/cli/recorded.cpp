#include "cli/recorded.h"

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
    const bool damaged = std::any_of(opened.findings.begin(), opened.findings.end(),
                                     [](const Finding& it) { return it.code == "damaged"; });
    status = say(opened.findings) || damaged ? kSomeFailed : kDone;
    return std::move(opened.value);
}

namespace {

/// Every option of which a result depends, by its name in the record (store/told.cpp reads them).
template <class Arguments, class Visit>
void visit_told(Arguments& arguments, const Visit& visit) {
    visit("handed", arguments.handed);
    visit("club", arguments.club);
    visit("convention", arguments.convention);
    visit("separation", arguments.separation);
    visit("top", arguments.top);
    visit("cutoffs", arguments.cutoffs);
    visit("up", arguments.up);
    visit("target", arguments.target);
    visit("target_deg", arguments.target_deg);
    visit("names", arguments.names);
    visit("swing", arguments.swing);
    visit("school", arguments.school);
    visit("face", arguments.face);
    visit("goal", arguments.goal);
}

} // namespace

std::string told_of(const AnalysisArguments& arguments) {
    Row usual = Row::object();
    const AnalysisArguments nothing_said;
    visit_told(nothing_said, [&](const char* key, const auto& value) { usual[key] = value; });
    Row out = Row::object();
    visit_told(arguments, [&](const char* key, const auto& value) {
        if (Row(value) != usual.at(key))
            out[key] = value;
    });
    return out.empty() ? std::string() : out.dump(-1, ' ', false, Row::error_handler_t::replace);
}

std::unique_ptr<const Again> measure_again(Record& record, const Row& swing) {
    auto bytes = record.capture(swing.at("sha256").get<std::string>());
    if (say(bytes.findings))
        return nullptr;
    auto out = std::make_unique<Again>();
    out->how = store::how_measured(swing);
    out->bytes = std::move(bytes.value);
    const auto& launch = out->how.launch;
    out->measured =
        analyse_file(swing.at("file").get<std::string>(), &out->bytes, out->how.read,
                     out->how.options, out->how.rules, launch ? &*launch : nullptr, nullptr);
    say_errors(out->measured);
    if (!out->measured.ok)
        return nullptr;
    out->title = store::title_of(out->measured.reading.first_fix.value_or(""), out->how.rules);
    return out;
}

} // namespace kite::cli
