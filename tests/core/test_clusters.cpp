#include "core/motion/clusters.h"
#include "core/motion/rotation.h"
#include "reference/scipy_values.h"

#include <gtest/gtest.h>

#include <random>

using namespace kite;
using Eigen::Quaterniond;
using Eigen::Vector3d;

namespace {

template <std::size_t N>
std::vector<Vector3d> points_of(const std::array<double, N>& rows) {
    std::vector<Vector3d> out;
    for (std::size_t i = 0; i + 2 < N; i += 3)
        out.emplace_back(rows[i], rows[i + 1], rows[i + 2]);
    return out;
}

} // namespace

// Source: SciPy Rotation.align_vectors on the centred markers.
TEST(RigidFit, EqualsScipy) {
    const RigidFit fit =
        fit_rigid(points_of(reference::cluster_reference), points_of(reference::cluster_now));
    ASSERT_TRUE(fit.ok);
    const auto& wxyz = reference::cluster_quat_wxyz;
    EXPECT_LT(fit.q_now_reference.angularDistance(Quaterniond(wxyz[0], wxyz[1], wxyz[2], wxyz[3])),
              1e-9);
    EXPECT_NEAR(fit.residual_rms_m, reference::cluster_rms[0], 1e-10);
}

// Turned on by any angle about any axis, half a turn among them: the optimum goes along.
TEST(RigidFit, EqualsScipyHoweverTheClusterIsTurned) {
    const auto reference = points_of(reference::cluster_reference);
    const auto now = points_of(reference::cluster_now);
    const auto& wxyz = reference::cluster_quat_wxyz;
    const Quaterniond best(wxyz[0], wxyz[1], wxyz[2], wxyz[3]);
    for (const double on_rad : {0.01, 0.4, 1.5, 3.0, 3.1415926535})
        for (const Vector3d& axis :
             {Vector3d(1, 0, 0), Vector3d(0, 1, 0), Vector3d(0, 0, 1), Vector3d(0.6, 0, 0.8)}) {
            const Quaterniond on = exp_of(on_rad * axis);
            std::vector<Vector3d> turned;
            for (const Vector3d& p : now)
                turned.emplace_back(on * p);
            const RigidFit fit = fit_rigid(reference, turned);
            ASSERT_TRUE(fit.ok);
            EXPECT_LT(fit.q_now_reference.angularDistance(on * best), 1e-9) << on_rad;
            EXPECT_GE(fit.q_now_reference.w(), 0.0);
            EXPECT_NEAR(fit.residual_rms_m, reference::cluster_rms[0], 1e-10) << on_rad;
        }
}

// Arun et al. 1987: exact without noise, also for markers in one plane, where the plain solution
// may come out as a reflection.
TEST(RigidFit, RecoversAKnownMotion) {
    std::mt19937 random(77);
    std::uniform_real_distribution<double> place(-0.2, 0.2);
    for (int round = 0; round < 200; ++round) {
        const Quaterniond q = exp_of(10.0 * Vector3d(place(random), place(random), place(random)));
        const Vector3d t(place(random), place(random), place(random));
        std::vector<Vector3d> reference;
        std::vector<Vector3d> now;
        const bool flat = round % 2 == 0;
        for (int i = 0; i < 4; ++i) {
            reference.emplace_back(place(random), place(random), flat ? 0.0 : place(random));
            now.emplace_back(q * reference.back() + t);
        }
        const RigidFit fit = fit_rigid(reference, now);
        ASSERT_TRUE(fit.ok) << "round " << round;
        EXPECT_LT(fit.q_now_reference.angularDistance(q), 1e-7) << "round " << round;
        EXPECT_LT((fit.t_now_m - t).norm(), 1e-9);
        EXPECT_LT(fit.residual_rms_m, 1e-9);
    }
}

// A lab may lie far from where its markers are: to a kilometre the fit is as good as the numbers.
TEST(RigidFit, FarFromTheOriginToo) {
    const auto reference = points_of(reference::cluster_reference);
    auto now = points_of(reference::cluster_now);
    for (Vector3d& p : now)
        p += Vector3d(1000.0, -400.0, 30.0);
    const RigidFit fit = fit_rigid(reference, now);
    const auto& wxyz = reference::cluster_quat_wxyz;
    EXPECT_LT(fit.q_now_reference.angularDistance(Quaterniond(wxyz[0], wxyz[1], wxyz[2], wxyz[3])),
              1e-8);
    EXPECT_NEAR(fit.residual_rms_m, reference::cluster_rms[0], 1e-9);
}

TEST(RigidFit, LeavesHiddenMarkersOut) {
    auto reference = points_of(reference::cluster_reference);
    std::vector<Vector3d> now = reference;
    now[2] = missing_point();
    EXPECT_TRUE(fit_rigid(reference, now).ok);
    now[0] = now[4] = missing_point();
    EXPECT_FALSE(fit_rigid(reference, now).ok) << "two markers cannot fix a rotation";
}

TEST(RigidFit, RefusesMarkersOnOneLine) {
    const std::vector<Vector3d> line{{0, 0, 0}, {0.1, 0.1, 0}, {0.2, 0.2, 0}, {0.3, 0.3, 0}};
    EXPECT_FALSE(fit_rigid(line, line).ok);
    const std::vector<Vector3d> one(4, Vector3d(0.1, 0.2, 0.3));
    EXPECT_FALSE(fit_rigid(one, one).ok);
}

// Four frames at once, or one that has a hole among them: each is what it is by itself.
TEST(Cluster, OfAWholeTakeIsWhatEveryFrameGives) {
    std::mt19937 random(5);
    std::normal_distribution<double> noise(0.0, 0.002);
    const auto reference = points_of(reference::cluster_reference);
    constexpr std::size_t kFrames = 23; // not a multiple of four
    std::vector<std::vector<Vector3d>> tracks(reference.size(), std::vector<Vector3d>(kFrames));
    for (std::size_t i = 0; i < kFrames; ++i) {
        // Through half a turn and on: another row of the matrix says the vector there.
        const Quaterniond q = exp_of(0.3 * static_cast<double>(i) * Vector3d(0.36, 0.48, 0.8));
        for (std::size_t k = 0; k < reference.size(); ++k)
            tracks[k][i] = q * reference[k] + Vector3d(0.1, 2.0, 0.01 * static_cast<double>(i)) +
                           Vector3d(noise(random), noise(random), noise(random));
    }
    tracks[1][6] = missing_point();
    for (std::size_t k = 0; k < reference.size(); ++k)
        tracks[k][13] = missing_point();
    std::vector<const std::vector<Vector3d>*> all;
    for (const auto& track : tracks)
        all.push_back(&track);
    const Cluster cluster(reference);
    const std::vector<RigidFit> fits = cluster.fit_all(all);
    ASSERT_EQ(fits.size(), kFrames);
    for (std::size_t i = 0; i < kFrames; ++i) {
        std::vector<Vector3d> now;
        for (const auto& track : tracks)
            now.push_back(track[i]);
        const RigidFit one = cluster.fit(now);
        ASSERT_EQ(fits[i].ok, one.ok) << i;
        EXPECT_EQ(fits[i].ok, i != 13) << i;
        EXPECT_EQ(fits[i].residual_rms_m, one.residual_rms_m) << i;
        EXPECT_EQ(fits[i].t_now_m, one.t_now_m) << i;
        EXPECT_EQ(fits[i].q_now_reference.coeffs(), one.q_now_reference.coeffs()) << i;
    }
    EXPECT_TRUE(Cluster(reference).fit_all({}).empty());
}

// What is seen at a single point has no rotation, whatever rounding makes of it.
TEST(RigidFit, RefusesWhatWasSeenAtOnePoint) {
    const auto reference = points_of(reference::cluster_reference);
    for (const double away : {0.0, 0.3, 1000.0})
        EXPECT_FALSE(fit_rigid(reference, std::vector<Vector3d>(reference.size(),
                                                                Vector3d(away, 1.0, -0.7 * away)))
                         .ok)
            << away;
}
