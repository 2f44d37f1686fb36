// What is measured beside the motion: launch numbers and forces with clocks of their own.

#include "core/measures/analyse.h"
#include "formats/beside/force_csv.h"
#include "formats/beside/launch_csv.h"
#include "formats/names/name_table.h"
#include "formats/text/numbers.h"
#include "simulate/simulate.h"
#include "simulate/truth.h"
#include "support/findings.h"
#include "support/temporary_folder.h"

#include <gtest/gtest.h>

#include <algorithm>
#include <cmath>

using namespace kite;
using kite::test::has_code;
using namespace kite::formats;
using kite::test::TemporaryFolder;

namespace {

class BesideTheMotion : public ::testing::Test {
protected:
    Outcome<std::vector<LaunchNumbers>> launch(const std::string& bytes) {
        return read_launch_csv(folder.write("launch.csv", bytes), names);
    }
    Outcome<ForceRecord> forces(const std::string& bytes, Handedness handed = Handedness::Right) {
        return read_force_csv(folder.write("force.csv", bytes), handed, names);
    }
    TemporaryFolder folder;
    NameTable names = NameTable::shipped();
};

/// The model's own forces as a mat of 100 Hz would give them, on a clock that began earlier.
std::string mat_csv(const simulate::SwingModel& model, double earlier_s, bool share,
                    const char* lead = "lead", const char* trail = "trail") {
    std::string out = "# contact_s: " + format_number(model.impact_s() + earlier_s) + "\ntime_s,";
    out += share ? std::string(lead) + "_pct\n"
                 : std::string(lead) + "_force_n," + trail + "_force_n\n";
    for (int i = 0; i / 100.0 < model.duration_s(); ++i) {
        const double t_s = i / 100.0;
        const double total_n = 700.0 * model.total_force_bw(t_s);
        const double pct = model.lead_force_pct(t_s);
        out += fixed(t_s + earlier_s, 4) + ",";
        out += share ? fixed(pct, 4)
                     : fixed(total_n * pct / 100.0, 3) + "," +
                           fixed(total_n * (100.0 - pct) / 100.0, 3);
        out += "\n";
    }
    return out;
}

Take swing_without_forces(const simulate::SwingParameters& parameters) {
    Take take = simulate::make_take(parameters);
    take.lead_force_n.clear();
    take.trail_force_n.clear();
    take.contact_s = simulate::SwingModel(parameters).impact_s();
    return take;
}

} // namespace

// 1 mile an hour = 0.44704 m/s, 1 yard = 0.9144 m exactly (NIST SP 811).
TEST_F(BesideTheMotion, LaunchNumbersComeInTheirUnits) {
    const auto shots =
        launch("shot;club;Club_Speed_MPH;carry_yd;start_direction_deg\n1;\"7 iron\";80,5;150;-2,5\n"
               "2;wedge;;98;1\n");
    ASSERT_TRUE(shots.ok());
    ASSERT_EQ(shots.value.size(), 2U);
    EXPECT_NEAR(shots.value[0].club_speed_m_s, 80.5 * 0.44704, 1e-9);
    EXPECT_NEAR(shots.value[0].carry_m, 137.16, 1e-9);
    EXPECT_NEAR(shots.value[0].start_direction_deg, -2.5, 1e-12);
    EXPECT_TRUE(std::isnan(shots.value[0].ball_speed_m_s));
    EXPECT_TRUE(std::isnan(shots.value[1].club_speed_m_s)) << "an empty field is missing, not zero";
}

TEST_F(BesideTheMotion, LaunchNumbersByTheUsersNames) {
    const auto table = NameTable::with_user_names(
        folder.write("names.json", R"~({"columns": {"Ball (km/h)": "ball_speed_km_h"}})~"));
    const auto shots = read_launch_csv(folder.write("l.csv", "Ball (km/h)\n180\n"), table.value);
    ASSERT_TRUE(shots.ok());
    EXPECT_NEAR(shots.value.at(0).ball_speed_m_s, 50.0, 1e-9);
}

TEST_F(BesideTheMotion, LaunchNumbersMaySayWhen) {
    const auto shots = launch("Time,carry_m\n10:15:00,150\n10:16:30,\n,148\n");
    ASSERT_TRUE(shots.ok());
    EXPECT_EQ(shots.value[1].time_s - shots.value[0].time_s, 90.0);
    EXPECT_TRUE(std::isnan(shots.value[2].time_s));
    EXPECT_FALSE(launch("time\n10:15\n").ok()) << "a time alone is no launch number";
}

TEST_F(BesideTheMotion, LaunchNumbersAreKeptAsTheyAre) {
    LaunchNumbers shot;
    shot.carry_m = 151.5;
    shot.curve_m = -3.0;
    const auto back = launch_of_json(to_json(shot));
    ASSERT_TRUE(back.has_value());
    EXPECT_EQ(back->carry_m, 151.5);
    EXPECT_EQ(back->curve_m, -3.0);
    EXPECT_TRUE(std::isnan(back->ball_speed_m_s));
    EXPECT_EQ(to_json(LaunchNumbers()), "");
    for (const char* none : {"", "{}", "[1]", "{\"carry_m\": \"far\"}", "{"})
        EXPECT_FALSE(launch_of_json(none).has_value()) << none;
}

TEST_F(BesideTheMotion, LaunchFilesThatCannotServeSayWhy) {
    EXPECT_TRUE(has_code(launch("speed\n12\n").findings, "columns-missing"));
    EXPECT_TRUE(has_code(launch("carry_m\n").findings, "no-rows"));
    EXPECT_FALSE(launch("").ok());
    EXPECT_FALSE(read_launch_csv(folder.path("none.csv"), names).ok());
}

TEST_F(BesideTheMotion, AClubSpeedOfAnotherSwingIsNoticed) {
    Take take = swing_without_forces({});
    const double seen_m_s = analyse(take, {}).value.speed.club_head_m_s;
    for (const auto& [factor, noticed] : {std::pair(1.05, false), std::pair(1.25, true)}) {
        take.launch = LaunchNumbers{};
        take.launch->club_speed_m_s = seen_m_s * factor;
        EXPECT_EQ(has_code(analyse(take, {}).findings, "launch-speed"), noticed) << factor;
    }
}

// The mat's clock began 0.7 s earlier; the contact marks lay the two on each other.
TEST_F(BesideTheMotion, ForcesFindTheirPlaceByTheContactMarks) {
    const simulate::SwingParameters parameters;
    const simulate::SwingModel model(parameters);
    const auto truth = simulate::calc_truth(model);
    for (const bool share : {false, true}) {
        Take take = swing_without_forces(parameters);
        const auto record = forces(mat_csv(model, 0.7, share));
        ASSERT_TRUE(record.ok());
        std::vector<Finding> findings;
        attach_forces(take, record.value, findings);
        EXPECT_TRUE(findings.empty());
        const auto analysis = analyse(take, {});
        for (Moment moment : {Moment::Top, Moment::LeadArmLevelDown, Moment::Impact})
            EXPECT_NEAR(analysis.value.at(analysis.value.pressure.lead_pct, moment),
                        truth.lead_force_pct.at(moment), 1.5)
                << key_of(moment);
        EXPECT_EQ(std::isnan(analysis.value.pressure.peak_total_bw), share)
            << "a share alone does not tell how heavy both feet were";
    }
}

TEST_F(BesideTheMotion, LeftAndRightFeetFollowTheHandedness) {
    const simulate::SwingModel model({});
    const std::string bytes = mat_csv(model, 0.0, false, "left", "right");
    const auto right = forces(bytes, Handedness::Right);
    const auto left = forces(bytes, Handedness::Left);
    ASSERT_TRUE(right.ok() && left.ok());
    EXPECT_EQ(right.value.lead_n, left.value.trail_n);
    EXPECT_EQ(right.value.trail_n, left.value.lead_n);
    EXPECT_NE(right.value.lead_n, right.value.trail_n);
}

TEST_F(BesideTheMotion, ForcesOutsideTheMotionAreNotUsed) {
    Take take = swing_without_forces({});
    const auto record = forces("time_s,lead_pct\n100,50\n100.01,51\n100.02,52\n");
    ASSERT_TRUE(record.ok());
    std::vector<Finding> findings;
    attach_forces(take, record.value, findings);
    EXPECT_TRUE(has_code(findings, "force-outside"));
    EXPECT_TRUE(take.lead_force_n.empty());
}

TEST_F(BesideTheMotion, AContactMarkIsReadInTheFilesOwnNumbers) {
    const auto with_points = forces("# contact_s: 1.25\ntime_s,lead_pct\n0,50\n0.5,51\n");
    ASSERT_TRUE(with_points.ok());
    EXPECT_EQ(with_points.value.contact_s, 1.25);
    const auto with_commas = forces("# contact_s: 1,25\ntime_s;lead_pct\n0;50\n0,5;51\n");
    ASSERT_TRUE(with_commas.ok());
    EXPECT_EQ(with_commas.value.contact_s, 1.25);
    EXPECT_EQ(with_commas.value.times_s[1], 0.5);
}

TEST_F(BesideTheMotion, ForceFilesThatCannotServeSayWhere) {
    EXPECT_TRUE(has_code(forces("time_s,weight\n0,1\n").findings, "columns-missing"));
    EXPECT_TRUE(has_code(forces("lead_pct\n50\n").findings, "columns-missing"));
    const auto back = forces("time_s,lead_pct\n0,50\n0.02,51\n0.01,52\n");
    ASSERT_TRUE(has_code(back.findings, "time-order"));
    EXPECT_EQ(back.findings.front().where, "line 4, column time_s");
    EXPECT_TRUE(has_code(forces("time_s,lead_pct\n0,heavy\n").findings, "not-a-number"));
}
