#include "simulate/planted_faults.h"
#include "simulate/simulate.h"
#include "simulate/speed_profile.h"
#include "simulate/truth.h"

#include <gtest/gtest.h>

#include <cmath>

using namespace kite;
using namespace kite::simulate;

// A quintic is settled by value, slope and bend at two ends: x^5 - 2x^2 + 1 must come back, and its
// integral x^6/6 - 2x^3/3 + x.
TEST(QuinticCurve, ReproducesAQuintic) {
    const auto f = [](double x) { return std::pow(x, 5) - 2.0 * x * x + 1.0; };
    const auto integral = [](double x) { return std::pow(x, 6) / 6.0 - 2.0 / 3.0 * x * x * x + x; };
    const QuinticCurve curve({{0.0, f(0.0), 0.0, -4.0},
                              {0.5, f(0.5), 5.0 * std::pow(0.5, 4) - 2.0, 20.0 * 0.125 - 4.0},
                              {2.0, f(2.0), 72.0, 156.0}});
    for (double x : {0.0, 0.1, 0.3, 0.5, 0.9, 1.7, 2.0}) {
        EXPECT_NEAR(curve.at(x), f(x), 1e-9);
        EXPECT_NEAR(curve.integral_to(x), integral(x), 1e-9);
    }
}

TEST(SpeedProfile, KeepsItsPlan) {
    TurnPlan plan;
    plan.takeaway_t_s = 0.5;
    plan.reversal_t_s = 1.4;
    plan.peak_t_s = 1.65;
    plan.impact_t_s = 1.73;
    plan.top_deg = -46.0;
    plan.impact_deg = 46.0;
    plan.finish_deg = 92.0;
    plan.peak_deg_s = 460.0;
    plan.at_impact_share = 0.7;
    const SpeedProfile profile(plan);
    EXPECT_NEAR(profile.angle_deg(1.4), -46.0, 1e-9);
    EXPECT_NEAR(profile.angle_deg(1.73), 46.0, 1e-9);
    EXPECT_NEAR(profile.angle_deg(5.0), 92.0, 2.0);
    EXPECT_NEAR(profile.rate_deg_s(1.4), 0.0, 1e-9);
    EXPECT_NEAR(profile.rate_deg_s(1.65), 460.0, 1e-9);
    EXPECT_NEAR(profile.rate_deg_s(1.73), 322.0, 1e-9);
    for (int i = 0; i < 165; ++i)
        EXPECT_LE(profile.rate_deg_s(1.4 + 0.002 * i), 460.0 + 1e-9);
    // The angle is the integral of the rate.
    EXPECT_NEAR((profile.angle_deg(1.55001) - profile.angle_deg(1.54999)) / 2e-5,
                profile.rate_deg_s(1.55), 1e-3);
}

TEST(SwingModel, MeetsTheBallWhereTheClubWasAtAddress) {
    for (ClubKind club : {ClubKind::Driver, ClubKind::Iron, ClubKind::Wedge}) {
        SwingParameters parameters;
        parameters.club = club;
        const SwingModel model(parameters);
        EXPECT_NEAR(model.head_m(model.impact_s()).x(), model.head_m(0.0).x(), 1e-6)
            << key_of(club);
    }
}

TEST(SwingModel, TruthFollowsTheParameters) {
    const SwingParameters parameters;
    const SwingModel model(parameters);
    const Truth truth = calc_truth(model);
    const auto& pelvis = truth.parts[0];
    EXPECT_NEAR(model.impact_s() - pelvis.peak_t_s, 0.001 * parameters.pelvis.peak_before_ms, 1e-3);
    EXPECT_NEAR(model.impact_s() - pelvis.reversal_t_s,
                0.001 * parameters.pelvis.reversal_before_ms, 1e-3);
    EXPECT_NEAR(pelvis.peak_deg_s, parameters.pelvis.peak_deg_s, 1.0);
    EXPECT_NEAR(truth.parts[3].peak_deg_s, parameters.club_turn.peak_deg_s, 40.0);
}

TEST(Simulation, NoiseIsReproducibleAndOfTheSizeAskedFor) {
    SwingParameters parameters;
    const MarkerTake clean = make_markers(parameters);
    parameters.noise_mm = 1.0;
    parameters.seed = 5;
    const MarkerTake noisy = make_markers(parameters);
    const MarkerTake again = make_markers(parameters);
    parameters.seed = 6;
    const MarkerTake other = make_markers(parameters);
    EXPECT_EQ(noisy.tracks_m[3][50], again.tracks_m[3][50]);
    EXPECT_NE(noisy.tracks_m[3][50], other.tracks_m[3][50]);
    double sum = 0.0;
    for (std::size_t i = 0; i < clean.frames; ++i)
        sum += (noisy.tracks_m[0][i] - clean.tracks_m[0][i]).squaredNorm();
    EXPECT_NEAR(std::sqrt(sum / (3.0 * static_cast<double>(clean.frames))), 0.001, 0.0001);
}

TEST(Simulation, KnowsWhichFaultsItCanPlant) {
    SwingParameters parameters;
    EXPECT_FALSE(plant(parameters, "no-such-fault", 1.0));
    EXPECT_EQ(plantable_faults().size(), 33u);
    // A second way is another way: other numbers of the golfer change.
    for (std::string_view id : plantable_faults()) {
        SwingParameters first;
        SwingParameters second;
        ASSERT_TRUE(plant(first, id, 1.0, 1)) << id;
        ASSERT_TRUE(plant(second, id, 1.0, 2)) << id;
        const auto numbers = [](const SwingParameters& p) {
            std::vector<double> out{p.force.impact_pct, p.force.arm_level_down_pct,
                                    p.path_deg,         p.spine_lean_top_deg,
                                    p.shallow_deg,      p.pelvis_tilt_down_deg};
            for (Segment segment : kSequence) {
                const PartParameters& part = p.part(segment);
                for (double one : {part.reversal_before_ms, part.peak_before_ms, part.peak_deg_s,
                                   part.top_deg, part.impact_deg, part.finish_deg,
                                   part.at_impact_share, part.after_gain_share})
                    out.push_back(one);
            }
            for (const auto& at : {p.pelvis_path.arm_level_back_m, p.pelvis_path.top_m,
                                   p.pelvis_path.arm_level_down_m, p.pelvis_path.impact_m})
                out.insert(out.end(), {at.x(), at.y(), at.z()});
            return out;
        };
        EXPECT_NE(numbers(first), numbers(second)) << id;
        EXPECT_NE(numbers(second), numbers(SwingParameters{})) << id;
    }
}
