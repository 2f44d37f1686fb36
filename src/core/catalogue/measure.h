#pragma once

#include "core/catalogue/quantity.h"
#include "core/catalogue/topic.h"

#include <string_view>
#include <vector>

namespace kite {

/// A single number of a swing. One entry here puts it into the JSON, the measures CSV, comparisons
/// of sets, and the help; with `headline` among the differences of two swings too.
struct Measure {
    const char* key;        ///< its place in the JSON, with dots: "tempo.ratio"
    const char* name;       ///< in words
    const char* short_name; ///< where there is little room
    const char* unit;       ///< of the value
    int decimals;           ///< on screen and in tables
    double worthwhile; ///< smallest change worth having, in the unit (common practice, no source)
    const char* topic; ///< its explanation
    bool headline;
    /// By the motion alone.
    Measured (*plain)(const Analysis& analysis);

    /// With what hangs on things taken as given (Analysis::also).
    Measured of(const Analysis& analysis) const;
};
const std::vector<Measure>& all_measures();
/// One entry more while this lives, for tests of what walks the catalogue. Not while other threads
/// read it.
class ExtraMeasure {
public:
    explicit ExtraMeasure(const Measure& measure);
    ~ExtraMeasure();
    ExtraMeasure(const ExtraMeasure&) = delete;
    ExtraMeasure& operator=(const ExtraMeasure&) = delete;
};
/// nullptr: there is none.
const Measure* find_measure(std::string_view key);

/// The explanation of a topic, a quantity or a measure, by its key; nullptr: nobody wrote about it.
const Topic* find_topic_for(std::string_view key);

} // namespace kite
