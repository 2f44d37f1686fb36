#include "core/base/units.h"
#include "core/catalogue/measure.h"
#include "core/measures/analyse.h"
#include "core/measures/marker_take.h"
#include "core/motion/rotation.h"
#include "simulate/golfers.h"
#include "simulate/planted_faults.h"
#include "simulate/simulate.h"
#include "simulate/truth.h"
#include "support/captured_swing.h"
#include "support/findings.h"

#include <gtest/gtest.h>

#include <algorithm>
#include <cmath>
#include <random>

using namespace kite;
using kite::test::has_code;

namespace {

/// The take between two times.
Take cut(const Take& take, double from_s, double to_s) {
    Take out = take;
    const auto first = static_cast<std::size_t>(std::lround(from_s * take.rate_hz));
    const auto last =
        std::min(take.frames, static_cast<std::size_t>(std::lround(to_s * take.rate_hz)));
    out.frames = last - first;
    const auto keep = [&](auto& series) {
        series.erase(series.begin() + static_cast<std::ptrdiff_t>(last), series.end());
        series.erase(series.begin(), series.begin() + static_cast<std::ptrdiff_t>(first));
    };
    for (auto& [segment, series] : out.segments) {
        keep(series.q_lab_segment);
        if (series.has_positions())
            keep(series.p_lab_m);
    }
    for (auto& [point, track] : out.points_lab_m)
        keep(track);
    keep(out.lead_force_n);
    keep(out.trail_force_n);
    return out;
}

struct Case {
    double rate_hz;
    Handedness handed;
    ClubKind club;
    const char* fault;
    std::uint32_t seed;
};

std::vector<Case> cases() {
    std::vector<Case> out;
    std::uint32_t seed = 1;
    for (double rate_hz : {240.0, 500.0})
        for (Handedness handed : {Handedness::Right, Handedness::Left})
            for (ClubKind club : {ClubKind::Driver, ClubKind::Iron, ClubKind::Wedge})
                for (const char* fault : {"", "upper-body-first", "out-of-order", "bunched-peaks"})
                    out.push_back({rate_hz, handed, club, fault, seed++});
    return out;
}

class Accuracy : public testing::TestWithParam<Case> {};

simulate::SwingParameters parameters_of(const Case& c) {
    simulate::SwingParameters parameters = simulate::typical_swing(c.club);
    parameters.rate_hz = c.rate_hz;
    parameters.handed = c.handed;
    std::mt19937 random(c.seed);
    simulate::scatter(parameters, random, 1.0);
    if (*c.fault != '\0')
        simulate::plant(parameters, c.fault, 1.0);
    return parameters;
}

} // namespace

// Inside evidence: the generator's truth. Limits without noise: peak time 2 ms (club 3 ms), peak
// speed 1.5 %, events 3 ms, angles 0.5°, translations 2 mm.
TEST_P(Accuracy, MeetsTheTruthWithoutNoise) {
    const simulate::SwingParameters parameters = parameters_of(GetParam());
    const simulate::SwingModel model(parameters);
    const simulate::Truth truth = simulate::calc_truth(model);
    const auto result = analyse(simulate::make_take(parameters), {});
    ASSERT_TRUE(result.ok());
    const Analysis& analysis = result.value;

    for (const auto& [moment, t_s] : truth.moments_s) {
        ASSERT_TRUE(analysis.moments[moment]) << key_of(moment);
        EXPECT_NEAR(analysis.moments.time_s(moment), t_s, 0.003) << key_of(moment);
    }
    EXPECT_EQ(analysis.moments.impact_source, ImpactSource::ClubHead);
    for (Segment segment : kSequence) {
        const auto& expected = truth.parts[index_of(segment)];
        const SegmentSequence* part = analysis.sequence.find(segment);
        ASSERT_NE(part, nullptr);
        EXPECT_NEAR(part->peak_t_s, expected.peak_t_s, segment == Segment::Club ? 0.003 : 0.002)
            << key_of(segment);
        EXPECT_NEAR(part->peak_deg_s / expected.peak_deg_s, 1.0, 0.015) << key_of(segment);
        EXPECT_NEAR(part->reversal_t_s, expected.reversal_t_s, 0.003) << key_of(segment);
    }
    for (const auto& [segment, positions] :
         {std::pair(Segment::Pelvis, &truth.pelvis), std::pair(Segment::Torso, &truth.torso)}) {
        for (const auto& [moment, expected] : *positions) {
            const TrunkPosition position = analysis.position(segment, moment);
            EXPECT_NEAR(position.turn_deg, expected.turn_deg, 0.5)
                << key_of(segment) << " " << key_of(moment);
            EXPECT_NEAR(position.side_tilt_deg, expected.side_tilt_deg, 0.5);
            EXPECT_NEAR(position.forward_bend_deg, expected.forward_bend_deg, 0.5);
            EXPECT_NEAR(position.sway_m, expected.sway_m, 0.002);
            EXPECT_NEAR(position.depth_m, expected.depth_m, 0.002);
            EXPECT_NEAR(position.lift_m, expected.lift_m, 0.002);
        }
    }
    ASSERT_TRUE(analysis.separation);
    EXPECT_NEAR(analysis.separation->at_top_deg, truth.separation_at_top_deg, 0.5);
    EXPECT_NEAR(analysis.separation->max_deg, truth.separation_max_deg, 0.5);
    EXPECT_NEAR(analysis.separation->at_impact_deg, truth.separation_at_impact_deg, 0.5);
    for (const auto& [moment, expected] : truth.hinge_deg)
        EXPECT_NEAR(analysis.at(analysis.wrist_hinge_deg, moment), expected, 0.5) << key_of(moment);
    for (const auto& [moment, expected] : truth.knee_flex_deg)
        EXPECT_NEAR(analysis.at(analysis.legs.lead_knee_flex_deg, moment), expected, 0.5)
            << key_of(moment);
    for (const auto& [moment, expected] : truth.lead_force_pct)
        EXPECT_NEAR(analysis.at(analysis.pressure.lead_pct, moment), expected, 1.0)
            << key_of(moment);
    EXPECT_NEAR(analysis.speed.hands_m_s / truth.hands_m_s, 1.0, 0.03);
    EXPECT_NEAR(analysis.speed.club_head_m_s / truth.club_head_m_s, 1.0, 0.015);
}

INSTANTIATE_TEST_SUITE_P(Swings, Accuracy, testing::ValuesIn(cases()), [](const auto& test) {
    std::string fault = *test.param.fault == '\0' ? "good" : test.param.fault;
    std::replace(fault.begin(), fault.end(), '-', '_');
    return std::to_string(static_cast<int>(test.param.rate_hz)) + "_" +
           std::string(key_of(test.param.handed)) + "_" + std::string(key_of(test.param.club)) +
           "_" + fault;
});

// Limits with 1 mm of marker noise at 240 Hz, over many draws: peak-time RMS 4 ms, peak speed 4 %,
// angles 1.2°, separation 1.5°. How the stated uncertainties hold: tests/study.
// A torso that tips fast to the side, late, turns fastest about its own axis early but as a whole
// late: the two conventions see another order, and the result must say so.
TEST(Analyse, SaysWhereTheOrderDependsOnTheConvention) {
    const simulate::SwingParameters parameters;
    Take take = simulate::make_take(parameters);
    const auto usual = analyse(take, {});
    EXPECT_FALSE(usual.value.order_depends_on_convention());
    EXPECT_FALSE(has_code(usual.findings, "order-depends"));

    const double impact_s = simulate::SwingModel(parameters).impact_s();
    auto& torso = take.segments[Segment::Torso].q_lab_segment;
    for (std::size_t i = 0; i < torso.size(); ++i) {
        const double tip_rad = 0.6 * std::tanh((take.time_of(i) - impact_s + 0.005) / 0.03);
        torso[i] = torso[i] * exp_of(Eigen::Vector3d(0.0, tip_rad, 0.0));
    }
    const auto tipping = analyse(take, {});
    ASSERT_TRUE(tipping.ok());
    EXPECT_TRUE(tipping.value.order_depends_on_convention());
    EXPECT_TRUE(has_code(tipping.findings, "order-depends"));
    AnalysisOptions resultant;
    resultant.convention = RateConvention::Resultant;
    const auto whole = analyse(take, resultant);
    EXPECT_GT(whole.value.sequence.find(Segment::Torso)->peak_t_s,
              tipping.value.sequence.find(Segment::Torso)->peak_t_s + 0.02);
}

TEST(Accuracy, HoldsUnderMarkerNoise) {
    std::mt19937 random(4);
    std::array<double, 4> squares_ms{};
    int within_4_pct = 0;
    constexpr int kSwings = 40;
    for (int i = 0; i < kSwings; ++i) {
        simulate::SwingParameters parameters =
            simulate::typical_swing(i % 3 == 0   ? ClubKind::Driver
                                    : i % 3 == 1 ? ClubKind::Iron
                                                 : ClubKind::Wedge);
        simulate::scatter(parameters, random, 1.0);
        parameters.handed = i % 4 == 0 ? Handedness::Left : Handedness::Right;
        parameters.noise_mm = 1.0;
        parameters.seed = static_cast<std::uint32_t>(i) + 1;
        const simulate::Truth truth = simulate::calc_truth(simulate::SwingModel(parameters));
        const auto result = analyse(simulate::make_take(parameters), {});
        ASSERT_TRUE(result.ok());
        for (Segment segment : kSequence) {
            const auto& expected = truth.parts[index_of(segment)];
            const SegmentSequence& part = *result.value.sequence.find(segment);
            squares_ms[index_of(segment)] +=
                std::pow(ms_from_s(part.peak_t_s - expected.peak_t_s), 2);
            within_4_pct += std::abs(part.peak_deg_s / expected.peak_deg_s - 1.0) < 0.04 ? 1 : 0;
        }
        for (const auto& [moment, expected] : truth.torso) {
            const TrunkPosition torso = result.value.position(Segment::Torso, moment);
            EXPECT_NEAR(torso.turn_deg, expected.turn_deg, 1.2) << key_of(moment);
            EXPECT_NEAR(torso.side_tilt_deg, expected.side_tilt_deg, 1.2) << key_of(moment);
            const TrunkPosition pelvis = result.value.position(Segment::Pelvis, moment);
            EXPECT_NEAR(pelvis.turn_deg, truth.pelvis.at(moment).turn_deg, 1.2) << key_of(moment);
        }
        EXPECT_NEAR(result.value.separation->at_top_deg, truth.separation_at_top_deg, 1.5);
        EXPECT_NEAR(result.value.separation->max_deg, truth.separation_max_deg, 1.5);
        EXPECT_NEAR(result.value.separation->at_impact_deg, truth.separation_at_impact_deg, 1.5);
    }
    for (Segment segment : kSequence)
        EXPECT_LT(std::sqrt(squares_ms[index_of(segment)] / kSwings), 4.0) << key_of(segment);
    // A limit for random errors: 95 % of the peaks keep it (the club's is the noisiest).
    EXPECT_GE(within_4_pct, static_cast<int>(0.95 * 4 * kSwings));
}

// Parts that hardly slow down: under noise nobody can say when they are fastest, but by how little
// they have slowed at the ball. The stated uncertainty holds for peaks of both kinds.
TEST(SlowDown, IsKnownWhereTheTimeOfAFlatPeakIsNot) {
    int flat = 0;
    int all = 0;
    int within = 0;
    for (std::uint32_t seed = 1; seed <= 30; ++seed) {
        simulate::SwingParameters parameters;
        simulate::plant(parameters, "no-slow-down", 0.5 + 0.5 * (seed % 3));
        parameters.noise_mm = 1.0;
        parameters.seed = seed;
        const simulate::Truth truth = simulate::calc_truth(simulate::SwingModel(parameters));
        const auto result = analyse(simulate::make_take(parameters), {});
        ASSERT_TRUE(result.ok());
        for (Segment segment : {Segment::Pelvis, Segment::Torso}) {
            const SegmentSequence& part = *result.value.sequence.find(segment);
            const auto& expected = truth.parts[index_of(segment)];
            const double off_pct =
                part.slowdown_pct - 100.0 * (1.0 - expected.at_impact_deg_s / expected.peak_deg_s);
            if (!std::isfinite(part.slowdown_pct))
                continue;
            ++all;
            flat += std::isfinite(part.peak_t_s) ? 0 : 1;
            within += std::abs(off_pct) <= 1.96 * part.slowdown_u_pct ? 1 : 0;
            EXPECT_LT(part.slowdown_u_pct, 4.0);
        }
    }
    EXPECT_GE(all, 55);
    EXPECT_GE(flat, 3);
    EXPECT_GE(within, static_cast<int>(0.88 * all));
}

// Impact must not smear the club's peak. The club loses 18 % of its speed in the blow: a filter run
// across it puts the peak earlier.
TEST(Impact, DoesNotSmearTheClub) {
    simulate::SwingParameters parameters;
    const simulate::SwingModel model(parameters);
    const simulate::Truth truth = simulate::calc_truth(model);
    const Take take = simulate::make_take(parameters);
    const auto& expected = truth.parts[index_of(Segment::Club)];

    const SegmentMotion across =
        smooth(*take.find(Segment::Club), take.rate_hz, 35.0, std::nullopt);
    const auto smeared = calc_speed_deg_s(across).find_max({0.0, take.duration_s()});
    ASSERT_TRUE(smeared);
    EXPECT_LT(smeared->t_s, expected.peak_t_s - 0.004) << "the case is a real one";

    const auto result = analyse(take, {});
    const SegmentSequence* club = result.value.sequence.find(Segment::Club);
    EXPECT_NEAR(club->peak_deg_s / expected.peak_deg_s, 1.0, 0.02);
    EXPECT_NEAR(club->peak_t_s, expected.peak_t_s, 0.001);
}

TEST(Analysis, IsTheSameForALeftHander) {
    simulate::SwingParameters parameters;
    const auto right = analyse(simulate::make_take(parameters), {});
    parameters.handed = Handedness::Left;
    // Through markers, which a left-hander wears on the other side of a mirrored body.
    const auto left = analyse(take_from_markers(simulate::make_markers(parameters)).value, {});
    ASSERT_TRUE(left.ok());
    for (Segment segment : kSequence) {
        EXPECT_NEAR(left.value.sequence.find(segment)->peak_t_s,
                    right.value.sequence.find(segment)->peak_t_s, 1e-4);
        EXPECT_NEAR(left.value.sequence.find(segment)->peak_deg_s,
                    right.value.sequence.find(segment)->peak_deg_s, 2.0);
    }
    EXPECT_NEAR(left.value.position(Segment::Pelvis, Moment::Impact).turn_deg,
                right.value.position(Segment::Pelvis, Moment::Impact).turn_deg, 0.01);
}

TEST(Analysis, UsesTheContactMark) {
    Take take = simulate::make_take({});
    const double seen = analyse(take, {}).value.moments.time_s(Moment::Impact);
    take.contact_s = seen + 0.0021;
    const auto result = analyse(take, {});
    EXPECT_EQ(result.value.moments.impact_source, ImpactSource::Contact);
    EXPECT_NEAR(result.value.moments.time_s(Moment::Impact), seen + 0.0021, 1e-9);
}

TEST(Analysis, FallsBackToTheShaftWithoutPositions) {
    Take take = simulate::make_take({});
    const double seen = analyse(take, {}).value.moments.time_s(Moment::Impact);
    for (auto& [segment, series] : take.segments)
        series.p_lab_m.clear();
    const auto result = analyse(take, {});
    ASSERT_TRUE(result.ok());
    EXPECT_EQ(result.value.moments.impact_source, ImpactSource::Shaft);
    // The hands are a few degrees ahead of address at impact, and the club turns 2° a millisecond.
    EXPECT_NEAR(result.value.moments.time_s(Moment::Impact), seen, 0.008);
    EXPECT_TRUE(std::isnan(result.value.position(Segment::Pelvis, Moment::Impact).sway_m));
    EXPECT_TRUE(std::isfinite(result.value.position(Segment::Pelvis, Moment::Impact).turn_deg));
}

TEST(Analysis, NamesWhatIsMissing) {
    Take take = simulate::make_take({});
    take.segments.erase(Segment::Torso);
    const auto without_torso = analyse(take, {});
    ASSERT_TRUE(without_torso.ok());
    EXPECT_TRUE(has_code(without_torso.findings, "parts-missing"));
    EXPECT_FALSE(without_torso.value.separation);
    EXPECT_EQ(without_torso.value.sequence.find(Segment::Torso), nullptr);

    take.segments.clear();
    const auto nothing = analyse(take, {});
    EXPECT_FALSE(nothing.ok());
    EXPECT_TRUE(has_code(nothing.findings, "no-parts"));
}

TEST(Analysis, RefusesWhatIsNoSwing) {
    const Take take = simulate::make_take({});
    const auto still = analyse(cut(take, 0.0, 0.5), {});
    EXPECT_FALSE(still.ok());
    EXPECT_TRUE(has_code(still.findings, "no-swing"));
    // Impact at about 1.77 s, top at about 1.50 s.
    const auto backswing_only = analyse(cut(take, 0.0, 1.45), {});
    EXPECT_FALSE(backswing_only.ok());
    const auto downswing_only = analyse(cut(take, 1.55, 2.4), {});
    EXPECT_FALSE(downswing_only.ok());
    EXPECT_TRUE(has_code(downswing_only.findings, "half-a-swing"));
}

TEST(Analysis, LateStartAndEarlyEndAreNamedAndTheRestIsRight) {
    const Take take = simulate::make_take({});
    const auto whole = analyse(take, {});
    const auto late = analyse(cut(take, 1.2, 2.6), {});
    ASSERT_TRUE(late.ok());
    EXPECT_TRUE(has_code(late.findings, "late-start"));
    EXPECT_FALSE(late.value.moments[Moment::Takeaway]);
    EXPECT_TRUE(std::isnan(late.value.tempo.ratio));
    EXPECT_NEAR(late.value.sequence.find(Segment::Pelvis)->peak_t_s + 1.2,
                whole.value.sequence.find(Segment::Pelvis)->peak_t_s, 0.001);

    const double impact = whole.value.moments.time_s(Moment::Impact);
    const auto early_end = analyse(cut(take, 0.0, impact + 0.02), {});
    ASSERT_TRUE(early_end.ok());
    EXPECT_FALSE(early_end.value.moments[Moment::ShaftLevelThrough]);
    EXPECT_NEAR(early_end.value.sequence.find(Segment::Torso)->peak_t_s,
                whole.value.sequence.find(Segment::Torso)->peak_t_s, 0.001);
}

TEST(Analysis, ComputesAroundAGap) {
    Take take = simulate::make_take({});
    auto& pelvis = take.segments[Segment::Pelvis];
    for (std::size_t i = 60; i < 120; ++i) {
        pelvis.q_lab_segment[i] = missing_rotation();
        pelvis.p_lab_m[i] = missing_point();
    }
    const auto result = analyse(take, {});
    ASSERT_TRUE(result.ok());
    EXPECT_TRUE(std::isnan(result.value.rate_deg_s[0].values()[90]));
    EXPECT_NEAR(result.value.sequence.find(Segment::Pelvis)->peak_deg_s, 455.0, 10.0);
}

TEST(Analysis, ConventionsDifferOnlyWhereTheyShould) {
    const Take take = simulate::make_take({});
    AnalysisOptions options;
    const auto axis = analyse(take, options);
    options.convention = RateConvention::Resultant;
    const auto resultant = analyse(take, options);
    options.convention = RateConvention::Plane;
    const auto plane = analyse(take, options);
    // |w| is never smaller than one of its components.
    EXPECT_GE(resultant.value.sequence.find(Segment::Torso)->peak_deg_s,
              axis.value.sequence.find(Segment::Torso)->peak_deg_s);
    EXPECT_DOUBLE_EQ(resultant.value.sequence.find(Segment::Club)->peak_deg_s,
                     axis.value.sequence.find(Segment::Club)->peak_deg_s);
    EXPECT_LT(plane.value.sequence.find(Segment::Pelvis)->peak_deg_s,
              axis.value.sequence.find(Segment::Pelvis)->peak_deg_s);
    options = {};
    options.separation = SeparationMethod::Joint;
    EXPECT_GT(std::abs(analyse(take, options).value.separation->at_top_deg -
                       axis.value.separation->at_top_deg),
              0.5);
}

// Sources (values from memory): Cheetham et al. 2008, professionals' peak speeds within 15 %:
// pelvis 480, thorax 720, arm 960, club 2,150 °/s; Grober & Cholewicki 2006, tempo close to 3 : 1.
// The simulated skilled swing, measured, must lie there.
TEST(Analysis, ASkilledSwingLiesInThePublishedRanges) {
    const auto result = analyse(simulate::make_take({}), {});
    const std::array published{480.0, 720.0, 960.0, 2150.0};
    for (Segment segment : kSequence)
        EXPECT_NEAR(result.value.sequence.find(segment)->peak_deg_s / published[index_of(segment)],
                    1.0, 0.15)
            << key_of(segment);
    EXPECT_NEAR(result.value.tempo.ratio, 3.0, 0.3);
    // Common practice, no source: pelvis 35–50° and torso 24–36° open at impact, torso about 90°
    // closed at the top, pelvis shift 10–15 cm by impact.
    EXPECT_NEAR(result.value.position(Segment::Pelvis, Moment::Impact).turn_deg, 42.5, 7.5);
    EXPECT_NEAR(result.value.position(Segment::Torso, Moment::Impact).turn_deg, 30.0, 6.5);
    EXPECT_NEAR(result.value.position(Segment::Torso, Moment::Top).turn_deg, -90.0, 5.0);
    EXPECT_NEAR(result.value.position(Segment::Pelvis, Moment::Impact).sway_m, 0.125, 0.025);
}

// Who asks for measures alone gets the same ones: of golfers of the second generator, whole, with
// parts hidden for a while, and cut off before the finish.
TEST(Analysis, CurvesOfTheSwingAloneChangeNoMeasure) {
    AnalysisOptions measures_alone;
    measures_alone.curves = CurvesOf::Swing;
    int known = 0;
    for (std::uint32_t seed = 1; seed <= 12; ++seed) {
        test::CapturedSwing one(seed, seed % 2 == 0 ? 240.0 : 360.0);
        if (seed % 3 == 1) {
            const double from_s = one.motion.impact_s() - 0.1 * seed;
            one.hide({"LASI", "C7", "CLB2", "LKNE"}, from_s, from_s + 0.04);
        }
        if (seed % 4 == 3)
            one.cut(0.0, one.motion.impact_s() + 0.12);
        const Outcome<Take> take = take_from_file_markers(one.markers, {});
        ASSERT_TRUE(take.ok()) << seed;
        const auto whole = analyse(take.value, {});
        const auto quick = analyse(take.value, measures_alone);
        ASSERT_EQ(whole.ok(), quick.ok()) << seed;
        for (const Measure& measure : all_measures()) {
            const Measured a = measure.of(whole.value);
            const Measured b = measure.of(quick.value);
            EXPECT_TRUE(a.value == b.value || (std::isnan(a.value) && std::isnan(b.value)))
                << measure.key << " of " << seed << ": " << a.value << " and " << b.value;
            EXPECT_TRUE(a.u == b.u || (std::isnan(a.u) && std::isnan(b.u))) << measure.key;
            known += std::isfinite(a.value) ? 1 : 0;
        }
        EXPECT_EQ(whole.findings.size(), quick.findings.size()) << seed;
    }
    EXPECT_GT(known, 12 * 30) << "there is something to compare";
}

// Inside of the swing the curves are the same, outside they are missing: so they are quicker.
TEST(Analysis, CurvesOfTheSwingAloneEndWithIt) {
    const test::CapturedSwing one(5, 240.0);
    const Take take = take_from_file_markers(one.markers, {}).value;
    AnalysisOptions measures_alone;
    measures_alone.curves = CurvesOf::Swing;
    const Analysis whole = analyse(take, {}).value;
    const Analysis quick = analyse(take, measures_alone).value;
    const double begin_s = quick.moments.address_window.begin_s;
    const double end_s = quick.moments.time_s(Moment::Finish);
    std::size_t missing = 0;
    for (const auto& [all, swing] :
         {std::pair(&whole.trunk.at(Segment::Torso).angles.turn_deg,
                    &quick.trunk.at(Segment::Torso).angles.turn_deg),
          std::pair(&whole.trunk.at(Segment::Pelvis).sway_m,
                    &quick.trunk.at(Segment::Pelvis).sway_m),
          std::pair(&whole.separation_deg, &quick.separation_deg),
          std::pair(&whole.wrist_hinge_deg, &quick.wrist_hinge_deg),
          std::pair(&whole.legs.lead_knee_flex_deg, &quick.legs.lead_knee_flex_deg),
          std::pair(&whole.arms.across_deg, &quick.arms.across_deg)}) {
        ASSERT_EQ(all->size(), swing->size());
        for (std::size_t i = 0; i < all->size(); ++i) {
            if (all->time_of(i) >= begin_s && all->time_of(i) <= end_s) {
                EXPECT_EQ(all->values()[i], swing->values()[i]) << all->time_of(i);
            }
            missing += std::isfinite(all->values()[i]) && std::isnan(swing->values()[i]) ? 1 : 0;
        }
    }
    EXPECT_GT(missing, 100U);
}
