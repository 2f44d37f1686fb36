// What the analysis says of captures as they happen: every damage is put in by hand, so that what
// must be said is known; golfers of the study's own generator.
#include "core/base/units.h"
#include "core/measures/analyse.h"
#include "core/motion/orientation.h"
#include "core/motion/rotation.h"
#include "simulate/simulate.h"
#include "study/golfer.h"
#include "support/captured_swing.h"
#include "support/findings.h"

#include <gtest/gtest.h>

#include <cmath>

using namespace kite;
using Eigen::Quaterniond;
using Eigen::Vector3d;
using kite::test::CapturedSwing;
using kite::test::codes_of;
using kite::test::find_code;
using kite::test::has_code;

namespace {

constexpr auto kPelvisMarkers = {"LASI", "RASI", "LPSI", "RPSI"};
constexpr auto kClubMarkers = {"CLB1", "CLB2", "CLB3"};

/// The sentence of a finding; empty if it was not said.
std::string sentence(const std::vector<Finding>& findings, const std::string& code) {
    const Finding* finding = find_code(findings, code);
    return finding == nullptr ? std::string() : finding->what;
}

bool names(const std::string& text, const std::string& part) {
    return text.find(part) != std::string::npos;
}

} // namespace

// A plain capture needs no warning: what is said below is said because of the damage.
TEST(SaidOfMarkers, NothingOfAPlainCapture) {
    for (std::uint32_t seed = 1; seed <= 6; ++seed) {
        const auto result = CapturedSwing(seed).analysed();
        ASSERT_TRUE(result.ok());
        for (const char* code : {"markers-dropped", "markers-exchanged",
                                 "markers-spikes",  "markers-relabelled",
                                 "cluster-deforms", "skin-slides",
                                 "markers-missing", "reference-hidden",
                                 "address-unseen",  "leader-hidden",
                                 "moment-hidden",   "peak-untold",
                                 "reversal-untold", "short-address",
                                 "slow-frame-rate", "finish-cut",
                                 "target-unsure",   "hand-found",
                                 "impact-assumed",  "no-impact",
                                 "several-swings",  "no-club"})
            EXPECT_FALSE(has_code(result.findings, code)) << seed << " " << code;
    }
}

TEST(SaidOfMarkers, WhichOnesAreMissingAndWhetherSomethingIsLeft) {
    CapturedSwing one(2);
    for (const char* label : {"LPSI", "RPSI"})
        one.remove(label);
    const auto part = one.taken();
    ASSERT_TRUE(part.ok()) << codes_of(part.findings);
    const Finding* said = find_code(part.findings, "markers-missing");
    ASSERT_NE(said, nullptr);
    EXPECT_EQ(said->severity, Finding::Severity::Warning);
    EXPECT_TRUE(names(said->what, "pelvis (LPSI and RPSI)")) << said->what;
    EXPECT_EQ(part.value.find(Segment::Pelvis), nullptr);
    EXPECT_NE(part.value.find(Segment::Torso), nullptr);
}

// Three markers lack: "A, B and C".
TEST(SaidOfMarkers, ListsOfThreeReadAsASentence) {
    CapturedSwing one(2);
    for (const char* label : {"CLB1", "CLB2", "CLB3"})
        one.remove(label);
    EXPECT_TRUE(
        names(sentence(one.taken().findings, "markers-missing"), "club (CLB1, CLB2 and CLB3)"))
        << sentence(one.taken().findings, "markers-missing");
    EXPECT_EQ(listed({"one", "two", "three"}), "one, two and three");
    EXPECT_EQ(listed({"one", "two"}), "one and two");
    EXPECT_EQ(listed({"one"}), "one");
    EXPECT_EQ(listed({}), "");
}

// Left and right of the pelvis change places for a tenth of a second: they are given back, and the
// number of frames is the number that was exchanged.
TEST(SaidOfMarkers, ExchangedOnesAreCountedAndGivenBack) {
    CapturedSwing plain(3);
    CapturedSwing one(3);
    const double impact_s = one.motion.impact_s();
    const FrameRange wrong = one.frames(impact_s - 0.35, impact_s - 0.25);
    for (std::size_t i = wrong.begin; i < wrong.end; ++i)
        std::swap(one.track("LASI")[i], one.track("RASI")[i]);
    const auto result = one.analysed();
    ASSERT_TRUE(result.ok());
    const std::string said = sentence(result.findings, "markers-exchanged");
    EXPECT_TRUE(names(said, "in " + std::to_string(wrong.end - wrong.begin) + " frames")) << said;
    EXPECT_TRUE(names(said, "LASI and RASI")) << said;
    const auto meant = plain.analysed();
    EXPECT_NEAR(result.value.sequence.find(Segment::Pelvis)->peak_t_s,
                meant.value.sequence.find(Segment::Pelvis)->peak_t_s, 1e-6);
}

TEST(SaidOfMarkers, SinglePointsFarOffTheirPathsAreCounted) {
    CapturedSwing one(4);
    const double impact_s = one.motion.impact_s();
    for (double before_s : {0.5, 0.3, 0.1})
        one.track("LSHO")[one.frames(impact_s - before_s, 9.0).begin] += Vector3d(0.2, -0.1, 0.3);
    const auto result = one.analysed();
    const std::string said = sentence(result.findings, "markers-spikes");
    EXPECT_TRUE(names(said, "3 single points")) << said << codes_of(result.findings);
    EXPECT_TRUE(names(said, "LSHO")) << said;
}

// A marker that hangs 8 cm off for a quarter of a second keeps no distance to the others of its
// part: it is not used there, and the turn of the part is that of the others.
TEST(SaidOfMarkers, OneThatDoesNotKeepItsDistancesIsDropped) {
    CapturedSwing plain(5);
    CapturedSwing one(5);
    const double impact_s = one.motion.impact_s();
    const FrameRange loose = one.frames(impact_s - 0.30, impact_s - 0.05);
    for (std::size_t i = loose.begin; i < loose.end; ++i)
        one.track("RPSI")[i] += Vector3d(0.05, 0.06, -0.03);
    const auto result = one.analysed();
    ASSERT_TRUE(result.ok());
    EXPECT_TRUE(has_code(result.findings, "markers-dropped") ||
                has_code(result.findings, "cluster-deforms"))
        << codes_of(result.findings);
    const auto meant = plain.analysed();
    const auto turn = [](const Outcome<Analysis>& of) {
        return of.value.position(Segment::Pelvis, Moment::LeadArmLevelDown).turn_deg;
    };
    if (std::isfinite(turn(result))) {
        EXPECT_NEAR(turn(result), turn(meant), 1.5);
    }
}

// The club has three markers, just enough to tell which of them has come loose.
TEST(SaidOfMarkers, ALooseOneOfTheClubsThreeIsDropped) {
    CapturedSwing one(6);
    const FrameRange loose =
        one.frames(one.motion.takeaway_s() + 0.2, one.motion.takeaway_s() + 0.5);
    for (std::size_t i = loose.begin; i < loose.end; ++i)
        one.track("CLB2")[i] += Vector3d(0.09, 0.08, 0.09);
    const auto result = one.analysed();
    ASSERT_TRUE(result.ok()) << codes_of(result.findings);
    const std::string said = sentence(result.findings, "markers-dropped");
    EXPECT_TRUE(names(said, "CLB2")) << said << codes_of(result.findings);
}

// Skin that slides by a centimetre: said in millimetres, and the uncertainty of the turn grows.
TEST(SaidOfMarkers, SlidingSkinIsSaidAndMakesTheTurnLessSure) {
    study::Golfer golfer = CapturedSwing::make(6);
    const CapturedSwing firm(golfer, 6, 240.0);
    golfer.skin_mm = 14.0;
    const CapturedSwing loose(golfer, 6, 240.0);
    const auto take = loose.taken();
    const std::string said = sentence(take.findings, "skin-slides");
    ASSERT_FALSE(said.empty()) << codes_of(take.findings);
    EXPECT_TRUE(names(said, " mm; its turn is known to about ")) << said;
    const auto wander = [](const Outcome<Take>& of) {
        return std::max(of.value.find(Segment::Pelvis)->wander_rad,
                        of.value.find(Segment::Torso)->wander_rad);
    };
    EXPECT_GT(wander(take), 3.0 * wander(firm.taken()));
}

// Never all seen at once: the frame of the part cannot be built, and the others stand.
TEST(SaidOfMarkers, AReferenceThatIsNeverSeenWhole) {
    CapturedSwing one(7);
    const double middle_s = 0.5 * one.motion.end_s();
    one.hide({"LASI"}, 0.0, middle_s);
    one.hide({"RPSI", "LPSI"}, middle_s - 0.01, one.motion.end_s() + 1.0);
    const auto take = one.taken();
    const Finding* said = find_code(take.findings, "reference-hidden");
    ASSERT_NE(said, nullptr) << codes_of(take.findings);
    EXPECT_TRUE(names(said->what, "pelvis")) << said->what;
    EXPECT_TRUE(names(said->where, "LASI")) << said->where;
    EXPECT_EQ(take.value.find(Segment::Pelvis), nullptr);
    EXPECT_NE(take.value.find(Segment::Club), nullptr);
}

// A golfer two fifths of any size: no usual unit makes a person of it.
TEST(SaidOfMarkers, ASizeThatNoUnitExplains) {
    CapturedSwing one(2);
    for (auto& track : one.markers.tracks_m)
        for (Vector3d& p : track)
            p *= 0.4;
    std::vector<Finding> findings;
    check_unit(one.markers, findings);
    const Finding* said = find_code(findings, "size-impossible");
    ASSERT_NE(said, nullptr) << codes_of(findings);
    EXPECT_EQ(said->severity, Finding::Severity::Error);
}

// The pelvis hidden while the golfer stands at address: what is measured against address cannot be
// told of it, its speeds can.
TEST(SaidOfSwing, APartUnseenAtAddress) {
    CapturedSwing one(8);
    one.hide(kPelvisMarkers, 0.0, one.motion.takeaway_s() + 0.1);
    const auto result = one.analysed();
    ASSERT_TRUE(result.ok()) << codes_of(result.findings);
    const Finding* said = find_code(result.findings, "address-unseen");
    ASSERT_NE(said, nullptr) << codes_of(result.findings);
    EXPECT_EQ(said->where, "pelvis");
    EXPECT_TRUE(std::isnan(result.value.position(Segment::Pelvis, Moment::Impact).sway_m));
    EXPECT_TRUE(std::isfinite(result.value.position(Segment::Torso, Moment::Impact).sway_m));
    EXPECT_NEAR(result.value.sequence.find(Segment::Pelvis)->peak_t_s, one.truth.parts[0].peak_s,
                0.012);
}

// The club hidden through most of the swing: the next part leads, and both are named.
TEST(SaidOfSwing, AnotherPartLeadsWhereTheClubWasHidden) {
    CapturedSwing one(9);
    one.hide(kClubMarkers, one.motion.takeaway_s() + 0.1, one.motion.end_s());
    const auto result = one.analysed();
    const std::string said = sentence(result.findings, "leader-hidden");
    ASSERT_FALSE(said.empty()) << codes_of(result.findings);
    EXPECT_TRUE(names(said, "The club was hidden for ")) << said;
    EXPECT_TRUE(names(said, "from the lead arm")) << said;
    // Nobody saw the club's peak.
    EXPECT_TRUE(names(sentence(result.findings, "peak-untold"), "club"))
        << codes_of(result.findings);
    EXPECT_TRUE(names(sentence(result.findings, "reversal-untold"), "club"))
        << codes_of(result.findings);
}

// The part is lost while it still speeds up: the smoothed curve bends over at its end, but nobody
// saw a peak there.
TEST(SaidOfSwing, WhereAPartIsLostOnTheWayUpThereIsNoPeak) {
    int told = 0;
    for (std::uint32_t seed = 1; seed <= 10; ++seed)
        for (study::Shape shape : study::kShapes) {
            constexpr double before_s = 0.045;
            study::Golfer golfer = CapturedSwing::make(seed);
            golfer.plans[index_of(Segment::Torso)].shape = shape;
            CapturedSwing one(golfer, seed, 240.0);
            const double peak_s = one.truth.parts[index_of(Segment::Torso)].peak_s;
            one.hide({"C7", "CLAV", "STRN", "T10"}, peak_s - before_s, one.motion.end_s() + 1.0);
            const auto result = one.analysed();
            ASSERT_TRUE(result.ok()) << codes_of(result.findings);
            const SegmentSequence* torso = result.value.sequence.find(Segment::Torso);
            told += torso != nullptr && std::isfinite(torso->peak_t_s) ? 1 : 0;
        }
    EXPECT_LE(told, 2) << "of 60; nobody saw one of them";
}

// An arm that leads goes back at nearly half its speed: that is no swing of its own, and address is
// before it.
TEST(SaidOfSwing, ABackswingIsNoSwing) {
    for (std::uint32_t seed = 1; seed <= 8; ++seed) {
        study::Golfer golfer = CapturedSwing::make(seed);
        for (auto& plan : golfer.plans)
            plan.back_width_s = 0.15;
        CapturedSwing one(golfer, seed, 240.0);
        for (const char* label : kClubMarkers)
            one.remove(label);
        const auto result = one.analysed();
        ASSERT_TRUE(result.ok()) << codes_of(result.findings);
        EXPECT_FALSE(has_code(result.findings, "several-swings")) << seed;
        EXPECT_LT(result.value.moments.time_s(Moment::Address), one.motion.takeaway_s() + 0.1);
    }
}

// Without club, address and contact nobody knows how long after the arm's fastest moment the ball
// went.
TEST(SaidOfSwing, AnArmAloneTellsNoImpactWithoutAnAddress) {
    CapturedSwing one(4);
    for (const char* label : kClubMarkers)
        one.remove(label);
    one.cut(one.motion.takeaway_s() + 0.3, one.motion.end_s());
    const auto result = one.analysed();
    ASSERT_TRUE(result.ok()) << codes_of(result.findings);
    EXPECT_FALSE(result.value.moments[Moment::Impact].has_value());
    EXPECT_TRUE(has_code(result.findings, "no-impact")) << codes_of(result.findings);
    one.markers.contact_s = one.motion.impact_s() - one.motion.takeaway_s() - 0.3;
    const auto told = one.analysed();
    EXPECT_NEAR(told.value.moments.time_s(Moment::Impact), *one.markers.contact_s, 1e-9);
}

// Seen about the ball, but hidden before, the club does not lead, and nobody tells when the ball
// went: its peak carries that.
TEST(SaidOfSwing, AClubsPeakWithoutAnImpactIsLessSure) {
    int without = 0;
    for (std::uint32_t seed = 1; seed <= 8; ++seed) {
        CapturedSwing one(seed);
        const double impact_s = one.motion.impact_s();
        one.hide(kClubMarkers, impact_s - 0.9, impact_s - 0.2);
        one.hide({"LWRA", "LWRB", "RWRA", "RWRB"}, impact_s - 1.2, impact_s - 0.3);
        const auto result = one.analysed();
        if (!result.ok() || result.value.moments[Moment::Impact])
            continue;
        const SegmentSequence* club = result.value.sequence.find(Segment::Club);
        if (club == nullptr || !std::isfinite(club->peak_t_s))
            continue;
        ++without;
        EXPECT_LT(std::abs(club->peak_t_s - one.truth.parts[index_of(Segment::Club)].peak_s),
                  3.0 * club->peak_t_u_s)
            << seed;
        EXPECT_GE(club->peak_t_u_s, 0.012);
    }
    EXPECT_GT(without, 2);
}

// The shaft passes level while it is hidden: the moment is not given.
TEST(SaidOfSwing, AMomentThatPassedUnseen) {
    CapturedSwing one(10);
    const double level_s = one.analysed().value.moments.time_s(Moment::ShaftLevelBack);
    one.hide(kClubMarkers, level_s - 0.09, level_s + 0.09);
    const auto result = one.analysed();
    ASSERT_TRUE(result.ok()) << codes_of(result.findings);
    const Finding* said = find_code(result.findings, "moment-hidden");
    if (const auto& found = result.value.moments[Moment::ShaftLevelBack]) {
        EXPECT_NEAR(found->t_s, level_s, 3.0 * found->u_s) << "given, with how sure";
    } else {
        ASSERT_NE(said, nullptr) << codes_of(result.findings);
        EXPECT_TRUE(names(said->what, "shaft level back")) << said->what;
    }
}

// What leads was hidden before its fastest moment: there is a swing, but no backswing to be seen.
TEST(SaidOfSwing, ABackswingThatWasHidden) {
    CapturedSwing one(11);
    const double impact_s = one.motion.impact_s();
    for (const std::string& label : one.markers.labels)
        one.hide({label.c_str()}, impact_s - 1.35, impact_s - 0.16);
    const auto result = one.analysed();
    EXPECT_FALSE(result.ok());
    const std::string said = sentence(result.findings, "backswing-hidden");
    EXPECT_TRUE(names(said, "before its fastest moment")) << said << codes_of(result.findings);
}

// The take ends 0.25 s after impact: the last frame stands for the finish, and has no uncertainty.
TEST(SaidOfSwing, ATakeThatEndsBeforeTheFinish) {
    CapturedSwing one(12);
    one.cut(0.0, one.motion.impact_s() + 0.25);
    const auto result = one.analysed();
    ASSERT_TRUE(result.ok()) << codes_of(result.findings);
    EXPECT_TRUE(has_code(result.findings, "finish-cut")) << codes_of(result.findings);
    const auto& finish = result.value.moments[Moment::Finish];
    ASSERT_TRUE(finish.has_value());
    EXPECT_TRUE(std::isnan(finish->u_s));
    EXPECT_NEAR(finish->t_s, one.motion.impact_s() + 0.25, 0.02);
}

// Recording begins ever later: as long as address is seen, then while there is too little of it,
// then when there is none.
TEST(SaidOfSwing, TooLittleStillnessBeforeTheTakeaway) {
    std::string said;
    for (int late = -12; late <= 24; ++late) {
        CapturedSwing one(13);
        one.cut(one.motion.takeaway_s() + 0.02 * late, one.motion.end_s());
        const auto result = one.analysed();
        ASSERT_TRUE(result.ok()) << codes_of(result.findings);
        const bool is_short = has_code(result.findings, "short-address");
        const bool is_late = has_code(result.findings, "late-start");
        EXPECT_FALSE(is_short && is_late);
        if (is_short) {
            EXPECT_LT(result.value.moments.address_window.duration_s(), 0.09);
        }
        const char now = is_late ? 'l' : is_short ? 's' : '-';
        if (said.empty() || said.back() != now)
            said += now;
    }
    EXPECT_EQ(said, "-sl");
}

// A capture at 240 frames a second that is read as 120, or as 480: it may be a slow drill, or a
// wrong rate; nothing else in the numbers tells.
TEST(SaidOfSwing, ARateSaidWrongly) {
    const Take right = simulate::make_take({});
    for (const auto& [factor, odd] : {std::pair(0.5, true), std::pair(1.0, false),
                                      std::pair(2.0, true), std::pair(1.1, false)}) {
        Take take = right;
        take.rate_hz *= factor;
        EXPECT_EQ(has_code(analyse(take, {}).findings, "odd-tempo"), odd) << factor;
    }
}

// 60 frames a second: what cannot be ordered then is said with the length of a frame.
TEST(SaidOfSwing, ASlowFrameRate) {
    const CapturedSwing one(14, 60.0);
    const auto result = one.analysed();
    const std::string said = sentence(result.findings, "slow-frame-rate");
    EXPECT_TRUE(names(said, "At 60 frames")) << said << codes_of(result.findings);
    EXPECT_TRUE(names(said, "about 17 ms")) << said;
    EXPECT_FALSE(has_code(CapturedSwing(14, 120.0).analysed().findings, "slow-frame-rate"));
}

// Fewer still show no swing: it is said that the frames may be why.
TEST(SaidOfSwing, TooFewFramesASecond) {
    const auto few = CapturedSwing(15, 30.0).analysed();
    ASSERT_FALSE(few.ok());
    const std::string said = sentence(few.findings, "half-a-swing");
    EXPECT_TRUE(names(said, "too few frames of it at 30 a second"))
        << said << codes_of(few.findings);
    EXPECT_TRUE(has_code(CapturedSwing(14, 15.0).analysed().findings, "rate-too-slow"));
    // Half a swing at a good rate is nothing but half a swing.
    CapturedSwing half(14);
    half.cut(half.truth.moments_s.at(Moment::Top) + 0.02, half.motion.end_s());
    const std::string cut = sentence(half.analysed().findings, "half-a-swing");
    EXPECT_TRUE(names(cut, "only part of a swing.")) << codes_of(half.analysed().findings);
}

// The club hidden about the top: the top is that of the arm, and it is said.
TEST(SaidOfSwing, ATopThatIsAnotherParts) {
    CapturedSwing one(15);
    const double top_s = one.truth.moments_s.at(Moment::Top);
    one.hide(kClubMarkers, top_s - 0.45, one.motion.end_s());
    const auto result = one.analysed();
    const std::string said = sentence(result.findings, "top-of-other");
    EXPECT_TRUE(names(said, "the top is that of the lead arm"))
        << said << codes_of(result.findings);
}

TEST(SaidOfSwing, HowFarTheTwoWaysToTakeSeparationDiffer) {
    int said = 0;
    for (std::uint32_t seed = 1; seed <= 8; ++seed) {
        const auto result = CapturedSwing(seed).analysed();
        ASSERT_TRUE(result.ok());
        const Analysis& a = result.value;
        double largest_deg = 0.0;
        const double top_s = a.moments.time_s(Moment::Top);
        const double impact_s = a.moments.time_s(Moment::Impact);
        for (double t_s = top_s; t_s <= impact_s; t_s += 0.5 / 240.0)
            largest_deg = std::max(
                largest_deg, std::abs(a.separation_deg.at(t_s) - a.other_separation_deg.at(t_s)));
        const std::string text = sentence(result.findings, "separation-methods");
        said += text.empty() ? 0 : 1;
        if (!text.empty()) {
            EXPECT_TRUE(
                names(text, "by up to " + std::to_string(std::lround(largest_deg)) + "°") ||
                names(text, "by up to " + std::to_string(std::lround(largest_deg) - 1) + "°"))
                << text << largest_deg;
        }
    }
    EXPECT_GT(said, 0);
}

// Both sides of the axes' question, asked of the same golfer.
TEST(SaidOfAxes, OneLineCannotBeBothUpAndTarget) {
    AxisHints hints;
    hints.up = SignedAxis{2, 1};
    hints.target = SignedAxis{2, -1};
    const auto setting = find_setting(CapturedSwing(3).markers, hints);
    EXPECT_FALSE(setting.ok());
    EXPECT_TRUE(has_code(setting.findings, "axes-equal")) << codes_of(setting.findings);
}

TEST(SaidOfAxes, AnUpThatTheGolferContradicts) {
    AxisHints hints;
    hints.up = SignedAxis{2, -1};
    const auto setting = find_setting(CapturedSwing(3).markers, hints);
    const std::string said = sentence(setting.findings, "up-contradicted");
    EXPECT_TRUE(names(said, "-z was told to point up")) << said << codes_of(setting.findings);
    EXPECT_TRUE(names(said, "+z")) << said;
    EXPECT_EQ(setting.value.axes.up.sign, -1) << "what was told is used";
}

// Nothing but a club: nobody stands there to tell up from down.
TEST(SaidOfAxes, WithoutABodyNothingTellsUp) {
    CapturedSwing one(3);
    std::vector<std::string> others;
    for (const std::string& label : one.markers.labels)
        if (label.rfind("CLB", 0) != 0)
            others.push_back(label);
    for (const std::string& label : others)
        one.remove(label.c_str());
    const auto setting = find_setting(one.markers, {});
    EXPECT_FALSE(setting.ok());
    EXPECT_TRUE(has_code(setting.findings, "up-unknown")) << codes_of(setting.findings);
}

// Up was told, but no club, hand, hip, foot or shoulder says where the target is.
TEST(SaidOfAxes, WithoutAWitnessNothingTellsTheTarget) {
    CapturedSwing one(3);
    std::vector<std::string> others;
    for (const std::string& label : one.markers.labels)
        if (label != "C7" && label != "CLAV")
            others.push_back(label);
    for (const std::string& label : others)
        one.remove(label.c_str());
    AxisHints hints;
    hints.up = SignedAxis{2, 1};
    const auto setting = find_setting(one.markers, hints);
    EXPECT_FALSE(setting.ok());
    EXPECT_TRUE(has_code(setting.findings, "target-unknown")) << codes_of(setting.findings);
}

// The club head flies 50 degrees beside where the body stands: the head is followed, and that they
// disagree is said with the angle.
TEST(SaidOfAxes, WitnessesThatDisagree) {
    study::Golfer golfer = CapturedSwing::make(3);
    golfer.open_at_address_deg = {55.0, 55.0, 55.0};
    const CapturedSwing one(golfer, 3, 240.0);
    const auto setting = find_setting(one.markers, {});
    ASSERT_TRUE(setting.ok()) << codes_of(setting.findings);
    const std::string said = sentence(setting.findings, "target-unsure");
    EXPECT_TRUE(names(said, "apart; ")) << said << codes_of(setting.findings);
}

TEST(SaidOfAxes, ALeftHanderNobodyAnnounced) {
    study::Golfer golfer = CapturedSwing::make(3);
    golfer.handed = Handedness::Left;
    CapturedSwing one(golfer, 3, 240.0);
    one.markers.handed = Handedness::Right;
    one.markers.handed_said = false;
    const auto setting = find_setting(one.markers, {});
    EXPECT_EQ(setting.value.handed, Handedness::Left);
    EXPECT_TRUE(has_code(setting.findings, "hand-found")) << codes_of(setting.findings);
    one.markers.handed_said = true;
    const auto told = find_setting(one.markers, {});
    EXPECT_FALSE(has_code(told.findings, "hand-found"));
    EXPECT_TRUE(has_code(told.findings, "hand-contradicted")) << codes_of(told.findings);
}

// The club is seen in the backswing and in the finish alone, when its head goes the other way:
// hands and body still tell target and hand, whatever was said of the hand.
TEST(SaidOfAxes, AClubThatWasHiddenThroughTheDownswingTurnsNobodyRound) {
    for (std::uint32_t seed = 1; seed <= 6; ++seed)
        for (const auto& [from_s, to_s] : {std::pair(-0.7, 2.0), std::pair(-0.4, 2.0),
                                           std::pair(-0.5, 0.16), std::pair(-0.12, 0.4)})
            for (Handedness handed : {Handedness::Right, Handedness::Left}) {
                study::Golfer golfer = CapturedSwing::make(seed);
                golfer.handed = handed;
                CapturedSwing one(golfer, seed, 240.0);
                const double impact_s = one.motion.impact_s();
                one.hide(kClubMarkers, impact_s + from_s, impact_s + to_s);
                one.markers.handed = Handedness::Right;
                one.markers.handed_said = false;
                const auto setting = find_setting(one.markers, {});
                EXPECT_EQ(setting.value.handed, handed) << seed << " " << from_s;
                EXPECT_EQ(setting.value.axes.target.axis, 0) << seed << " " << from_s;
                EXPECT_EQ(setting.value.axes.target.sign, 1) << seed << " " << from_s;
            }
}

// Quaternions turned by a third of a turn about an axis of no meaning: in no order are they a
// golfer's.
TEST(SaidOfAxes, OrientationsThatAreNoGolfers) {
    const study::Motion motion(CapturedSwing::make(3));
    Take take = study::capture_poses(motion, 240.0, 0.0, 0.0, 1);
    const Quaterniond off(
        Eigen::AngleAxisd(rad_from_deg(120.0), Vector3d(1.0, 0.4, 0.3).normalized()));
    for (auto& [segment, series] : take.segments)
        for (Quaterniond& q : series.q_lab_segment)
            q = off * q;
    std::vector<Finding> findings;
    check_pose_conventions(take, findings);
    EXPECT_TRUE(has_code(findings, "orientation-impossible")) << codes_of(findings);
    Take plain = study::capture_poses(motion, 240.0, 0.0, 0.0, 1);
    findings.clear();
    check_pose_conventions(plain, findings);
    EXPECT_TRUE(findings.empty()) << codes_of(findings);
}
