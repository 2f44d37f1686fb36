#include "formats/text/series_csv.h"

#include "core/base/units.h"
#include "formats/text/numbers.h"

#include <vector>

namespace kite::formats {

std::string to_series_csv(const Analysis& analysis) {
    struct Column {
        std::string name;
        const Curve* curve;
        double factor;
    };
    std::vector<Column> columns;
    std::size_t frames = 0;
    const auto add = [&](const std::string& name, const Curve& curve, double factor = 1.0) {
        if (curve.empty())
            return;
        columns.push_back({name, &curve, factor});
        frames = std::max(frames, curve.size());
    };
    for (Segment segment : kSequence)
        add(std::string(key_of(segment)) + "_rate_deg_s", analysis.rate_deg_s[index_of(segment)]);
    for (const auto& [segment, trunk] : analysis.trunk) {
        const std::string key(key_of(segment));
        add(key + "_turn_deg", trunk.angles.turn_deg);
        add(key + "_side_tilt_deg", trunk.angles.side_tilt_deg);
        add(key + "_forward_bend_deg", trunk.angles.forward_bend_deg);
        add(key + "_sway_cm", trunk.sway_m, cm_from_m(1.0));
        add(key + "_depth_cm", trunk.depth_m, cm_from_m(1.0));
        add(key + "_lift_cm", trunk.lift_m, cm_from_m(1.0));
    }
    add("separation_deg", analysis.separation_deg);
    add("hinge_deg", analysis.wrist_hinge_deg);
    add("lead_knee_flex_deg", analysis.legs.lead_knee_flex_deg);
    add("lead_pressure_pct", analysis.pressure.lead_pct);
    add("hinge_along", analysis.hinge_path.along);
    add("hinge_behind_cm", analysis.hinge_path.behind_m, cm_from_m(1.0));

    std::string out = "time_s";
    for (const Column& column : columns)
        out += "," + column.name;
    out += "\r\n";
    for (std::size_t i = 0; i < frames; ++i) {
        out += format_fixed(static_cast<double>(i) / analysis.rate_hz, 6);
        for (const Column& column : columns)
            out += "," + (i < column.curve->size()
                              ? format_fixed(column.curve->values()[i] * column.factor, 4)
                              : std::string());
        out += "\r\n";
    }
    return out;
}

} // namespace kite::formats
