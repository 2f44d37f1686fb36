#include "formats/json/analysis_json.h"
#include "formats/results/analysis_table.h"
#include "formats/rules/rules_json.h"
#include "simulate/planted_faults.h"
#include "simulate/simulate.h"

#include <gtest/gtest.h>
#include <nlohmann/json.hpp>

#include <algorithm>

using namespace kite;
using Json = nlohmann::json;

namespace {

struct Result {
    Analysis analysis;
    Reading reading;
    Json json;
};

Result result_of(const Take& take) {
    const auto analysis = analyse(take, {});
    const Reading reading = read_swing(analysis.value, formats::plain_rules());
    return {
        analysis.value, reading,
        Json::parse(formats::to_json("a \"b\".csv", analysis.value, reading, analysis.findings))};
}

Take faulty_take() {
    simulate::SwingParameters parameters;
    simulate::plant(parameters, "upper-body-first", 1.5);
    return simulate::make_take(parameters);
}

} // namespace

TEST(AnalysisJson, HasEveryKeyAndOneLine) {
    const Result result = result_of(faulty_take());
    const Json& json = result.json;
    for (const char* key :
         {"file",     "rate_hz",    "handed",     "club",      "convention", "events",
          "sequence", "transition", "separation", "positions", "hinge_path", "hips",
          "legs",     "pressure",   "plane",      "wrist",     "speed",      "tempo",
          "faults",   "first_fix",  "warnings"})
        EXPECT_TRUE(json.contains(key)) << key;
    EXPECT_EQ(json["file"], "a \"b\".csv");
    for (const char* moment :
         {"address", "takeaway", "shaft_level_back", "lead_arm_level_back", "top",
          "lead_arm_level_down", "shaft_level_down", "impact", "shaft_level_through"}) {
        ASSERT_TRUE(json["events"][moment].is_object()) << moment;
        EXPECT_TRUE(json["events"][moment]["t"].is_number());
        EXPECT_EQ(json["events"][moment]["moved"], false);
        EXPECT_TRUE(json["positions"][moment]["pelvis_turn_deg"].is_number()) << moment;
    }
    EXPECT_EQ(json["events"]["impact"]["source"], "club_head");
    for (const char* key : {"reversal_t", "peak_deg_s", "peak_t", "peak_t_u", "before_impact_ms",
                            "at_impact_deg_s", "slowdown_pct", "max_accel_deg_s2", "cutoff_hz"})
        EXPECT_TRUE(json["sequence"]["segments"]["club"][key].is_number()) << key;
    EXPECT_TRUE(json["sequence"]["segments"]["pelvis"]["gain"].is_null());
    EXPECT_EQ(json["sequence"]["order"], (Json{"pelvis", "torso", "lead_arm", "club"}));
    EXPECT_EQ(formats::to_json("x", result.analysis, result.reading, {}).find('\n'),
              std::string::npos);
}

TEST(AnalysisJson, SaysWhatTheAnalysisSays) {
    const Result result = result_of(faulty_take());
    EXPECT_DOUBLE_EQ(result.json["sequence"]["segments"]["torso"]["peak_deg_s"],
                     result.analysis.sequence.find(Segment::Torso)->peak_deg_s);
    EXPECT_DOUBLE_EQ(result.json["positions"]["impact"]["pelvis_sway_cm"],
                     100.0 * result.analysis.position(Segment::Pelvis, Moment::Impact).sway_m);
    const auto& faults = result.json["faults"];
    const auto planted = std::find_if(faults.begin(), faults.end(), [](const Json& fault) {
        return fault["id"] == "upper-body-first";
    });
    ASSERT_NE(planted, faults.end());
    EXPECT_EQ((*planted)["phase"], "transition");
    EXPECT_GT((*planted)["evidence"], 0.6);
    EXPECT_FALSE((*planted)["because"].empty());
    EXPECT_EQ((*planted)["leads_to"][0], "out-of-order");
    EXPECT_EQ(result.json["first_fix"]["id"], "upper-body-first");
}

TEST(AnalysisJson, WritesNullForWhatIsNotThere) {
    Take take = simulate::make_take({});
    take.segments.erase(Segment::Torso);
    for (auto& [segment, series] : take.segments)
        series.p_lab_m.clear();
    const Json json = result_of(take).json;
    EXPECT_TRUE(json["sequence"]["segments"]["torso"].is_null());
    EXPECT_TRUE(json["sequence"]["order_certainty"].is_null());
    EXPECT_TRUE(json["separation"]["at_top_deg"].is_null());
    EXPECT_TRUE(json["positions"]["impact"]["pelvis_sway_cm"].is_null());
    EXPECT_TRUE(json["positions"]["impact"]["pelvis_turn_deg"].is_number());
    EXPECT_TRUE(json["first_fix"].is_null());
    EXPECT_FALSE(json["warnings"].empty());
}

TEST(AnalysisTable, SaysTurnsInWords) {
    const Result result = result_of(simulate::make_take({}));
    const std::string table = formats::to_table("swing.csv", result.analysis, result.reading, {});
    EXPECT_NE(table.find("pelvis → torso → lead arm → club"), std::string::npos);
    EXPECT_NE(table.find("° open"), std::string::npos);
    EXPECT_NE(table.find("° closed"), std::string::npos);
    EXPECT_EQ(table.find("nan"), std::string::npos);
}
