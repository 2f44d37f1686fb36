// When a golfer stood and what was fastest, on tracks written down by hand: the answers are those
// of the formulas that made them.
#include "core/motion/outline.h"
#include "core/motion/rotation.h"
#include "core/motion/stillness.h"
#include "study/golfer.h"

#include <gtest/gtest.h>

#include <cmath>
#include <functional>

using namespace kite;
using Eigen::Quaterniond;
using Eigen::Vector3d;

namespace {

constexpr double kTracksRate_hz = 100.0;
constexpr std::size_t kTrackFrames = 400;

std::vector<Vector3d> track_of(const std::function<Vector3d(double)>& place_at) {
    std::vector<Vector3d> out(kTrackFrames);
    for (std::size_t i = 0; i < kTrackFrames; ++i)
        out[i] = place_at(static_cast<double>(i) / kTracksRate_hz);
    return out;
}

/// Moves by a metre at about `at_s`, fastest there, over some 4 `wide_s`.
Vector3d passing(double t_s, double at_s, double wide_s, double far_m) {
    return {far_m * std::tanh((t_s - at_s) / wide_s), 0.0, 1.0};
}

MarkerTake two_markers(const std::function<Vector3d(double)>& club,
                       const std::function<Vector3d(double)>& wrist) {
    MarkerTake out;
    out.rate_hz = kTracksRate_hz;
    out.frames = kTrackFrames;
    out.labels = {"CLB3", "LWRA"};
    out.tracks_m = {track_of(club), track_of(wrist)};
    return out;
}

void hide(MarkerTake& markers, const char* label, std::size_t from, std::size_t to) {
    for (std::size_t i = from; i < to; ++i)
        (*markers.find(label))[i] = missing_point();
}

} // namespace

TEST(FastestFrame, IsThatOfTheClubHead) {
    const MarkerTake markers = two_markers([](double t) { return passing(t, 2.0, 0.05, 1.0); },
                                           [](double t) { return passing(t, 1.9, 0.08, 0.5); });
    EXPECT_NEAR(static_cast<double>(find_fastest_frame(markers)), 200.0, 1.0);
}

TEST(FastestFrame, OneSpikeDoesNotCount) {
    MarkerTake markers = two_markers([](double t) { return passing(t, 2.0, 0.05, 1.0); },
                                     [](double t) { return passing(t, 1.9, 0.08, 0.5); });
    (*markers.find("CLB3"))[100] += Vector3d(3.0, 0.0, 0.0);
    EXPECT_NEAR(static_cast<double>(find_fastest_frame(markers)), 200.0, 1.0);
}

// The club goes back at 1.0 s and through at 2.0 s, but was seen going back alone.
TEST(FastestFrame, IsTheHandsWhereTheClubWasHiddenThen) {
    const auto club = [](double t) {
        return Vector3d(passing(t, 2.0, 0.05, 1.0) - passing(t, 1.0, 0.1, 0.5));
    };
    const auto wrist = [](double t) {
        return Vector3d(passing(t, 1.95, 0.08, 0.6) - passing(t, 1.0, 0.15, 0.25));
    };
    MarkerTake markers = two_markers(club, wrist);
    hide(markers, "CLB3", 150, kTrackFrames);
    EXPECT_NEAR(static_cast<double>(find_fastest_frame(markers)), 195.0, 1.0);
    // A short hole over the ball changes nothing: the club is still fastest beside it.
    markers = two_markers(club, wrist);
    hide(markers, "CLB3", 198, 204);
    EXPECT_NEAR(static_cast<double>(find_fastest_frame(markers)), 200.0, 7.0);
}

// Two swings: the hands are a little faster in the second, in which the club was hidden. The first
// is one too, and the club was seen in it.
TEST(FastestFrame, KeepsToASwingInWhichTheClubWasSeen) {
    MarkerTake markers = two_markers(
        [](double t) { return Vector3d(passing(t, 1.0, 0.05, 1.0) + passing(t, 3.0, 0.05, 1.0)); },
        [](double t) {
            return Vector3d(passing(t, 0.95, 0.08, 0.60) + passing(t, 2.95, 0.08, 0.63));
        });
    hide(markers, "CLB3", 250, kTrackFrames);
    EXPECT_NEAR(static_cast<double>(find_fastest_frame(markers)), 100.0, 1.0);
}

TEST(FastestFrame, IsNoneWhereNothingMoves) {
    const MarkerTake still = two_markers([](double) { return Vector3d(0.0, 0.0, 1.0); },
                                         [](double) { return Vector3d(0.0, 0.1, 1.0); });
    EXPECT_EQ(find_fastest_frame(still), kTrackFrames);
    EXPECT_EQ(find_fastest_frame(MarkerTake{}), 0u);
}

// Two calm stretches, at 0.5 and at 1.2 s, and waggling between: the last counts.
TEST(CalmBeforeSwing, IsTheLastOfStretchesAsCalm) {
    const auto moving = [](double t) -> Vector3d {
        const double waggle = t > 0.7 && t < 1.1 ? 0.02 * std::sin(40.0 * t) : 0.0;
        return Vector3d(waggle, 0.0, 1.0) + passing(t, 2.2, 0.05, 1.0);
    };
    const MarkerTake markers = two_markers(moving, moving);
    const FrameRange calm = find_calm_before_swing(markers);
    EXPECT_EQ(calm.size(), 11u) << "a tenth of a second and its end";
    EXPECT_GE(calm.begin, 110u);
    EXPECT_LE(calm.end, 171u) << "not in the last half second before the fastest moment";
    EXPECT_TRUE(is_calm(markers, calm));
    EXPECT_FALSE(is_calm(markers, {215, 225}));
    EXPECT_FALSE(is_calm(markers, {0, 2})) << "too short to tell";
}

// A take that begins in the swing has no calm before it: its first frames are given.
TEST(CalmBeforeSwing, IsTheBeginningWhereThereIsNone) {
    const auto at_once = [](double t) { return passing(t, 0.3, 0.05, 1.0); };
    const FrameRange calm = find_calm_before_swing(two_markers(at_once, at_once));
    EXPECT_EQ(calm.begin, 0u);
    EXPECT_EQ(calm.end, 11u);
}

// Poses of the second generator: calm lies before the takeaway, the fastest frame at the ball.
TEST(OutlineOfPoses, FindsCalmAndFastestOfAnyGolfer) {
    for (std::uint32_t seed = 1; seed <= 8; ++seed) {
        std::mt19937 random(seed);
        const study::Motion motion(study::draw_golfer(random));
        const Take take = study::capture_poses(motion, 240.0, 0.3, 1.0, seed);
        const Outline outline = outline_of(take);
        EXPECT_TRUE(outline.swings) << seed;
        EXPECT_LT(take.time_of(outline.calm.end), motion.takeaway_s() + 0.2) << seed;
        EXPECT_NEAR(take.time_of(outline.fastest), motion.impact_s(), 0.06) << seed;
    }
}

TEST(OutlineOfPoses, NobodySwingsWhoStands) {
    Take take;
    take.rate_hz = 100.0;
    take.frames = 200;
    PoseSeries still;
    still.q_lab_segment.assign(200, Quaterniond::Identity());
    take.segments[Segment::Club] = still;
    EXPECT_FALSE(outline_of(take).swings);
}

// The mean of turns by 10° and by 20° about one axis is a turn by 15°; signs of quaternions that
// flip and missing ones change nothing.
TEST(OutlineOfPoses, AMeanRotationLiesBetween) {
    const auto turned = [](double deg) {
        return Quaterniond(Eigen::AngleAxisd(deg * 3.14159265358979 / 180.0, Vector3d::UnitY()));
    };
    std::vector<Quaterniond> q{turned(10.0), missing_rotation(), turned(20.0)};
    q[2].coeffs() *= -1.0;
    EXPECT_LT(mean_rotation(q, {0, 3}).angularDistance(turned(15.0)), 1e-9);
    EXPECT_FALSE(is_finite(mean_rotation(q, {1, 2})));
    EXPECT_FALSE(is_finite(mean_rotation(q, {3, 3})));
}
