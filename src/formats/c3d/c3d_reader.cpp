#include "core/measures/analyse.h"
#include "formats/c3d/c3d.h"
#include "formats/text/numbers.h"

#include <cmath>

namespace kite::formats {

using Severity = Finding::Severity;

namespace {

/// Metres in one of the file's units; empty if it is not known.
std::optional<double> metres_in(const std::string& unit) {
    const std::string name = lower_case(unit);
    if (name == "mm")
        return 0.001;
    if (name == "cm")
        return 0.01;
    if (name == "m")
        return 1.0;
    if (name == "in")
        return 0.0254;
    return std::nullopt;
}

/// 2539 → "2,539".
std::string grouped(std::size_t value) {
    std::string text = std::to_string(value);
    for (std::size_t i = text.size(); i > 3; i -= 3)
        text.insert(i - 3, ",");
    return text;
}

} // namespace

int c3d_sureness(std::string_view bytes, const std::filesystem::path& path) {
    if (bytes.size() >= 512 && bytes[1] == '\x50' && bytes[0] >= 2 &&
        bytes.substr(0, 512).find('\0') != std::string_view::npos)
        return 90;
    return lower_case(path.extension().string()) == ".c3d" ? 60 : 0;
}

Outcome<MarkerTake> markers_from_c3d(const C3dFile& file, const ReadOptions& options) {
    Outcome<MarkerTake> out;
    MarkerTake& markers = out.value;
    markers.rate_hz = file.rate_hz;
    markers.frames = file.frames;
    markers.labels = file.labels;
    markers.tracks_m = file.points;
    std::optional<double> unit_m = metres_in(file.unit);
    if (!unit_m) {
        unit_m = 0.001;
        out.add({Severity::Warning, "unit-unknown",
                 "The unit of length \"" + file.unit + "\" is not known; millimetres were assumed.",
                 "parameter POINT:UNITS", "Export with mm or m."});
    }
    for (auto& track : markers.tracks_m)
        for (auto& p : track)
            p *= *unit_m;
    markers.handed = options.handed.value_or(
        find_handedness(lower_case(file.find_text("KITE_HINGE:HANDED").value_or("")))
            .value_or(Handedness::Right));
    markers.club = options.club.value_or(
        find_club_kind(lower_case(file.find_text("KITE_HINGE:CLUB").value_or("")))
            .value_or(ClubKind::Iron));
    return out;
}

Outcome<Take> read_c3d(std::string_view bytes, const ReadOptions& options) {
    Outcome<Take> out;
    const Outcome<C3dFile> file = parse_c3d(bytes);
    out.findings = file.findings;
    if (!file.ok())
        return out;
    Outcome<MarkerTake> markers = markers_from_c3d(file.value, options);
    out.findings.insert(out.findings.end(), markers.findings.begin(), markers.findings.end());

    const bool club = static_cast<int>(markers.value.find("CLB1") != nullptr) +
                          static_cast<int>(markers.value.find("CLB2") != nullptr) +
                          static_cast<int>(markers.value.find("CLB3") != nullptr) >=
                      2;
    if (!club) {
        out.add(
            {Severity::Error, "markers-missing",
             std::to_string(file.value.labels.size()) + " points, " + grouped(file.value.frames) +
                 " frames at " + format_number(file.value.rate_hz) +
                 " Hz were read, but not the markers that a swing needs: missing are " +
                 missing_markers(markers.value) + ".",
             "parameter POINT:LABELS", "Rename the markers to these names, or capture with them."});
        return out;
    }
    AxisHints hints = options.axes;
    if (!hints.up)
        hints.up = find_axis(file.value.find_text("POINT:Y_SCREEN").value_or(""));
    const Outcome<LabAxes> axes = find_lab_axes(markers.value, hints);
    out.findings.insert(out.findings.end(), axes.findings.begin(), axes.findings.end());
    if (!axes.ok())
        return out;
    rotate_to_lab(markers.value, axes.value);
    Outcome<Take> take = take_from_markers(markers.value);
    out.value = std::move(take.value);
    out.findings.insert(out.findings.end(), take.findings.begin(), take.findings.end());
    return out;
}

} // namespace kite::formats
