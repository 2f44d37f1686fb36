#include "formats/c3d/c3d.h"
#include "formats/markers/marker_file.h"
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

} // namespace

int c3d_sureness(std::string_view bytes, const std::filesystem::path& path) {
    if (bytes.size() >= 512 && bytes[1] == '\x50' && bytes[0] >= 2 &&
        bytes.substr(0, 512).find('\0') != std::string_view::npos)
        return 90;
    return lower_case(path.extension().string()) == ".c3d" ? 60 : 0;
}

Outcome<MarkerTake> markers_from_c3d(C3dFile file, const ReadOptions& options) {
    Outcome<MarkerTake> out;
    MarkerTake& markers = out.value;
    markers.rate_hz = file.rate_hz;
    markers.frames = file.frames;
    markers.labels = file.labels;
    markers.tracks_m = std::move(file.points);
    markers.up_axis = find_axis(file.find_text("POINT:Y_SCREEN").value_or(""));
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
    for (const C3dFile::Event& event : file.events) {
        const std::string label = lower_case(event.label);
        if (label == "impact" || label == "contact")
            markers.contact_s = event.t_s;
    }
    if (markers.contact_s && (*markers.contact_s < 0.0 || *markers.contact_s * file.rate_hz >
                                                              static_cast<double>(file.frames))) {
        out.add({Severity::Warning, "contact-outside",
                 "The impact event lies outside the recording and was not used.",
                 "parameter EVENT:TIMES", "Event times count from the first frame of the trial."});
        markers.contact_s.reset();
    }
    for (const C3dFile::Platform& platform : file.platforms)
        markers.plates.push_back({*unit_m * platform.centre, platform.vertical});
    const auto handed =
        find_handedness(lower_case(file.find_text("KITE_HINGE:HANDED").value_or("")));
    markers.handed = options.handed.value_or(handed.value_or(Handedness::Right));
    markers.handed_said = options.handed || handed;
    const auto club = find_club_kind(lower_case(file.find_text("KITE_HINGE:CLUB").value_or("")));
    markers.club = options.club.value_or(club.value_or(ClubKind::Iron));
    markers.club_said = options.club || club;
    return out;
}

Outcome<MarkerTake> read_c3d_markers(std::string_view bytes, const ReadOptions& options) {
    Outcome<C3dFile> file = parse_c3d(bytes);
    if (!file.ok())
        return {{}, std::move(file.findings)};
    Outcome<MarkerTake> out = markers_from_c3d(std::move(file.value), options);
    out.findings.insert(out.findings.begin(), file.findings.begin(), file.findings.end());
    return out;
}

Outcome<Take> read_c3d(std::string_view bytes, const ReadOptions& options) {
    Outcome<MarkerTake> markers = read_c3d_markers(bytes, options);
    AxisHints hints = options.axes;
    hints.file_up = markers.value.up_axis;
    return take_from_marker_file(std::move(markers), hints, options);
}

} // namespace kite::formats
