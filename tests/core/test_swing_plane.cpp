#include "core/base/units.h"
#include "core/measures/swing_plane.h"
#include "core/motion/rotation.h"

#include <gtest/gtest.h>

#include <cmath>

using namespace kite;
using Eigen::Vector3d;

// A club that turns at 10 rad/s in a plane inclined by 60°: normal and inclination are known.
TEST(SwingPlane, FindsTheNormalOfACircle) {
    const double inclination = rad_from_deg(60.0);
    const Vector3d down(0.0, -std::cos(inclination), -std::sin(inclination));
    const Vector3d normal = down.cross(Vector3d::UnitX());
    PoseSeries series;
    for (int i = 0; i < 100; ++i) {
        const double angle = -1.0 + 10.0 * i / 240.0;
        const Vector3d z = -(std::cos(angle) * down + std::sin(angle) * Vector3d::UnitX());
        Eigen::Matrix3d R;
        R << normal.cross(z), normal, z;
        series.q_lab_segment.emplace_back(Eigen::Quaterniond(R));
        series.p_lab_m.emplace_back(0.1, 0.2, 0.9);
    }
    const SegmentMotion club = smooth(series, 240.0, 30.0, std::nullopt);
    const auto head = calc_head_path(club, nullptr, std::nullopt, 0.95);
    const auto plane = fit_swing_plane(head, club, {0.1, 0.3});
    ASSERT_TRUE(plane);
    EXPECT_NEAR(plane->normal.dot(normal), 1.0, 1e-9)
        << "and its sign: this swing moves to the target";
    EXPECT_NEAR(plane->inclination_deg(), 60.0, 1e-6);
    EXPECT_LT(plane->rms_m, 1e-9);
    EXPECT_NEAR(calc_speed_along_deg_s(club, plane->normal).at(0.2), deg_from_rad(10.0), 0.01);

    // Without positions the directions alone give the same plane.
    series.p_lab_m.clear();
    const SegmentMotion bare = smooth(series, 240.0, 30.0, std::nullopt);
    const auto same = fit_swing_plane(calc_head_path(bare, nullptr, std::nullopt, std::nullopt),
                                      bare, {0.1, 0.3});
    ASSERT_TRUE(same);
    EXPECT_NEAR(same->normal.dot(normal), 1.0, 1e-9);
}

TEST(SwingPlane, NeedsACurvedPath) {
    PoseSeries series;
    for (int i = 0; i < 50; ++i) {
        series.q_lab_segment.push_back(Eigen::Quaterniond::Identity());
        series.p_lab_m.emplace_back(0.01 * i, 0.0, 0.0);
    }
    const SegmentMotion club = smooth(series, 240.0, 30.0, std::nullopt);
    EXPECT_FALSE(
        fit_swing_plane(calc_head_path(club, nullptr, std::nullopt, 1.0), club, {0.0, 0.2}));
    EXPECT_FALSE(
        fit_swing_plane(calc_head_path(club, nullptr, std::nullopt, 1.0), club, {0.0, 0.01}));
}
