#include "formats/markers/marker_file.h"

#include "core/measures/analyse.h"
#include "core/measures/marker_take.h"
#include "formats/names/name_table.h"
#include "formats/text/numbers.h"

#include <set>

namespace kite::formats {

using Severity = Finding::Severity;

namespace {

/// 2539 → "2,539".
std::string grouped(std::size_t value) {
    std::string text = std::to_string(value);
    for (std::size_t i = text.size(); i > 3; i -= 3)
        text.insert(i - 3, ",");
    return text;
}

/// Labels in our names where the table knows them; a name that is taken is not given twice.
void rename(MarkerTake& markers, const NameTable& table, std::vector<Finding>& findings) {
    std::set<std::string> taken;
    std::vector<std::optional<std::string>> ours;
    for (const std::string& label : markers.labels)
        ours.push_back(table.find_marker(label));
    // A label that already is one of ours comes before another that would become it.
    for (std::size_t i = 0; i < ours.size(); ++i)
        if (ours[i] && markers.labels[i] == *ours[i])
            taken.insert(*ours[i]);
    std::string renamed;
    for (std::size_t i = 0; i < ours.size(); ++i) {
        if (!ours[i] || markers.labels[i] == *ours[i] || !taken.insert(*ours[i]).second)
            continue;
        if (markers.labels[i].find(*ours[i]) == std::string::npos)
            renamed += (renamed.empty() ? "" : ", ") + markers.labels[i] + " as " + *ours[i];
        markers.labels[i] = *ours[i];
    }
    if (!renamed.empty())
        findings.push_back({Severity::Note, "markers-renamed",
                            "Markers were read by other names: " + renamed + ".", "",
                            "If one is wrong, say it in your table of names."});
}

Finding markers_missing(std::size_t points, std::size_t frames, double rate_hz,
                        const std::string& missing) {
    return {
        Severity::Error, "markers-missing",
        grouped(points) + " points, " + grouped(frames) + " frames at " + format_number(rate_hz) +
            " Hz were read, but not the markers that a swing needs: missing are " + missing + ".",
        "marker labels", "Rename the markers to these names, or capture with them."};
}

} // namespace

Outcome<Take> take_from_marker_file(Outcome<MarkerTake> file, const AxisHints& hints,
                                    const ReadOptions& options) {
    Outcome<Take> out;
    out.findings = std::move(file.findings);
    if (has_errors(out.findings))
        return out;
    MarkerTake& markers = file.value;
    rename(markers, options.names ? *options.names : NameTable::shipped(), out.findings);

    // The club will do, or an arm, or the whole trunk; a torso alone is no swing.
    const std::string side = markers.handed == Handedness::Left ? "R" : "L";
    const auto has = [&](const std::string& label) { return markers.find(label) != nullptr; };
    const int club = static_cast<int>(has("CLB1")) + static_cast<int>(has("CLB2")) +
                     static_cast<int>(has("CLB3"));
    const bool arm = has(side + "SHO") && has(side + "WRA") && has(side + "WRB");
    const bool trunk = (has("LASI") && has("RASI") && has("LPSI") && has("RPSI")) &&
                       (has("C7") && has("T10") && has("CLAV") && has("STRN"));
    const std::string missing = missing_markers(markers);
    if (club < 2 && !arm && !trunk) {
        out.add(markers_missing(markers.labels.size(), markers.frames, markers.rate_hz, missing));
        return out;
    }
    const std::size_t points = markers.labels.size();
    const std::size_t frames = markers.frames;
    const double rate_hz = markers.rate_hz;
    Outcome<Take> take = take_from_file_markers(std::move(markers), hints);
    // Where even the axes cannot be told, what is missing is the better answer.
    if (!take.ok() && !missing.empty()) {
        out.add(markers_missing(points, frames, rate_hz, missing));
        return out;
    }
    out.value = std::move(take.value);
    out.findings.insert(out.findings.end(), take.findings.begin(), take.findings.end());
    return out;
}

} // namespace kite::formats
