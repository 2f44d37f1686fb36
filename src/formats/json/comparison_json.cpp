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

Json further_of(const FurtherSwings& further) {
    if (!std::isfinite(further.likely))
        return nullptr;
    return {{"likely", further.likely}, {"low", further.low}, {"high", further.high}};
}

} // namespace

std::string to_json(const Comparison& comparison) {
    Json measures = Json::array();
    for (const MeasureChange& change : comparison.measures)
        measures.push_back({{"key", change.measure->key},
                            {"unit", change.measure->unit},
                            {"before", summary_of(change.before)},
                            {"after", summary_of(change.after)},
                            {"change", change.change.difference},
                            {"low", change.change.low},
                            {"high", change.change.high},
                            {"level", change.level},
                            {"p", change.change.p},
                            {"worthwhile", change.measure->worthwhile},
                            {"lag_one", change.lag_one},
                            {"session_sd", change.session_sd},
                            {"verdict", word_of(change.verdict)},
                            {"size", change.size ? Json(word_of(*change.size)) : Json(nullptr)},
                            {"further_swings", further_of(change.to_show)},
                            {"further_to_exclude", further_of(change.to_exclude)},
                            {"question", change.is_question}});
    const auto set = [](std::size_t n, std::size_t distinct) {
        return Json{{"n", n}, {"distinct", distinct}};
    };
    return Json{
        {"question", comparison.question.empty() ? Json(nullptr) : Json(comparison.question)},
        {"sets",
         {{"before", set(comparison.before_n, comparison.before_distinct)},
          {"after", set(comparison.after_n, comparison.after_distinct)}}},
        {"in_both", comparison.in_both},
        {"sessions", word_of(comparison.sessions)},
        {"sessions_said", comparison.sessions_said},
        {"measures", measures}}
        .dump();
}

} // namespace kite::formats
