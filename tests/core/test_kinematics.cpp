// Speeds and angles of motions that are known in closed form.

#include "core/base/units.h"
#include "core/measures/kinematics.h"
#include "core/motion/rotation.h"

#include <gtest/gtest.h>

#include <cmath>
#include <functional>
#include <limits>

using namespace kite;
using Eigen::Quaterniond;
using Eigen::Vector3d;

namespace {

constexpr double kRate_hz = 240.0;
constexpr std::size_t kFrames = 240;
constexpr std::size_t kMiddle = kFrames / 2;

/// A part that stands in `start` and turns steadily about an axis of the lab.
SegmentMotion turning(const Vector3d& axis_lab, double rate_deg_s, const Quaterniond& start,
                      bool has_roll = true) {
    PoseSeries series;
    series.has_roll = has_roll;
    for (std::size_t i = 0; i < kFrames; ++i) {
        const double t = (static_cast<double>(i) - static_cast<double>(kMiddle)) / kRate_hz;
        series.q_lab_segment.push_back(
            exp_of(axis_lab.normalized() * rad_from_deg(rate_deg_s) * t) * start);
    }
    return smooth(series, kRate_hz, 20.0, std::nullopt);
}

double middle_of(const Curve& curve) {
    return curve.values().at(kMiddle);
}

/// The long axis leans to the ball by so much.
Quaterniond leaning(double deg) {
    return rotation_of({0.0, 0.0, rad_from_deg(deg)});
}

} // namespace

// A trunk that leans by b and is turned about the vertical at w turns about its own axis at
// w cos b, in all at w, and about the vertical at w (docs/measures.md, conventions).
TEST(Rates, OfALeaningTrunkByConvention) {
    const SegmentMotion trunk = turning(Vector3d::UnitZ(), 300.0, leaning(40.0));
    const auto rate = [&](RateConvention convention) {
        return middle_of(calc_rate_deg_s(trunk, Segment::Pelvis, convention, Vector3d::UnitZ()));
    };
    EXPECT_NEAR(rate(RateConvention::Axis), 300.0 * std::cos(rad_from_deg(40.0)), 0.05);
    EXPECT_NEAR(rate(RateConvention::Resultant), 300.0, 0.05);
    EXPECT_NEAR(rate(RateConvention::Plane), 300.0, 0.05);
    // The other way round all of them change their sign, the speed as a whole too.
    const SegmentMotion back = turning(Vector3d::UnitZ(), -300.0, leaning(40.0));
    for (auto convention : {RateConvention::Axis, RateConvention::Resultant, RateConvention::Plane})
        EXPECT_NEAR(
            middle_of(calc_rate_deg_s(back, Segment::Torso, convention, Vector3d::UnitZ())),
            -middle_of(calc_rate_deg_s(trunk, Segment::Torso, convention, Vector3d::UnitZ())),
            0.05);
}

// A shaft across the axis it swings about: rolling about its own length adds nothing.
TEST(Rates, OfAClubLeaveItsRollOut) {
    const Vector3d across = Vector3d::UnitY();
    const Quaterniond hanging = Quaterniond::Identity(); // its length along z
    const SegmentMotion swung = turning(across, 900.0, hanging);
    EXPECT_NEAR(middle_of(calc_speed_deg_s(swung)), 900.0, 0.5);
    EXPECT_NEAR(middle_of(calc_speed_along_deg_s(swung, across)), 900.0, 0.5);
    EXPECT_NEAR(middle_of(calc_speed_along_deg_s(swung, -across)), -900.0, 0.5);
    EXPECT_NEAR(middle_of(calc_speed_along_deg_s(swung, Vector3d::UnitX())), 0.0, 0.5);
    const SegmentMotion rolled = turning(Vector3d::UnitZ(), 900.0, hanging);
    EXPECT_NEAR(middle_of(calc_speed_deg_s(rolled)), 0.0, 0.5);
    EXPECT_NEAR(
        middle_of(calc_rate_deg_s(rolled, Segment::Club, RateConvention::Resultant, across)), 0.0,
        0.5);
    // In the plane's convention the whole turning counts, the roll too.
    EXPECT_NEAR(
        middle_of(calc_rate_deg_s(rolled, Segment::Club, RateConvention::Plane, Vector3d::UnitZ())),
        900.0, 0.5);
}

TEST(Rates, ReversalsAreThoseOfTheOwnAxisOrOfThePlane) {
    const SegmentMotion trunk = turning(Vector3d::UnitZ(), 200.0, leaning(60.0));
    EXPECT_NEAR(middle_of(calc_reversing_deg_s(trunk, Segment::Torso, Vector3d::UnitX())), 100.0,
                0.05);
    const SegmentMotion arm = turning(Vector3d::UnitY(), 200.0, Quaterniond::Identity());
    EXPECT_NEAR(middle_of(calc_reversing_deg_s(arm, Segment::LeadArm, Vector3d::UnitY())), 200.0,
                0.05);
}

// Two trunks upright: the separation is the difference of their turns, by either method. Where the
// torso alone leans sideways about a turned pelvis the two methods differ.
TEST(Separation, OfTwoUprightPartsIsTheDifferenceOfTheirTurns) {
    const auto turned = [](double deg) { return exp_of({0.0, 0.0, rad_from_deg(deg)}); };
    for (SeparationMethod method : {SeparationMethod::Joint, SeparationMethod::Projected}) {
        EXPECT_NEAR(separation_of_deg(turned(-45.0), turned(-90.0), method), 45.0, 1e-9);
        EXPECT_NEAR(separation_of_deg(turned(30.0), turned(10.0), method), 20.0, 1e-9);
        EXPECT_NEAR(separation_of_deg(turned(10.0), turned(10.0), method), 0.0, 1e-9);
    }
    // Seen from above the torso's line is foreshortened: tan(turn) = tan(45) / cos(tilt).
    const Quaterniond torso =
        Quaterniond(Eigen::AngleAxisd(rad_from_deg(40.0), Vector3d::UnitY())) * turned(-45.0);
    const double projected = deg_from_rad(std::atan(1.0 / std::cos(rad_from_deg(40.0))));
    EXPECT_NEAR(separation_of_deg(turned(0.0), torso, SeparationMethod::Projected), projected,
                1e-9);
}

TEST(Separation, RunsThroughHalfATurnWithoutAJump) {
    const SegmentMotion pelvis = turning(Vector3d::UnitZ(), 0.0, Quaterniond::Identity());
    const SegmentMotion torso = turning(Vector3d::UnitZ(), -600.0, Quaterniond::Identity());
    const Curve curve = calc_separation_deg(pelvis, torso, SeparationMethod::Projected);
    for (std::size_t i = 1; i < kFrames; ++i)
        EXPECT_NEAR(curve.values()[i] - curve.values()[i - 1], 600.0 / kRate_hz, 0.01) << i;
    EXPECT_GT(curve.values().back() - curve.values().front(), 590.0);
}

TEST(Motion, ElevationIsTheSineOfTheFarEndsHeight) {
    // An arm hangs down, points to the target, points up: far end along -Z of the part.
    const auto held = [](const Quaterniond& q) {
        return middle_of(calc_elevation(turning(Vector3d::UnitZ(), 0.0, q)));
    };
    EXPECT_NEAR(held(Quaterniond::Identity()), -1.0, 1e-9);
    EXPECT_NEAR(held(Quaterniond(Eigen::AngleAxisd(kPi / 2.0, Vector3d::UnitY()))), 0.0, 1e-9);
    EXPECT_NEAR(held(Quaterniond(Eigen::AngleAxisd(kPi / 6.0 + kPi / 2.0, Vector3d::UnitY()))), 0.5,
                1e-9);
}

TEST(Motion, NoiseAboutAnAxisIsThatOfTheBodysAxesThere) {
    SegmentMotion motion = turning(Vector3d::UnitZ(), 0.0, leaning(90.0));
    motion.angle_noise_rad = {0.003, 0.004, 0.012};
    // Across: the root of the mean square of x and y.
    EXPECT_NEAR(motion.noise_across_rad(), std::sqrt((9e-6 + 16e-6) / 2.0), 1e-12);
    // Leaning by 90° its long axis lies along -y of the lab, its own y stands up.
    EXPECT_NEAR(motion.noise_about_rad(Vector3d::UnitX(), kMiddle), 0.003, 1e-6);
    EXPECT_NEAR(motion.noise_about_rad(Vector3d::UnitZ(), kMiddle), 0.004, 1e-6);
    EXPECT_NEAR(motion.noise_about_rad(5.0 * Vector3d::UnitY(), kMiddle), 0.012, 1e-6);
    // What has no roll is as noisy across whatever axis is asked about.
    motion.angle_noise_rad.z() = std::numeric_limits<double>::quiet_NaN();
    EXPECT_NEAR(motion.noise_about_rad(Vector3d::UnitX(), kMiddle), motion.noise_across_rad(),
                1e-12);
    EXPECT_NEAR(motion.noise_about_rad(Vector3d::UnitX(), kFrames + 5), motion.noise_across_rad(),
                1e-12);
}

// White noise of 2 mrad on every angle is found in what the filter takes away.
TEST(Motion, NoiseIsEstimatedFromWhatTheFilterTookAway) {
    PoseSeries series;
    unsigned state = 20261130;
    const auto even = [&] { // uniform between -1 and 1 (Numerical Recipes' quick generator)
        state = state * 1664525U + 1013904223U;
        return static_cast<double>(state) / 2147483648.0 - 1.0;
    };
    const double half = std::sqrt(3.0) * 0.002;
    for (std::size_t i = 0; i < 2000; ++i)
        series.q_lab_segment.push_back(exp_of({half * even(), half * even(), half * even()}));
    const SegmentMotion motion = smooth(series, kRate_hz, 15.0, std::nullopt);
    for (int axis = 0; axis < 3; ++axis)
        EXPECT_NEAR(motion.angle_noise_rad(axis), 0.002, 0.0006) << axis;
    series.has_roll = false;
    EXPECT_TRUE(std::isnan(smooth(series, kRate_hz, 15.0, std::nullopt).angle_noise_rad.z()));
}

TEST(Motion, StretchesTellWhatWasBridgedAndWhatWasNotSeen) {
    PoseSeries series;
    for (std::size_t i = 0; i < kFrames; ++i)
        series.q_lab_segment.push_back(exp_of({0.0, 0.0, 0.01 * static_cast<double>(i)}));
    const auto hide = [&](std::size_t from, std::size_t to) {
        for (std::size_t i = from; i < to; ++i)
            series.q_lab_segment[i] = missing_rotation();
    };
    hide(0, 10);    // before it came into view
    hide(50, 53);   // three frames, 12.5 ms
    hide(100, 148); // a fifth of a second
    const SegmentMotion motion = smooth(series, kRate_hz, 15.0, std::nullopt);
    const auto unseen = unseen_stretches(motion);
    ASSERT_EQ(unseen.size(), 2U);
    EXPECT_NEAR(unseen[0].begin_s, 0.0, 1e-9);
    EXPECT_NEAR(unseen[0].end_s, 9.0 / kRate_hz, 1e-9);
    EXPECT_NEAR(unseen[1].begin_s, 100.0 / kRate_hz, 1e-9);
    EXPECT_NEAR(unseen[1].end_s, 147.0 / kRate_hz, 1e-9);
    const auto bridged = bridged_stretches(motion);
    ASSERT_EQ(bridged.size(), 1U);
    EXPECT_NEAR(bridged[0].begin_s, 50.0 / kRate_hz, 1e-9);
    EXPECT_NEAR(bridged[0].end_s, 52.0 / kRate_hz, 1e-9);
    // In what was bridged there are values, in what was not there are none.
    EXPECT_TRUE(is_finite(motion.q_lab_segment[51]));
    EXPECT_FALSE(is_finite(motion.q_lab_segment[120]));
    EXPECT_FALSE(std::isfinite(calc_speed_deg_s(motion).values()[120]));
}

TEST(Motion, NoiseIsAddedOnceAskedFor) {
    PoseSeries series;
    // Every other frame off by so much either way: the filter takes all of it away.
    constexpr double kOff_rad = 0.001;
    for (std::size_t i = 0; i < kFrames; ++i) {
        const Quaterniond q = exp_of({i % 2 == 0 ? kOff_rad : -kOff_rad, 0.0, 0.0});
        // The other sign is the same orientation.
        series.q_lab_segment.emplace_back(i % 7 == 0 ? Quaterniond(-q.coeffs()) : q);
    }
    SegmentMotion motion = smooth_turning(series, kRate_hz, 15.0, std::nullopt);
    EXPECT_TRUE(motion.angle_noise_rad.array().isNaN().all()) << "unasked is not known";
    add_noise(series, motion);
    // Of normal noise as many lie within 0.6745 standard deviations as beyond; of white noise the
    // filter would have left a part.
    EXPECT_GT(motion.angle_noise_rad.x(), kOff_rad / 0.6745);
    EXPECT_LT(motion.angle_noise_rad.x(), 1.2 * kOff_rad / 0.6745);
    EXPECT_LT(motion.angle_noise_rad.y(), 1e-9);
}

TEST(Motion, PlacesAreAddedOnceAskedFor) {
    PoseSeries series;
    for (std::size_t i = 0; i < kFrames; ++i) {
        series.q_lab_segment.push_back(Quaterniond::Identity());
        series.p_lab_m.emplace_back(0.001 * static_cast<double>(i), 2.0, 0.9);
    }
    SegmentMotion motion = smooth_turning(series, kRate_hz, 15.0, std::nullopt);
    EXPECT_TRUE(motion.p_lab_m.empty());
    EXPECT_TRUE(calc_coordinate_m(motion, 0).empty());
    add_places(series, motion);
    EXPECT_NEAR(middle_of(calc_coordinate_m(motion, 0)), 0.001 * kMiddle, 1e-9);
    EXPECT_NEAR(middle_of(calc_coordinate_m(motion, 1)), 2.0, 1e-9);
    EXPECT_NEAR(motion.time_of_last(), (kFrames - 1) / kRate_hz, 1e-12);
    EXPECT_EQ(SegmentMotion{}.time_of_last(), 0.0);
}

TEST(Motion, TheFirstFrameAfterAChangeIsTheOneBehindIt) {
    EXPECT_FALSE(split_frame(std::nullopt, 100.0));
    EXPECT_EQ(split_frame(0.204, 100.0), 21U);
    EXPECT_EQ(split_frame(0.20, 100.0), 21U); // a frame on it lies before
    EXPECT_FALSE(split_frame(-0.5, 100.0));
}
