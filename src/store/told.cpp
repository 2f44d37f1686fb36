#include "store/told.h"

#include "core/base/number.h"
#include "formats/beside/launch_csv.h"
#include "formats/mapping/user_tables.h"
#include "formats/names/name_table.h"
#include "formats/rules/rules_json.h"
#include "formats/text/numbers.h"
#include "store/measured.h"

namespace kite::store {

namespace {

/// "club=30".
void take_cutoff(const std::string& text, AnalysisOptions& options) {
    const std::size_t equals = text.find('=');
    if (equals == std::string::npos)
        return;
    const auto hz = formats::parse_number(std::string_view(text).substr(equals + 1));
    for (const Segment segment : kAllSegments)
        if (text.substr(0, equals) == key_of(segment) && hz && *hz > 0.0)
            options.cutoff_hz[segment] = *hz;
}

} // namespace

bool measured_alike(const AnalysisOptions& a, const AnalysisOptions& b) {
    return std::tie(a.convention, a.separation, a.top, a.cutoff_hz) ==
           std::tie(b.convention, b.separation, b.top, b.cutoff_hz);
}

AnalysisOptions usual_of(AnalysisOptions options) {
    const AnalysisOptions usual;
    options.convention = usual.convention;
    options.separation = usual.separation;
    options.top = usual.top;
    options.cutoff_hz = usual.cutoff_hz;
    return options;
}

std::string told_of(const HowMeasured& how) {
    const AnalysisOptions usual;
    Row out = Row::object();
    if (how.read.handed)
        out["handed"] = std::string(key_of(*how.read.handed));
    if (how.read.club)
        out["club"] = std::string(key_of(*how.read.club));
    if (how.read.axes.up)
        out["up"] = text_of(*how.read.axes.up);
    if (how.read.axes.target)
        out["target"] = text_of(*how.read.axes.target);
    if (how.read.axes.target_deg)
        out["target_deg"] = fixed(*how.read.axes.target_deg, 6);
    if (!how.names_file.empty())
        out["names"] = how.names_file;
    if (how.options.convention != usual.convention)
        out["convention"] = std::string(key_of(how.options.convention));
    if (how.options.separation != usual.separation)
        out["separation"] = std::string(key_of(how.options.separation));
    if (how.options.top != usual.top)
        out["top"] = std::string(key_of(how.options.top));
    for (const auto& [segment, hz] : how.options.cutoff_hz)
        out["cutoffs"].push_back(std::string(key_of(segment)) + "=" + digits(hz, 9));
    if (how.options.swing)
        out["swing"] = static_cast<int>(*how.options.swing);
    if (how.rules.school_source != "none")
        out["school"] = how.rules.school_source;
    if (how.rules.face != FaceHabit::Square)
        out["face"] = std::string(key_of(how.rules.face));
    if (how.rules.goal != Goal::NotSaid)
        out["goal"] = std::string(key_of(how.rules.goal));
    return out.empty() ? std::string() : out.dump(-1, ' ', false, Row::error_handler_t::replace);
}

HowMeasured how_measured(const Row& swing) {
    HowMeasured out;
    const Row told = Row::parse(text_in(swing, "told"), nullptr, false);
    const auto said = [&](const char* key) {
        return told.is_object() ? text_in(told, key) : std::string();
    };
    out.read = formats::read_options_of_user().value;
    out.read.handed = find_handedness(said("handed"));
    out.read.club = find_club_kind(said("club"));
    out.read.axes.up = find_axis(said("up"));
    out.read.axes.target = find_axis(said("target"));
    out.read.axes.target_deg = formats::parse_number(said("target_deg"));
    const auto is_gone = [&](const std::vector<Finding>& why, const char* what) {
        Finding finding = why.front();
        finding.severity = Finding::Severity::Warning;
        finding.what = std::string(what) + " " + finding.what;
        out.missing.push_back(std::move(finding));
    };
    if (out.names_file = said("names"); !out.names_file.empty()) {
        if (auto table = formats::NameTable::with_user_names(out.names_file); table.ok())
            out.read.names = std::make_shared<const formats::NameTable>(std::move(table.value));
        else
            is_gone(table.findings, "The names by which this swing was read are not here.");
    }
    out.options.convention = find_convention(said("convention")).value_or(out.options.convention);
    out.options.separation = find_separation(said("separation")).value_or(out.options.separation);
    out.options.top = find_top(said("top")).value_or(out.options.top);
    if (told.is_object() && told.contains("swing") && told.at("swing").is_number_integer() &&
        told.at("swing").get<long long>() > 0)
        out.options.swing = told.at("swing").get<std::size_t>();
    if (told.is_object() && told.contains("cutoffs") && told.at("cutoffs").is_array())
        for (const Row& cutoff : told.at("cutoffs"))
            if (cutoff.is_string())
                take_cutoff(cutoff.get<std::string>(), out.options);
    out.options.moved_s = moved_moments(text_in(swing, "moved"));
    out.rules = formats::plain_rules();
    if (const std::string school = said("school"); !school.empty()) {
        if (auto rules = formats::rules_with_school(school); rules.ok())
            out.rules = std::move(rules.value);
        else
            is_gone(rules.findings, "The school by which this swing was read is not here.");
    }
    out.rules.face = find_face(said("face")).value_or(out.rules.face);
    out.rules.goal = find_goal(said("goal")).value_or(out.rules.goal);
    out.launch = formats::launch_of_json(text_in(swing, "launch"));
    return out;
}

} // namespace kite::store
