// Hinge path, wrist, legs and pressure from motions with a known answer.

#include "core/base/units.h"
#include "core/measures/hinge_path.h"
#include "core/measures/legs.h"
#include "core/measures/pressure.h"
#include "core/measures/speed.h"
#include "core/measures/wrist.h"
#include "core/motion/rotation.h"

#include <gtest/gtest.h>

#include <cmath>
#include <functional>

using namespace kite;
using Eigen::Vector3d;

namespace {

constexpr double kRate_hz = 200.0;
constexpr std::size_t kFrames = 300;

SegmentMotion motion_of(const std::function<double(double)>& turn_rad,
                        const std::function<Vector3d(double)>& place_m) {
    PoseSeries series;
    for (std::size_t i = 0; i < kFrames; ++i) {
        const double t = static_cast<double>(i) / kRate_hz;
        series.q_lab_segment.push_back(exp_of({0.0, 0.0, turn_rad(t)}));
        series.p_lab_m.push_back(place_m(t));
    }
    return smooth(series, kRate_hz, 12.0, std::nullopt);
}

SwingMoments moments_at(double takeaway_s, double top_s, double impact_s) {
    SwingMoments out;
    out[Moment::Takeaway] = MomentTime{takeaway_s, 0.0, false};
    out[Moment::Top] = MomentTime{top_s, 0.0, false};
    out[Moment::Impact] = MomentTime{impact_s, 0.0, false};
    out[Moment::Address] = MomentTime{0.05, 0.0, false};
    out.address_window = {0.0, 0.1};
    out.window_end_s = impact_s + 0.05;
    return out;
}

} // namespace

// Textbook kinematics: a door turns about its hinge. Hinged at the lead hip joint it pivots at
// along = +1, behind = 0; at a point 10 cm behind the middle at along = 0, behind = 0.1.
TEST(HingePath, FindsTheHingeOfADoor) {
    constexpr double kWidth_m = 0.2;
    constexpr double kSpeed_rad_s = 3.0;
    const auto turn = [](double t) { return kSpeed_rad_s * t; };
    for (const Vector3d& hinge : {Vector3d(0.1, 0.0, 0.0), Vector3d(0.0, 0.1, 0.0)}) {
        const SegmentMotion door = motion_of(turn, [&](double t) -> Vector3d {
            return Vector3d(2.0, 1.0, 0.9) - exp_of({0.0, 0.0, turn(t)}) * hinge;
        });
        const HingePath path = calc_hinge_path(door, kWidth_m, moments_at(0.2, 0.6, 1.2), 0.7);
        EXPECT_NEAR(path.downswing.along, hinge.x() / 0.1, 1e-3);
        EXPECT_NEAR(path.downswing.behind_m, hinge.y(), 1e-4);
        EXPECT_NEAR(path.backswing.along, hinge.x() / 0.1, 1e-3);
    }
}

// Textbook kinematics: a wheel that rolls without slipping turns about its contact point. Seen from
// above, rolling towards the target while turning open: contact at the side v / w.
TEST(HingePath, FindsTheContactPointOfAWheel) {
    constexpr double kRadius_m = 0.25;
    constexpr double kSpeed_rad_s = 3.0;
    // A frame that does not turn with the wheel's own angle: look where the hip line is along x.
    const SegmentMotion wheel =
        motion_of([](double t) { return kSpeed_rad_s * (t - 0.75); },
                  [](double t) { return Vector3d(kSpeed_rad_s * kRadius_m * t, 0.0, 0.9); });
    const HingePath path = calc_hinge_path(wheel, 0.2, moments_at(0.2, 0.6, 1.2), 0.7);
    EXPECT_NEAR(path.behind_m.at(0.75), kRadius_m, 2e-3);
    EXPECT_NEAR(path.along.at(0.75), 0.0, 0.02);
}

TEST(HingePath, IsLeftOpenWhereThePelvisHardlyTurns) {
    // 59 °/s is too slow to tell, 61 °/s is not.
    for (const double speed_deg_s : {59.0, 61.0}) {
        const SegmentMotion slow =
            motion_of([&](double t) { return rad_from_deg(speed_deg_s) * t; },
                      [](double t) { return Vector3d(0.1 * t, 0.0, 0.9); });
        const HingePath path = calc_hinge_path(slow, 0.2, moments_at(0.2, 0.6, 1.2), 0.7);
        EXPECT_EQ(std::isfinite(path.along.at(0.75)), speed_deg_s > 60.0);
    }
}

// A hinge that falls from 90° in a straight line: 15° below its downswing maximum after a known
// time, two thirds kept at shaft level down.
TEST(Wrist, MeasuresHingeReleaseAndWhatIsKept) {
    std::vector<double> hinge(kFrames);
    for (std::size_t i = 0; i < hinge.size(); ++i) {
        const double t = static_cast<double>(i) / kRate_hz;
        hinge[i] = t < 0.8 ? 90.0 : 90.0 - 150.0 * (t - 0.8);
    }
    SwingMoments moments = moments_at(0.2, 0.7, 1.2);
    moments[Moment::ShaftLevelDown] = MomentTime{1.0, 0.0, false};
    const Wrist wrist = calc_wrist(Curve(hinge, kRate_hz), moments);
    EXPECT_NEAR(wrist.top_deg, 90.0, 1e-9);
    EXPECT_NEAR(wrist.release_t_s, 0.9, 1e-3);
    EXPECT_NEAR(wrist.kept_pct, 100.0 * 60.0 / 90.0, 1e-3);
}

// 30 m/s along the target line from inside: direction atan(1 / 29).
TEST(Speed, GivesHandsHeadAndDirection) {
    std::vector<Vector3d> head;
    std::vector<Vector3d> hands;
    for (std::size_t i = 0; i < kFrames; ++i) {
        const double t = static_cast<double>(i) / kRate_hz;
        head.emplace_back(29.0 * t, -1.0 * t, 0.0);
        hands.emplace_back(6.0 * t, 0.0, 1.0);
    }
    std::vector<Finding> findings;
    const Speed speed = calc_speed(hands, head, fit_approach(head, kRate_hz, 1.2, 0.0), kRate_hz,
                                   moments_at(0.2, 0.6, 1.2), findings);
    EXPECT_NEAR(speed.hands_m_s, 6.0, 1e-6);
    EXPECT_NEAR(speed.club_head_m_s, std::hypot(29.0, 1.0), 1e-6);
    EXPECT_TRUE(findings.empty());
    EXPECT_NEAR(speed.club_head_direction_deg, deg_from_rad(std::atan(1.0 / 29.0)), 1e-6);
}

// On a circle of 1.5 m the way is the arc, and the speed its angle's rate times the radius: 1.5 m ·
// 20 rad/s = 30 m/s. With coordinates smoothed one by one it would come out wrong.
TEST(Speed, FollowsAnArc) {
    std::vector<Vector3d> head;
    for (std::size_t i = 0; i < kFrames; ++i) {
        const double a = 20.0 * static_cast<double>(i) / kRate_hz;
        head.emplace_back(1.5 * std::sin(a), 0.0, 1.5 * (1.0 - std::cos(a)));
    }
    std::vector<Finding> findings;
    const Speed speed = calc_speed({}, head, {}, kRate_hz, moments_at(0.2, 0.6, 1.2), findings);
    EXPECT_NEAR(speed.club_head_m_s, 30.0, 0.02);
    EXPECT_TRUE(std::isnan(speed.hands_m_s));
}

// A head that was hidden for 30 ms before the ball has no speed there, and that is said.
TEST(Speed, IsNotToldOfAHeadThatWasHidden) {
    std::vector<Vector3d> head;
    for (std::size_t i = 0; i < kFrames; ++i)
        head.emplace_back(30.0 * static_cast<double>(i) / kRate_hz, 0.0, 0.0);
    for (auto i = static_cast<std::size_t>(1.17 * kRate_hz); i < kFrames; ++i)
        head[i] = missing_point();
    std::vector<Finding> findings;
    const Speed speed = calc_speed({}, head, {}, kRate_hz, moments_at(0.2, 0.6, 1.2), findings);
    EXPECT_TRUE(std::isnan(speed.club_head_m_s));
    ASSERT_EQ(findings.size(), 1u);
    EXPECT_EQ(findings.front().code, "speed-unsure");
}

// Hip, knee and ankle as a right angle: 90° of flex; hip 10 cm outside the ankle.
TEST(Legs, MeasureFlexAndOverhang) {
    const SegmentMotion pelvis =
        motion_of([](double) { return 0.0; }, [](double) { return Vector3d(0.0, 0.0, 0.9); });
    Take take;
    take.rate_hz = kRate_hz;
    take.frames = kFrames;
    take.hip_joint_width_m = 0.2;
    take.points_lab_m[BodyPoint::LeadKnee].assign(kFrames, {0.1, -0.4, 0.9});
    take.points_lab_m[BodyPoint::LeadAnkle].assign(kFrames, {0.1, -0.4, 0.5});
    take.points_lab_m[BodyPoint::TrailAnkle].assign(kFrames, {0.0, -0.4, 0.5});
    const SwingMoments moments = moments_at(0.2, 0.6, 1.2);
    const Legs legs = calc_legs(calc_leg_paths(pelvis, take), moments, 0.5);
    EXPECT_NEAR(legs.lead_knee_flex_deg.at(0.7), 90.0, 1e-6);
    const Hips hips = calc_hips(calc_leg_paths(pelvis, take), moments);
    EXPECT_NEAR(position_at(hips.lead, 0.7).beyond_ankle_m, 0.0, 1e-9);
    EXPECT_NEAR(position_at(hips.trail, 0.7).beyond_ankle_m, 0.1, 1e-9);
    EXPECT_NEAR(position_at(hips.lead, 0.7).lift_m, 0.0, 1e-9);
}

// Shares by hand: 25 % at the least, half when lead equals trail, 1.5 body weights at most.
TEST(Pressure, FindsLeastHalfAndPeak) {
    Take take;
    take.rate_hz = kRate_hz;
    take.frames = kFrames;
    for (std::size_t i = 0; i < kFrames; ++i) {
        const double t = static_cast<double>(i) / kRate_hz;
        const double share = t < 0.2 ? 0.5 : 0.5 - 0.25 * std::sin(kPi * (t - 0.2) / 0.6);
        const double total = 800.0 * (1.0 + 0.5 * std::exp(-std::pow((t - 1.1) / 0.08, 2)));
        take.lead_force_n.push_back(share * total);
        take.trail_force_n.push_back((1.0 - share) * total);
    }
    const Pressure pressure = calc_pressure(take, moments_at(0.2, 0.7, 1.2));
    EXPECT_NEAR(pressure.lead_min_pct, 25.0, 0.3);
    EXPECT_NEAR(pressure.lead_min_t_s, 0.5, 0.01);
    EXPECT_NEAR(pressure.lead_half_t_s, 0.8, 0.01);
    EXPECT_NEAR(pressure.peak_total_bw, 1.5, 0.02);
    EXPECT_NEAR(pressure.peak_total_t_s, 1.1, 0.005);
    take.trail_force_n.clear();
    EXPECT_TRUE(calc_pressure(take, moments_at(0.2, 0.7, 1.2)).lead_pct.empty());
}
