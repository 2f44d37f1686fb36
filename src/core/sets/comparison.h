#pragma once

#include "core/base/statistics.h"
#include "core/catalogue/measure.h"
#include "core/measures/analyse.h"

#include <map>
#include <optional>
#include <string>
#include <vector>

namespace kite {

/// What a comparison may say of a measure.
enum class Verdict {
    Changed,
    Unchanged, ///< a change that matters is excluded: the 90 % interval lies within ± worthwhile
    CannotTell,
    NotMeasured
};
const char* word_of(Verdict verdict);   ///< in files: "changed", "unchanged", "cannot tell"
const char* said_word(Verdict verdict); ///< on screen and paper: "changed", "as before", …

/// How large a change is that is one, from where its interval lies.
enum class ChangeSize { Worthwhile, Small, Unsure };
const char* word_of(ChangeSize size);

/// Were both sets made in one session, or were markers, sensors or cameras put on anew between?
enum class Sessions { One, Two };
const char* word_of(Sessions sessions);

/// Swings to come, as a range: the scatter is known from few. NaN: no number of them would do.
struct FurtherSwings {
    double likely = kMissing;
    double low = kMissing;
    double high = kMissing;
};

struct MeasureChange {
    const Measure* measure = nullptr;
    Summary before;
    Summary after;
    std::vector<Measured> before_values; ///< swing by swing; NaN where it was not measured
    std::vector<Measured> after_values;
    /// Its interval is as wide as its verdict needs: 95 % for the question; in the search as much
    /// wider as the false coverage rate asks for; 90 % for what is unchanged.
    Change change;
    double level = 0.95; ///< of that interval
    double lag_one = kMissing;
    double session_sd = 0.0; ///< of one mounting, in the unit; 0 within one session
    double session_freedom = std::numeric_limits<double>::infinity();
    bool session_is_own = false;
    Verdict verdict = Verdict::NotMeasured;
    std::optional<ChangeSize> size; ///< of what changed
    bool is_question = false;
    /// In the second set, for what cannot be told: until the change would show with 80 % assurance
    /// if it is as large as it looks; and until one that matters would be excluded if there is
    /// none.
    FurtherSwings to_show;
    FurtherSwings to_exclude;
};

/// How far one session lies from another, for a measure, as SD in its unit: of the golfer's own.
struct SessionScatter {
    double sd = kMissing;
    double degrees_of_freedom = kMissing;
};

struct CompareOptions {
    std::string question; ///< key of the measure that the lesson worked on; empty: none
    /// Not said: two. Sets that were made apart must not pass for one another's.
    std::optional<Sessions> sessions;
    std::map<std::string, SessionScatter> own; ///< by key; where there are three sessions
};

/// Two sets of swings, measure by measure.
struct Comparison {
    std::string question; ///< empty: nothing was asked, or it was not measured
    Sessions sessions = Sessions::Two;
    bool sessions_said = false;
    std::size_t before_n = 0;
    std::size_t before_distinct = 0; ///< copies of one capture are one swing
    std::size_t after_n = 0;
    std::size_t after_distinct = 0;
    int in_both = 0; ///< swings that stand in both sets
    std::vector<MeasureChange> measures;

    const MeasureChange* find(const std::string& key) const;
    int count(Verdict verdict) const;
};

/// Welch 1947; Hopkins 2000; Weir, J. Strength Cond. Res. 19, 2005. The question is tested by
/// itself at 5 %; all others are a search at a false discovery rate of 5 % (Benjamini & Hochberg
/// 1995) with intervals that match (Benjamini & Yekutieli, J. Am. Stat. Assoc. 100, 2005). Swings
/// in the order in which they were made.
Comparison compare_sets(const std::vector<const Analysis*>& before,
                        const std::vector<const Analysis*>& after,
                        const CompareOptions& options = {});
Comparison compare_sets(const std::vector<Analysis>& before, const std::vector<Analysis>& after,
                        const CompareOptions& options = {});

/// One measure, not judged yet.
MeasureChange change_of(const Measure& measure, std::vector<Measured> before,
                        std::vector<Measured> after, const CompareOptions& options, Source source);
/// Judges all of them together.
void judge(std::vector<MeasureChange>& changes, const std::string& question);

/// Is one a copy of the other, be it in another file or format? Swings that are two never agree in
/// everything.
bool is_copy(const Analysis& a, const Analysis& b);

/// Between two mountings of a source of this kind, as SD in the unit of the measure (common
/// practice, no source): stated, since nothing in two sets can tell it from a change.
double usual_session_sd(const Measure& measure, Source source);

/// What is stated and what was found of the golfer's own sessions, together: three or four sessions
/// alone tell little of how far they lie apart.
SessionScatter session_of(const Measure& measure, Source source, const SessionScatter* own);

/// The question first; then what changed, what cannot be told, what is as before; in each of them
/// what moved most, counted in changes worth having. What was not measured is left out.
std::vector<MeasureChange> most_changed_first(std::vector<MeasureChange> changes);

struct ShownChange {
    double before = std::numeric_limits<double>::quiet_NaN();
    double after = std::numeric_limits<double>::quiet_NaN();
    double difference = std::numeric_limits<double>::quiet_NaN();
    /// NaN where it is so wide that it says nothing.
    double low = std::numeric_limits<double>::quiet_NaN();
    double high = std::numeric_limits<double>::quiet_NaN();
    int decimals = 0; ///< so many that the interval is not written as a point
};
/// As it is written: the difference is that of the two means as they stand beside it. `factor`: the
/// unit shown per unit of the measure.
ShownChange as_shown(const MeasureChange& change, double factor = 1.0);

} // namespace kite
