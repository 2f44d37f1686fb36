#include "core/base/units.h"
#include "core/measures/marker_take.h"
#include "core/motion/markers.h"
#include "core/motion/orientation.h"
#include "core/motion/rotation.h"
#include "simulate/simulate.h"

#include <gtest/gtest.h>

#include <cmath>

using namespace kite;
using Eigen::Vector3d;

namespace {

/// A golfer who stands upright and still, arms and club hanging, facing the ball; 30 frames.
MarkerTake upright_golfer() {
    MarkerTake out;
    out.rate_hz = 100.0;
    out.frames = 30;
    const auto add = [&](const char* label, const Vector3d& p) {
        out.labels.emplace_back(label);
        out.tracks_m.emplace_back(out.frames, p);
    };
    add("LASI", {0.12, -0.05, 1.0});
    add("RASI", {-0.12, -0.05, 1.0});
    add("LPSI", {0.05, 0.10, 1.0});
    add("RPSI", {-0.05, 0.10, 1.0});
    add("C7", {0.0, 0.06, 1.5});
    add("CLAV", {0.0, -0.06, 1.5});
    add("STRN", {0.0, -0.09, 1.3});
    add("T10", {0.0, 0.09, 1.3});
    add("LSHO", {0.18, 0.0, 1.45});
    add("LWRA", {0.21, 0.0, 0.85});
    add("LWRB", {0.15, 0.0, 0.85});
    add("CLB1", {0.18, 0.0, 0.6});
    add("CLB2", {0.18, 0.0, 0.1});
    add("CLB3", {0.18, 0.0, 0.0});
    return out;
}

Outcome<Take> poses_of(MarkerTake markers, FrameRange reference) {
    mirror_markers(markers);
    return add_trunk_from_markers(markers, reference, arms_from_markers(markers));
}

} // namespace

// Source: Harrington et al. 2007, width and depth alone (values from memory): for PW = 240 mm and
// PD = 150 mm posterior 0.24·150 + 9.9 = 45.9, inferior 0.30·240 + 10.9 = 82.9, lateral
// 0.33·240 + 7.3 = 86.5 mm.
TEST(HipJointCentres, FollowThePublishedRegression) {
    const HipJointCentres hips = calc_hip_joint_centres(0.240, 0.150);
    EXPECT_LT((hips.lead_m - Vector3d(0.0865, 0.0459, -0.0829)).norm(), 1e-9);
    EXPECT_LT((hips.trail_m - Vector3d(-0.0865, 0.0459, -0.0829)).norm(), 1e-9);
}

// By definition every segment's frame equals the lab frame in this stance.
TEST(MarkerFrames, EqualTheLabWhenStandingUpright) {
    const auto take = poses_of(upright_golfer(), {0, 30});
    ASSERT_TRUE(take.ok());
    EXPECT_TRUE(take.findings.empty());
    for (Segment segment : kSequence) {
        const PoseSeries* series = take.value.find(segment);
        ASSERT_NE(series, nullptr) << key_of(segment);
        EXPECT_LT(series->q_lab_segment[10].angularDistance(Eigen::Quaterniond::Identity()), 1e-6)
            << key_of(segment);
    }
    // Origins: between the hip joint centres; between C7 and the sternal notch; shoulder; wrist on
    // the shaft.
    EXPECT_LT(
        (take.value.find(Segment::Pelvis)->p_lab_m[0] - Vector3d(0.0, -0.05 + 0.0459, 1.0 - 0.0829))
            .norm(),
        1e-9);
    EXPECT_LT((take.value.find(Segment::Torso)->p_lab_m[0] - Vector3d(0.0, 0.0, 1.5)).norm(), 1e-9);
    EXPECT_LT((take.value.find(Segment::LeadArm)->p_lab_m[0] - Vector3d(0.18, 0.0, 1.45)).norm(),
              1e-9);
    EXPECT_LT((take.value.find(Segment::Club)->p_lab_m[0] - Vector3d(0.18, 0.0, 0.85)).norm(),
              1e-9);
    EXPECT_NEAR(*take.value.arm_length_m, 0.60, 1e-9);
    EXPECT_NEAR(*take.value.club_length_m, 0.85, 1e-9);
    EXPECT_NEAR(*take.value.hip_joint_width_m, 0.173, 1e-9);
    EXPECT_FALSE(take.value.find(Segment::Club)->has_roll);
}

TEST(MarkerFrames, AreTheSameForALeftHander) {
    MarkerTake left = upright_golfer();
    left.handed = Handedness::Left;
    for (auto& track : left.tracks_m)
        for (auto& p : track)
            p = mirrored(p);
    for (auto& label : left.labels)
        if (label.size() == 4 && (label[0] == 'L' || label[0] == 'R') && label != "CLAV")
            label[0] = label[0] == 'L' ? 'R' : 'L';
    const auto a = poses_of(upright_golfer(), {0, 30});
    const auto b = poses_of(left, {0, 30});
    ASSERT_TRUE(b.ok());
    for (Segment segment : kSequence) {
        EXPECT_LT(b.value.find(segment)->q_lab_segment[5].angularDistance(
                      a.value.find(segment)->q_lab_segment[5]),
                  1e-6);
        EXPECT_LT((b.value.find(segment)->p_lab_m[5] - a.value.find(segment)->p_lab_m[5]).norm(),
                  1e-9);
    }
}

TEST(MarkerLabels, AreComparedWithoutPrefixAndCase) {
    MarkerTake markers = upright_golfer();
    markers.labels[0] = "Subject 1:lasi ";
    EXPECT_NE(markers.find("LASI"), nullptr);
    EXPECT_EQ(markers.find("LAS"), nullptr);
}

TEST(MarkerLabels, WhatIsMissingIsNamed) {
    MarkerTake markers = upright_golfer();
    EXPECT_EQ(missing_markers(markers), "");
    markers.labels[1] = "X1";
    markers.labels[12] = "X2"; // CLB2: two club markers are left
    EXPECT_EQ(missing_markers(markers), "pelvis (RASI)");
    markers.labels[11] = "X3";
    EXPECT_EQ(missing_markers(markers), "pelvis (RASI) and club (CLB1 and CLB2)");
}

TEST(LabAxes, AreReadFromTextAndFromTheGolfer) {
    EXPECT_EQ(find_axis("+z"), (SignedAxis{2, 1}));
    EXPECT_EQ(find_axis("-X"), (SignedAxis{0, -1}));
    EXPECT_EQ(find_axis("y"), (SignedAxis{1, 1}));
    EXPECT_FALSE(find_axis("w"));
    EXPECT_FALSE(find_axis("+xy"));
    EXPECT_FALSE(find_axis(""));

    // The same golfer in a lab whose y is up and whose -z is the target line.
    MarkerTake turned = upright_golfer();
    for (auto& track : turned.tracks_m)
        for (auto& p : track)
            p = Vector3d(-p.y(), p.z(), -p.x());
    const auto setting = find_setting(turned, {});
    ASSERT_TRUE(setting.ok());
    EXPECT_EQ(text_of(setting.value.axes.up), "+y");
    EXPECT_EQ(text_of(setting.value.axes.target), "-z");
    rotate_to_lab(turned, setting.value.axes);
    const MarkerTake straight = upright_golfer();
    for (std::size_t i = 0; i < straight.tracks_m.size(); ++i)
        EXPECT_LT((turned.tracks_m[i][0] - straight.tracks_m[i][0]).norm(), 1e-12)
            << straight.labels[i];
    AxisHints same;
    same.up = SignedAxis{2, 1};
    same.target = SignedAxis{2, -1};
    EXPECT_FALSE(find_setting(upright_golfer(), same).ok());
}

// The markers of a simulated swing give back the model's own poses (inside evidence).
TEST(MarkerFrames, FollowASwing) {
    simulate::SwingParameters parameters;
    const simulate::SwingModel model(parameters);
    MarkerTake markers = simulate::make_markers(parameters);
    const auto take = poses_of(markers, {0, 100});
    ASSERT_TRUE(take.ok());
    for (std::size_t i = 0; i < take.value.frames; i += 7) {
        const double t = take.value.time_of(i);
        for (Segment segment : {Segment::Pelvis, Segment::Torso}) {
            EXPECT_LT(take.value.find(segment)->q_lab_segment[i].angularDistance(
                          model.pose(segment, t).q_lab_segment),
                      1e-6);
            EXPECT_LT(
                (take.value.find(segment)->p_lab_m[i] - model.pose(segment, t).p_lab_m).norm(),
                1e-6);
        }
        for (Segment segment : {Segment::LeadArm, Segment::Club}) {
            const Vector3d axis = take.value.find(segment)->q_lab_segment[i] * Vector3d::UnitZ();
            EXPECT_LT((axis - model.pose(segment, t).q_lab_segment * Vector3d::UnitZ()).norm(),
                      1e-6);
        }
    }
}

TEST(MarkerFrames, NeedThreeMarkersOfACluster) {
    MarkerTake markers = upright_golfer();
    for (std::size_t i = 10; i < 30; ++i) {
        markers.tracks_m[0][i] = missing_point();
        markers.tracks_m[2][i] = missing_point();
    }
    const auto take = poses_of(markers, {0, 8});
    EXPECT_TRUE(is_finite(take.value.find(Segment::Pelvis)->q_lab_segment[5]));
    EXPECT_FALSE(is_finite(take.value.find(Segment::Pelvis)->q_lab_segment[20]));
}

TEST(Markers, TheHeadIsTheMiddleOfItsMarkers) {
    MarkerTake golfer = upright_golfer();
    const std::pair<const char*, Vector3d> head[] = {{"LFHD", {0.07, -0.10, 1.70}},
                                                     {"RFHD", {-0.07, -0.08, 1.72}},
                                                     {"LBHD", {0.06, 0.08, 1.66}}};
    for (const auto& [label, place] : head) {
        golfer.labels.emplace_back(label);
        golfer.tracks_m.emplace_back(golfer.frames, place);
    }
    const Outcome<Take> take = take_from_markers(golfer);
    const auto found = take.value.points_lab_m.find(BodyPoint::Head);
    ASSERT_NE(found, take.value.points_lab_m.end());
    EXPECT_NEAR((found->second[7] - Vector3d(0.02, -0.10 / 3.0, 5.08 / 3.0)).norm(), 0.0, 1e-9);
}

// A label as it is asked for comes before one that is alike but for case, blanks and subject.
TEST(MarkerLabels, AreFoundAsWrittenFirst) {
    MarkerTake markers;
    markers.frames = 1;
    markers.labels = {"golfer:clb1", "CLB1", " c l b 2"};
    for (double x : {1.0, 2.0, 3.0})
        markers.tracks_m.push_back({Vector3d(x, 0.0, 0.0)});
    const MarkerTake& read = markers;
    EXPECT_EQ((*read.find("CLB1"))[0].x(), 2.0);
    EXPECT_EQ((*read.find("CLB2"))[0].x(), 3.0);
    EXPECT_EQ((*read.find("Clb1"))[0].x(), 1.0);
    EXPECT_EQ(read.find("CLB3"), nullptr);
    (*markers.find("CLB2"))[0].x() = 7.0;
    EXPECT_EQ(markers.tracks_m[2][0].x(), 7.0);
}
