#include "formats/beside/force_csv.h"

#include "formats/names/name_table.h"
#include "formats/text/bytes.h"
#include "formats/text/delimited.h"
#include "formats/text/numbers.h"

#include <cmath>

namespace kite::formats {

using Severity = Finding::Severity;

namespace {

/// Lead and trail from the columns that are there; empty vectors without any.
void take_columns(const DelimitedTable& table, Handedness handed, ForceRecord& record) {
    const bool left_leads = handed == Handedness::Right;
    const auto find = [&](const char* side, const char* foot, const char* what) {
        const auto* column = table.find(std::string(side) + what);
        return column != nullptr ? column : table.find(std::string(foot) + what);
    };
    const char* lead_foot = left_leads ? "left" : "right";
    const char* trail_foot = left_leads ? "right" : "left";
    const auto* lead = find("lead", lead_foot, "_force_n");
    const auto* trail = find("trail", trail_foot, "_force_n");
    if (lead != nullptr && trail != nullptr) {
        record.lead_n = *lead;
        record.trail_n = *trail;
        return;
    }
    const auto* lead_pct = find("lead", lead_foot, "_pct");
    const auto* trail_pct = find("trail", trail_foot, "_pct");
    if (lead_pct == nullptr && trail_pct == nullptr)
        return;
    record.is_share = true;
    for (std::size_t i = 0; i < table.rows(); ++i) {
        const double share = lead_pct != nullptr ? (*lead_pct)[i] : 100.0 - (*trail_pct)[i];
        record.lead_n.push_back(share);
        record.trail_n.push_back(100.0 - share);
    }
}

} // namespace

Outcome<ForceRecord> read_force_csv(std::string_view bytes, Handedness handed,
                                    const NameTable& names) {
    Outcome<ForceRecord> out;
    const auto fail = [&](const char* code, std::string what, std::string where, const char* mend) {
        out.add({Severity::Error, code, std::move(what), std::move(where), mend});
        return std::move(out);
    };
    Outcome<DelimitedTable> read = read_delimited(bytes);
    out.findings = std::move(read.findings);
    if (has_errors(out.findings))
        return out;
    DelimitedTable& table = read.value;
    for (std::string& name : table.header)
        name = names.find_column(name).value_or(name);
    const auto* time = table.find("time_s");
    if (time == nullptr)
        return fail("columns-missing", "The column time_s is missing.", "header row",
                    "Add the time of each row in seconds.");
    take_columns(table, handed, out.value);
    if (out.value.lead_n.empty())
        return fail("columns-missing", "There is no force of both feet in this file.", "header row",
                    "Name the columns lead_force_n and trail_force_n, or lead_pct.");
    for (std::size_t i = 0; i < time->size(); ++i) {
        const bool ascends = i == 0 || (*time)[i] > (*time)[i - 1];
        if (!std::isfinite((*time)[i]) || !ascends)
            return fail("time-order", "The time is missing or does not go forwards.",
                        "line " + std::to_string(table.row_lines[i]) + ", column time_s",
                        "Sort the rows by time and leave out repeated ones.");
    }
    out.value.times_s = *time;
    out.value.contact_s =
        parse_number(table.find_comment("contact_s").value_or(""), table.delimiter != ',');
    return out;
}

Outcome<ForceRecord> read_force_csv(const std::filesystem::path& path, Handedness handed,
                                    const NameTable& names) {
    const Outcome<std::string> bytes = read_bytes(path);
    if (!bytes.ok())
        return {{}, bytes.findings};
    return read_force_csv(std::string_view(bytes.value), handed, names);
}

} // namespace kite::formats
