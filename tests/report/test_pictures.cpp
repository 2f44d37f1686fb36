// The geometry behind the drawings: where the golfer's lines lie, held against the simulator's own
// places and against what the words of docs/frames.md say.

#include "core/base/units.h"
#include "core/measures/analyse.h"
#include "formats/rules/rules_json.h"
#include "report/pictures/body_figure.h"
#include "report/pictures/drill_body.h"
#include "report/pictures/kite_geometry.h"
#include "report/pictures/stair_steps.h"
#include "simulate/simulate.h"

#include <gtest/gtest.h>

#include <cmath>
#include <limits>

namespace kite::report {
namespace {

using Eigen::Vector3d;

struct Measured {
    Measured() : take(simulate::make_take({})), analysis(analyse(take, {}).value) {}
    MeasuredSwing swing() const { return {take, analysis}; }
    double at_s(Moment moment) const { return analysis.moments.time_s(moment); }
    Take take;
    Analysis analysis;
};

const Measured& measured() {
    static const Measured one;
    return one;
}

double turn_deg(const Vector3d& from, const Vector3d& to) {
    return deg_from_rad(std::atan2(to.y() - from.y(), to.x() - from.x()));
}

TEST(BodyFigure, ItsLinesAreTheMeasuredOnes) {
    const Measured& one = measured();
    for (Moment moment : {Moment::Address, Moment::Top, Moment::LeadArmLevelDown, Moment::Impact}) {
        const Figure figure = calc_figure(one.swing(), one.at_s(moment));
        ASSERT_TRUE(figure.lead_hip_m && figure.trail_hip_m && figure.wrist_m && figure.head_m);
        // To the nearest frame: some degrees where a part turns fast.
        EXPECT_NEAR(turn_deg(*figure.trail_hip_m, *figure.lead_hip_m),
                    one.analysis.position(Segment::Pelvis, moment).turn_deg +
                        turn_deg(*calc_figure(one.swing(), one.at_s(Moment::Address)).trail_hip_m,
                                 *calc_figure(one.swing(), one.at_s(Moment::Address)).lead_hip_m),
                    2.5)
            << key_of(moment);
        EXPECT_NEAR((*figure.lead_hip_m - *figure.trail_hip_m).norm(), *one.take.hip_joint_width_m,
                    1e-9);
        EXPECT_NEAR((*figure.head_m - *figure.wrist_m).norm(), *one.take.club_length_m, 1e-6);
        EXPECT_NEAR((*figure.lead_shoulder_m - *figure.wrist_m).norm(), *one.take.arm_length_m,
                    0.02);
    }
}

TEST(BodyFigure, StandsOnTheGroundAboutItsPelvisAtAddress) {
    const Measured& one = measured();
    const Figure figure = calc_figure(one.swing(), one.at_s(Moment::Address));
    const Vector3d middle = 0.5 * (*figure.lead_hip_m + *figure.trail_hip_m);
    EXPECT_NEAR(middle.x(), 0.0, 0.005);
    EXPECT_NEAR(middle.y(), 0.0, 0.005);
    EXPECT_GT(middle.z(), 0.7);
    ASSERT_TRUE(figure.lead_ankle_m && figure.trail_ankle_m);
    EXPECT_NEAR(figure.lead_ankle_m->z(), 0.08, 1e-9);
    // The lead foot nearer to the target, the ball before the golfer, the club down at it.
    EXPECT_GT(figure.lead_ankle_m->x(), figure.trail_ankle_m->x());
    EXPECT_LT(figure.head_m->y(), middle.y());
    EXPECT_LT(figure.head_m->z(), figure.wrist_m->z());
    EXPECT_FALSE(figure.empty());
}

TEST(BodyFigure, WhatTheSourceDoesNotGiveIsNotDrawn) {
    Measured one;
    one.take.points_lab_m.clear();
    one.take.club_length_m.reset();
    one.take.arm_length_m.reset();
    one.analysis.motion.erase(Segment::Torso);
    const Figure figure = calc_figure(one.swing(), one.at_s(Moment::Top));
    EXPECT_FALSE(figure.head_m);
    EXPECT_FALSE(figure.lead_ankle_m || figure.trail_knee_m);
    EXPECT_FALSE(figure.neck_m || figure.trail_shoulder_m);
    EXPECT_TRUE(figure.lead_shoulder_m) << "the arm has one";
    EXPECT_TRUE(figure.wrist_m) << "the grip stands for it";
    one.analysis.motion.clear();
    EXPECT_TRUE(calc_figure(one.swing(), 1.0).empty());
    EXPECT_TRUE(calc_traces(one.swing()).wrist_m.empty());
    EXPECT_TRUE(calc_hinge_way(one.swing()).empty());
}

TEST(BodyFigure, AHiddenPartIsLeftOutInItsHoleAlone) {
    Measured one;
    auto& club = one.analysis.motion.at(Segment::Club);
    const auto frame =
        static_cast<std::size_t>(std::lround(one.at_s(Moment::Top) * one.analysis.rate_hz));
    club.p_lab_m[frame].setConstant(std::numeric_limits<double>::quiet_NaN());
    EXPECT_FALSE(calc_figure(one.swing(), one.at_s(Moment::Top)).head_m);
    EXPECT_TRUE(
        calc_figure(one.swing(), one.at_s(Moment::Top) + 2.0 / one.analysis.rate_hz).head_m);
}

TEST(BodyFigure, TracesRunFromTakeawayToJustAfterTheBall) {
    const Measured& one = measured();
    const FigureTraces traces = calc_traces(one.swing());
    const double lasts_s = one.at_s(Moment::Impact) + 0.12 - one.at_s(Moment::Takeaway);
    EXPECT_NEAR(static_cast<double>(traces.head_m.size()), lasts_s * one.analysis.rate_hz, 2.0);
    EXPECT_EQ(traces.lead_hip_m.size(), traces.trail_hip_m.size());
    // The head is highest somewhere on the way and comes back to within a hand of where it began.
    double highest = 0.0;
    double nearest = 1e9;
    for (std::size_t i = 0; i < traces.head_m.size(); ++i) {
        highest = std::max(highest, traces.head_m[i].z());
        if (i > traces.head_m.size() / 2)
            nearest = std::min(nearest, (traces.head_m[i] - traces.head_m[0]).norm());
    }
    EXPECT_GT(highest, 1.2);
    EXPECT_LT(nearest, 0.15);
}

TEST(KitePicture, OpensByTheSeparationOfItsTwoLines) {
    const Measured& one = measured();
    for (Moment moment : {Moment::Top, Moment::Impact}) {
        const KitePicture kite = calc_kite(one.swing(), one.at_s(moment));
        ASSERT_TRUE(kite.hips && kite.shoulders);
        EXPECT_NEAR(kite.separation_deg, one.analysis.separation_deg.at(one.at_s(moment)), 1e-9);
        // Both lines have the same middle, and the length they are drawn with where they lie flat.
        EXPECT_NEAR((kite.hips->lead_m + kite.hips->trail_m - kite.shoulders->lead_m -
                     kite.shoulders->trail_m)
                        .norm(),
                    0.0, 1e-9);
        EXPECT_LE((kite.hips->lead_m - kite.hips->trail_m).norm(), 0.4 + 1e-9);
        EXPECT_LE((kite.shoulders->lead_m - kite.shoulders->trail_m).norm(), 0.48 + 1e-9);
        EXPECT_NEAR(deg_from_rad(std::atan2(kite.hips->lead_m.y() - kite.hips->trail_m.y(),
                                            kite.hips->lead_m.x() - kite.hips->trail_m.x())),
                    kite.hips->turn_deg, 1e-6);
    }
    // Closed at the top (the lead side has gone to the ball), opened at impact.
    EXPECT_LT(calc_kite(one.swing(), one.at_s(Moment::Top)).hips->turn_deg, -20.0);
    EXPECT_GT(calc_kite(one.swing(), one.at_s(Moment::Impact)).hips->turn_deg, 10.0);
}

TEST(KitePicture, BallAndFeetLieWhereTheGolferStands) {
    const Measured& one = measured();
    const KitePicture kite = calc_kite(one.swing(), one.at_s(Moment::Address));
    ASSERT_TRUE(kite.ball_x_m && kite.lead_foot_m && kite.trail_foot_m);
    EXPECT_GT(kite.lead_foot_m->x(), kite.trail_foot_m->x());
    EXPECT_GT(*kite.ball_x_m, kite.trail_foot_m->x());
    EXPECT_LT(*kite.ball_x_m, kite.lead_foot_m->x() + 0.1);
    // The hinge is drawn where the pelvis turns fast, not where it stands.
    EXPECT_FALSE(kite.hinge_m);
    EXPECT_TRUE(calc_kite(one.swing(), one.at_s(Moment::Impact)).hinge_m);
    EXPECT_GT(calc_hinge_way(one.swing()).size(), 20U);
}

TEST(Stair, FollowsTheOrderFromTheGroundUp) {
    const Measured& one = measured();
    const Reading reading = read_swing(one.analysis, formats::plain_rules());
    const auto steps = stair_of_peaks(one.analysis.sequence, reading);
    ASSERT_EQ(steps.size(), 4U);
    EXPECT_TRUE(std::isnan(steps[0].after_below_ms));
    for (std::size_t i = 1; i < steps.size(); ++i) {
        EXPECT_EQ(steps[i].segment, kSequence[i]);
        EXPECT_NEAR(steps[i].after_below_ms, 1000.0 * (steps[i].t_s - steps[i - 1].t_s), 1e-9);
        EXPECT_FALSE(steps[i].is_tied);
        EXPECT_NEAR(landing_deg_s(one.analysis, kSequence[i]),
                    one.analysis.sequence.find(kSequence[i])->peak_deg_s, 1e-9);
    }
    EXPECT_EQ(stair_of_reversals(one.analysis.sequence, reading).size(), 4U);
}

TEST(Stair, APartThatIsMissingIsSteppedOverAndATieIsOne) {
    Measured one;
    const Reading reading;
    auto& parts = one.analysis.sequence.parts;
    parts[index_of(Segment::Torso)].reset();
    const auto steps = stair_of_peaks(one.analysis.sequence, reading);
    ASSERT_EQ(steps.size(), 3U);
    EXPECT_EQ(steps[1].segment, Segment::LeadArm);
    EXPECT_NEAR(steps[1].after_below_ms, 1000.0 * (steps[1].t_s - steps[0].t_s), 1e-9);
    EXPECT_EQ(landing_deg_s(one.analysis, Segment::Torso), 0.0);
    // Two standard uncertainties of the difference decide (docs/measures.md).
    parts[index_of(Segment::LeadArm)]->peak_t_u_s = std::abs(steps[1].t_s - steps[0].t_s);
    parts[index_of(Segment::LeadArm)]->peak_deg_s = std::numeric_limits<double>::quiet_NaN();
    EXPECT_TRUE(stair_of_peaks(one.analysis.sequence, reading)[1].is_tied);
    EXPECT_GT(landing_deg_s(one.analysis, Segment::LeadArm), 300.0)
        << "as high as the curve is where it is fastest";
}

TEST(DrillBody, ItsPoseIsWhatTheDrillSays) {
    DrillPose pose;
    pose.pelvis_turn_deg = 40.0;
    pose.sway_cm = 6.0;
    pose.depth_cm = -3.0;
    const Figure figure = figure_of(pose);
    EXPECT_NEAR(turn_deg(*figure.trail_hip_m, *figure.lead_hip_m), 40.0, 1e-9);
    EXPECT_NEAR(0.5 * (figure.lead_hip_m->x() + figure.trail_hip_m->x()), 0.06, 1e-9);
    EXPECT_NEAR(0.5 * (figure.lead_hip_m->y() + figure.trail_hip_m->y()), -0.03, 1e-9);
    // Thigh and shank as long as each other, and knees towards the ball.
    EXPECT_NEAR((*figure.lead_hip_m - *figure.lead_knee_m).norm(),
                (*figure.lead_knee_m - *figure.lead_ankle_m).norm(), 1e-9);
    EXPECT_LT(figure.lead_knee_m->y(), 0.5 * (figure.lead_hip_m->y() + figure.lead_ankle_m->y()));
    pose.arms_crossed = true;
    EXPECT_FALSE(figure_of(pose).head_m) << "no club in crossed arms";
}

} // namespace
} // namespace kite::report
