#include "formats/text/metadata.h"

#include "core/base/median.h"
#include "core/motion/plausible.h"
#include "formats/text/numbers.h"

#include <algorithm>
#include <cmath>

namespace kite::formats {

using Severity = Finding::Severity;

std::string comment_place(const DelimitedTable& table, std::string_view key) {
    for (std::size_t i = 0; i < table.comments.size(); ++i)
        if (table.comments[i].first == key)
            return "line " + std::to_string(table.comment_lines[i]) + ", " + std::string(key);
    return std::string(key);
}

Outcome<Metadata> read_metadata(const DelimitedTable& table, const ReadOptions& options) {
    Outcome<Metadata> out;
    Metadata& data = out.value;
    const bool decimal_comma = table.delimiter != ',';
    const auto fail = [&](const char* code, const std::string& what, std::string_view key,
                          const char* mend) {
        out.add({Severity::Error, code, what, comment_place(table, key), mend});
    };
    if (const auto text = table.find_comment("handed")) {
        const auto handed = find_handedness(lower_case(*text));
        if (!handed)
            fail("bad-handed", "\"" + *text + "\" is neither right nor left.", "handed",
                 "Write right or left.");
        data.handed = handed.value_or(Handedness::Right);
        data.handed_said = true;
    }
    if (const auto text = table.find_comment("club")) {
        const auto club = find_club_kind(lower_case(*text));
        if (!club)
            fail("bad-club", "\"" + *text + "\" is not a kind of club.", "club",
                 "Write driver, wood, iron or wedge.");
        data.club = club.value_or(ClubKind::Iron);
        data.club_said = true;
    }
    if (options.handed) {
        data.handed = *options.handed;
        data.handed_said = true;
    }
    if (options.club) {
        data.club = *options.club;
        data.club_said = true;
    }
    if (const auto text = table.find_comment("rate_hz")) {
        data.rate_hz = parse_number(*text, decimal_comma);
        if (!data.rate_hz || !(*data.rate_hz > 0.0) || !std::isfinite(*data.rate_hz))
            fail("bad-rate", "\"" + *text + "\" is not a rate in frames a second.", "rate_hz",
                 "Give a number, for instance 240.");
    }
    if (const auto text = table.find_comment("contact_s")) {
        data.contact_s = parse_number(*text, decimal_comma);
        if (!data.contact_s)
            fail("bad-contact", "\"" + *text + "\" is not a time in seconds.", "contact_s",
                 "Give the time of contact in seconds.");
    }
    return out;
}

Outcome<std::vector<double>> read_times(const DelimitedTable& table, const Metadata& metadata) {
    Outcome<std::vector<double>> out;
    const auto* column = table.find("time_s");
    const bool empty =
        column != nullptr && table.rows() > 0 &&
        std::none_of(column->begin(), column->end(), [](double t) { return std::isfinite(t); });
    if (column == nullptr || empty) {
        if (!metadata.rate_hz) {
            out.add({Severity::Error, "columns-missing", "The column time_s is missing.",
                     "header row",
                     "Add the time of each row in seconds, or the rate in a comment: # rate_hz: "
                     "240."});
            return out;
        }
        out.value.resize(table.rows());
        for (std::size_t i = 0; i < out.value.size(); ++i)
            out.value[i] = static_cast<double>(i) / *metadata.rate_hz;
        out.add({Severity::Note, "times-from-rate",
                 "There are no times; the rows were taken as even at the rate given (" +
                     format_number(*metadata.rate_hz) + " Hz).",
                 comment_place(table, "rate_hz"), ""});
        return out;
    }
    out.value = *column;
    // The middle step tells the unit: no swing was ever recorded at a frame a second.
    std::vector<double> steps;
    for (std::size_t i = 1; i < column->size(); ++i)
        if (const double step = (*column)[i] - (*column)[i - 1]; step > 0.0)
            steps.push_back(step);
    if (steps.size() < 8)
        return out;
    const double middle = median_of(steps);
    const double rate_hz = 1.0 / middle;
    if (plausible::kRate_hz.holds(rate_hz))
        return out;
    struct Unit {
        double seconds;
        const char* words;
    };
    for (const Unit& unit : {Unit{1e-3, "milliseconds"}, Unit{1e-6, "microseconds"}}) {
        const double meant_hz = rate_hz / unit.seconds;
        const bool fits = metadata.rate_hz ? std::abs(meant_hz / *metadata.rate_hz - 1.0) < 0.05
                                           : plausible::kRate_hz.holds(meant_hz);
        if (!fits)
            continue;
        for (double& t : out.value)
            t *= unit.seconds;
        out.add({Severity::Warning, "time-unit-mended",
                 std::string("The times are in ") + unit.words + ", not seconds (" +
                     format_number(rate_hz) +
                     " frames a second record no swing); they were converted.",
                 "column time_s", "Give the times in seconds."});
        return out;
    }
    // Numbers of frames, with the rate beside them.
    if (metadata.rate_hz && std::abs(middle - 1.0) < 1e-6) {
        for (double& t : out.value)
            t /= *metadata.rate_hz;
        out.add({Severity::Warning, "time-unit-mended",
                 "The times count frames, not seconds; they were divided by the rate given.",
                 "column time_s", "Give the times in seconds."});
    }
    return out;
}

std::optional<double> contact_within(const DelimitedTable& table, const Metadata& metadata,
                                     const std::vector<double>& times_s,
                                     std::vector<Finding>& findings) {
    if (!metadata.contact_s ||
        (*metadata.contact_s >= times_s.front() && *metadata.contact_s <= times_s.back()))
        return metadata.contact_s;
    findings.push_back({Severity::Warning, "contact-outside",
                        "The contact mark lies outside the recording and was not used.",
                        comment_place(table, "contact_s"),
                        "Give it on the clock of the time_s column."});
    return std::nullopt;
}

} // namespace kite::formats
