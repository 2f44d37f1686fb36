#include "core/measures/analyse.h"
#include "core/motion/sensors.h"
#include "formats/reader.h"
#include "simulate/truth.h"
#include "support/swing_files.h"

#include <gtest/gtest.h>

using namespace kite;
using namespace kite::formats;

namespace {

simulate::SwingParameters parameters_at(double rate_hz) {
    simulate::SwingParameters parameters;
    parameters.rate_hz = rate_hz;
    parameters.lead_in_s = 0.9;
    return parameters;
}

/// Largest error of the turn from takeaway to the end of the downswing, degrees.
double worst_turn_deg(const Take& take, const simulate::SwingParameters& parameters,
                      Segment segment) {
    const simulate::SwingModel model(parameters);
    double worst = 0.0;
    for (std::size_t i = 0; i < take.frames; ++i) {
        const double t = take.time_of(i);
        if (t < parameters.lead_in_s || t > model.impact_s() + 0.1)
            continue;
        const double expected = angles_of(model.pose(segment, t).q_lab_segment).turn_rad;
        const double found = angles_of(take.find(segment)->q_lab_segment[i]).turn_rad;
        worst =
            std::max(worst, std::abs(deg_from_rad(std::remainder(found - expected, 2.0 * kPi))));
    }
    return worst;
}

} // namespace

// Closed form: a body that precesses at constant half-angle a with rate W (coning motion, Bortz
// 1971) has, in its own axes, w = W (sin a cos Wt, sin a sin Wt, …); integrated from gyros alone
// the axis must come back after every turn.
TEST(Sensors, FollowConingMotion) {
    constexpr double kRate_hz = 200.0;
    constexpr double kHalfAngle = 0.5;
    constexpr double kTurns_rad_s = 2.0 * kPi;
    const auto q_at = [&](double t) {
        const double phase = kTurns_rad_s * t;
        return exp_of(kHalfAngle * Eigen::Vector3d(std::cos(phase), std::sin(phase), 0.0));
    };
    SensorTake take;
    take.rate_hz = kRate_hz;
    take.frames = 500;
    SensorSeries sensor;
    const Eigen::Quaterniond start = q_at(0.0);
    for (std::size_t i = 0; i < take.frames; ++i) {
        // One second of rest, then coning: W (sin a · radial turned by 90°, 1 - cos a).
        const double t = static_cast<double>(i) / kRate_hz - 1.0;
        if (t < 0.0) {
            sensor.gyro_rad_s.emplace_back(0.0, 0.0, 0.0);
        } else {
            const double phase = kTurns_rad_s * t;
            sensor.gyro_rad_s.push_back(kTurns_rad_s *
                                        Eigen::Vector3d(-std::sin(kHalfAngle) * std::sin(phase),
                                                        std::sin(kHalfAngle) * std::cos(phase),
                                                        -(1.0 - std::cos(kHalfAngle))));
        }
        sensor.specific_force_g.push_back(start.conjugate() * Eigen::Vector3d::UnitZ());
    }
    take.sensors[Segment::Pelvis] = sensor;
    const auto poses = poses_from_sensors(take);
    ASSERT_TRUE(poses.ok());
    const auto& q = poses.value.at(Segment::Pelvis).q_lab_segment;
    // After one whole turn (frame 400; the rest ends between frames 199 and 200).
    EXPECT_LT(deg_from_rad(q[400].angularDistance(q[200])), 0.1);
    EXPECT_GT(deg_from_rad(q[300].angularDistance(q[200])), 50.0);
}

// Inside evidence: exact sensors give the swing; the limit with noise is 2° over the swing.
TEST(Sensors, GiveTheTurnWithin2Degrees) {
    const auto parameters = parameters_at(200.0);
    const auto exact = read_take(std::string_view(test::sensor_csv(parameters)), "s.csv", {});
    ASSERT_TRUE(exact.ok()) << text_of(exact.findings.front());
    const Eigen::Quaterniond mount = exp_of({0.4, -0.2, 1.1});
    for (std::uint32_t seed = 1; seed <= 5; ++seed) {
        auto noisy = parameters;
        noisy.seed = seed;
        // A good wearable gyro: 0.1 °/s noise a sample, 1 °/s bias; accelerometer 5 mg.
        const auto take = read_take(
            std::string_view(test::sensor_csv(noisy, {0.1, 1.0, 0.005}, mount)), "s.csv", {});
        ASSERT_TRUE(take.ok());
        for (Segment segment : {Segment::Pelvis, Segment::Torso}) {
            EXPECT_LT(worst_turn_deg(exact.value, parameters, segment), 0.3) << key_of(segment);
            EXPECT_LT(worst_turn_deg(take.value, parameters, segment), 2.0) << key_of(segment);
        }
    }
    const auto result = analyse(exact.value, {});
    ASSERT_TRUE(result.ok());
    const simulate::Truth truth = simulate::calc_truth(simulate::SwingModel(parameters));
    for (Segment segment : {Segment::Pelvis, Segment::Torso, Segment::LeadArm})
        EXPECT_NEAR(result.value.sequence.find(segment)->peak_t_s,
                    truth.parts[index_of(segment)].peak_t_s, 0.004)
            << key_of(segment);
}

TEST(Sensors, SayWhatIsMissing) {
    std::string moving = "time_s,pelvis_gx_dps,pelvis_gy_dps,pelvis_gz_dps\n";
    for (int i = 0; i < 200; ++i)
        moving += fixed(i / 200.0, 4) + ",0,0," + std::to_string(100 + i) + "\n";
    const auto never_still = read_take(std::string_view(moving), "s.csv", {});
    ASSERT_FALSE(never_still.ok());
    EXPECT_EQ(never_still.findings.back().code, "no-stillness");
    const auto bad_mount =
        read_take(std::string_view("# mount_pelvis: 1 2 3\n" + moving), "s.csv", {});
    ASSERT_FALSE(bad_mount.ok());
    EXPECT_EQ(bad_mount.findings.front().code, "bad-mount");
}
