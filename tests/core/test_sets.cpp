#include "core/base/statistics.h"
#include "core/sets/comparison.h"
#include "core/sets/comparison_words.h"
#include "core/sets/swing_set.h"
#include "reference/scipy_values.h"
#include "simulate/golfers.h"
#include "simulate/simulate.h"

#include <gtest/gtest.h>

#include <algorithm>
#include <cmath>

using namespace kite;

// Source: any statistical table.
TEST(Statistics, HasTheTabledTQuantiles) {
    for (const auto& [dof, expected] :
         {std::pair(1.0, 12.706), std::pair(5.0, 2.571), std::pair(10.0, 2.228),
          std::pair(20.0, 2.086), std::pair(30.0, 2.042)})
        EXPECT_NEAR(student_t_quantile(0.975, dof), expected, 0.0005) << dof;
}

// Worked by hand: 3, 5, 4, 8: mean 5, squares 4 + 0 + 1 + 9 = 14, SD √(14/3). Changes 2, -1, 4:
// mean 5/3, squares (1/9 + 64/9 + 49/9) = 114/9, SD √(114/18), typical error SD / √2 = √(114/36).
TEST(Statistics, SummarisesAsByHand) {
    const Summary s = summarise({3.0, std::nan(""), 5.0, 4.0, 8.0});
    EXPECT_EQ(s.count, 4u);
    EXPECT_DOUBLE_EQ(s.mean, 5.0);
    EXPECT_NEAR(s.sd, std::sqrt(14.0 / 3.0), 1e-12);
    EXPECT_NEAR(s.typical_error, std::sqrt(114.0 / 36.0), 1e-12);
    // Three are just enough for a typical error: 3, 5, 4 change by 2 and -1, SD √4.5.
    EXPECT_NEAR(summarise({3.0, 5.0, 4.0}).typical_error, 1.5, 1e-12);
    EXPECT_TRUE(std::isnan(summarise({3.0, 5.0}).typical_error));
    EXPECT_TRUE(std::isnan(summarise({1.0}).sd));
    EXPECT_TRUE(std::isnan(summarise({}).mean));
}

// A steady drift is no swing-to-swing error.
TEST(Statistics, TypicalErrorLeavesDriftOut) {
    EXPECT_NEAR(summarise({1.0, 2.0, 3.0, 4.0, 5.0}).typical_error, 0.0, 1e-12);
}

// Source: SciPy, ttest_ind with unequal variances.
TEST(Statistics, ComparesLikeWelch) {
    const auto vector_of = [](const auto& a) { return std::vector<double>(a.begin(), a.end()); };
    const Change change = calc_change(summarise(vector_of(reference::welch_before)),
                                      summarise(vector_of(reference::welch_after)));
    const auto& expected = reference::welch_difference_low_high_dof_p;
    EXPECT_NEAR(change.difference, expected[0], 1e-9);
    EXPECT_NEAR(change.low, expected[1], 1e-6);
    EXPECT_NEAR(change.high, expected[2], 1e-6);
    EXPECT_NEAR(change.degrees_of_freedom, expected[3], 1e-8);
    EXPECT_NEAR(change.p, expected[4], 1e-9);
}

// Worked by hand: 1 + 2 (2/3 · 0.5 + 1/3 · 0.25) = 1.8333.
TEST(Statistics, SwingsThatHangTogetherTellLess) {
    EXPECT_NEAR(variance_inflation(3, 0.5), 11.0 / 6.0, 1e-12);
    EXPECT_DOUBLE_EQ(variance_inflation(8, 0.0), 1.0);
    const Summary before = summarise({1.0, 2.0, 3.0, 4.0});
    const Summary after = summarise({2.0, 3.0, 4.0, 5.5});
    const Change apart = calc_change(before, after);
    EXPECT_GT(calc_change(before, after, {0.3}).error, apart.error);
    Hanging uncertain;
    uncertain.least_sd = 3.0;
    // Two means of four, each known to 3 / √4.
    EXPECT_NEAR(calc_change(before, after, uncertain).error, 3.0 / std::sqrt(2.0), 1e-12);
    Hanging anew;
    anew.session_sd = 2.0;
    EXPECT_NEAR(calc_change(before, after, anew).error, std::hypot(apart.error, std::sqrt(8.0)),
                1e-12);
}

// A walk up and down by hand: 0 1 0 1 0 1 goes against itself; nothing below nought is told.
TEST(Statistics, LagOneIsDrawnToWhatIsUsual) {
    EXPECT_LT(lag_one_of({0, 1, 0, 1, 0, 1, 0, 1}, {0, 1, 0, 1, 0, 1, 0, 1}), 0.15);
    EXPECT_GT(lag_one_of({0, 0, 0, 0, 1, 1, 1, 1}, {0, 0, 0, 0, 1, 1, 1, 1}), 0.4);
    EXPECT_GE(lag_one_of({0, 1, 0, 1, 0, 1, 0, 1}, {0, 1, 0, 1, 0, 1, 0, 1}), 0.0);
    EXPECT_NEAR(lag_one_of({1.0}, {2.0}), 0.2, 1e-12);
}

// Source: Hahn & Meeker, Statistical Intervals, one-sided normal tolerance factors for 95 % of all
// with 95 % confidence: 4.203 (n 5), 2.911 (n 10), 2.396 (n 20); from memory.
TEST(Statistics, HasTheTabledToleranceFactors) {
    EXPECT_NEAR(tolerance_factor(5, 0.95, 0.95), 4.203, 0.001);
    EXPECT_NEAR(tolerance_factor(10, 0.95, 0.95), 2.911, 0.001);
    EXPECT_NEAR(tolerance_factor(20, 0.95, 0.95), 2.396, 0.001);
}

// Source: Benjamini & Hochberg 1995, the paper's 15 p-values: four rejected at q = 0.05. Given in
// another order, with one missing.
TEST(Statistics, ControlsFalseDiscoveriesAsInThePaper) {
    std::vector<double> p{0.0001, 0.0004, 0.0019, 0.0095, 0.0201, 0.0278, 0.0298, 0.0344,
                          0.0459, 0.3240, 0.4262, 0.5719, 0.6528, 0.7590, 1.0};
    std::reverse(p.begin(), p.end());
    p.insert(p.begin() + 5, std::nan(""));
    const auto rejected = control_false_discoveries(p, 0.05);
    EXPECT_EQ(std::count(rejected.begin(), rejected.end(), true), 4);
    EXPECT_TRUE(rejected.back());
    EXPECT_FALSE(rejected[5]);
}

namespace {

std::vector<Analysis> make_set(int count, std::uint32_t seed, double pelvis_faster) {
    std::mt19937 random(seed);
    std::vector<Analysis> out;
    for (int i = 0; i < count; ++i) {
        simulate::SwingParameters p = simulate::typical_swing(ClubKind::Iron);
        simulate::scatter(p, random, 0.5);
        p.pelvis.peak_deg_s += pelvis_faster;
        out.push_back(analyse(simulate::make_take(p), {}).value);
    }
    return out;
}

const MeasureChange& find(const std::vector<MeasureChange>& changes, const std::string& key) {
    return *std::find_if(changes.begin(), changes.end(),
                         [&](const auto& c) { return c.measure->key == key; });
}

} // namespace

// Inside evidence: a planted change of 60 °/s is found among all measures, no other one is; two
// swings a side cannot tell, and say what would.
TEST(SwingSets, TellAChangeFromScatter) {
    CompareOptions one;
    one.sessions = Sessions::One;
    const auto changes = compare_sets(make_set(8, 1, 0.0), make_set(8, 2, 60.0), one).measures;
    const MeasureChange& pelvis = find(changes, "sequence.segments.pelvis.peak_deg_s");
    EXPECT_EQ(pelvis.verdict, Verdict::Changed);
    EXPECT_EQ(pelvis.size, ChangeSize::Worthwhile);
    EXPECT_NEAR(pelvis.change.difference, 60.0, 12.0);
    EXPECT_NE(find(changes, "sequence.segments.club.peak_deg_s").verdict, Verdict::Changed);
    EXPECT_EQ(find(changes, "sequence.fastest_at_ball_ms").verdict, Verdict::Unchanged);

    const auto few = compare_sets(make_set(2, 3, 0.0), make_set(2, 4, 0.0), one).measures;
    int open = 0;
    for (const MeasureChange& change : few) {
        EXPECT_NE(change.verdict, Verdict::Changed) << change.measure->key;
        if (change.verdict == Verdict::CannotTell && std::isfinite(change.to_exclude.likely)) {
            ++open;
            EXPECT_GE(change.to_exclude.likely, 1.0) << change.measure->key;
            EXPECT_LE(change.to_exclude.low, change.to_exclude.likely) << change.measure->key;
        }
        if (change.verdict == Verdict::CannotTell) {
            EXPECT_FALSE(further_words(change).empty());
        }
    }
    EXPECT_GT(open, 1);
    EXPECT_STREQ(word_of(Verdict::CannotTell), "cannot tell");
}

TEST(SwingSets, CopiesAreOneSwingAndAreSaid) {
    const std::vector<Analysis> some = make_set(2, 5, 0.0);
    const std::vector<Analysis> other = make_set(1, 6, 60.0);
    const Comparison copies =
        compare_sets({some[0], some[0], some[0]}, {other[0], other[0], other[0]});
    EXPECT_EQ(copies.before_distinct, 1u);
    EXPECT_EQ(copies.after_distinct, 1u);
    for (const MeasureChange& change : copies.measures) {
        EXPECT_TRUE(change.verdict == Verdict::CannotTell || change.verdict == Verdict::NotMeasured)
            << change.measure->key;
    }
    EXPECT_EQ(write_words(copies).cautions.front(),
              "4 captures are copies of others and do not count.");
    const Comparison both = compare_sets(some, {some[1], other[0]});
    EXPECT_EQ(both.in_both, 1);
    EXPECT_EQ(both.after_distinct, 1u);
}

namespace {

std::vector<Measured> values(std::initializer_list<double> all, double u = 0.0) {
    std::vector<Measured> out;
    for (const double value : all)
        out.push_back({value, u});
    return out;
}

/// Of one measure alone, worth having from 3 degrees on.
MeasureChange judged(std::vector<Measured> before, std::vector<Measured> after, bool is_question,
                     Sessions sessions = Sessions::One) {
    CompareOptions options;
    options.sessions = sessions;
    std::vector<MeasureChange> changes{change_of(*find_measure("positions.top.pelvis_turn_deg"),
                                                 std::move(before), std::move(after), options,
                                                 Source::Poses)};
    judge(changes, is_question ? changes[0].measure->key : "");
    return changes[0];
}

} // namespace

// From where the interval lies against the smallest change worth having (3°): by hand.
TEST(SwingSets, SayHowLargeAChangeIs) {
    const auto size = [](double by, double scatter) {
        return judged(values({-scatter, 0, scatter, -scatter, 0, scatter}),
                      values({by - scatter, by, by + scatter, by - scatter, by, by + scatter}),
                      true)
            .size;
    };
    EXPECT_EQ(size(10.0, 1.0), ChangeSize::Worthwhile);
    EXPECT_EQ(size(1.0, 0.3), ChangeSize::Small);
    EXPECT_EQ(size(4.0, 1.0), ChangeSize::Unsure);
    // Nothing moved and little scatters: a change that matters is ruled out.
    const MeasureChange same = judged(values({1, 2, 1, 2, 1, 2}), values({1, 2, 1, 2, 2, 1}), true);
    EXPECT_EQ(same.verdict, Verdict::Unchanged);
    EXPECT_FALSE(same.size);
    // The same numbers, each known to 6° only, rule nothing out.
    EXPECT_EQ(
        judged(values({1, 2, 1, 2, 1, 2}, 6.0), values({1, 2, 1, 2, 2, 1}, 6.0), true).verdict,
        Verdict::CannotTell);
}

// Between two mountings the same difference says less.
TEST(SwingSets, MarkersPutOnAnewAreNoChangeOfTheGolfer) {
    const auto before = values({0.0, 0.2, -0.2, 0.1, -0.1});
    const auto after = values({2.5, 2.7, 2.3, 2.6, 2.4});
    EXPECT_EQ(judged(before, after, true).verdict, Verdict::Changed);
    EXPECT_NE(judged(before, after, true, Sessions::Two).verdict, Verdict::Changed);
}

// Drawn here, without the simulator: nothing changed, swings hang together by 0.3.
TEST(SwingSets, NoIntervalSpeaksAgainstItsVerdict) {
    std::mt19937 random(3);
    std::normal_distribution<double> normal;
    CompareOptions options;
    options.sessions = Sessions::One;
    int invented = 0;
    constexpr int kComparisons = 60;
    for (int i = 0; i < kComparisons; ++i) {
        std::vector<MeasureChange> changes;
        for (const Measure& measure : all_measures()) {
            const auto set = [&] {
                std::vector<Measured> out;
                double z = normal(random);
                for (int k = 0; k < 8; ++k) {
                    out.push_back({z * measure.worthwhile, 0.0});
                    z = 0.3 * z + std::sqrt(1.0 - 0.09) * normal(random);
                }
                return out;
            };
            const auto before = set();
            changes.push_back(change_of(measure, before, set(), options, Source::Poses));
        }
        judge(changes, "tempo.ratio");
        bool any = false;
        for (const MeasureChange& change : changes) {
            any = any || change.verdict == Verdict::Changed;
            const bool holds_zero = change.change.low <= 0.0 && change.change.high >= 0.0;
            EXPECT_TRUE(change.verdict != Verdict::Changed || !holds_zero);
            EXPECT_TRUE(change.verdict != Verdict::CannotTell || holds_zero);
        }
        invented += any ? 1 : 0;
    }
    // 5 % of the questions and as many of the searches would be six.
    EXPECT_LE(invented, 9);
}

// Equal swings, one of them shifted and stretched in time: the band has no width.
TEST(SwingSets, BringCurvesToCommonTimes) {
    simulate::SwingParameters p;
    simulate::SwingParameters later = p;
    later.lead_in_s += 0.25;
    const std::vector<Analysis> swings{analyse(simulate::make_take(p), {}).value,
                                       analyse(simulate::make_take(later), {}).value};
    const auto pelvis_rate = [](const Analysis& a) -> const Curve& { return a.rate_deg_s[0]; };
    const Band band = calc_band({&swings[0], &swings[1]}, pelvis_rate);
    ASSERT_GT(band.t_s.size(), 100u);
    EXPECT_TRUE(std::is_sorted(band.t_s.begin(), band.t_s.end()));
    EXPECT_NEAR(*std::max_element(band.mean.begin(), band.mean.end()), 450.0, 5.0);
    // From the end of the backswing on; the takeaway itself is known to some ms only.
    for (std::size_t i = band.sd.size() / 4; i < band.sd.size(); ++i)
        EXPECT_LT(band.sd[i], 3.0) << "at " << band.t_s[i];
    EXPECT_TRUE(calc_band({&swings[0]}, pelvis_rate).t_s.empty());
}

// Mean and SD (n - 1) of three peaks put by hand: 80, 90 and 100 ms before impact.
TEST(SwingSets, SummarisePeaks) {
    std::vector<Analysis> swings(3);
    for (std::size_t i = 0; i < swings.size(); ++i) {
        auto& part = swings[i].sequence.parts[index_of(Segment::Pelvis)];
        part.emplace();
        part->before_impact_ms = 80.0 + 10.0 * static_cast<double>(i);
        part->peak_deg_s = 440.0 + 10.0 * static_cast<double>(i);
    }
    const auto peaks = summarise_peaks({&swings[0], &swings[1], &swings[2]});
    const PeakSummary& pelvis = peaks[index_of(Segment::Pelvis)];
    EXPECT_EQ(pelvis.from_impact_s.count, 3u);
    EXPECT_NEAR(pelvis.from_impact_s.mean, -0.090, 1e-12);
    EXPECT_NEAR(pelvis.from_impact_s.sd, 0.010, 1e-12);
    EXPECT_NEAR(pelvis.peak_deg_s.mean, 450.0, 1e-12);
    EXPECT_EQ(peaks[index_of(Segment::Club)].peak_deg_s.count, 0u);
}

namespace {

MeasureChange change_of(const char* key, double before, double after, Verdict verdict) {
    MeasureChange out;
    out.measure = find_measure(key);
    out.before.mean = before;
    out.after.mean = after;
    out.change.difference = after - before;
    out.verdict = verdict;
    return out;
}

} // namespace

// By arithmetic: 84.4 and 83.6 are both written 84, so the change beside them is 0, not 1.
TEST(SwingSets, AChangeIsThatOfTheValuesBesideIt) {
    const auto change = change_of("tempo.backswing_s", 0.8444, 0.8336, Verdict::CannotTell);
    ASSERT_EQ(change.measure->decimals, 2);
    const ShownChange in_s = as_shown(change);
    EXPECT_DOUBLE_EQ(in_s.before, 0.84);
    EXPECT_DOUBLE_EQ(in_s.after, 0.83);
    EXPECT_NEAR(in_s.difference, -0.01, 1e-12) << "the unrounded difference is 0.0108";
    const auto pelvis =
        change_of("sequence.segments.pelvis.peak_deg_s", 84.4, 83.6, Verdict::CannotTell);
    ASSERT_EQ(pelvis.measure->decimals, 0);
    EXPECT_EQ(as_shown(pelvis).difference, 0.0);
    EXPECT_EQ(as_shown(pelvis, 10.0).difference, -8.0)
        << "in another unit by what is written there";
    EXPECT_TRUE(std::isnan(
        as_shown(change_of("tempo.ratio", std::nan(""), 3.0, Verdict::NotMeasured)).difference));
}

TEST(SwingSets, StandInTheOrderOfWhatChangedMost) {
    const char* key = "sequence.segments.pelvis.peak_deg_s";
    const auto sorted = most_changed_first(
        {change_of(key, 0, 1, Verdict::Unchanged), change_of(key, 0, 50, Verdict::CannotTell),
         change_of(key, 0, 2, Verdict::Changed), change_of(key, 0, 9, Verdict::NotMeasured),
         change_of(key, 0, -70, Verdict::CannotTell), change_of(key, 0, -8, Verdict::Changed)});
    std::vector<double> differences;
    for (const MeasureChange& change : sorted)
        differences.push_back(change.change.difference);
    EXPECT_EQ(differences, (std::vector<double>{-8, 2, -70, 50, 1}));
}
