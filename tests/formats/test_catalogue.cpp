// One catalogue: what is in it is in the JSON, the CSVs, comparisons, the help and the documents.

#include "core/catalogue/measure.h"
#include "core/measures/marker_take.h"
#include "core/sets/comparison.h"
#include "formats/json/analysis_json.h"
#include "formats/results/catalogue_markdown.h"
#include "formats/results/measures_csv.h"
#include "formats/results/series_csv.h"
#include "formats/rules/rules_json.h"
#include "simulate/simulate.h"
#include "support/temporary_folder.h"

#include <gtest/gtest.h>
#include <nlohmann/json.hpp>

#include <algorithm>
#include <cmath>
#include <set>

using namespace kite;
using namespace kite::formats;
using Json = nlohmann::json;

namespace {

/// A swing with everything: markers, and a force plate under each foot.
Analysis whole_swing(std::uint32_t seed = 1, double noise_mm = 0.4) {
    simulate::SwingParameters parameters;
    parameters.seed = seed;
    parameters.noise_mm = noise_mm;
    return analyse(take_from_markers(simulate::make_markers(parameters)).value, {}).value;
}

Json json_of(const Analysis& analysis) {
    return Json::parse(
        to_json("swing", analysis, read_swing(analysis, formats::plain_rules()), {}));
}

/// "a.b.c" → /a/b/c
const Json* at_key(const Json& json, std::string key) {
    const Json* at = &json;
    for (std::size_t dot = 0; dot != std::string::npos;) {
        dot = key.find('.');
        const std::string name = key.substr(0, dot);
        if (!at->is_object() || !at->contains(name))
            return nullptr;
        at = &(*at)[name];
        key = dot == std::string::npos ? "" : key.substr(dot + 1);
    }
    return at;
}

} // namespace

TEST(Catalogue, EveryMeasureStandsInTheJsonByItsKeyWithItsUncertainty) {
    const Analysis analysis = whole_swing();
    const Json json = json_of(analysis);
    int sure = 0;
    for (const Measure& measure : all_measures()) {
        const Json* value = at_key(json, measure.key);
        ASSERT_NE(value, nullptr) << measure.key;
        const Measured measured = measure.of(analysis);
        if (std::isfinite(measured.value)) {
            EXPECT_DOUBLE_EQ(value->get<double>(), measured.value) << measure.key;
        } else {
            EXPECT_TRUE(value->is_null()) << measure.key;
        }
        const Json* u = at_key(json, uncertainty_key(measure.key));
        ASSERT_EQ(u != nullptr, std::isfinite(measured.value) && std::isfinite(measured.u))
            << measure.key;
        if (u != nullptr) {
            EXPECT_GT(u->get<double>(), 0.0) << measure.key;
            ++sure;
        }
    }
    EXPECT_GT(sure, 25);
}

TEST(Catalogue, EveryQuantityStandsAtEveryMomentAndInTheTimeSeries) {
    const Analysis analysis = whole_swing();
    const Json json = json_of(analysis);
    const std::string series = to_series_csv(analysis);
    const std::string header = "," + series.substr(0, series.find('\r')) + ",";
    for (const Quantity& quantity : all_quantities()) {
        for (Moment moment : kAllMoments)
            EXPECT_TRUE(json["positions"][std::string(key_of(moment))].contains(quantity.file_key))
                << quantity.key;
        EXPECT_EQ(header.find("," + std::string(quantity.file_key) + ",") != std::string::npos,
                  !quantity.curve(analysis).empty())
            << quantity.key;
    }
}

TEST(Catalogue, CsvComparisonAndHelpKnowEveryEntry) {
    const std::string header = measures_csv_header();
    std::set<std::string> keys;
    for (const Measure& measure : all_measures()) {
        EXPECT_NE(header.find("," + std::string(measure.key)), std::string::npos) << measure.key;
        EXPECT_TRUE(keys.insert(measure.key).second) << measure.key;
        EXPECT_NE(find_topic_for(measure.key), nullptr) << measure.key;
        EXPECT_GT(measure.worthwhile, 0.0) << measure.key;
    }
    for (const Quantity& quantity : all_quantities()) {
        EXPECT_TRUE(keys.insert(quantity.key).second) << quantity.key;
        EXPECT_NE(find_topic_for(quantity.key), nullptr) << quantity.key;
    }
    EXPECT_EQ(find_topic_for("no such measure"), nullptr);
    const Analysis one = whole_swing();
    EXPECT_EQ(compare_sets({one, one, one}, {one, one}).measures.size(), all_measures().size());
}

// The definition: the uncertainty is the scatter of the measure when the same swing is captured
// again with other noise.
TEST(Catalogue, UncertaintiesAreTheScatterOfRepeatedCaptures) {
    constexpr int kCaptures = 24;
    std::vector<Analysis> captures;
    for (int k = 0; k < kCaptures; ++k)
        captures.push_back(whole_swing(static_cast<std::uint32_t>(k + 1), 1.0));
    for (const char* key : {"positions.impact.pelvis_turn_deg", "separation.at_top_deg",
                            "tempo.downswing_s", "sequence.segments.club.peak_deg_s"}) {
        double sum = 0.0;
        double squares = 0.0;
        double variances = 0.0;
        for (const Analysis& capture : captures) {
            const Measured measured = find_measure(key)->of(capture);
            sum += measured.value;
            squares += measured.value * measured.value;
            variances += measured.u * measured.u;
        }
        const double mean = sum / kCaptures;
        const double scatter = std::sqrt((squares - kCaptures * mean * mean) / (kCaptures - 1));
        const double stated = std::sqrt(variances / kCaptures);
        EXPECT_GT(stated, 0.6 * scatter) << key;
        EXPECT_LT(stated, 4.0 * scatter) << key;
    }
}

TEST(Catalogue, UncertaintyKeysKeepTheUnitLast) {
    EXPECT_EQ(uncertainty_key("peak_deg_s"), "peak_u_deg_s");
    EXPECT_EQ(uncertainty_key("club_head_m_s"), "club_head_u_m_s");
    EXPECT_EQ(uncertainty_key("recentre_lead_ms"), "recentre_lead_u_ms");
    EXPECT_EQ(uncertainty_key("backswing_s"), "backswing_u_s");
    EXPECT_EQ(uncertainty_key("ratio"), "ratio_u");
}

TEST(Catalogue, TheDocumentIsMadeFromIt) {
    const std::string document = test::TemporaryFolder::read(
        std::filesystem::path(KITE_DEMO_FOLDER) / "../../docs/catalogue.md");
    EXPECT_EQ(document, catalogue_markdown()) << "write it again: ./kite docs";
}

// One entry more: it stands everywhere without another line anywhere.
TEST(Catalogue, AMeasureIsOneEntry) {
    const ExtraMeasure extra({"test.twice_tempo", "Twice the tempo", "Twice the tempo", "to 1", 1,
                              0.4, "tempo", true, [](const Analysis& a) {
                                  return Measured{2.0 * a.tempo.ratio, 0.1};
                              }});
    const Analysis analysis = whole_swing();
    const double wanted = 2.0 * analysis.tempo.ratio;

    const Json json = json_of(analysis);
    ASSERT_NE(at_key(json, "test.twice_tempo"), nullptr);
    EXPECT_DOUBLE_EQ(at_key(json, "test.twice_tempo")->get<double>(), wanted);
    EXPECT_DOUBLE_EQ(at_key(json, "test.twice_tempo_u")->get<double>(), 0.1);

    EXPECT_NE(measures_csv_header().find("test.twice_tempo"), std::string::npos);
    EXPECT_NE(measures_csv_row("swing", analysis).find(std::to_string(wanted).substr(0, 4)),
              std::string::npos);
    EXPECT_NE(catalogue_markdown().find("Twice the tempo"), std::string::npos);
    EXPECT_EQ(std::string(find_topic_for("test.twice_tempo")->key), "tempo");

    const Analysis other = whole_swing(2);
    const auto changes = compare_sets({analysis}, {other}).measures;
    EXPECT_TRUE(std::any_of(changes.begin(), changes.end(), [](const auto& change) {
        return std::string(change.measure->key) == "test.twice_tempo";
    }));
}
