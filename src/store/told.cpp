#include "store/told.h"

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
    if (const std::string names = said("names"); !names.empty())
        if (auto table = formats::NameTable::with_user_names(names); table.ok())
            out.read.names = std::make_shared<const formats::NameTable>(std::move(table.value));
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
    if (const std::string school = said("school"); !school.empty())
        if (auto rules = formats::rules_with_school(school); rules.ok())
            out.rules = std::move(rules.value);
    out.rules.face = find_face(said("face")).value_or(out.rules.face);
    out.rules.goal = find_goal(said("goal")).value_or(out.rules.goal);
    out.launch = formats::launch_of_json(text_in(swing, "launch"));
    return out;
}

} // namespace kite::store
