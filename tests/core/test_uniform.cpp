#include "core/motion/gaps.h"
#include "core/motion/rotation.h"
#include "core/motion/uniform.h"
#include "support/findings.h"

#include <gtest/gtest.h>

#include <algorithm>
#include <cmath>
#include <random>

using namespace kite;
using kite::test::has_code;

namespace {

std::vector<double> even_times(std::size_t count, double rate_hz, double start_s = 0.0) {
    std::vector<double> out(count);
    for (std::size_t i = 0; i < count; ++i)
        out[i] = start_s + static_cast<double>(i) / rate_hz;
    return out;
}

/// A take whose pelvis turns and sways smoothly; values at the given times.
Take smooth_take(const std::vector<double>& times_s) {
    Take take;
    PoseSeries series;
    for (double t : times_s) {
        series.q_lab_segment.push_back(exp_of(Eigen::Vector3d(0.0, 0.0, std::sin(6.0 * t))));
        series.p_lab_m.emplace_back(0.1 * std::cos(5.0 * t), 0.0, 1.0);
    }
    take.segments[Segment::Pelvis] = series;
    return take;
}

} // namespace

TEST(TimeBase, TakesEvenStampsAsTheyAre) {
    const auto base = find_time_base(even_times(100, 240.0, 3.0), std::nullopt);
    ASSERT_TRUE(base.ok());
    EXPECT_FALSE(base.value.resampled);
    EXPECT_NEAR(base.value.rate_hz, 240.0, 1e-6);
    EXPECT_EQ(base.value.frames, 100u);
    EXPECT_TRUE(base.findings.empty());
}

TEST(TimeBase, TrustsTheDeclaredRateOverRoundedStamps) {
    std::vector<double> times = even_times(400, 240.0);
    for (double& t : times)
        t = std::round(t * 1000.0) / 1000.0;
    const auto base = find_time_base(times, 240.0);
    ASSERT_TRUE(base.ok());
    EXPECT_FALSE(base.value.resampled);
    EXPECT_DOUBLE_EQ(base.value.rate_hz, 240.0);
}

TEST(TimeBase, RefusesAClockThatJumpsBackAndNamesTheRow) {
    std::vector<double> times = even_times(50, 100.0);
    times[30] = 0.05;
    const auto base = find_time_base(times, std::nullopt);
    ASSERT_FALSE(base.ok());
    EXPECT_EQ(base.findings.front().code, "time-backwards");
    EXPECT_EQ(base.findings.front().where, "data row 31");
    EXPECT_NE(base.findings.front().what.find("(0.29 s, then 0.05 s)"), std::string::npos)
        << base.findings.front().what;
    times[30] = times[29];
    EXPECT_EQ(find_time_base(times, std::nullopt).findings.front().code, "time-repeats");
    times[30] = std::nan("");
    EXPECT_EQ(find_time_base(times, std::nullopt).findings.front().code, "time-missing");
}

TEST(TimeBase, RefusesWhatItWouldHaveToInvent) {
    std::vector<double> times = even_times(50, 100.0);
    times.back() = 4000.0;
    const auto base = find_time_base(times, std::nullopt);
    ASSERT_FALSE(base.ok());
    EXPECT_EQ(base.findings.front().code, "time-jumps");
    EXPECT_FALSE(find_time_base(even_times(5, 100.0), std::nullopt).ok());
    EXPECT_FALSE(find_time_base(even_times(50, 2.0), std::nullopt).ok());
}

TEST(TimeBase, SaysWhenTheDeclaredRateIsWrong) {
    const auto base = find_time_base(even_times(100, 240.0), 120.0);
    EXPECT_TRUE(base.ok());
    EXPECT_TRUE(has_code(base.findings, "rate-differs"));
    EXPECT_NEAR(base.value.rate_hz, 240.0, 1e-6);
}

// The motion is known in closed form, so what was filled in can be compared with it.
// Two seconds of rest, whose noise looks alike over any times, and a third of a second of motion,
// which alone tells: sampled evenly at 200 Hz, stamped up to 2 ms early or late.
TEST(TimeBase, TremblingStampsShowInTheFastPartAlone) {
    constexpr double kRate_hz = 200.0;
    std::mt19937 random(3);
    std::normal_distribution<double> noise_m(0.0, 2e-4);
    std::uniform_real_distribution<double> late_s(-0.002, 0.002);
    std::vector<double> stamps;
    std::vector<Eigen::Vector3d> track;
    for (int i = 0; i < 460; ++i) {
        const double t = i / kRate_hz;
        const double moved_s = std::max(0.0, t - 2.0);
        stamps.push_back(t + late_s(random));
        track.emplace_back(std::sin(12.0 * moved_s) + noise_m(random), noise_m(random),
                           noise_m(random));
    }
    auto base = find_time_base(stamps, std::nullopt);
    settle_tremble({track}, stamps, base);
    ASSERT_TRUE(has_code(base.findings, "time-trembles"));
    EXPECT_NEAR(base.value.rate_hz, kRate_hz, 0.05);
    EXPECT_FALSE(base.value.resampled);
    // The other way round: the samples were taken when the stamps say.
    for (std::size_t i = 0; i < track.size(); ++i)
        track[i].x() = std::sin(12.0 * std::max(0.0, stamps[i] - 2.0));
    base = find_time_base(stamps, std::nullopt);
    settle_tremble({track}, stamps, base);
    EXPECT_FALSE(has_code(base.findings, "time-trembles"));
}

TEST(Resampling, LeavesDroppedFramesToBeBridged) {
    std::vector<double> times = even_times(200, 200.0);
    times.erase(times.begin() + 100, times.begin() + 104);
    times.erase(times.begin() + 50);
    const auto base = find_time_base(times, std::nullopt);
    ASSERT_TRUE(base.ok());
    EXPECT_TRUE(base.value.resampled);
    EXPECT_EQ(base.value.frames, 200u);
    Take take = smooth_take(times);
    std::vector<Finding> findings;
    bring_to_time_base(take, times, base.value, findings);
    const Take truth = smooth_take(even_times(200, 200.0));
    for (std::size_t i = 0; i < 200; ++i) {
        const auto& q = take.segments[Segment::Pelvis].q_lab_segment[i];
        if (i >= 100 && i < 104) {
            EXPECT_FALSE(is_finite(q)) << "four frames on end are a gap, not a step";
            continue;
        }
        EXPECT_LT(q.angularDistance(truth.find(Segment::Pelvis)->q_lab_segment[i]), 2e-4) << i;
        EXPECT_LT(
            (take.segments[Segment::Pelvis].p_lab_m[i] - truth.find(Segment::Pelvis)->p_lab_m[i])
                .norm(),
            1e-5);
    }
}

TEST(Resampling, LeavesLongGapsOpenAndNamesThem) {
    const std::vector<double> times = even_times(200, 200.0);
    Take take = smooth_take(times);
    for (std::size_t i = 80; i < 100; ++i) // 0.1 s
        take.segments[Segment::Pelvis].q_lab_segment[i] = missing_rotation();
    for (std::size_t i = 20; i < 25; ++i) // 0.025 s
        take.segments[Segment::Pelvis].p_lab_m[i] = missing_point();
    std::vector<Finding> findings;
    bring_to_time_base(take, times, find_time_base(times, std::nullopt).value, findings);
    EXPECT_FALSE(is_finite(take.segments[Segment::Pelvis].q_lab_segment[90]));
    EXPECT_FALSE(take.segments[Segment::Pelvis].p_lab_m[22].allFinite())
        << "bridged when smoothed, and known as bridged";
    ASSERT_TRUE(has_code(findings, "gap-open"));
    EXPECT_TRUE(has_code(findings, "gap-filled"));
    for (const Finding& finding : findings)
        EXPECT_EQ(finding.where, "pelvis");
}

// A parabola through its neighbours is met exactly by the cubic bridge; what is longer stays open.
TEST(Gaps, AreBridgedAndKnownAsBridged) {
    FourSignals x(60);
    Flags valid(60, true);
    const auto parabola = [](std::size_t i) {
        const double t = static_cast<double>(i) / 100.0;
        return 2.0 + 3.0 * t - 40.0 * t * t;
    };
    for (std::size_t i = 0; i < 60; ++i)
        x[i] = Eigen::Array4d::Constant(parabola(i));
    for (std::size_t i : {20, 21, 22, 40, 41, 42, 43, 44, 45, 46})
        valid[i] = false;
    for (std::size_t i = 0; i < 60; ++i)
        if (!valid[i])
            x[i] = Eigen::Array4d::Constant(std::nan(""));
    const std::vector<Seen> seen = bridge_gaps(x, valid, 100.0);
    EXPECT_EQ(seen[19], Seen::Seen);
    EXPECT_EQ(seen[21], Seen::Bridged);
    EXPECT_EQ(seen[43], Seen::Unseen) << "0.08 s between samples";
    EXPECT_TRUE(valid[21]);
    EXPECT_FALSE(valid[43]);
    EXPECT_NEAR(x[21](0), parabola(21), 1e-12);
    EXPECT_TRUE(std::isnan(x[43](0)));
}

TEST(Gaps, CountWhatWasFilledAndWhatNot) {
    const std::vector<double> times = even_times(100, 100.0);
    Eigen::MatrixXd rows(100, 1);
    for (int i = 0; i < 100; ++i)
        rows(i, 0) = i;
    rows.block(10, 0, 3, 1).setConstant(std::nan("")); // 0.04 s between samples
    rows.block(50, 0, 9, 1).setConstant(std::nan("")); // 0.10 s between samples
    GapReport report;
    const Eigen::MatrixXd out = fill_to_times(times, rows, times, report);
    EXPECT_EQ(report.filled_frames, 3u);
    EXPECT_EQ(report.open_frames, 9u);
    EXPECT_NEAR(report.longest_open_s, 0.09, 1e-9);
    EXPECT_NEAR(report.longest_open_at_s, 0.50, 1e-9);
    EXPECT_NEAR(out(11, 0), 11.0, 1e-9);
    EXPECT_TRUE(std::isnan(out(53, 0)));
}
