#include "formats/results/series_csv.h"

#include "core/catalogue/quantity.h"
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
    const auto add = [&](const std::string& name, const Curve& curve, double factor) {
        if (curve.empty())
            return;
        columns.push_back({name, &curve, factor});
        frames = std::max(frames, curve.size());
    };
    for (const Quantity& quantity : all_quantities())
        add(quantity.file_key, quantity.curve(analysis), quantity.per_file_unit);

    std::string out = "time_s";
    for (const Column& column : columns)
        out += "," + column.name;
    out += "\r\n";
    for (std::size_t i = 0; i < frames; ++i) {
        out += fixed(static_cast<double>(i) / analysis.rate_hz, 6);
        for (const Column& column : columns)
            out += "," + (i < column.curve->size()
                              ? fixed(column.curve->values()[i] * column.factor, 4)
                              : std::string());
        out += "\r\n";
    }
    return out;
}

} // namespace kite::formats
