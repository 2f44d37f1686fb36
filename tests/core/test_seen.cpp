// What was not seen is not shown as known: golfers of the study's own generator, with their truth.
#include "core/base/units.h"
#include "core/measures/address.h"
#include "core/measures/analyse.h"
#include "core/measures/marker_take.h"
#include "core/measures/rate_moments.h"
#include "core/motion/marker_mend.h"
#include "core/motion/rotation.h"
#include "core/motion/stillness.h"
#include "core/motion/uniform.h"
#include "core/reading/reading.h"
#include "core/reading/words.h"
#include "formats/rules/rules_json.h"
#include "study/golfer.h"
#include "support/captured_swing.h"
#include "support/findings.h"

#include <gtest/gtest.h>

#include <algorithm>
#include <cmath>
#include <tuple>

using namespace kite;
using Eigen::Vector3d;
using kite::test::CapturedSwing;
using kite::test::has_code;

// Hidden for 0.1 s about its peak, the pelvis' peak is not given or carries an uncertainty that
// covers the truth; no order is called certain on it; the hole is named.
TEST(Unseen, APeakInAHoleIsNotShownAsKnown) {
    for (std::uint32_t seed = 1; seed <= 12; ++seed) {
        CapturedSwing one(seed);
        const double peak_s = one.truth.parts[0].peak_s;
        one.hide({"LASI", "RASI", "LPSI", "RPSI"}, peak_s - 0.05, peak_s + 0.05);
        const auto result = one.analysed();
        ASSERT_TRUE(result.ok());
        const SegmentSequence& pelvis = *result.value.sequence.find(Segment::Pelvis);
        if (std::isfinite(pelvis.peak_t_s)) {
            EXPECT_LT(std::abs(pelvis.peak_t_s - peak_s), 3.0 * pelvis.peak_t_u_s) << seed;
        }
        EXPECT_TRUE(has_code(result.findings, "part-unseen"));
        const Reading reading = read_swing(result.value, formats::plain_rules());
        EXPECT_TRUE(!reading.first_fix || *reading.first_fix != "out-of-order") << seed;
    }
}

// A value in a hole is missing, and one beside it is there.
TEST(Unseen, ValuesInAHoleAreMissing) {
    CapturedSwing one(3);
    const double impact_s = one.motion.impact_s();
    one.hide({"LASI", "RASI", "LPSI", "RPSI"}, impact_s - 0.03, impact_s + 0.06);
    const auto result = one.analysed();
    ASSERT_TRUE(result.ok());
    EXPECT_TRUE(std::isnan(result.value.position(Segment::Pelvis, Moment::Impact).turn_deg));
    EXPECT_TRUE(std::isnan(result.value.separation->at_impact_deg));
    EXPECT_TRUE(std::isfinite(result.value.position(Segment::Pelvis, Moment::Top).turn_deg));
    EXPECT_TRUE(std::isfinite(result.value.position(Segment::Torso, Moment::Impact).turn_deg));
}

// Club hidden over the ball: impact is where the way before says, as sure as that is.
TEST(Unseen, AHiddenImpactCarriesItsUncertainty) {
    int within = 0;
    for (std::uint32_t seed = 1; seed <= 12; ++seed) {
        CapturedSwing one(seed);
        const double impact_s = one.motion.impact_s();
        one.hide({"CLB1", "CLB2", "CLB3"}, impact_s - 0.02, impact_s + 0.03);
        const auto result = one.analysed();
        ASSERT_TRUE(result.ok());
        const MomentTime impact = *result.value.moments[Moment::Impact];
        within += std::abs(impact.t_s - impact_s) <= 3.0 * impact.u_s ? 1 : 0;
        EXPECT_GT(impact.u_s, 0.0003);
        EXPECT_TRUE(std::isnan(result.value.speed.club_head_m_s)) << "nobody saw it there";
    }
    EXPECT_GE(within, 11);
}

// A part that is followed by fewer of its markers through the downswing says so; one that lost a
// marker for two frames, or before the swing, does not.
TEST(Unseen, AMarkerHiddenInTheDownswingIsNamed) {
    for (const auto& [label, from_s, to_s, named] :
         {std::tuple("CLB1", -0.05, 0.05, true), std::tuple("LASI", -0.20, -0.10, true),
          std::tuple("STRN", -0.02, -0.012, false), std::tuple("C7", -1.6, -1.4, false)}) {
        CapturedSwing one(3);
        const double impact_s = one.motion.impact_s();
        one.hide({label}, impact_s + from_s, impact_s + to_s);
        const auto take = take_from_file_markers(one.markers, {});
        const auto said = std::find_if(take.findings.begin(), take.findings.end(),
                                       [](const Finding& f) { return f.code == "markers-hidden"; });
        ASSERT_EQ(said != take.findings.end(), named) << label;
        if (named) {
            EXPECT_NE(said->what.find(std::string(label) + " for"), std::string::npos)
                << said->what;
        }
    }
}

// The hands alone tell that somebody has begun to move: a tenth of a second of slow takeaway is
// less than the noise of forty markers, and no address.
TEST(Address, CalmMeansCalmHands) {
    for (std::uint32_t seed = 1; seed <= 8; ++seed) {
        CapturedSwing one(seed);
        one.markers = study::capture_markers(one.motion, 240.0, 1.5, seed);
        const FrameRange calm = find_calm_before_swing(one.markers);
        // By the golfer himself, not by his markers: a quarter of a metre a second for 0.1 s.
        const Vector3d moved = one.motion.wrist(static_cast<double>(calm.end - 1) / 240.0) -
                               one.motion.wrist(static_cast<double>(calm.begin) / 240.0);
        EXPECT_LT(moved.norm(), 0.03) << seed;
    }
}

// A contact mark that is right is believed; one 30 ms off is told back with both times.
TEST(Impact, AContactMarkIsHeldAgainstTheClubHead) {
    CapturedSwing one(5);
    one.markers.contact_s = one.motion.impact_s() + 0.001;
    EXPECT_EQ(one.analysed().value.moments.impact_source, ImpactSource::Contact);
    for (double off_s : {-0.03, 0.03}) {
        one.markers.contact_s = one.motion.impact_s() + off_s;
        const auto result = one.analysed();
        EXPECT_EQ(result.value.moments.impact_source, ImpactSource::ClubHead);
        EXPECT_NEAR(result.value.moments.time_s(Moment::Impact), one.motion.impact_s(), 0.001);
        EXPECT_TRUE(has_code(result.findings, "contact-contradicted"));
    }
}

// A club that still speeds up for 10 ms after the ball, and takes no blow, peaks after it.
TEST(Impact, ALateClubIsSeenLate) {
    for (std::uint32_t seed = 1; seed <= 8; ++seed) {
        study::Golfer golfer = CapturedSwing::make(seed);
        auto& club = golfer.plans[index_of(Segment::Club)];
        club.peak_before_ms = 0.0;
        club.loss = 0.0;
        club.rises_after_ms = 10.0;
        const study::Motion motion(golfer);
        const auto take =
            take_from_file_markers(study::capture_markers(motion, 240.0, 0.4, seed), {});
        const auto result = analyse(take.value, {});
        ASSERT_TRUE(result.ok());
        const double late_ms = ms_from_s(
            study::truth_of(motion).parts[index_of(Segment::Club)].peak_s - motion.impact_s());
        EXPECT_GT(late_ms, 8.0);
        EXPECT_NEAR(result.value.sequence.fastest_at_ball_ms, late_ms, 3.0) << seed;
    }
}

// Standing half a metre beside the ball first: address is where the feet stand at the takeaway.
TEST(Address, IsLookedForWhereTheFeetStand) {
    CapturedSwing one(7);
    const auto still = static_cast<std::size_t>(1.2 * one.markers.rate_hz);
    const auto walk = static_cast<std::size_t>(0.8 * one.markers.rate_hz);
    const MarkerTake plain = one.markers;
    for (auto& track : one.markers.tracks_m) {
        std::vector<Vector3d> before;
        for (std::size_t i = 0; i < still + walk; ++i) {
            const double u =
                i < still ? 0.0 : static_cast<double>(i - still) / static_cast<double>(walk);
            before.push_back(track.front() +
                             0.5 * (1.0 + std::cos(kPi * u)) * Vector3d(-0.3, 0.4, 0.0));
        }
        track.insert(track.begin(), before.begin(), before.end());
    }
    one.markers.frames += still + walk;
    const auto result = one.analysed();
    ASSERT_TRUE(result.ok());
    EXPECT_NEAR(result.value.position(Segment::Pelvis, Moment::Impact).sway_m,
                one.truth.pelvis_sway_impact_m, 0.01);
}

// Rates alone: which swing, whose top and moments by hand count as for every other source.
TEST(RatesAlone, HeedSwingTopAndMovedMoments) {
    Take take;
    take.rate_hz = 200.0;
    take.source = Source::Rates;
    const auto bump = [](double t, double centre_s, double width_s) {
        return std::exp(-std::pow((t - centre_s) / width_s, 2));
    };
    for (const auto& [segment, peak, before_s] :
         {std::tuple(Segment::Pelvis, 450.0, 0.08), std::tuple(Segment::Torso, 700.0, 0.06),
          std::tuple(Segment::LeadArm, 950.0, 0.04), std::tuple(Segment::Club, 2100.0, 0.0)})
        for (int i = 0; i < 1200; ++i) {
            const double t = i / 200.0;
            double rate = 0.0;
            for (const auto& [impact_s, size] : {std::pair(1.8, 1.1), std::pair(4.6, 1.0)})
                rate += size * peak *
                        (bump(t, impact_s - before_s, 0.09) - 0.2 * bump(t, impact_s - 0.75, 0.25));
            take.rates_deg_s[segment].push_back(rate);
        }
    take.frames = 1200;
    const auto first = analyse(take, {});
    ASSERT_TRUE(first.ok());
    EXPECT_NEAR(first.value.sequence.find(Segment::Club)->peak_t_s, 1.8, 0.003);
    EXPECT_TRUE(has_code(first.findings, "several-swings"));
    AnalysisOptions options;
    options.swing = 2;
    options.top = TopDefinition::LeadArm;
    options.moved_s[Moment::Impact] = 4.59;
    const auto second = analyse(take, options);
    ASSERT_TRUE(second.ok());
    EXPECT_NEAR(second.value.sequence.find(Segment::Pelvis)->peak_t_s, 4.52, 0.004);
    EXPECT_NEAR(second.value.moments.time_s(Moment::Impact), 4.59, 1e-12);
    EXPECT_EQ(second.value.moments.impact_source, ImpactSource::Hand);
    EXPECT_NEAR(second.value.moments.time_s(Moment::Top),
                second.value.sequence.find(Segment::LeadArm)->reversal_t_s, 0.004);
    EXPECT_EQ(second.value.swing_number, 2);

    // The same in radians a second, and with the downswing negative: mended and said.
    for (double factor : {kPi / 180.0, -1.0}) {
        Take other = take;
        for (auto& entry : other.rates_deg_s)
            for (double& value : entry.second)
                value *= factor;
        const auto mended = analyse(other, {});
        ASSERT_TRUE(mended.ok()) << factor;
        EXPECT_NEAR(mended.value.sequence.find(Segment::Club)->peak_deg_s, 1.1 * 2100.0, 25.0);
        EXPECT_TRUE(has_code(mended.findings, factor > 0.0 ? "radians-mended" : "sign-mended"));
    }
}

// Even samples under stamps that tremble by a third of a frame: taken as even, and said. Samples
// taken when the stamps say are resampled as before.
TEST(TimeBase, TellsTremblingStampsFromUnevenSamples) {
    std::mt19937 random(2);
    std::uniform_real_distribution<double> off(-0.33, 0.33);
    std::vector<double> stamps;
    std::vector<Vector3d> even;
    std::vector<Vector3d> uneven;
    for (int i = 0; i < 400; ++i) {
        stamps.push_back((i + off(random)) / 200.0);
        const auto place = [](double t) {
            return Vector3d(std::sin(9.0 * t), std::cos(7.0 * t), std::sin(11.0 * t));
        };
        even.push_back(place(i / 200.0));
        uneven.push_back(place(stamps.back()));
    }
    auto base = find_time_base(stamps, std::nullopt);
    ASSERT_TRUE(base.value.resampled);
    settle_tremble({uneven}, stamps, base);
    EXPECT_TRUE(base.value.resampled);
    settle_tremble({even}, stamps, base);
    EXPECT_FALSE(base.value.resampled);
    EXPECT_NEAR(base.value.rate_hz, 200.0, 0.2);
    ASSERT_TRUE(has_code(base.findings, "time-trembles"));
    const std::string& said = base.findings.back().what;
    EXPECT_NE(said.find("taken as even at 200"), std::string::npos) << said;
    EXPECT_NE(said.find("tremble by up to 1."), std::string::npos) << "a third of 5 ms: " << said;
}

// The given is said once, in words that fit the source.
TEST(HowSure, SaysWhatWasTakenAsGiven) {
    CapturedSwing one(2);
    const auto result = one.analysed();
    const ReadingWords words =
        write_words(result.value, read_swing(result.value, formats::plain_rules()));
    EXPECT_NE(words.given.find("markers that sit where their names say"), std::string::npos);
    Analysis sensors = result.value;
    sensors.source = Source::Sensors;
    sensors.club_said = false;
    const std::string given =
        write_words(sensors, read_swing(sensors, formats::plain_rules())).given;
    EXPECT_NE(given.find("clocks agree"), std::string::npos);
    EXPECT_NE(given.find("Nobody said the club"), std::string::npos);
}

// The torso's poses turned half round about the vertical, as by a sensor on the wrong way: no spine
// does that.
TEST(Plausible, ASeparationThatNoBodyCanDoIsNotGiven) {
    CapturedSwing one(4);
    auto take = take_from_file_markers(one.markers, {});
    ASSERT_TRUE(take.ok());
    EXPECT_FALSE(has_code(analyse(take.value, {}).findings, "separation-impossible"));
    const Eigen::Quaterniond half(Eigen::AngleAxisd(kPi, Vector3d::UnitZ()));
    for (auto& q : take.value.segments.at(Segment::Torso).q_lab_segment)
        q = half * q;
    const auto result = analyse(take.value, {});
    EXPECT_TRUE(has_code(result.findings, "separation-impossible"));
    EXPECT_FALSE(result.value.separation);
}

// Nobody stands still before this swing, and neck and breastbone bear each other's names.
TEST(Mending, FrontAndBackAreToldInTheSwingToo) {
    CapturedSwing one(11);
    // From half way back: what came before was not recorded.
    const auto cut = static_cast<std::size_t>((one.motion.impact_s() - 0.75) * one.markers.rate_hz);
    for (auto& track : one.markers.tracks_m)
        track.erase(track.begin(), track.begin() + static_cast<std::ptrdiff_t>(cut));
    one.markers.frames -= cut;
    std::swap(*one.markers.find("C7"), *one.markers.find("CLAV"));
    std::vector<Finding> findings;
    mend_markers(one.markers, findings);
    ASSERT_TRUE(has_code(findings, "markers-relabelled"));
    EXPECT_NE(findings.front().what.find("C7 and CLAV"), std::string::npos);
}

// Left wrist called right all along: forearms of 26 cm, which turn about hands that stay together,
// would stretch and shrink. One elbow alone that says so may be a marker that slipped.
TEST(Mending, HandsThatBearEachOthersNamesAreGivenBack) {
    for (const bool both : {true, false}) {
        CapturedSwing one(3);
        for (std::size_t i = 0; i < one.markers.frames; ++i) {
            const double turned =
                0.3 + 2.5 * static_cast<double>(i) / static_cast<double>(one.markers.frames);
            const Vector3d left(0.26 * std::cos(turned), 0.0, 0.26 * std::sin(turned));
            one.track("LELB")[i] = one.track("LWRA")[i] + left;
            one.track("RELB")[i] =
                one.track(both ? "RWRA" : "LWRA")[i] + Vector3d(-left.x(), 0.0, left.z());
        }
        const MarkerTake whole = one.markers;
        std::swap(one.track("LWRB"), one.track("RWRB"));
        std::swap(one.track("LWRA"), one.track("RWRA"));
        std::vector<Finding> findings;
        mend_markers(one.markers, findings);
        EXPECT_EQ(has_code(findings, "markers-relabelled"), both);
        if (!both)
            continue;
        for (const char* label : {"LWRA", "RWRA", "LWRB", "RWRB"})
            for (std::size_t i = 0; i < whole.frames; i += 50)
                EXPECT_EQ(one.track(label)[i], (*whole.find(label))[i]) << label << " " << i;
    }
}
