#pragma once

#include "core/measures/analyse.h"

#include <cmath>
#include <string>
#include <string_view>
#include <vector>

namespace kite {

/// A value with its standard uncertainty; either is NaN where it is not known.
struct Measured {
    double value = kMissing;
    double u = kMissing;
};

/// What `of` gives of a swing, with its uncertainty: its own, and once, of the whole of it, by how
/// much it differs over what was taken as given (Analysis::also). `of` itself adds nothing of
/// these.
template <class Of>
Measured with_spread(const Analysis& analysis, const Of& of) {
    Measured out = of(analysis);
    if (analysis.also.empty())
        return out;
    if (analysis.alone)
        out.u = of(*analysis.alone).u;
    // What is not known stays so.
    out.u = std::hypot(out.u, analysis.spread([&](const Analysis& a) { return of(a).value; }));
    return out;
}

/// Something that has a value at every moment of a swing. One entry here puts it into the positions
/// of the JSON, the time series, the table of moments, the body strip and the help.
struct Quantity {
    const char* key;        ///< "pelvis_sway", as it is remembered and asked for
    const char* file_key;   ///< in files, with its unit: "pelvis_sway_cm"
    const char* name;       ///< "Pelvis sway"
    const char* short_name; ///< above a column
    const char* unit;       ///< of the curve: "m", "°", "%", "°/s", or none
    double per_file_unit;   ///< what the file's unit is times as small: 100 for cm of metres
    int decimals;           ///< on screen
    const char* up;         ///< what the positive direction is called, at an axis; may be empty
    const char* down;
    const char* topic; ///< its explanation
    enum class Shown {
        Everywhere,
        OwnChart, ///< has a chart of its own: not in the body strip
        FilesOnly ///< in files alone
    } shown;
    /// An empty curve where the source does not give it.
    const Curve& (*curve)(const Analysis& analysis);
    /// Standard uncertainty of the curve's values, without that of the time; NaN: not known.
    double (*own_u)(const Analysis& analysis);

    /// With what hangs on things taken as given (Analysis::also), as it is from the top to impact.
    double u(const Analysis& analysis) const;
};
const std::vector<Quantity>& all_quantities();
/// nullptr: there is none.
const Quantity* find_quantity(std::string_view key);

/// At a moment, whose own uncertainty counts by the curve's slope; without alternatives.
Measured own_at_moment(const Quantity& quantity, const Analysis& analysis, Moment moment);
/// With them.
Measured at_moment(const Quantity& quantity, const Analysis& analysis, Moment moment);

/// "sway_cm" → "sway_u_cm": the key of an uncertainty, beside that of its value.
std::string uncertainty_key(std::string_view key);

} // namespace kite
