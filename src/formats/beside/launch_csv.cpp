#include "formats/beside/launch_csv.h"

#include "core/base/units.h"
#include "formats/names/name_table.h"
#include "formats/text/bytes.h"
#include "formats/text/delimited.h"

#include <nlohmann/json.hpp>

#include <array>
#include <cmath>

namespace kite::formats {

using Severity = Finding::Severity;

namespace {

struct LaunchColumn {
    const char* name;
    double LaunchNumbers::*field;
    double si_per_unit;
};
constexpr std::array kColumns{
    LaunchColumn{"club_speed_m_s", &LaunchNumbers::club_speed_m_s, 1.0},
    LaunchColumn{"club_speed_km_h", &LaunchNumbers::club_speed_m_s, 1.0 / 3.6},
    LaunchColumn{"club_speed_mph", &LaunchNumbers::club_speed_m_s, m_s_from_mph(1.0)},
    LaunchColumn{"ball_speed_m_s", &LaunchNumbers::ball_speed_m_s, 1.0},
    LaunchColumn{"ball_speed_km_h", &LaunchNumbers::ball_speed_m_s, 1.0 / 3.6},
    LaunchColumn{"ball_speed_mph", &LaunchNumbers::ball_speed_m_s, m_s_from_mph(1.0)},
    LaunchColumn{"carry_m", &LaunchNumbers::carry_m, 1.0},
    LaunchColumn{"carry_yd", &LaunchNumbers::carry_m, m_from_yd(1.0)},
    LaunchColumn{"start_direction_deg", &LaunchNumbers::start_direction_deg, 1.0},
    LaunchColumn{"curve_m", &LaunchNumbers::curve_m, 1.0},
    LaunchColumn{"curve_yd", &LaunchNumbers::curve_m, m_from_yd(1.0)},
    LaunchColumn{"time", &LaunchNumbers::time_s, 1.0},
    LaunchColumn{"time_s", &LaunchNumbers::time_s, 1.0},
};

} // namespace

Outcome<std::vector<LaunchNumbers>> read_launch_csv(std::string_view bytes,
                                                    const NameTable& names) {
    Outcome<std::vector<LaunchNumbers>> out;
    Outcome<DelimitedTable> table = read_delimited(bytes, 0, OtherText::IsClock);
    out.findings = std::move(table.findings);
    if (has_errors(out.findings))
        return out;
    out.value.resize(table.value.rows());
    bool any = false;
    for (std::size_t i = 0; i < table.value.header.size(); ++i) {
        const std::string& header = table.value.header[i];
        const std::string name = names.find_column(header).value_or(header);
        for (const LaunchColumn& column : kColumns) {
            if (name != column.name)
                continue;
            any = any || column.field != &LaunchNumbers::time_s;
            for (std::size_t row = 0; row < out.value.size(); ++row)
                out.value[row].*column.field = table.value.columns[i][row] * column.si_per_unit;
        }
    }
    if (!any)
        out.add({Severity::Error, "columns-missing", "No column of this file is a launch number.",
                 "header row",
                 "Name them club_speed_mph, ball_speed_mph, carry_m and so on, or map their names "
                 "under \"columns\" in the table of names."});
    else if (out.value.empty())
        out.add({Severity::Error, "no-rows", "There is no shot in this file.", "after the header",
                 "Export it again."});
    return out;
}

Outcome<std::vector<LaunchNumbers>> read_launch_csv(const std::filesystem::path& path,
                                                    const NameTable& names) {
    const Outcome<std::string> bytes = read_bytes(path);
    if (!bytes.ok())
        return {{}, bytes.findings};
    return read_launch_csv(std::string_view(bytes.value), names);
}

std::string to_json(const LaunchNumbers& launch) {
    nlohmann::json out = nlohmann::json::object();
    for (const LaunchField& field : kLaunchFields)
        if (std::isfinite(launch.*field.member))
            out[field.key] = launch.*field.member;
    return out.empty() ? std::string() : out.dump();
}

std::optional<LaunchNumbers> launch_of_json(const std::string& text) {
    const auto json = nlohmann::json::parse(text, nullptr, false);
    LaunchNumbers out;
    bool any = false;
    for (const LaunchField& field : kLaunchFields) {
        if (!json.is_object() || !json.contains(field.key) || !json.at(field.key).is_number())
            continue;
        out.*field.member = json.at(field.key).get<double>();
        any = true;
    }
    return any ? std::optional(out) : std::nullopt;
}

} // namespace kite::formats
