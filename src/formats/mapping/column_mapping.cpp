#include "formats/mapping/column_mapping.h"

#include "core/base/names.h"
#include "core/base/units.h"
#include "formats/names/name_table.h"
#include "formats/text/bytes.h"
#include "formats/text/delimited.h"
#include "formats/text/numbers.h"

#include <nlohmann/json.hpp>

#include <algorithm>
#include <array>
#include <cmath>
#include <set>

namespace kite::formats {

using Severity = Finding::Severity;

namespace {

using Units = std::vector<OurColumn::Unit>;

std::vector<OurColumn> make_columns() {
    const double deg = deg_from_rad(1.0);
    const Units seconds{{"s", 1.0}, {"ms", 1e-3}, {"µs", 1e-6}};
    const Units angle{{"°", 1.0}, {"rad", deg}};
    const Units rate{{"°/s", 1.0}, {"rad/s", deg}};
    const Units length{{"m", 1.0}, {"cm", 0.01}, {"mm", 0.001}, {"in", 0.0254}};
    const Units plain{{"", 1.0}};
    std::vector<OurColumn> out{{"time_s", "time", seconds}};
    for (Segment segment : kSequence)
        out.push_back({std::string(key_of(segment)) + "_rate_deg_s",
                       std::string(name_of(segment)) + " rotation speed", rate});
    for (Segment segment : kAllSegments) {
        const std::string key(key_of(segment));
        const std::string name(name_of(segment));
        out.push_back({key + "_turn_deg", name + " turn", angle});
        out.push_back({key + "_side_tilt_deg", name + " side tilt", angle});
        out.push_back({key + "_forward_bend_deg", name + " forward bend", angle});
    }
    for (Segment segment : kSequence) {
        const std::string key(key_of(segment));
        const std::string name(name_of(segment));
        for (const char* part : {"w", "x", "y", "z"})
            out.push_back({key + "_q" + part, name + " quaternion " + part, plain});
        for (const char* axis : {"x", "y", "z"})
            out.push_back({key + "_" + axis + "_m", name + " place " + axis, length});
    }
    return out;
}

/// Words of a header in which a part or a quantity shows itself; the first that fits counts.
struct Word {
    const char* text;
    const char* meaning;
};
constexpr std::array kParts{
    Word{"pelvis", "pelvis"},       Word{"hip", "pelvis"},  Word{"forearm", "lead_forearm"},
    Word{"trail arm", "trail_arm"}, Word{"torso", "torso"}, Word{"thorax", "torso"},
    Word{"trunk", "torso"},         Word{"chest", "torso"}, Word{"shoulder", "torso"},
    Word{"upper body", "torso"},    Word{"club", "club"},   Word{"shaft", "club"},
    Word{"arm", "lead_arm"},        Word{"head", "head"},
};
constexpr std::array kRates{"rate", "speed", "veloc", "deg/s", "°/s", "dps", "rad/s"};
constexpr std::array kQuantities{
    Word{"side", "_side_tilt_deg"},    Word{"lateral", "_side_tilt_deg"},
    Word{"tilt", "_side_tilt_deg"},    Word{"bend", "_forward_bend_deg"},
    Word{"flex", "_forward_bend_deg"}, Word{"forward", "_forward_bend_deg"},
    Word{"turn", "_turn_deg"},         Word{"rot", "_turn_deg"},
    Word{"yaw", "_turn_deg"},          Word{"axial", "_turn_deg"},
};

bool has_word(const std::string& text, const char* word) {
    return text.find(word) != std::string::npos;
}

/// Everything but letters, digits and unit signs as single blanks.
std::string in_words(const std::string& header) {
    std::string out;
    for (char c : header)
        out += c == '_' || c == '-' || c == '.' || c == ',' ? ' ' : c;
    return out;
}

std::string key_of_guess(const std::string& text) {
    for (const char* time : {"time", "clock", "seconds", "t (", "t ["})
        if (has_word(text, time))
            return "time_s";
    if (text == "t" || text == "s" || text == "sec")
        return "time_s";
    const auto part = std::find_if(kParts.begin(), kParts.end(),
                                   [&](const Word& word) { return has_word(text, word.text); });
    if (part == kParts.end())
        return {};
    if (std::any_of(kRates.begin(), kRates.end(),
                    [&](const char* word) { return has_word(text, word); }))
        return std::string(part->meaning) + "_rate_deg_s";
    for (const Word& word : kQuantities)
        if (has_word(text, word.text))
            return std::string(part->meaning) + word.meaning;
    return {};
}

double factor_of_guess(const std::string& text, const std::string& ours) {
    const OurColumn* column = find_our_column(ours);
    if (ours == "time_s" && (has_word(text, "ms") || has_word(text, "milli")))
        return 1e-3;
    if (has_word(text, "rad"))
        for (const OurColumn::Unit& unit : column->units)
            if (unit.name.rfind("rad", 0) == 0)
                return unit.factor;
    return 1.0;
}

} // namespace

const std::vector<OurColumn>& our_columns() {
    static const std::vector<OurColumn> columns = make_columns();
    return columns;
}

const OurColumn* find_our_column(std::string_view key) {
    const auto& columns = our_columns();
    const auto found = std::find_if(columns.begin(), columns.end(),
                                    [key](const OurColumn& column) { return column.key == key; });
    return found == columns.end() ? nullptr : &*found;
}

bool ColumnMapping::fits(const std::vector<std::string>& header) const {
    return !uses.empty() && std::all_of(uses.begin(), uses.end(), [&](const ColumnUse& use) {
        return std::find(header.begin(), header.end(), use.theirs) != header.end();
    });
}

Outcome<ForeignTable> read_foreign_table(std::string_view bytes) {
    Outcome<DelimitedTable> table = read_delimited(bytes, 0, OtherText::IsMissing);
    Outcome<ForeignTable> out;
    out.findings = std::move(table.findings);
    out.value = {std::move(table.value.header), std::move(table.value.columns)};
    return out;
}

ColumnMapping guess_mapping(const std::vector<std::string>& header) {
    ColumnMapping out;
    std::set<std::string> taken;
    for (const std::string& theirs : header) {
        const std::string text = in_words(theirs);
        const std::string ours = find_our_column(theirs) != nullptr ? theirs : key_of_guess(text);
        if (find_our_column(ours) != nullptr && taken.insert(ours).second)
            out.uses.push_back({theirs, ours, theirs == ours ? 1.0 : factor_of_guess(text, ours)});
    }
    return out;
}

Outcome<std::string> map_table(std::string_view bytes, const ColumnMapping& mapping) {
    Outcome<std::string> out;
    Outcome<DelimitedTable> read = read_delimited(bytes, 0, OtherText::IsMissing);
    out.findings = std::move(read.findings);
    if (has_errors(out.findings))
        return out;
    const DelimitedTable& table = read.value;
    std::vector<std::pair<const std::vector<double>*, double>> columns;
    std::string& text = out.value;
    for (const auto& [key, value] : table.comments)
        text += "# " + key + ": " + value + "\n";
    const bool has_time = std::any_of(mapping.uses.begin(), mapping.uses.end(),
                                      [](const ColumnUse& use) { return use.ours == "time_s"; });
    const bool count_rows = !has_time && mapping.rows_hz && *mapping.rows_hz > 0.0;
    std::string header = count_rows ? "time_s" : "";
    for (const ColumnUse& use : mapping.uses) {
        const auto* column = table.find(use.theirs);
        if (column == nullptr) {
            out.add({Severity::Error, "column-absent",
                     "The column \"" + use.theirs + "\" of the mapping is not in this file.",
                     "header row", "Choose the columns anew in the import assistant."});
            return out;
        }
        columns.emplace_back(column, use.factor);
        header += (header.empty() ? "" : ",") + use.ours;
    }
    text += header + "\n";
    for (std::size_t row = 0; row < table.rows(); ++row) {
        std::string line =
            count_rows ? format_number(static_cast<double>(row) / *mapping.rows_hz) : "";
        for (std::size_t i = 0; i < columns.size(); ++i) {
            if (i > 0 || count_rows)
                line += ',';
            line += format_number((*columns[i].first)[row] * columns[i].second);
        }
        text += line + "\n";
    }
    return out;
}

Outcome<MappingStore> MappingStore::load(const std::filesystem::path& path) {
    Outcome<MappingStore> out;
    std::error_code ignored;
    if (!std::filesystem::exists(path, ignored))
        return out;
    const Outcome<std::string> bytes = read_bytes(path);
    if (!bytes.ok()) {
        out.findings = bytes.findings;
        return out;
    }
    out = parse(bytes.value);
    for (Finding& finding : out.findings)
        finding.where = path.string();
    return out;
}

Outcome<MappingStore> MappingStore::parse(std::string_view bytes) {
    Outcome<MappingStore> out;
    const auto json = nlohmann::json::parse(bytes, nullptr, false);
    const auto broken = [&](const std::string& what) {
        out.add({Severity::Error, "mappings-broken", what, "",
                 "Mend it with an editor, or move it away: the assistant then begins anew."});
    };
    if (!json.is_array()) {
        broken("The file of column mappings is not a JSON list.");
        return out;
    }
    for (const auto& entry : json) {
        ColumnMapping mapping;
        if (!entry.is_object() || !entry.contains("columns") || !entry["columns"].is_array()) {
            broken("An entry of the column mappings has no list of columns.");
            continue;
        }
        if (entry.contains("name") && entry["name"].is_string())
            mapping.name = entry["name"].get<std::string>();
        if (entry.contains("rows_hz") && entry["rows_hz"].is_number())
            mapping.rows_hz = entry["rows_hz"].get<double>();
        for (const auto& use : entry["columns"]) {
            const bool whole = use.is_object() && use.contains("theirs") &&
                               use["theirs"].is_string() && use.contains("ours") &&
                               use["ours"].is_string();
            if (!whole || find_our_column(use["ours"].get<std::string>()) == nullptr) {
                broken("A column of the mapping \"" + mapping.name +
                       "\" is not one that can be read.");
                continue;
            }
            const double factor = use.contains("factor") && use["factor"].is_number()
                                      ? use["factor"].get<double>()
                                      : 1.0;
            mapping.uses.push_back(
                {use["theirs"].get<std::string>(), use["ours"].get<std::string>(), factor});
        }
        out.value.mappings_.push_back(std::move(mapping));
    }
    return out;
}

std::filesystem::path MappingStore::user_path() {
    return NameTable::user_path().replace_filename("mappings.json");
}

const ColumnMapping* MappingStore::find_for(std::string_view bytes) const {
    if (mappings_.empty() ||
        without_mark(bytes).substr(0, 4096).find('\0') != std::string_view::npos)
        return nullptr;
    // The header alone: the first line that is no comment, and one row so that it is a table.
    std::string_view text = without_mark(bytes);
    std::size_t end = 0;
    int lines = 0;
    while (lines < 2 && end < text.size()) {
        const std::size_t begin = end;
        end = std::min(text.find('\n', begin), text.size() - 1) + 1;
        const std::string_view line = trimmed(text.substr(begin, end - begin));
        lines += line.empty() || line.front() == '#' ? 0 : 1;
    }
    const Outcome<DelimitedTable> head =
        read_delimited(text.substr(0, end), 0, OtherText::IsMissing);
    const ColumnMapping* best = nullptr;
    for (const ColumnMapping& mapping : mappings_)
        if (mapping.fits(head.value.header) &&
            (best == nullptr || mapping.uses.size() > best->uses.size()))
            best = &mapping;
    return best;
}

void MappingStore::put(ColumnMapping mapping) {
    const auto same = [&](const ColumnMapping& other) { return other.name == mapping.name; };
    mappings_.erase(std::remove_if(mappings_.begin(), mappings_.end(), same), mappings_.end());
    mappings_.push_back(std::move(mapping));
}

std::vector<Finding> MappingStore::save(const std::filesystem::path& path) const {
    nlohmann::json json = nlohmann::json::array();
    for (const ColumnMapping& mapping : mappings_) {
        nlohmann::json entry{{"name", mapping.name}, {"columns", nlohmann::json::array()}};
        if (mapping.rows_hz)
            entry["rows_hz"] = *mapping.rows_hz;
        for (const ColumnUse& use : mapping.uses)
            entry["columns"].push_back(
                {{"theirs", use.theirs}, {"ours", use.ours}, {"factor", use.factor}});
        json.push_back(std::move(entry));
    }
    std::error_code ignored;
    std::filesystem::create_directories(path.parent_path(), ignored);
    return write_bytes(path, json.dump(2, ' ', false, nlohmann::json::error_handler_t::replace));
}

} // namespace kite::formats
