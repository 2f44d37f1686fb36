#include "formats/json/comparison_json.h"

#include <nlohmann/json.hpp>

#include <cmath>

namespace kite::formats {

using Json = nlohmann::ordered_json;

namespace {

Json summary_of(const Summary& summary) {
    return {{"n", summary.count},
            {"mean", summary.mean},
            {"sd", summary.sd},
            {"typical_error", summary.typical_error}};
}

} // namespace

std::string to_json(const std::vector<MeasureChange>& changes) {
    Json measures = Json::array();
    for (const MeasureChange& change : changes)
        measures.push_back({{"key", change.measure->key},
                            {"unit", change.measure->unit},
                            {"before", summary_of(change.before)},
                            {"after", summary_of(change.after)},
                            {"change", change.change.difference},
                            {"low", change.change.low},
                            {"high", change.change.high},
                            {"p", change.change.p},
                            {"worthwhile", change.measure->worthwhile},
                            {"verdict", word_of(change.verdict)},
                            {"further_swings", change.further_swings}});
    return Json{{"measures", measures}}.dump();
}

} // namespace kite::formats
