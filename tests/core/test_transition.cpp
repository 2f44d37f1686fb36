// Transition and positions from motions written down by hand: the answers are those of the formulas
// that made them.

#include "core/base/units.h"
#include "core/measures/legs.h"
#include "core/measures/positions.h"
#include "core/measures/transition.h"
#include "core/motion/rotation.h"

#include <gtest/gtest.h>

#include <cmath>
#include <functional>

using namespace kite;
using Eigen::Vector3d;

namespace {

constexpr double kFrameRate_hz = 240.0;
constexpr std::size_t kFrameCount = 480;
constexpr double kTakeaway_s = 0.3;
constexpr double kTop_s = 1.2;
constexpr double kArmLevel_s = 1.35;
constexpr double kShaftLevel_s = 1.42;
constexpr double kImpact_s = 1.48;

SwingMoments moments() {
    SwingMoments out;
    const auto put = [&](Moment moment, double t_s) { out[moment] = MomentTime{t_s, 0.0, false}; };
    put(Moment::Address, 0.1);
    put(Moment::Takeaway, kTakeaway_s);
    put(Moment::Top, kTop_s);
    put(Moment::LeadArmLevelDown, kArmLevel_s);
    put(Moment::ShaftLevelDown, kShaftLevel_s);
    put(Moment::Impact, kImpact_s);
    out.address_window = {0.05, 0.15};
    out.window_end_s = kImpact_s + 0.05;
    return out;
}

/// A slow pelvis, so that the filter leaves it alone.
SegmentMotion pelvis_of(const std::function<BodyAngles(double)>& angles,
                        const std::function<Vector3d(double)>& place_m) {
    PoseSeries series;
    for (std::size_t i = 0; i < kFrameCount; ++i) {
        const double t = static_cast<double>(i) / kFrameRate_hz;
        series.q_lab_segment.push_back(rotation_of(angles(t)));
        series.p_lab_m.push_back(place_m(t));
    }
    return smooth(series, kFrameRate_hz, 12.0, std::nullopt);
}

const auto kStill = [](double) { return BodyAngles{}; };
const auto kHere = [](double) { return Vector3d(0.3, -0.2, 0.95); };

Sequence with_reversals(double pelvis, double torso, double arm, double club) {
    Sequence out;
    const std::array times{pelvis, torso, arm, club};
    for (std::size_t i = 0; i < times.size(); ++i) {
        out.parts[i].emplace();
        out.parts[i]->reversal_t_s = times[i];
    }
    return out;
}

/// The same motion as measured.
PoseSeries raw_of(const SegmentMotion& motion) {
    PoseSeries out;
    out.q_lab_segment = motion.q_lab_segment;
    out.p_lab_m = motion.p_lab_m;
    return out;
}

} // namespace

TEST(Positions, AreAgainstTheMeanAtAddressInAxesOfTheTarget) {
    // From address on 6 cm to the target, 4 cm away from the ball and 2 cm down, by 1.2 s.
    const SegmentMotion pelvis = pelvis_of(
        [](double t) {
            const double share = std::min(1.0, std::max(0.0, (t - 0.2) / 1.0));
            const double smooth = share * share * (3.0 - 2.0 * share);
            return BodyAngles{rad_from_deg(-40.0 * smooth), rad_from_deg(-8.0 * smooth),
                              rad_from_deg(20.0 + 5.0 * smooth)};
        },
        [](double t) {
            const double share = std::min(1.0, std::max(0.0, (t - 0.2) / 1.0));
            const double smooth = share * share * (3.0 - 2.0 * share);
            return Vector3d(0.3 + 0.06 * smooth, -0.2 + 0.04 * smooth, 0.95 - 0.02 * smooth);
        });
    const TrunkPosition at = position_at(calc_trunk_curves(raw_of(pelvis), pelvis, moments()), 1.6);
    EXPECT_NEAR(at.sway_m, 0.06, 1e-4);
    EXPECT_NEAR(at.depth_m, 0.04, 1e-4);
    EXPECT_NEAR(at.lift_m, -0.02, 1e-4);
    EXPECT_NEAR(at.turn_deg, -40.0, 0.02);
    EXPECT_NEAR(at.side_tilt_deg, -8.0, 0.02);
    EXPECT_NEAR(at.forward_bend_deg, 25.0, 0.02);
}

TEST(Positions, WithoutAddressOrPlacesAreNotInvented) {
    const SegmentMotion pelvis = pelvis_of(kStill, kHere);
    SwingMoments no_address = moments();
    no_address[Moment::Address].reset();
    EXPECT_TRUE(
        std::isnan(position_at(calc_trunk_curves(raw_of(pelvis), pelvis, no_address), 1.0).sway_m));
    EXPECT_NEAR(position_at(calc_trunk_curves(raw_of(pelvis), pelvis, no_address), 1.0).turn_deg,
                0.0, 1e-9);
    SegmentMotion angles_only = pelvis;
    angles_only.p_lab_m.clear();
    EXPECT_TRUE(std::isnan(
        position_at(calc_trunk_curves(raw_of(angles_only), angles_only, moments()), 1.0).lift_m));
}

TEST(Transition, LeadsAreAgainstTheClubAndTheOrderIsByTime) {
    const Transition got =
        calc_transition(with_reversals(1.12, 1.16, 1.19, 1.20), moments(), nullptr, std::nullopt);
    EXPECT_NEAR(got.pelvis_lead_ms, 80.0, 1e-9);
    EXPECT_NEAR(got.torso_lead_ms, 40.0, 1e-9);
    EXPECT_NEAR(got.arm_lead_ms, 10.0, 1e-9);
    EXPECT_EQ(got.reversal_order, (std::vector<Segment>{kSequence.begin(), kSequence.end()}));
    EXPECT_DOUBLE_EQ(got.first_reversal_s, 1.12);
    EXPECT_DOUBLE_EQ(got.last_reversal_s, 1.20);
    EXPECT_TRUE(std::isnan(got.recentre_lead_ms)) << "there is no pelvis in space";

    const Transition late =
        calc_transition(with_reversals(1.25, 1.16, 1.19, 1.20), moments(), nullptr, std::nullopt);
    EXPECT_NEAR(late.pelvis_lead_ms, -50.0, 1e-9) << "the pelvis after the club";
    EXPECT_EQ(late.reversal_order.back(), Segment::Pelvis);

    Sequence without = with_reversals(1.12, 1.16, 1.19, 1.20);
    without.parts[index_of(Segment::Club)].reset();
    const Transition unknown = calc_transition(without, moments(), nullptr, std::nullopt);
    EXPECT_TRUE(std::isnan(unknown.pelvis_lead_ms)) << "there is no club to lead";
    EXPECT_EQ(unknown.reversal_order.size(), 3u);
}

// Sway -4 cm · sin² from takeaway on: back at most at 1.05 s, 150 ms before the top.
TEST(Transition, RecentresWhereTheSwayTurns) {
    const double turn_s = 1.05;
    const auto sway = [&](double t) {
        if (t < kTakeaway_s)
            return 0.0;
        const double s = std::sin(0.5 * kPi * (t - kTakeaway_s) / (turn_s - kTakeaway_s));
        return -0.04 * s * s;
    };
    const SegmentMotion pelvis =
        pelvis_of(kStill, [&](double t) { return Vector3d(sway(t), 0.0, 0.95); });
    const TrunkCurves curves = calc_trunk_curves(raw_of(pelvis), pelvis, moments());
    const Transition got =
        calc_transition(with_reversals(1.12, 1.16, 1.19, 1.20), moments(), &curves, std::nullopt);
    EXPECT_NEAR(got.recentre_lead_ms, 1000.0 * (kTop_s - turn_s), 2.0);
    EXPECT_GT(got.recentre_u_ms, 0.0);
    EXPECT_TRUE(std::isnan(got.lead_hip_drop_top_cm)) << "the hips' width is not known";
}

// Hips 20 cm apart tilted by 6°: the lead one is 20 · sin 6° = 2.0906 cm lower; by lead arm level
// the tilt is 1°: 0.3490 cm. The pelvis sinks by 1.5 cm from the top to there.
TEST(Transition, MeasuresTheDropOfLeadHipAndPelvis) {
    const auto share = [](double t) {
        return std::clamp((t - kTop_s) / (kArmLevel_s - kTop_s), 0.0, 1.0);
    };
    const SegmentMotion pelvis = pelvis_of(
        [&](double t) {
            return BodyAngles{0.0, rad_from_deg(-6.0 + 5.0 * share(t)), 0.0};
        },
        [&](double t) { return Vector3d(0.0, 0.0, 0.95 - 0.015 * share(t)); });
    const TrunkCurves curves = calc_trunk_curves(raw_of(pelvis), pelvis, moments());
    const Transition got =
        calc_transition(with_reversals(1.12, 1.16, 1.19, 1.20), moments(), &curves, 0.20);
    EXPECT_NEAR(got.lead_hip_drop_top_cm, 2.0906, 0.12) << "the filter rounds the corner";
    EXPECT_NEAR(got.lead_hip_drop_min_cm, 0.3490, 0.12);
    EXPECT_NEAR(got.pelvis_drop_cm, -1.5, 0.1);
}

// A pelvis that turns open by 30° about its middle: the lead hip joint, 10 cm from it, moves back
// by 10 · sin 30° = 5 cm, the trail one forward by as much; tilted by 10°, up by 1.7365 cm.
TEST(Hips, AreOnTheLineThroughThePelvis) {
    const auto share = [](double t) { return std::clamp((t - 0.3) / 0.9, 0.0, 1.0); };
    Take take;
    take.rate_hz = kFrameRate_hz;
    take.frames = kFrameCount;
    take.hip_joint_width_m = 0.20;
    const SegmentMotion turning = pelvis_of(
        [&](double t) {
            return BodyAngles{rad_from_deg(30.0 * share(t)), 0.0, 0.0};
        },
        kHere);
    const Hips turned = calc_hips(calc_leg_paths(turning, take), moments());
    EXPECT_NEAR(position_at(turned.lead, 1.6).depth_m, 0.05, 1e-4);
    EXPECT_NEAR(position_at(turned.trail, 1.6).depth_m, -0.05, 1e-4);
    EXPECT_NEAR(position_at(turned.lead, 1.6).lift_m, 0.0, 1e-6);
    EXPECT_TRUE(std::isnan(position_at(turned.lead, 1.6).beyond_ankle_m)) << "no ankles were seen";
    const SegmentMotion tilting = pelvis_of(
        [&](double t) {
            return BodyAngles{0.0, rad_from_deg(10.0 * share(t)), 0.0};
        },
        kHere);
    const Hips tilted = calc_hips(calc_leg_paths(tilting, take), moments());
    EXPECT_NEAR(position_at(tilted.lead, 1.6).lift_m, 0.017365, 1e-4);
    EXPECT_NEAR(position_at(tilted.trail, 1.6).lift_m, -0.017365, 1e-4);
    take.hip_joint_width_m.reset();
    EXPECT_TRUE(calc_hips(calc_leg_paths(turning, take), moments()).lead.depth_m.empty());
}

// The knee bends to 50° at 1.3 s and straightens: that is where straightening begins. The lead heel
// is up by 3 cm and down again at 1.15 s.
TEST(Legs, StraighteningBeginsWhereTheFlexIsGreatest) {
    Take take;
    take.rate_hz = kFrameRate_hz;
    take.frames = kFrameCount;
    take.hip_joint_width_m = 0.20;
    const SegmentMotion pelvis = pelvis_of(kStill, [](double) { return Vector3d(0.0, 0.0, 0.9); });
    const Vector3d hip(0.1, 0.0, 0.9);
    for (std::size_t i = 0; i < kFrameCount; ++i) {
        const double t = static_cast<double>(i) / kFrameRate_hz;
        const double flex = rad_from_deg(20.0 + 30.0 * std::exp(-std::pow((t - 1.3) / 0.15, 2)));
        const Vector3d knee = hip - Vector3d(0.0, 0.0, 0.4);
        const double heel =
            t > 0.6 && t < 1.15 ? 0.03 * std::pow(std::sin(kPi * (t - 0.6) / 0.55), 2) : 0.0;
        take.points_lab_m[BodyPoint::LeadKnee].push_back(knee);
        take.points_lab_m[BodyPoint::LeadAnkle].push_back(
            knee + 0.4 * Vector3d(0.0, std::sin(flex), -std::cos(flex)) + Vector3d(0.0, 0.0, heel));
    }
    SwingMoments at = moments();
    const Legs legs = calc_legs(calc_leg_paths(pelvis, take), at, 1.1);
    EXPECT_NEAR(legs.straightening_t_s, 1.3, 0.004);
    EXPECT_NEAR(legs.lead_knee_flex_deg.at(1.3), 50.0, 0.5);
    take.points_lab_m.erase(BodyPoint::LeadAnkle);
    EXPECT_TRUE(calc_legs(calc_leg_paths(pelvis, take), at, 1.1).lead_knee_flex_deg.empty());
}
