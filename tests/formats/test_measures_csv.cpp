// RFC 4180: lines end with CRLF, as many fields in every line, a field with a comma or quotation
// marks stands in quotation marks, which are doubled inside.

#include "core/measures/analyse.h"
#include "formats/results/measures_csv.h"
#include "formats/results/series_csv.h"
#include "formats/text/delimited.h"
#include "simulate/simulate.h"

#include <gtest/gtest.h>

#include <algorithm>

using namespace kite;
using namespace kite::formats;

namespace {

std::vector<std::string> fields_of(const std::string& line) {
    std::vector<std::string> out{""};
    bool inside = false;
    for (std::size_t i = 0; i < line.size(); ++i) {
        if (line[i] == '"' && inside && i + 1 < line.size() && line[i + 1] == '"')
            out.back() += line[i++];
        else if (line[i] == '"')
            inside = !inside;
        else if (line[i] == ',' && !inside)
            out.emplace_back();
        else
            out.back() += line[i];
    }
    return out;
}

std::string without_end(const std::string& line) {
    EXPECT_EQ(line.substr(line.size() - 2), "\r\n");
    return line.substr(0, line.size() - 2);
}

} // namespace

TEST(MeasuresCsv, HasAFieldForEveryNameAndTheTruthInIt) {
    const simulate::SwingParameters parameters;
    const Analysis analysis = analyse(simulate::make_take(parameters), {}).value;
    const auto names = fields_of(without_end(measures_csv_header()));
    const auto values = fields_of(without_end(measures_csv_row("a \"b\", c.csv", analysis)));
    ASSERT_EQ(values.size(), names.size());
    EXPECT_EQ(values[0], "a \"b\", c.csv");
    const auto value = [&](const std::string& name) {
        const auto found = std::find(names.begin(), names.end(), name);
        EXPECT_NE(found, names.end()) << name;
        return values[static_cast<std::size_t>(found - names.begin())];
    };
    EXPECT_EQ(value("order"), "pelvis torso lead_arm club");
    // The simulated swing's own truth.
    const simulate::SwingModel model(parameters);
    EXPECT_NEAR(std::stod(value("sequence.segments.pelvis.peak_deg_s")), 450.0, 5.0);
    EXPECT_NEAR(std::stod(value("impact_s")), model.impact_s(), 0.002);
    EXPECT_EQ(value("pressure.lead_min_pct").find("nan"), std::string::npos);
}

TEST(MeasuresCsv, LeavesEmptyWhatTheSourceCannotGive) {
    Take take = simulate::make_take({});
    take.segments.erase(Segment::Torso);
    const Analysis analysis = analyse(take, {}).value;
    const auto names = fields_of(without_end(measures_csv_header()));
    const auto values = fields_of(without_end(measures_csv_row("a", analysis)));
    const auto at = static_cast<std::size_t>(
        std::find(names.begin(), names.end(), "sequence.segments.torso.peak_deg_s") -
        names.begin());
    EXPECT_EQ(values.at(at), "");
}

TEST(SeriesCsv, HasARowAFrameAndReadsBack) {
    const Take take = simulate::make_take({});
    const Analysis analysis = analyse(take, {}).value;
    const auto table = read_delimited(to_series_csv(analysis));
    ASSERT_TRUE(table.ok());
    EXPECT_EQ(table.value.rows(), take.frames);
    const auto* pelvis = table.value.find("pelvis_rate_deg_s");
    const auto* turn = table.value.find("pelvis_turn_deg");
    const auto* separation = table.value.find("separation_deg");
    const auto* torso = table.value.find("torso_turn_deg");
    ASSERT_TRUE(pelvis != nullptr && turn != nullptr && separation != nullptr && torso != nullptr);
    EXPECT_NEAR(*std::max_element(pelvis->begin(), pelvis->end()), 450.0, 5.0);
    for (std::size_t i = 0; i < table.value.rows(); i += 40)
        EXPECT_NEAR((*separation)[i], (*turn)[i] - (*torso)[i], 0.001)
            << "separation from above is the difference of the turns";
}
