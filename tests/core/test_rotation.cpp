#include "core/base/units.h"
#include "core/motion/rotation.h"
#include "core/motion/take.h"
#include "reference/scipy_values.h"

#include <gtest/gtest.h>

#include <cmath>
#include <random>

using namespace kite;
using Eigen::Quaterniond;
using Eigen::Vector3d;

namespace {

Quaterniond posed(double turn_deg, double tilt_deg, double bend_deg) {
    return rotation_of({rad_from_deg(turn_deg), rad_from_deg(tilt_deg), rad_from_deg(bend_deg)});
}

double angle_between_deg(const Quaterniond& a, const Quaterniond& b) {
    return deg_from_rad(a.angularDistance(b));
}

} // namespace

// Source: SciPy Rotation.from_euler('ZYX', [-90, -20, 35]).
TEST(Rotation, FollowsTheAngleConvention) {
    const Quaterniond q = posed(-90.0, 20.0, 35.0);
    const auto& wxyz = reference::quat_turn_m90_tilt_20_bend_35_wxyz;
    EXPECT_LT(angle_between_deg(q, Quaterniond(wxyz[0], wxyz[1], wxyz[2], wxyz[3])), 1e-6);
    EXPECT_LT(angle_between_deg(q, Quaterniond(0.70105738, 0.09229596, -0.32650558, -0.62721138)),
              1e-5);
    const BodyAngles back = angles_of(q);
    EXPECT_NEAR(deg_from_rad(back.turn_rad), -90.0, 1e-9);
    EXPECT_NEAR(deg_from_rad(back.side_tilt_rad), 20.0, 1e-9);
    EXPECT_NEAR(deg_from_rad(back.forward_bend_rad), 35.0, 1e-9);
}

// The signs in words, on the body itself.
TEST(Rotation, SignsMeanWhatTheScreenSays) {
    const Vector3d lead = Vector3d::UnitX();
    // Open to the target: the lead side has moved away from the ball (y > 0), the trail side to it.
    EXPECT_GT((posed(30, 0, 0) * lead).y(), 0.4);
    // Lead side higher.
    EXPECT_GT((posed(0, 10, 0) * lead).z(), 0.1);
    // Leaning towards the ball (y < 0).
    EXPECT_LT((posed(0, 0, 30) * Vector3d::UnitZ()).y(), -0.4);
}

// The definition: it takes one direction to the other, by the angle between them and no more.
TEST(Rotation, BetweenTwoDirectionsIsTheShortest) {
    std::mt19937 random(20263);
    std::normal_distribution<double> any;
    for (int i = 0; i < 500; ++i) {
        const Vector3d a(any(random), any(random), any(random));
        Vector3d b(any(random), any(random), any(random));
        if (i % 5 == 0)
            b = -2.0 * a + 1e-7 * b; // almost opposite
        const Quaterniond q = rotation_between(a, b);
        EXPECT_LT((q * a.normalized() - b.normalized()).norm(), 1e-6);
        EXPECT_NEAR(q.angularDistance(Quaterniond::Identity()),
                    std::atan2(a.cross(b).norm(), a.dot(b)), 1e-6);
    }
    const Vector3d up = Vector3d::UnitZ();
    EXPECT_LT((rotation_between(up, -up) * up + up).norm(), 1e-12);
    EXPECT_LT(rotation_between(up, 3.0 * up).vec().norm(), 1e-12);
}

TEST(Rotation, RebuildsFromItsAngles) {
    std::mt19937 random(20261);
    std::uniform_real_distribution<double> turn(-179.9, 179.9);
    std::uniform_real_distribution<double> tilt(-89.9, 89.9);
    for (int i = 0; i < 500; ++i) {
        const Quaterniond q = posed(turn(random), tilt(random), turn(random));
        EXPECT_LT(angle_between_deg(q, rotation_of(angles_of(q))), 1e-5);
    }
}

// Source: SciPy; pelvis turn -45, side tilt -5, bend 15; torso -92, +12, 38. The pelvis' joint turn
// is 43.912° by the joint method against 47° projected.
TEST(Rotation, JointSeparationEqualsScipy) {
    const double joint_deg = -deg_from_rad(joint_turn_rad(posed(-45, -5, 15), posed(-92, 12, 38)));
    EXPECT_NEAR(joint_deg, reference::joint_separation_deg[0], 1e-8);
    EXPECT_NEAR(joint_deg, 43.912, 5e-4);
}

TEST(Rotation, LogarithmUndoesTheExponential) {
    for (const Vector3d& v :
         {Vector3d(0.3, -0.2, 0.9), Vector3d(1e-13, 0.0, 0.0), Vector3d(0.0, 3.1, 0.0)})
        EXPECT_LT((log_of(exp_of(v)) - v).norm(), 1e-12);
    Quaterniond flipped = exp_of({0.3, 0.0, 0.0});
    flipped.coeffs() = -flipped.coeffs(); // the same rotation
    EXPECT_NEAR(log_of(flipped).x(), 0.3, 1e-12);
}

// Source: Bortz 1971, Savage 1998: a body whose axis goes round a cone of half-angle a at rate W,
// q = (cos(a/2), sin(a/2) cos(Wt), sin(a/2) sin(Wt), 0), turns in its own axes with
// w = W (-sin a sin Wt, sin a cos Wt, -(1 - cos a)).
TEST(AngularVelocity, IsExactForConing) {
    const double a = rad_from_deg(8.0);
    const double W = 2.0 * kPi * 2.0;
    const double rate_hz = 500.0;
    std::vector<Quaterniond> q;
    for (int i = 0; i < 300; ++i) {
        const double t = i / rate_hz;
        q.emplace_back(std::cos(a / 2), std::sin(a / 2) * std::cos(W * t),
                       std::sin(a / 2) * std::sin(W * t), 0.0);
    }
    const auto omega = calc_angular_velocity(q, {{0, q.size()}}, rate_hz);
    for (std::size_t i = 0; i < q.size(); ++i) {
        const double t = static_cast<double>(i) / rate_hz;
        const Vector3d body = W * Vector3d(-std::sin(a) * std::sin(W * t),
                                           std::sin(a) * std::cos(W * t), -(1.0 - std::cos(a)));
        EXPECT_LT((q[i].conjugate() * omega[i] - body).norm(), 2e-4 * W) << "frame " << i;
    }
}

TEST(AngularVelocity, IsExactForSteadyTurningUpToTheEnds) {
    std::vector<Quaterniond> q;
    for (int i = 0; i < 20; ++i)
        q.push_back(exp_of(Vector3d(0.0, 0.0, 12.0) * (i / 240.0)));
    const auto omega = calc_angular_velocity(q, {{0, 9}, {9, 20}}, 240.0);
    for (const Vector3d& w : omega)
        EXPECT_LT((w - Vector3d(0.0, 0.0, 12.0)).norm(), 1e-9);
}

TEST(AngularVelocity, IsMissingOutsideItsRuns) {
    const std::vector<Quaterniond> q(10, Quaterniond::Identity());
    const auto omega = calc_angular_velocity(q, {{2, 6}}, 100.0);
    EXPECT_TRUE(std::isnan(omega[1].x()));
    EXPECT_TRUE(omega[2].allFinite());
    EXPECT_TRUE(std::isnan(omega[6].x()));
}

TEST(Unwrap, JoinsTurnsAndSkipsGaps) {
    std::vector<double> angle{170.0, -175.0, std::nan(""), -160.0, 179.0};
    unwrap_deg(angle);
    EXPECT_DOUBLE_EQ(angle[1], 185.0);
    EXPECT_TRUE(std::isnan(angle[2]));
    EXPECT_DOUBLE_EQ(angle[3], 200.0);
    EXPECT_DOUBLE_EQ(angle[4], 179.0);
}

// Definition of a reflection: R' = M R M with M = diag(1, -1, 1).
TEST(Mirror, ReflectsTheBodyAboutTheTargetLine) {
    const Quaterniond q = posed(40.0, -7.0, 25.0);
    const Quaterniond m = mirrored(q);
    for (const Vector3d& v : {Vector3d(1, 0, 0), Vector3d(0, 1, 0), Vector3d(0, 0, 1)}) {
        // M R M v, with M the reflection y → -y.
        const Vector3d expected = mirrored(Vector3d(q * mirrored(v)));
        EXPECT_LT((m * v - expected).norm(), 1e-12);
    }
    EXPECT_LT(angle_between_deg(mirrored(m), q), 1e-9);
}
