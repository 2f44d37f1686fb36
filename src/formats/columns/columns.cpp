#include "formats/columns/columns.h"

#include "core/base/units.h"
#include "core/motion/rotation.h"
#include "formats/columns/table_take.h"
#include "formats/text/delimited.h"
#include "formats/text/numbers.h"

#include <algorithm>
#include <cmath>
#include <limits>

namespace kite::formats {

using Severity = Finding::Severity;

namespace {

std::string_view first_lines(std::string_view bytes) {
    return without_mark(bytes).substr(0, 65536);
}

/// Do turns that are called degrees make a swing only as radians? A torso or club in a swing turns
/// through more than 50°, and through less than twice round.
bool are_radians(const DelimitedTable& table, const std::string& suffix) {
    constexpr double kLeastSwing_deg = 50.0;
    constexpr double kMostSwing_deg = 800.0;
    int parts = 0;
    for (Segment segment : kSequence) {
        // Whichever of its angles turns furthest: an arm may turn about its own axes.
        double turned = -1.0;
        for (const char* angle : {"_turn", "_side_tilt", "_forward_bend"}) {
            const auto* column = table.find(std::string(key_of(segment)) + angle + suffix);
            if (column == nullptr)
                continue;
            double low = std::numeric_limits<double>::infinity();
            double high = -low;
            for (double value : *column)
                if (std::isfinite(value)) {
                    low = std::min(low, value);
                    high = std::max(high, value);
                }
            turned = std::max(turned, high - low);
        }
        if (turned < 0.0)
            continue;
        if (!(turned < 0.3 * kLeastSwing_deg) || !(deg_from_rad(turned) > kLeastSwing_deg) ||
            !(deg_from_rad(turned) < kMostSwing_deg))
            return false;
        ++parts;
    }
    return parts > 0;
}

/// Angle columns of a table into orientations. `factor` takes the file's unit to degrees.
Outcome<Take> take_from_angles(const DelimitedTable& table, const std::string& suffix,
                               double factor, const ReadOptions& options) {
    TableTake reader(table, options);
    if (!reader.usable())
        return reader.give_up();
    if (suffix == "_deg" && are_radians(table, suffix)) {
        factor = deg_from_rad(1.0);
        reader.add({Severity::Warning, "radians-mended",
                    "The angles are in radians (in degrees nothing would turn as in a swing); they "
                    "were converted.",
                    "angle columns", "Give them in degrees."});
    }
    for (Segment segment : kAllSegments) {
        const std::string key(key_of(segment));
        const auto* turn = table.find(key + "_turn" + suffix);
        const auto* tilt = table.find(key + "_side_tilt" + suffix);
        const auto* bend = table.find(key + "_forward_bend" + suffix);
        if (turn == nullptr) {
            if (tilt != nullptr || bend != nullptr)
                reader.add(
                    {Severity::Warning, "turn-missing",
                     "There are tilt or bend of " + key + " but no turn; they were not used.",
                     "header row", "Add the column " + key + "_turn" + suffix + "."});
            continue;
        }
        if (tilt == nullptr || bend == nullptr)
            reader.add({Severity::Note, "angles-assumed",
                        "Tilt or bend of " + key + " is not given; zero was assumed.", "header row",
                        "Rotation speeds about the part's own axis need them."});
        PoseSeries series;
        series.q_lab_segment.assign(table.rows(), missing_rotation());
        for (std::size_t i = 0; i < table.rows(); ++i) {
            const auto value = [&](const std::vector<double>* column) {
                return column == nullptr ? 0.0 : rad_from_deg((*column)[i] * factor);
            };
            const BodyAngles angles{value(turn), value(tilt), value(bend)};
            if (std::isfinite(angles.turn_rad + angles.side_tilt_rad + angles.forward_bend_rad))
                series.q_lab_segment[i] = rotation_of(angles);
        }
        reader.take().segments[segment] = std::move(series);
        reader.take().source = Source::Angles;
    }
    return reader.finish("Name them pelvis_turn" + suffix + " and so on.");
}

} // namespace

int angles_csv_sureness(std::string_view bytes, const std::filesystem::path& /*path*/) {
    return first_lines(bytes).find("_turn_deg") != std::string_view::npos ? 70 : 0;
}

Outcome<Take> read_angles_csv(std::string_view bytes, const ReadOptions& options) {
    Outcome<DelimitedTable> table = read_delimited(bytes);
    if (!table.ok())
        return {{}, std::move(table.findings)};
    Outcome<Take> out = take_from_angles(table.value, "_deg", 1.0, options);
    out.findings.insert(out.findings.begin(), table.findings.begin(), table.findings.end());
    return out;
}

int rates_csv_sureness(std::string_view bytes, const std::filesystem::path& /*path*/) {
    return first_lines(bytes).find("_rate_deg_s") != std::string_view::npos ? 70 : 0;
}

Outcome<Take> read_rates_csv(std::string_view bytes, const ReadOptions& options) {
    Outcome<DelimitedTable> table = read_delimited(bytes);
    if (!table.ok())
        return {{}, std::move(table.findings)};
    TableTake reader(table.value, options);
    if (!reader.usable())
        return reader.give_up();
    for (Segment segment : kSequence)
        if (const auto* rate = table.value.find(std::string(key_of(segment)) + "_rate_deg_s")) {
            reader.take().rates_deg_s[segment] = *rate;
            reader.take().source = Source::Rates;
        }
    Outcome<Take> out = reader.finish("Name them pelvis_rate_deg_s and so on.");
    out.findings.insert(out.findings.begin(), table.findings.begin(), table.findings.end());
    return out;
}

int storage_sureness(std::string_view bytes, const std::filesystem::path& path) {
    // A text: no zero bytes, so that binary files are not searched at length.
    const std::string_view head = first_lines(bytes);
    if (head.find('\0') == std::string_view::npos &&
        lower_case(head).find("endheader") != std::string::npos)
        return 85;
    const std::string extension = lower_case(path.extension().string());
    return extension == ".sto" || extension == ".mot" ? 50 : 0;
}

Outcome<Take> read_storage(std::string_view bytes, const ReadOptions& options) {
    Outcome<Take> out;
    const std::string_view text = without_mark(bytes);
    bool in_degrees = true;
    std::size_t line_number = 0;
    std::size_t at = 0;
    bool ended = false;
    while (at < text.size() && !ended) {
        const auto end = std::min(text.find('\n', at), text.size());
        const std::string line = lower_case(trimmed(text.substr(at, end - at)));
        ++line_number;
        at = std::min(end + 1, text.size());
        if (line.rfind("indegrees", 0) == 0)
            in_degrees = line.find("no") == std::string::npos;
        ended = line == "endheader";
    }
    if (!ended) {
        out.add({Severity::Error, "no-endheader", "The line \"endheader\" is missing.",
                 "line " + std::to_string(line_number),
                 "STO and MOT files have it before the column names."});
        return out;
    }
    Outcome<DelimitedTable> table = read_delimited(text.substr(at), line_number);
    if (!table.ok())
        return {{}, std::move(table.findings)};
    for (std::string& name : table.value.header)
        if (name == "time")
            name = "time_s";
    const bool with_unit = table.value.find("pelvis_turn_deg") != nullptr ||
                           table.value.find("torso_turn_deg") != nullptr ||
                           table.value.find("club_turn_deg") != nullptr;
    out = take_from_angles(table.value, with_unit ? "_deg" : "",
                           in_degrees || with_unit ? 1.0 : deg_from_rad(1.0), options);
    out.findings.insert(out.findings.begin(), table.findings.begin(), table.findings.end());
    return out;
}

} // namespace kite::formats
