// What a comparison of two sets of swings invents, misses and denies: values of every measure drawn
// for golfers who scatter more or less, whose swings hang together, whose sessions differ. Usage:
// kite-sets-study [COMPARISONS].

#include "core/sets/comparison.h"

#include <cmath>
#include <cstdio>
#include <cstdlib>
#include <random>
#include <vector>

using namespace kite;

namespace {

struct Case {
    const char* name;
    int swings;          ///< in each set
    double lag_one;      ///< of the swings
    double session;      ///< between sessions, as a share of what is stated for it; 0: one session
    double changed;      ///< of the question's measure, in changes worth having
    double scatter_low;  ///< SD between swings, in changes worth having, from …
    double scatter_high; ///< … to
};

struct Tally {
    int comparisons = 0;
    int any_found = 0;     ///< of the measures that did not change, in the search
    int answered = 0;      ///< changed
    int denied = 0;        ///< as before
    int interval_held = 0; ///< of the question
    int contradicted = 0;  ///< an interval that does not go with its verdict
};

Tally run(const Case& c, int comparisons) {
    const auto& measures = all_measures();
    std::mt19937 random(11);
    std::normal_distribution<double> normal;
    Tally out;
    for (int i = 0; i < comparisons; ++i) {
        std::uniform_int_distribution<std::size_t> pick(0, measures.size() - 1);
        const std::size_t asked = pick(random);
        // Swings are good or bad as a whole: half of the scatter is common to all measures.
        const auto in_a_row = [&](int count) {
            std::vector<double> z;
            for (int k = 0; k < count; ++k)
                z.push_back(k == 0 ? normal(random)
                                   : c.lag_one * z.back() +
                                         std::sqrt(1.0 - c.lag_one * c.lag_one) * normal(random));
            return z;
        };
        const auto all_before = in_a_row(c.swings);
        const auto all_after = in_a_row(c.swings);
        CompareOptions options;
        options.sessions = c.session > 0.0 ? Sessions::Two : Sessions::One;
        std::vector<MeasureChange> changes;
        for (std::size_t m = 0; m < measures.size(); ++m) {
            const Measure& measure = measures[m];
            const double sd = measure.worthwhile * std::uniform_real_distribution<double>(
                                                       c.scatter_low, c.scatter_high)(random);
            const double share = std::sqrt(0.5);
            const auto set = [&](const std::vector<double>& all, double shift) {
                const auto own = in_a_row(c.swings);
                std::vector<Measured> values;
                for (std::size_t k = 0; k < own.size(); ++k)
                    values.push_back({shift + sd * share * (own[k] + all[k]), 0.0});
                return values;
            };
            const double session =
                c.session * usual_session_sd(measure, Source::Poses) * normal(random);
            const double by = m == asked ? c.changed * measure.worthwhile : 0.0;
            const auto before = set(
                all_before, c.session * usual_session_sd(measure, Source::Poses) * normal(random));
            changes.push_back(
                change_of(measure, before, set(all_after, session + by), options, Source::Poses));
        }
        judge(changes, measures[asked].key);
        ++out.comparisons;
        bool any = false;
        for (const MeasureChange& change : changes) {
            any = any || (!change.is_question && change.verdict == Verdict::Changed);
            const bool holds_zero = change.change.low <= 0.0 && change.change.high >= 0.0;
            const double least = change.measure->worthwhile;
            const bool within = change.change.low >= -least && change.change.high <= least;
            out.contradicted += (change.verdict == Verdict::Changed && holds_zero) ||
                                        (change.verdict == Verdict::CannotTell && !holds_zero) ||
                                        (change.verdict == Verdict::Unchanged && !within)
                                    ? 1
                                    : 0;
            if (!change.is_question)
                continue;
            out.answered += change.verdict == Verdict::Changed ? 1 : 0;
            out.denied += change.verdict == Verdict::Unchanged ? 1 : 0;
            Change wide = change.change;
            wide.widen_to(0.95);
            const double truth = c.changed * least;
            out.interval_held += wide.low <= truth && truth <= wide.high ? 1 : 0;
        }
        out.any_found += any ? 1 : 0;
    }
    return out;
}

} // namespace

int main(int argc, char** argv) {
    const int comparisons = argc > 1 ? std::atoi(argv[1]) : 400;
    const Case cases[] = {
        {"nothing changed, 8 a set, one session", 8, 0.3, 0.0, 0.0, 0.4, 1.2},
        {"nothing changed, 8 a set, swings apart", 8, 0.0, 0.0, 0.0, 0.4, 1.2},
        {"nothing changed, 5 a set, one session", 5, 0.3, 0.0, 0.0, 0.4, 1.2},
        {"nothing changed, 20 a set, one session", 20, 0.3, 0.0, 0.0, 0.4, 1.2},
        {"nothing changed, 8 a set, two sessions", 8, 0.3, 1.0, 0.0, 0.4, 1.2},
        {"nothing changed, 8, sessions 1.5 as far apart", 8, 0.3, 1.5, 0.0, 0.4, 1.2},
        {"changed by 1.5 worthwhile, 8 a set", 8, 0.3, 0.0, 1.5, 0.4, 1.2},
        {"changed by 1.5 worthwhile, 30 a set", 30, 0.3, 0.0, 1.5, 0.4, 1.2},
        {"changed by 1.5 worthwhile, two sessions", 8, 0.3, 1.0, 1.5, 0.4, 1.2},
        {"changed by 3 worthwhile, one session", 8, 0.3, 0.0, 3.0, 0.4, 1.2},
        {"changed by 3 worthwhile, two sessions", 8, 0.3, 1.0, 3.0, 0.4, 1.2},
    };
    std::printf("%-46s %8s %8s %8s %9s %8s\n", "", "search", "question", "question", "interval",
                "against");
    std::printf("%-46s %8s %8s %8s %9s %8s\n", "", "finds", "changed", "denied", "holds",
                "verdict");
    for (const Case& c : cases) {
        const Tally t = run(c, comparisons);
        const auto share = [&](int count) { return 100.0 * count / t.comparisons; };
        std::printf("%-46s %6.1f %% %6.1f %% %6.1f %% %7.1f %% %8d\n", c.name, share(t.any_found),
                    share(t.answered), share(t.denied), share(t.interval_held), t.contradicted);
    }
}
