// The words in files: each means one thing, comes back as it was written, and no other word does.

#include "core/base/names.h"
#include "core/catalogue/measure.h"
#include "core/catalogue/quantity.h"
#include "core/catalogue/topic.h"
#include "core/film/marks.h"
#include "core/live/messages.h"
#include "core/measures/options.h"
#include "core/practice/plan.h"
#include "core/reading/rules.h"

#include <gtest/gtest.h>

#include <set>
#include <string>

namespace kite {
namespace {

/// Every value comes back by its key, no two share one, and nothing else is taken for one.
template <class Value, class Find>
void expect_round_trip(std::initializer_list<Value> values, const Find& find) {
    std::set<std::string> keys;
    for (Value value : values) {
        const std::string key(key_of(value));
        EXPECT_TRUE(keys.insert(key).second) << key << " twice";
        ASSERT_TRUE(find(key)) << key;
        EXPECT_TRUE(*find(key) == value) << key;
        EXPECT_FALSE(find(key + "s"));
        EXPECT_FALSE(find(" " + key));
        EXPECT_EQ(key.find_first_of(" \t,;\""), std::string::npos) << key;
    }
    EXPECT_FALSE(find(""));
}

TEST(Keys, ComeBackAsTheyWereWritten) {
    expect_round_trip({Handedness::Right, Handedness::Left},
                      [](const std::string& key) { return find_handedness(key); });
    expect_round_trip({ClubKind::Driver, ClubKind::Wood, ClubKind::Iron, ClubKind::Wedge},
                      [](const std::string& key) { return find_club_kind(key); });
    expect_round_trip({RateConvention::Axis, RateConvention::Resultant, RateConvention::Plane},
                      [](const std::string& key) { return find_convention(key); });
    expect_round_trip({SeparationMethod::Projected, SeparationMethod::Joint},
                      [](const std::string& key) { return find_separation(key); });
    expect_round_trip({TopDefinition::Club, TopDefinition::LeadArm},
                      [](const std::string& key) { return find_top(key); });
    expect_round_trip(
        {Phase::SetUp, Phase::Backswing, Phase::Transition, Phase::Downswing, Phase::FollowThrough},
        [](const std::string& key) { return find_phase(key); });
    expect_round_trip({FaceHabit::Square, FaceHabit::Shut, FaceHabit::Open},
                      [](const std::string& key) { return find_face(key); });
    expect_round_trip({PracticePlace::Indoors, PracticePlace::Range},
                      [](const std::string& key) { return find_practice_place(key); });
    expect_round_trip({PlanTempo::Slow, PlanTempo::Fluid, PlanTempo::Ball},
                      [](const std::string& key) { return find_plan_tempo(key); });
    expect_round_trip(
        {PlanDayKind::Practice, PlanDayKind::Rest, PlanDayKind::Measure, PlanDayKind::Lesson},
        [](const std::string& key) { return find_plan_day_kind(key); });
    for (live::Role role : live::kRoles) {
        EXPECT_EQ(live::find_role(live::key_of(role)), role);
        EXPECT_FALSE(live::find_role(std::string(live::key_of(role)) + "_"));
    }
}

TEST(Keys, OfGoalsLeaveNotSaidOut) {
    for (Goal goal : {Goal::Speed, Goal::Straight, Goal::Strike, Goal::Strain})
        EXPECT_EQ(find_goal(key_of(goal)), goal);
    EXPECT_FALSE(find_goal("fame"));
}

TEST(Keys, OfPartsMomentsAndPointsAreOneEach) {
    std::set<std::string> keys;
    for (Segment segment : kAllSegments)
        EXPECT_TRUE(keys.insert(std::string(key_of(segment))).second) << key_of(segment);
    for (Moment moment : kAllMoments)
        EXPECT_TRUE(keys.insert(std::string(key_of(moment))).second) << key_of(moment);
    keys.clear();
    for (BodyPoint point : kAllPoints)
        EXPECT_TRUE(keys.insert(std::string(key_of(point))).second) << key_of(point);
    keys.clear();
    for (std::string_view key : film::point_keys())
        EXPECT_TRUE(keys.insert(std::string(key)).second) << key;
    EXPECT_EQ(keys.size(), film::kPoints);
}

// Sensors sit on the parts of the sequence; plate and launch monitor sit on nobody.
TEST(Keys, ARoleIsOnItsPart) {
    std::set<Segment> parts;
    for (live::Role role : live::kRoles)
        if (const auto part = live::segment_of(role)) {
            parts.insert(*part);
            EXPECT_EQ(key_of(*part), live::key_of(role));
        }
    EXPECT_EQ(parts, std::set<Segment>(kSequence.begin(), kSequence.end()));
    EXPECT_FALSE(live::segment_of(live::Role::Plate));
    EXPECT_FALSE(live::segment_of(live::Role::Launch));
}

TEST(Topics, ExplainEverythingOnceAndSayWhatPositiveMeans) {
    std::set<std::string> keys;
    for (const Topic& topic : all_topics()) {
        EXPECT_TRUE(keys.insert(topic.key).second) << topic.key << " twice";
        EXPECT_EQ(find_topic(topic.key), &topic);
        for (const char* text : {topic.name, topic.definition, topic.sign, topic.source})
            EXPECT_FALSE(std::string(text).empty()) << topic.key;
    }
    EXPECT_EQ(find_topic("no such thing"), nullptr);
    for (const Measure& measure : all_measures())
        EXPECT_NE(find_topic_for(measure.key), nullptr) << measure.key;
    for (const Quantity& quantity : all_quantities())
        EXPECT_NE(find_topic_for(quantity.key), nullptr) << quantity.key;
}

// Trunk slow, arm faster, club fastest: each part's filter lies above the one below it, and what
// the user fixes is used (docs/measures.md).
TEST(Cutoffs, RiseFromTheGroundUpAndCanBeFixed) {
    AnalysisOptions options;
    for (std::size_t i = 1; i < kSequence.size(); ++i)
        EXPECT_LE(options.cutoff_of_hz(kSequence[i - 1]), options.cutoff_of_hz(kSequence[i]));
    for (Segment segment : kAllSegments) {
        EXPECT_LT(cutoff_bounds(segment).low_hz, cutoff_bounds(segment).high_hz);
        EXPECT_EQ(options.cutoff_of_hz(segment), cutoff_bounds(segment).high_hz);
    }
    EXPECT_EQ(cutoff_bounds(Segment::Pelvis).low_hz, 7.0);
    EXPECT_EQ(cutoff_bounds(Segment::Club).high_hz, 40.0);
    options.cutoff_hz[Segment::Club] = 22.0;
    EXPECT_EQ(options.cutoff_of_hz(Segment::Club), 22.0);
    EXPECT_FALSE(options == AnalysisOptions{});
    EXPECT_TRUE(is_trunk(Segment::Torso) && !is_trunk(Segment::Head));
    EXPECT_TRUE(feels_impact(Segment::LeadArm) && !feels_impact(Segment::Pelvis));
}

} // namespace
} // namespace kite
