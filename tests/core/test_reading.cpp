#include "core/practice/plan.h"
#include "core/reading/reading.h"
#include "core/reading/set_reading.h"
#include "core/reading/words.h"
#include "formats/practice/drills_json.h"
#include "formats/rules/rules_json.h"
#include "simulate/golfers.h"
#include "simulate/planted_faults.h"
#include "simulate/simulate.h"

#include <gtest/gtest.h>

#include <algorithm>
#include <cmath>

using namespace kite;

namespace {

Analysis analysis_with(const std::string& fault, double strength) {
    simulate::SwingParameters parameters;
    if (!fault.empty())
        simulate::plant(parameters, fault, strength);
    return analyse(simulate::make_take(parameters), {}).value;
}

Fault made_up(const char* id, Phase phase, double evidence, std::vector<std::string> leads_to) {
    Fault fault;
    fault.id = id;
    fault.phase = phase;
    fault.evidence = evidence;
    fault.leads_to = std::move(leads_to);
    return fault;
}

} // namespace

// The normal distribution at 0, 1 and -1.96 standard deviations (any statistical table).
TEST(Evidence, IsHalfAtTheLimitAndSoftAroundIt) {
    EXPECT_DOUBLE_EQ(*above(10.0, 10.0, 2.0), 0.5);
    EXPECT_NEAR(*above(12.0, 10.0, 2.0), 0.8413, 1e-4);
    EXPECT_NEAR(*below(12.0, 10.0, 2.0), 0.1587, 1e-4);
    EXPECT_NEAR(*above(10.0 - 1.96 * 2.0, 10.0, 2.0), 0.025, 1e-4);
}

TEST(Evidence, StaysMiddlingWhenTheMeasureIsUncertain) {
    EXPECT_NEAR(*above(14.0, 10.0, 3.0, 4.0), 0.7881, 1e-4); // (14 - 10) / 5 = 0.8
    EXPECT_GT(*above(14.0, 10.0, 3.0), *above(14.0, 10.0, 3.0, 4.0));
}

TEST(Evidence, OfAMeasureWhoseUncertaintyIsUnknownIsNone) {
    EXPECT_FALSE(above(14.0, 10.0, 3.0, std::nan("")));
    EXPECT_FALSE(below(2.0, 10.0, 3.0, std::nan("")));
}

TEST(Evidence, MissingMeasuresAreNotJudged) {
    EXPECT_FALSE(above(std::nan(""), 10.0, 2.0));
    EXPECT_FALSE(all_of({0.9, std::nullopt}));
    EXPECT_DOUBLE_EQ(*all_of({0.01, std::nullopt}), 0.01) << "already ruled out";
    EXPECT_DOUBLE_EQ(*any_of({std::nullopt, 0.3}), 0.3);
    EXPECT_FALSE(any_of({std::nullopt, std::nullopt}));
    EXPECT_DOUBLE_EQ(*all_of({0.9, 0.4, 0.7}), 0.4);
    EXPECT_DOUBLE_EQ(*any_of({0.2, 0.4}), 0.4);
}

TEST(FirstFix, IsTheEarlyFaultThatExplainsTheRest) {
    EXPECT_EQ(choose_first_fix({made_up("early", Phase::Transition, 0.8, {"late"}),
                                made_up("late", Phase::Downswing, 1.0, {})}),
              "early");
}

TEST(FirstFix, IsTheLateFaultWhenNothingEarlierExplainsIt) {
    EXPECT_EQ(choose_first_fix({made_up("early", Phase::Transition, 0.3, {"late"}),
                                made_up("late", Phase::Downswing, 1.0, {})}),
              "late");
}

TEST(FirstFix, OfEqualsIsTheEarlierPhase) {
    EXPECT_EQ(choose_first_fix({made_up("b", Phase::Downswing, 0.9, {}),
                                made_up("a", Phase::Backswing, 0.9, {})}),
              "a");
}

TEST(FirstFix, FollowsCausesThroughAbsentLinks) {
    // a leads to b (absent here), b leads to c: a explains c.
    EXPECT_EQ(choose_first_fix({made_up("a", Phase::Backswing, 0.7, {"b"}),
                                made_up("b", Phase::Transition, 0.2, {"c"}),
                                made_up("c", Phase::Downswing, 1.0, {})}),
              "a");
}

// Each a little less likely than the one before: compared pair by pair, the last would creep in.
TEST(FirstFix, DoesNotDependOnTheOrderOfTheList) {
    std::vector<Fault> faults{made_up("a", Phase::Downswing, 0.95, {}),
                              made_up("b", Phase::Transition, 0.88, {}),
                              made_up("c", Phase::Backswing, 0.81, {})};
    std::vector<std::size_t> order{0, 1, 2};
    const auto first = choose_first_fix(faults);
    do {
        EXPECT_EQ(choose_first_fix({faults[order[0]], faults[order[1]], faults[order[2]]}), first);
    } while (std::next_permutation(order.begin(), order.end()));
}

TEST(FirstFix, IsNoneWithoutEnoughEvidence) {
    EXPECT_FALSE(choose_first_fix({made_up("a", Phase::Transition, 0.59, {})}));
    EXPECT_FALSE(choose_first_fix({}));
}

// Inside evidence: what was planted is found, and only that comes first.
class PlantedFault : public testing::TestWithParam<std::string> {};

TEST_P(PlantedFault, IsTheFirstFix) {
    for (double strength : {1.0}) {
        const Reading reading =
            read_swing(analysis_with(GetParam(), strength), formats::plain_rules());
        ASSERT_TRUE(reading.first_fix) << "strength " << strength;
        EXPECT_EQ(*reading.first_fix, GetParam());
        EXPECT_FALSE(reading.find(GetParam())->because.empty());
    }
}

std::vector<std::string> all_plantable() {
    std::vector<std::string> out;
    for (std::string_view id : simulate::plantable_faults())
        out.emplace_back(id);
    return out;
}

INSTANTIATE_TEST_SUITE_P(All, PlantedFault, testing::ValuesIn(all_plantable()),
                         [](const auto& test) {
                             std::string name = test.param;
                             for (char& c : name)
                                 c = c == '-' ? '_' : c;
                             return name;
                         });

// A drill done against a fault is counted by what decides the fault, whatever the drill is judged
// by else: swings with the fault do not pass it, by its band alone, and swings without can.
TEST_P(PlantedFault, DoesNotPassItsOwnDrill) {
    const DrillBook& book = formats::shipped_drills();
    const Analysis with = analysis_with(GetParam(), 1.0);
    const Analysis without = analysis_with("", 0.0);
    int drills = 0;
    for (const Drill& drill : book.drills) {
        const auto& faults = drill.faults;
        if (std::find(faults.begin(), faults.end(), GetParam()) == faults.end())
            continue;
        ++drills;
        const Drill* counted = book.find(drill.id, GetParam());
        ASSERT_NE(counted, nullptr);
        const PlanCheck bad = check_swing(*counted, with, false);
        EXPECT_TRUE(bad.passed && !*bad.passed) << drill.id << " " << bad.value.value;
        const PlanCheck slow = check_swing(*counted, with, true);
        EXPECT_TRUE(slow.passed && !*slow.passed) << drill.id << " " << slow.value.value;
        const PlanCheck good = check_swing(*counted, without, false);
        EXPECT_TRUE(good.passed && *good.passed) << drill.id << " " << good.value.value;
    }
    EXPECT_GT(drills, 0);
}

// Where the reading finds the fault the band has no say.
TEST(Drills, AFaultThatIsFoundDoesNotPassWhateverTheBandSays) {
    const DrillBook& book = formats::shipped_drills();
    const Analysis analysis = analysis_with("upper-body-first", 1.0);
    const Reading reading = read_swing(analysis, formats::plain_rules());
    for (const Drill& drill : book.drills)
        EXPECT_FALSE(check_swing(drill, analysis, false, &reading, "upper-body-first")
                         .passed.value_or(false))
            << drill.id;
}

// The worse the peaks are known, the less is held of them being one: doubt is no evidence.
TEST(Reading, BunchedPeaksAreNotFoundOutOfDoubt) {
    Analysis bunched = analysis_with("bunched-peaks", 1.0);
    const auto evidence = [&](double u_s) {
        for (Segment segment : {Segment::Pelvis, Segment::Torso})
            bunched.sequence.parts[index_of(segment)]->peak_t_u_s = u_s;
        return read_swing(bunched, formats::plain_rules()).find("bunched-peaks")->evidence;
    };
    EXPECT_GT(*evidence(0.001), 0.9);
    double last = 1.0;
    for (const double u_s : {0.001, 0.002, 0.004, 0.006}) {
        const double now = evidence(u_s).value_or(0.0);
        EXPECT_LE(now, last) << u_s;
        last = now;
    }
    EXPECT_FALSE(evidence(0.015)) << "cannot be judged";
}

TEST(Reading, AGoodSwingIsPraisedAndNotMended) {
    const Analysis analysis = analysis_with("", 0.0);
    const Reading reading = read_swing(analysis, formats::plain_rules());
    EXPECT_FALSE(reading.first_fix);
    const ReadingWords words = write_words(analysis, reading);
    EXPECT_EQ(words.order, "pelvis → torso → lead arm → club");
    EXPECT_EQ(words.fix_title, "Nothing to mend here");
    ASSERT_FALSE(words.good.empty());
    EXPECT_EQ(words.good.front().rfind("The pelvis starts down first, ", 0), 0u);
    // A tempo of three to one, give or take a half, is worth a word; another is not (common
    // practice, no source).
    const auto says_tempo = [&](double ratio) {
        Analysis other = analysis;
        other.tempo.ratio = ratio;
        const Reading read = read_swing(other, formats::plain_rules());
        const auto said = write_words(other, read).good;
        return std::any_of(said.begin(), said.end(), [](const std::string& sentence) {
            return sentence.rfind("The tempo is ", 0) == 0;
        });
    };
    EXPECT_TRUE(says_tempo(2.6) && says_tempo(3.4));
    EXPECT_FALSE(says_tempo(2.4) || says_tempo(3.6) || says_tempo(kMissing));
}

TEST(Reading, SaysHowManyFaultsCouldNotBeJudged) {
    Reading reading;
    for (const char* id : {"a", "b", "c", "d", "e"})
        reading.faults.push_back(made_up(id, Phase::Downswing, 0.1, {}));
    const Analysis analysis;
    EXPECT_EQ(write_words(analysis, reading).fix_why,
              "None of the faults judged has enough evidence in this swing.");
    for (const char* id : {"x", "y"}) {
        reading.faults.push_back(made_up(id, Phase::Downswing, 0.0, {}));
        reading.faults.back().evidence.reset();
        reading.faults.back().applies = true;
    }
    const ReadingWords some = write_words(analysis, reading);
    EXPECT_EQ(some.fix_why, "5 faults were judged and none has enough evidence; 2 could not be "
                            "judged from this source.");
    EXPECT_EQ(some.fix_title, "No fault shown") << "five of seven are not most of them";
    for (const char* id : {"f", "g", "h"})
        reading.faults.push_back(made_up(id, Phase::Downswing, 0.1, {}));
    EXPECT_EQ(write_words(analysis, reading).fix_title, "Nothing to mend here") << "eight of ten";
}

TEST(Reading, GivesItsReasonsWithNumbersAndMoments) {
    const Analysis analysis = analysis_with("upper-body-first", 1.5);
    const Reading reading = read_swing(analysis, formats::plain_rules());
    const ReadingWords words = write_words(analysis, reading);
    EXPECT_EQ(words.fix_title, "The upper body starts down first");
    ASSERT_EQ(words.because.size(), 2u);
    // Planted: the torso reverses 268 + 1.5 · 47 ms before impact, the pelvis 335 - 1.5 · 25 ms.
    const double lead_ms = 1000.0 * (analysis.sequence.find(Segment::Pelvis)->reversal_t_s -
                                     analysis.sequence.find(Segment::Torso)->reversal_t_s);
    EXPECT_NEAR(lead_ms, 41.0, 3.0);
    EXPECT_EQ(words.because[0], "The torso starts down " + std::to_string(std::lround(lead_ms)) +
                                    " ms before the pelvis.");
    EXPECT_NEAR(reading.find("upper-body-first")->because[0].t_s,
                analysis.sequence.find(Segment::Torso)->reversal_t_s, 1e-9);
}

// Common practice, no source: a driver's ball lies about at the lead heel, a wedge's in the middle.
TEST(SetUp, IsNotedByClubAndNeverTheFirstFix) {
    Analysis analysis = analysis_with("slide", 1.0);
    EXPECT_TRUE(read_swing(analysis, formats::plain_rules()).noted().empty());
    analysis.setup.ball_place = 1.3;
    Reading reading = read_swing(analysis, formats::plain_rules());
    ASSERT_EQ(reading.noted().size(), 1U);
    EXPECT_EQ(reading.noted()[0]->id, "ball-forward");
    EXPECT_EQ(reading.first_fix, "slide");
    EXPECT_EQ(write_words(analysis, reading).set_up,
              std::vector<std::string>{
                  "The ball lies far forward. Between the middle of the stance (0) and the lead "
                  "ankle (1) the ball lies at 1.3. “The pelvis slides instead of turning” may "
                  "begin here."});
    // Alone it is still a note, and leads to nothing that is there.
    analysis = analysis_with("", 0.0);
    analysis.setup.ball_place = 1.1;
    reading = read_swing(analysis, formats::plain_rules());
    ASSERT_EQ(reading.noted().size(), 1U);
    EXPECT_FALSE(reading.first_fix);
    EXPECT_FALSE(reading.may_begin_with(*reading.noted()[0]));
    // For a driver it is where it should be; nearly at the trail foot it is for no club.
    analysis.club = ClubKind::Driver;
    EXPECT_TRUE(read_swing(analysis, formats::plain_rules()).noted().empty());
    for (const ClubKind club : {ClubKind::Driver, ClubKind::Iron, ClubKind::Wedge}) {
        analysis.club = club;
        analysis.setup.ball_place = -0.9;
        const Reading back = read_swing(analysis, formats::plain_rules());
        ASSERT_EQ(back.noted().size(), 1U);
        EXPECT_EQ(back.noted()[0]->id, "ball-back");
    }
    // What is not measured is not noted.
    analysis.setup.ball_place = kMissing;
    EXPECT_TRUE(read_swing(analysis, formats::plain_rules()).noted().empty());
}

TEST(SetUp, OfASetIsWhatItsSwingsShowTogether) {
    std::vector<Reading> readings;
    for (const double place : {1.3, 0.7, 0.7}) {
        Analysis analysis = analysis_with("", 0.0);
        analysis.setup.ball_place = place;
        readings.push_back(read_swing(analysis, formats::plain_rules()));
    }
    EXPECT_TRUE(read_set(readings).reading.noted().empty());
    readings.pop_back();
    readings.push_back(readings.front());
    EXPECT_EQ(read_set(readings).reading.noted().size(), 1U);
}

TEST(Reading, JudgesNothingItCannotSee) {
    Take take = simulate::make_take({});
    take.segments.erase(Segment::Torso);
    const Analysis analysis = analyse(take, {}).value;
    const Reading reading = read_swing(analysis, formats::plain_rules());
    EXPECT_FALSE(reading.find("bunched-peaks")->evidence);
    EXPECT_FALSE(reading.find("out-of-order")->evidence);
    EXPECT_EQ(write_words(analysis, reading).fix_title, "No fault shown");
}

// A value is nought where its last decimal that is written is: 0.3 with one decimal is not, 0.03
// is.
TEST(Words, NoughtIsWhatIsWrittenAsNought) {
    FaultRule fault;
    fault.id = fault.title = "slow-back";
    fault.when.kind = Condition::Kind::Above;
    fault.when.term.kind = Term::Kind::Measure;
    fault.when.term.key = "tempo.ratio";
    fault.when.limit = "made up";
    const auto sentence_with = [&](int decimals, double value) {
        Analysis analysis;
        analysis.tempo = {0.8, 0.25, value};
        for (const Moment moment : {Moment::Takeaway, Moment::Top, Moment::Impact})
            analysis.moments[moment] = MomentTime{0.0, 0.001, false};
        fault.when.because = {"plain", "nought", "negative", decimals};
        Rules rules;
        rules.book.faults = {fault};
        Limit limit;
        limit.value = value - 10.0;
        limit.width = 1.0;
        rules.book.limits["made up"] = limit;
        const std::vector<Fault> found = judge_faults(analysis, rules);
        return found.empty() || found[0].because.empty() ? std::string("none")
                                                         : found[0].because[0].text;
    };
    EXPECT_EQ(sentence_with(1, 0.3), "plain");
    EXPECT_EQ(sentence_with(1, 0.03), "nought");
    EXPECT_EQ(sentence_with(2, 0.03), "plain");
    EXPECT_EQ(sentence_with(0, 0.3), "nought");
    EXPECT_EQ(sentence_with(0, -3.0), "negative");
    EXPECT_EQ(sentence_with(0, -0.3), "nought");
}

TEST(Words, GoThroughTheLanguageAndItsNumbers) {
    Language language;
    language.translate = [](const std::string& text) {
        return text == "torso" ? "Rumpf" : text == "X {2} Y {1}" ? "Z {1} {2}" : text;
    };
    language.number = [](double value, int decimals) {
        return std::to_string(static_cast<int>(value)) + "/" + std::to_string(decimals);
    };
    Because because;
    because.text = "X {2} Y {1}";
    because.values = {{0.0, 0, "torso"}, {7.0, 1, {}}};
    EXPECT_EQ(sentence(because, language), "Z Rumpf 7/1");
    EXPECT_EQ(sentence(because), "X 7.0 Y torso");
}

// A set is read by how strongly a fault shows on average over the swings in which it was judged.
TEST(SetReading, AveragesTheEvidenceOverTheSwings) {
    const auto reading_of = [](std::optional<double> torso, double bunched) {
        Reading out;
        out.faults = {made_up("upper-body-first", Phase::Transition, 0.0, {"bunched-peaks"}),
                      made_up("bunched-peaks", Phase::Downswing, bunched, {})};
        out.faults[0].evidence = torso;
        choose(out);
        return out;
    };
    const std::vector<Reading> readings{reading_of(0.9, 0.7), reading_of(0.8, 0.2),
                                        reading_of(std::nullopt, 0.3), reading_of(0.7, 0.8)};
    const SetReading set = read_set(readings);
    EXPECT_NEAR(*set.reading.find("upper-body-first")->evidence, (0.9 + 0.8 + 0.7) / 3.0, 1e-12);
    // There in half of them: how strongly it shows where it shows, and how often, said apart.
    EXPECT_NEAR(*set.reading.find("bunched-peaks")->evidence, (0.7 + 0.8) / 2.0, 1e-12);
    EXPECT_NEAR(set.shares[1].mean_evidence, (0.7 + 0.2 + 0.3 + 0.8) / 4.0, 1e-12);
    EXPECT_EQ(set.reading.first_fix, "upper-body-first");
    EXPECT_EQ(set.shares[0].judged, 3);
    EXPECT_EQ(set.shares[0].present, 3);
    EXPECT_EQ(set.shares[1].present, 2);
    // One swing with a strong fault among clean ones is not the golfer's fault.
    const SetReading clean =
        read_set({reading_of(0.95, 0.1), reading_of(0.05, 0.1), reading_of(0.1, 0.1)});
    EXPECT_FALSE(clean.reading.first_fix.has_value());
}

// A certain fault that comes in every second swing is found: the mean over all would hide it.
TEST(SetReading, AFaultThatComesInHalfOfTheSwingsIsFound) {
    std::vector<Reading> readings;
    for (int i = 0; i < 8; ++i) {
        Reading one;
        one.faults = {made_up("cast", Phase::Downswing, i % 2 == 0 ? 1.0 : 0.0, {})};
        choose(one);
        readings.push_back(std::move(one));
    }
    const SetReading set = read_set(readings);
    EXPECT_EQ(set.reading.first_fix, "cast");
    // R: prop.test(4, 8, correct = FALSE)$conf.int gives 0.2152 to 0.7848 (from memory).
    EXPECT_NEAR(set.shares[0].low, 0.2152, 5e-4);
    EXPECT_NEAR(set.shares[0].high, 0.7848, 5e-4);
}

TEST(SetReading, WhatWasOverruledInASwingIsNotThereInIt) {
    Reading one;
    one.faults = {made_up("cast", Phase::Downswing, 1.0, {}),
                  made_up("flip", Phase::Downswing, 0.9, {})};
    choose(one);
    ASSERT_EQ(one.first_fix, "cast");
    Reading other = one;
    overrule(other, {{"cast", "I saw it: he held it"}});
    EXPECT_EQ(other.first_fix, "flip");
    EXPECT_FALSE(other.find("cast")->counts());
    const SetReading all = read_set({other, other});
    EXPECT_EQ(all.reading.first_fix, "flip");
    const SetReading mixed = read_set({other, one, one});
    EXPECT_EQ(mixed.reading.first_fix, "cast");
    EXPECT_EQ(mixed.shares[0].present, 2);
}

TEST(SetReading, QuotesASwingThatShowsTheFault) {
    const std::vector<Reading> readings{
        read_swing(analysis_with("", 0.0), formats::plain_rules()),
        read_swing(analysis_with("upper-body-first", 1.5), formats::plain_rules()),
        read_swing(analysis_with("upper-body-first", 1.2), formats::plain_rules()),
        read_swing(analysis_with("upper-body-first", 1.4), formats::plain_rules())};
    const SetReading set = read_set(readings);
    ASSERT_EQ(set.reading.first_fix, "upper-body-first");
    EXPECT_GT(set.example, 0U) << "the clean swing cannot be the example";
    EXPECT_FALSE(set.reading.find("upper-body-first")->because.empty());
}

TEST(Terms, AreCalledByTheirMomentAndWhatIsBesideIt) {
    Term term;
    term.kind = Term::Kind::At;
    term.key = "pelvis_turn";
    term.from.moment = Moment::Impact;
    EXPECT_EQ(name_of(term), "pelvis turn at impact");
    term.from.plus_ms = -20.0;
    EXPECT_NE(name_of(term).find("20 ms before impact"), std::string::npos) << name_of(term);
    term.from.plus_ms = 35.0;
    EXPECT_NE(name_of(term).find("35 ms after impact"), std::string::npos) << name_of(term);
    term.from.moment.reset();
    EXPECT_NE(name_of(term).find("35 ms after the first reversal"), std::string::npos)
        << name_of(term);
    EXPECT_FALSE(unknown_name(term));
    term.key = "pelvis_spin";
    EXPECT_EQ(unknown_name(term), "pelvis_spin");
}
