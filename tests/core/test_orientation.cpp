#include "core/base/units.h"
#include "core/measures/analyse.h"
#include "core/measures/marker_take.h"
#include "core/motion/marker_mend.h"
#include "core/motion/orientation.h"
#include "core/motion/rotation.h"
#include "core/motion/stillness.h"
#include "study/golfer.h"
#include "support/findings.h"

#include <gtest/gtest.h>

#include <algorithm>
#include <cmath>

using namespace kite;
using Eigen::Quaterniond;
using Eigen::Vector3d;
using kite::test::find_code;

namespace {

/// The study's own golfer, not the simulator's: expected values are what was put in.
study::Golfer golfer_of(Handedness handed, std::uint32_t seed = 4) {
    std::mt19937 random(seed);
    study::Golfer golfer = study::draw_golfer(random);
    golfer.handed = handed;
    return golfer;
}

MarkerTake markers_of(const study::Golfer& golfer) {
    MarkerTake markers = study::capture_markers(study::Motion(golfer), 240.0, 0.4, 1);
    markers.handed = Handedness::Right;
    markers.handed_said = false;
    return markers;
}

void turn(MarkerTake& markers, double deg) {
    const Quaterniond q(Eigen::AngleAxisd(rad_from_deg(deg), Vector3d::UnitZ()));
    for (auto& track : markers.tracks_m)
        for (Vector3d& p : track)
            p = q * p;
}

std::vector<Vector3d>& track(MarkerTake& markers, const char* label) {
    return *markers.find(label);
}

} // namespace

// The axis that was turned to is the axis that is found, for every quarter turn and either hand.
TEST(Orientation, FindsTheAxisAndTheHandInEveryLab) {
    for (Handedness handed : {Handedness::Right, Handedness::Left})
        for (const auto& [deg, axis] : {std::pair(0.0, "+x"), std::pair(90.0, "+y"),
                                        std::pair(180.0, "-x"), std::pair(-90.0, "-y")}) {
            MarkerTake markers = markers_of(golfer_of(handed));
            turn(markers, deg);
            const auto setting = find_setting(markers, {});
            ASSERT_TRUE(setting.ok());
            EXPECT_EQ(text_of_target(setting.value.axes), axis) << deg;
            EXPECT_EQ(setting.value.handed, handed) << deg;
        }
}

// A line 25° off the axis is found within its stated uncertainty, said with degrees, and what the
// user says in degrees is used instead.
TEST(Orientation, EstimatesALineThatIsNoAxis) {
    MarkerTake markers = markers_of(golfer_of(Handedness::Right));
    turn(markers, 25.0);
    const auto setting = find_setting(markers, {});
    ASSERT_TRUE(setting.ok());
    const Finding* said = find_code(setting.findings, "target-turned");
    ASSERT_NE(said, nullptr);
    EXPECT_NE(said->what.find("25"), std::string::npos + 0U) << said->what;
    const Vector3d line = setting.value.axes.target_vector();
    EXPECT_NEAR(deg_from_rad(std::atan2(line.y(), line.x())), 25.0, 7.0);
    AxisHints hints;
    hints.target_deg = 25.0;
    const auto told = find_setting(markers, hints);
    const Vector3d exact = told.value.axes.target_vector();
    EXPECT_NEAR(deg_from_rad(std::atan2(exact.y(), exact.x())), 25.0, 1e-9);
}

TEST(Orientation, TellsBackWhatContradictsIt) {
    MarkerTake markers = markers_of(golfer_of(Handedness::Right));
    markers.handed = Handedness::Left;
    markers.handed_said = true;
    const auto wrong_hand = find_setting(markers, {});
    EXPECT_EQ(wrong_hand.value.handed, Handedness::Right);
    ASSERT_NE(find_code(wrong_hand.findings, "hand-contradicted"), nullptr);

    AxisHints hints;
    hints.target = SignedAxis{1, +1};
    const auto wrong_target = find_setting(markers_of(golfer_of(Handedness::Right)), hints);
    EXPECT_EQ(text_of_target(wrong_target.value.axes), "+y") << "what was told is used";
    EXPECT_NE(find_code(wrong_target.findings, "target-contradicted"), nullptr);

    AxisHints lying;
    lying.file_up = SignedAxis{1, +1};
    const auto up = find_setting(markers_of(golfer_of(Handedness::Right)), lying);
    EXPECT_EQ(text_of(up.value.axes.up), "+z");
    EXPECT_NE(find_code(up.findings, "up-from-golfer"), nullptr);
}

// A take without an address: the hand is still told at the ball, and the line by club and feet.
TEST(Orientation, NeedsNoAddressForTheHand) {
    for (Handedness handed : {Handedness::Right, Handedness::Left}) {
        const study::Golfer golfer = golfer_of(handed);
        MarkerTake markers = markers_of(golfer);
        const auto begin = static_cast<std::ptrdiff_t>((golfer.still_s + 0.3) * markers.rate_hz);
        for (auto& one : markers.tracks_m)
            one.erase(one.begin(), one.begin() + begin);
        markers.frames -= static_cast<std::size_t>(begin);
        const auto setting = find_setting(markers, {});
        ASSERT_TRUE(setting.ok());
        EXPECT_EQ(setting.value.handed, handed);
        EXPECT_EQ(text_of_target(setting.value.axes), "+x");
    }
}

// What was done to the markers is undone: they stand where they stood before, and it is said.
TEST(Mending, GivesBackExchangedMarkers) {
    for (const auto& [a, b, from, to] :
         {std::tuple("LASI", "RASI", 0, 100000), std::tuple("LASI", "RASI", 300, 315),
          std::tuple("CLB1", "CLB3", 0, 100000), std::tuple("C7", "CLAV", 0, 100000),
          std::tuple("LSHO", "RSHO", 0, 100000), std::tuple("LKNE", "RKNE", 320, 340),
          std::tuple("LWRA", "CLB1", 320, 330)}) {
        const MarkerTake whole = markers_of(golfer_of(Handedness::Right));
        MarkerTake markers = whole;
        for (std::size_t i = static_cast<std::size_t>(from);
             i < std::min<std::size_t>(markers.frames, static_cast<std::size_t>(to)); ++i)
            std::swap(track(markers, a)[i], track(markers, b)[i]);
        std::vector<Finding> findings;
        mend_markers(markers, findings);
        ASSERT_FALSE(findings.empty()) << a << " and " << b;
        EXPECT_NE(findings.front().what.find(a), std::string::npos);
        std::size_t off = 0;
        for (const char* label : {a, b})
            for (std::size_t i = 0; i < markers.frames; ++i)
                off +=
                    (track(markers, label)[i] - *(&(*whole.find(label))[i])).norm() > 1e-9 ? 1 : 0;
        EXPECT_EQ(off, 0u) << a << " and " << b << " from " << from;
    }
}

TEST(Mending, DropsSpikesAndNothingElse) {
    MarkerTake markers = markers_of(golfer_of(Handedness::Right));
    const MarkerTake whole = markers;
    std::vector<Finding> none;
    mend_markers(markers, none);
    EXPECT_TRUE(none.empty()) << "a clean capture is left alone: " << text_of(none.front());
    for (const auto& [label, frame] : {std::pair("LKNE", 100), std::pair("LELB", 250),
                                       std::pair("C7", 400), std::pair("LSHO", 330)})
        track(markers, label)[static_cast<std::size_t>(frame)] += Vector3d(0.06, -0.05, 0.06);
    std::vector<Finding> findings;
    mend_markers(markers, findings);
    EXPECT_FALSE(findings.empty());
    std::size_t dropped = 0;
    for (std::size_t k = 0; k < markers.tracks_m.size(); ++k)
        for (std::size_t i = 0; i < markers.frames; ++i)
            dropped += markers.tracks_m[k][i].allFinite() ? 0 : 1;
    EXPECT_EQ(dropped, 4u);
    EXPECT_FALSE(track(markers, "LELB")[250].allFinite());
}

// Sizes of a body: millimetres called metres and the other way round, and nobody at all.
TEST(Units, AWrongUnitIsToldByTheBody) {
    for (double factor : {1000.0, 0.001, 0.1}) {
        MarkerTake markers = markers_of(golfer_of(Handedness::Right));
        const Vector3d before = track(markers, "C7")[50];
        for (auto& one : markers.tracks_m)
            for (Vector3d& p : one)
                p *= factor;
        std::vector<Finding> findings;
        check_unit(markers, findings);
        ASSERT_EQ(findings.size(), 1u) << factor;
        EXPECT_EQ(findings.front().code, "unit-mended");
        EXPECT_LT((track(markers, "C7")[50] - before).norm(), 1e-9);
    }
    MarkerTake giant = markers_of(golfer_of(Handedness::Right));
    for (auto& one : giant.tracks_m)
        for (Vector3d& p : one)
            p *= 4.0;
    std::vector<Finding> findings;
    check_unit(giant, findings);
    ASSERT_EQ(findings.size(), 1u);
    EXPECT_EQ(findings.front().severity, Finding::Severity::Error);
}

// Quaternions in another order and the other way round give back what was meant; a golfer written
// rightly is left alone.
TEST(Conventions, OfQuaternionsAreToldByTheBody) {
    const Take right =
        study::capture_poses(study::Motion(golfer_of(Handedness::Right)), 240.0, 0.1, 0.5, 3);
    const auto written = [&](const std::function<Quaterniond(const Quaterniond&)>& as) {
        Take take = right;
        for (auto& entry : take.segments)
            for (Quaterniond& q : entry.second.q_lab_segment)
                q = as(q);
        return take;
    };
    Take untouched = right;
    std::vector<Finding> none;
    check_pose_conventions(untouched, none);
    EXPECT_TRUE(none.empty());
    const std::vector<std::function<Quaterniond(const Quaterniond&)>> writings{
        // x y z w read as w x y z.
        [](const Quaterniond& q) { return Quaterniond(q.x(), q.y(), q.z(), q.w()); },
        [](const Quaterniond& q) { return q.conjugate(); }};
    for (const auto& writing : writings) {
        Take take = written(writing);
        std::vector<Finding> findings;
        check_pose_conventions(take, findings);
        ASSERT_EQ(findings.size(), 1u);
        EXPECT_EQ(findings.front().code, "quaternions-mended");
        for (Segment segment : kSequence)
            EXPECT_LT(take.find(segment)->q_lab_segment[77].angularDistance(
                          right.find(segment)->q_lab_segment[77]),
                      1e-6);
    }
}

// One marker of each trunk cluster hidden, and one of the club's: nothing is lost, and the poses
// stay within what noise of 0.4 mm does to three markers instead of four.
TEST(Markers, AreChosenFrameByFrame) {
    const MarkerTake whole = markers_of(golfer_of(Handedness::Right));
    MarkerTake markers = whole;
    const std::size_t from = 280;
    for (const char* label : {"LASI", "T10", "CLB2"})
        for (std::size_t i = from; i < from + 60; ++i)
            track(markers, label)[i] = missing_point();
    const auto seen = take_from_file_markers(whole, {});
    const auto hidden = take_from_file_markers(markers, {});
    ASSERT_TRUE(seen.ok() && hidden.ok());
    for (Segment segment : {Segment::Pelvis, Segment::Torso, Segment::Club})
        for (std::size_t i = from; i < from + 60; ++i) {
            const Vector3d a = seen.value.find(segment)->q_lab_segment[i] * Vector3d::UnitZ();
            const Vector3d b = hidden.value.find(segment)->q_lab_segment[i] * Vector3d::UnitZ();
            EXPECT_LT(deg_from_rad((a - b).norm()), 2.0) << key_of(segment) << " " << i;
        }
    // Hidden at address as well: the shape comes from where all were seen.
    for (std::size_t i = 0; i < 150; ++i)
        track(markers, "RPSI")[i] = missing_point();
    const auto late = take_from_file_markers(markers, {});
    ASSERT_NE(late.value.find(Segment::Pelvis), nullptr);
    EXPECT_TRUE(is_finite(late.value.find(Segment::Pelvis)->q_lab_segment[100]));
}

// The calm stretch that mending finds on the way is the one that is looked for by itself; where
// markers get other names it is looked for again.
TEST(Mending, GivesTheCalmStretch) {
    MarkerTake markers = markers_of(golfer_of(Handedness::Right));
    std::vector<Finding> findings;
    const auto calm = mend_markers(markers, findings);
    ASSERT_TRUE(calm);
    EXPECT_TRUE(*calm == find_calm_before_swing(markers));
    const auto by_it = find_setting(markers, {}, calm);
    const auto by_itself = find_setting(markers, {});
    EXPECT_EQ(by_it.value.axes.target_vector(), by_itself.value.axes.target_vector());
    EXPECT_EQ(by_it.findings.back().what, by_itself.findings.back().what);
    // Where the golfer stands is taken from it and nowhere else: in the swing hips and feet part.
    const std::size_t fastest = find_fastest_frame(markers);
    const auto by_another = find_setting(markers, {}, FrameRange{fastest, fastest + 12});
    EXPECT_NE(by_another.findings.back().what, by_itself.findings.back().what);

    std::swap(track(markers, "LASI"), track(markers, "RASI"));
    EXPECT_FALSE(mend_markers(markers, findings));
}
