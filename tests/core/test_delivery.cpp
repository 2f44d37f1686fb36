// Delivery, arms, set-up and takeaway against motions made by hand, whose answers are plain.

#include "core/base/units.h"
#include "core/measures/analyse.h"
#include "core/measures/delivery.h"
#include "core/measures/marker_take.h"
#include "core/measures/setup.h"
#include "simulate/simulate.h"
#include "simulate/swing_model.h"

#include <gtest/gtest.h>

#include <cmath>
#include <random>

using namespace kite;
using Eigen::Vector3d;

namespace {

constexpr double kRate_hz = 500.0;

SwingMoments impact_at(double t_s) {
    SwingMoments out;
    out[Moment::Impact] = MomentTime{t_s, 0.0002, false};
    out.impact_source = ImpactSource::ClubHead;
    return out;
}

} // namespace

// A head on a parabola, z = (x - 0.04)² / 2: lowest 4 cm ahead of the ball, which lies at x = 0.
TEST(Delivery, FindsTheLowPointOfAParabola) {
    std::vector<Vector3d> head;
    for (int i = 0; i <= 500; ++i) {
        const double x = 40.0 * (i / kRate_hz - 0.5); // 40 m/s, at the ball after 0.5 s
        head.emplace_back(x, 0.0, 0.5 * (x - 0.04) * (x - 0.04));
    }
    const Approach found = fit_approach(head, kRate_hz, 0.5, 0.0);
    // The circle of its curvature there, not the parabola: over 4 cm of a radius of 1 m no more
    // than a millimetre apart.
    EXPECT_NEAR(100.0 * found.low_point_m, 4.0, 0.1);
    EXPECT_LT(100.0 * found.low_point_u_m, 1.5);
    EXPECT_FALSE(std::isfinite(calc_delivery(nullptr, found, impact_at(0.5)).shaft_lean_deg));
}

// A circle of 1.5 m at 40 m/s in a plane inclined by 60°, the ball 5° past, on and 5° before its
// lowest point: attack is asin(sin 5° sin 60°), the low point lies 1.5 m sin 5° behind or ahead.
TEST(Delivery, IsThatOfACircleInTheLimit) {
    for (double past_deg : {-5.0, 0.0, 5.0})
        for (double rate_hz : {240.0, 480.0}) {
            const double impact_s = 0.5011; // between two frames
            std::vector<Vector3d> head;
            for (int i = 0; i <= static_cast<int>(0.6 * rate_hz); ++i) {
                const double turn = rad_from_deg(past_deg) + 40.0 / 1.5 * (i / rate_hz - impact_s);
                const double in = 1.5 * (1.0 - std::cos(turn));
                head.emplace_back(1.5 * std::sin(turn), 0.5 * in, std::sqrt(0.75) * in);
            }
            const Approach found = fit_approach(head, rate_hz, impact_s, 0.0);
            const double s = std::sin(rad_from_deg(past_deg));
            const double c = std::cos(rad_from_deg(past_deg));
            EXPECT_NEAR(found.attack_deg, deg_from_rad(std::asin(std::sqrt(0.75) * s)), 0.05);
            EXPECT_NEAR(found.path_deg, deg_from_rad(std::atan2(-0.5 * s, c)), 0.05);
            EXPECT_NEAR(100.0 * found.low_point_m, -150.0 * s, 0.3);
            EXPECT_LT(found.attack_u_deg, 0.2);
            EXPECT_LT(100.0 * found.low_point_u_m, 1.0);
            // A millisecond of doubt about impact is a turn of 26.7 rad/s times that.
            const Approach doubtful = fit_approach(head, rate_hz, impact_s, 0.001);
            EXPECT_NEAR(doubtful.attack_u_deg, deg_from_rad(0.001 * 40.0 / 1.5 * std::sqrt(0.75)),
                        0.1);
        }
    EXPECT_FALSE(std::isfinite(fit_approach({}, 240.0, 0.5, 0.0).attack_deg));
}

// Noise of some millimetres moves it by no more than it says, in nineteen of twenty.
TEST(Delivery, SaysHowSureTheLowPointIs) {
    std::mt19937 random(7);
    std::normal_distribution<double> noise(0.0, 0.0004);
    int held = 0;
    int given = 0;
    for (int round = 0; round < 100; ++round) {
        std::vector<Vector3d> head;
        for (int i = 0; i <= 260; ++i) {
            const double x = 40.0 * (i / kRate_hz - 0.5);
            head.emplace_back(x + noise(random), 0.0,
                              0.5 * (x - 0.04) * (x - 0.04) + noise(random));
        }
        const Delivery found =
            calc_delivery(nullptr, fit_approach(head, kRate_hz, 0.5, 0.0), impact_at(0.5));
        if (!std::isfinite(found.low_point_cm))
            continue;
        ++given;
        held += std::abs(found.low_point_cm - 4.0) <= 2.0 * found.low_point_u_cm ? 1 : 0;
    }
    EXPECT_GE(given, 90);
    EXPECT_GE(held, 88 * given / 100);
}

TEST(Delivery, AgreesWithTheModelJustBeforeImpact) {
    simulate::SwingParameters parameters;
    parameters.rate_hz = kRate_hz;
    parameters.path_deg = 6.0;
    const simulate::SwingModel model(parameters);
    const Analysis a = analyse(simulate::make_take(parameters), {}).value;
    // A turned plane brings the head past its place a little sooner: there it is measured.
    const double t = a.moments.time_s(Moment::Impact);
    const Vector3d shaft = model.pose(Segment::Club, t).q_lab_segment * Vector3d::UnitZ();
    EXPECT_NEAR(a.delivery.shaft_lean_deg, deg_from_rad(std::atan2(shaft.x(), shaft.z())), 0.6);
    const Vector3d v = (model.head_m(t - 1e-5) - model.head_m(t - 3e-5)).normalized();
    EXPECT_NEAR(a.speed.club_head_direction_deg, deg_from_rad(std::atan2(-v.y(), v.x())), 0.1);
    EXPECT_LT(a.speed.club_head_direction_deg, -3.0) << "planted from outside";
    EXPECT_NEAR(a.speed.attack_deg, deg_from_rad(std::asin(v.z())), 0.1);
}

// Ankles 44 cm apart at ±22 cm (the model's own), the head where the model has it at rest.
TEST(Setup, IsWhatTheModelStandsLike) {
    const simulate::SwingParameters parameters;
    const simulate::SwingModel model(parameters);
    const Analysis a = analyse(simulate::make_take(parameters), {}).value;
    EXPECT_NEAR(a.setup.stance_cm, 44.0, 0.1);
    EXPECT_NEAR(a.setup.ball_place, model.head_m(0.0).x() / 0.22, 0.01);
}

// The lead arm against the chest, from the model's own poses.
TEST(Arms, LieAcrossTheChestAsTheModelHasThem) {
    const simulate::SwingParameters parameters;
    const simulate::SwingModel model(parameters);
    const Analysis a = analyse(simulate::make_take(parameters), {}).value;
    for (Moment moment : {Moment::Top, Moment::ShaftLevelDown}) {
        const double t = a.moments.time_s(moment);
        const auto torso = model.pose(Segment::Torso, t);
        const auto arm = model.pose(Segment::LeadArm, t);
        const Vector3d to_wrist =
            torso.q_lab_segment.conjugate() * (arm.q_lab_segment * Vector3d(0.0, 0.0, -1.0));
        EXPECT_NEAR(a.arms.across_deg.at(t), deg_from_rad(std::atan2(-to_wrist.x(), -to_wrist.y())),
                    1.0);
        const double wrist_z =
            (arm.p_lab_m - parameters.arm_length_m * (arm.q_lab_segment * Vector3d::UnitZ())).z();
        EXPECT_NEAR(a.arms.hand_height_m.at(t), wrist_z - torso.p_lab_m.z(), 0.01);
    }
    // The model's arm is straight; its elbow marker lies on it.
    const Analysis seen =
        analyse(take_from_markers(simulate::make_markers(parameters)).value, {}).value;
    EXPECT_NEAR(seen.arms.lead_elbow_flex_deg.at(seen.moments.time_s(Moment::Top)), 0.0, 1.0);
}

// Rates that begin as a ramp: a part is under way where a twentieth of its fastest is reached.
TEST(Takeaway, StartsWhereATwentiethIsReached) {
    std::array<Curve, kSequence.size()> rates;
    std::array<double, kSequence.size()> noise{0.1, 0.1, 0.1, 0.1};
    const std::array<double, 4> start_s{0.50, 0.53, 0.55, 0.60};
    for (std::size_t k = 0; k < rates.size(); ++k) {
        std::vector<double> v(401);
        for (std::size_t i = 0; i < v.size(); ++i) {
            const double t = static_cast<double>(i) / 250.0;
            v[i] = t < start_s[k] ? 0.0 : -300.0 * std::min(1.0, (t - start_s[k]) / 0.4);
        }
        rates[k] = Curve(std::move(v), 250.0);
    }
    SwingMoments moments;
    moments[Moment::Takeaway] = MomentTime{0.62, 0.003, false};
    moments[Moment::Top] = MomentTime{1.5, 0.001, false};
    const Takeaway found = calc_takeaway(rates, noise, moments);
    EXPECT_EQ(found.order, (std::vector<Segment>{Segment::Pelvis, Segment::Torso, Segment::LeadArm,
                                                 Segment::Club}));
    // All ramps are as steep: the starts are as far apart as the ramps.
    EXPECT_NEAR(found.start_ms(Segment::Pelvis), 100.0, 3.0);
    EXPECT_NEAR(found.start_ms(Segment::LeadArm), 50.0, 3.0);
    EXPECT_NEAR(found.parts[0].start_s, 0.52, 0.003);
}
