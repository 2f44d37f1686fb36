#include "core/sets/comparison.h"

#include "core/base/names.h"

#include <algorithm>
#include <boost/math/distributions/chi_squared.hpp>
#include <cmath>
#include <string_view>

namespace kite {

const char* word_of(Verdict verdict) {
    switch (verdict) {
    case Verdict::Changed:
        return "changed";
    case Verdict::Unchanged:
        return "unchanged";
    case Verdict::CannotTell:
        return "cannot tell";
    case Verdict::NotMeasured:
        break;
    }
    return "not measured";
}

const char* said_word(Verdict verdict) {
    switch (verdict) {
    case Verdict::Changed:
        return KITE_TR("changed");
    case Verdict::Unchanged:
        return KITE_TR("as before");
    case Verdict::CannotTell:
        return KITE_TR("cannot be told yet");
    case Verdict::NotMeasured:
        break;
    }
    return KITE_TR("not measured");
}

const char* word_of(ChangeSize size) {
    return size == ChangeSize::Worthwhile ? "worthwhile"
           : size == ChangeSize::Small    ? "small"
                                          : "unsure";
}

const char* word_of(Sessions sessions) {
    return sessions == Sessions::One ? "one" : "two";
}

namespace {

std::vector<double> numbers_of(const std::vector<Measured>& values) {
    std::vector<double> out;
    out.reserve(values.size());
    for (const Measured& value : values)
        out.push_back(value.value);
    return out;
}

/// Root mean square of the uncertainties of what was measured; 0 where none is known.
double own_uncertainty(const std::vector<Measured>& before, const std::vector<Measured>& after) {
    double sum = 0.0;
    int count = 0;
    for (const auto* values : {&before, &after})
        for (const Measured& value : *values)
            if (std::isfinite(value.value) && std::isfinite(value.u)) {
                sum += value.u * value.u;
                ++count;
            }
    return count > 0 ? std::sqrt(sum / count) : 0.0;
}

/// A change with `more` further swings in the second set, by the scatter at hand times `scale`.
Change with_more(const MeasureChange& change, const Hanging& hanging, std::size_t more,
                 double scale) {
    Summary before = change.before;
    Summary after = change.after;
    before.sd *= scale;
    after.sd *= scale;
    after.count += more;
    return calc_change(before, after, hanging);
}

/// The fewest further swings with which `enough` holds; NaN: none of so many.
template <class Enough>
double fewest(const Enough& enough) {
    constexpr std::size_t kMost = 400;
    if (!enough(kMost))
        return kMissing;
    std::size_t low = 0;
    std::size_t high = kMost;
    while (high - low > 1) {
        const std::size_t middle = (low + high) / 2;
        (enough(middle) ? high : low) = middle;
    }
    return static_cast<double>(high);
}

constexpr double kAssurance = 0.8;

void say_how_many_more(MeasureChange& change, const Hanging& hanging) {
    if (!(change.change.error > 0.0))
        return;
    // An 80 % interval of the scatter, known from so few (chi-squared).
    const auto freedom = static_cast<double>(change.before.count + change.after.count - 2);
    const boost::math::chi_squared scatter(freedom);
    const auto scale = [&](double p) {
        return std::sqrt(freedom / boost::math::quantile(scatter, p));
    };
    const auto to_show = [&](double times) {
        return fewest([&](std::size_t more) {
            const Change then = with_more(change, hanging, more, times);
            return std::abs(change.change.difference) >=
                   then.error * (student_t_quantile(0.975, then.degrees_of_freedom) +
                                 student_t_quantile(kAssurance, then.degrees_of_freedom));
        });
    };
    const auto to_exclude = [&](double times) {
        return fewest([&](std::size_t more) {
            const Change then = with_more(change, hanging, more, times);
            return change.measure->worthwhile >=
                   then.error *
                       (student_t_quantile(0.95, then.degrees_of_freedom) +
                        student_t_quantile(0.5 + 0.5 * kAssurance, then.degrees_of_freedom));
        });
    };
    change.to_show = {to_show(1.0), to_show(scale(0.9)), to_show(scale(0.1))};
    change.to_exclude = {to_exclude(1.0), to_exclude(scale(0.9)), to_exclude(scale(0.1))};
}

Hanging hanging_of(const MeasureChange& change) {
    Hanging out;
    out.lag_one = change.lag_one;
    out.least_sd = own_uncertainty(change.before_values, change.after_values);
    out.session_sd = change.session_sd;
    out.session_degrees_of_freedom = change.session_freedom;
    return out;
}

} // namespace

double usual_session_sd(const Measure& measure, Source source) {
    // As a share of a change worth having. Places and angles hang on where something was put on
    // the body; how fast and when hardly does.
    const std::string_view unit = measure.unit;
    const bool is_time = unit == "ms" || unit == "s" || unit == "to 1";
    const bool is_place = unit == "°" || unit == "cm" || unit.empty();
    const double marked = is_time ? 0.2 : is_place ? 0.5 : 0.35;
    const double coarse = source == Source::Sensors || source == Source::Rates ? 1.3
                          : source == Source::Film                             ? 1.8
                                                                               : 1.0;
    return marked * coarse * measure.worthwhile;
}

SessionScatter session_of(const Measure& measure, Source source, const SessionScatter* own) {
    const double usual = usual_session_sd(measure, source);
    if (own == nullptr)
        return {usual, std::numeric_limits<double>::infinity()};
    // What is stated weighs as much as four more sessions would (common practice, no source).
    constexpr double kStated = 4.0;
    const double freedom = own->degrees_of_freedom;
    return {
        std::sqrt((freedom * own->sd * own->sd + kStated * usual * usual) / (freedom + kStated)),
        freedom + kStated};
}

MeasureChange change_of(const Measure& measure, std::vector<Measured> before,
                        std::vector<Measured> after, const CompareOptions& options, Source source) {
    MeasureChange out;
    out.measure = &measure;
    out.before_values = std::move(before);
    out.after_values = std::move(after);
    const auto first = numbers_of(out.before_values);
    const auto second = numbers_of(out.after_values);
    out.before = summarise(first);
    out.after = summarise(second);
    out.lag_one = lag_one_of(first, second);
    if (options.sessions.value_or(Sessions::Two) == Sessions::Two) {
        const auto own = options.own.find(measure.key);
        out.session_is_own = own != options.own.end() && std::isfinite(own->second.sd);
        const SessionScatter scatter =
            session_of(measure, source, out.session_is_own ? &own->second : nullptr);
        out.session_sd = scatter.sd;
        out.session_freedom = scatter.degrees_of_freedom;
    }
    out.change = calc_change(out.before, out.after, hanging_of(out));
    return out;
}

void judge(std::vector<MeasureChange>& changes, const std::string& question) {
    constexpr double kRate = 0.05;
    // Of 5 % with how swings hang together known, which is known roughly.
    constexpr double kSearchRate = 0.035;
    std::vector<MeasureChange*> search;
    std::vector<double> p;
    for (MeasureChange& change : changes) {
        change.is_question = !question.empty() && question == change.measure->key;
        if (change.before.count == 0 || change.after.count == 0)
            continue;
        change.verdict = Verdict::CannotTell;
        if (change.is_question) {
            if (change.change.p <= kRate)
                change.verdict = Verdict::Changed;
        } else if (std::isfinite(change.change.p)) {
            search.push_back(&change);
            p.push_back(change.change.p);
        }
    }
    const std::vector<bool> found = control_false_discoveries(p, kSearchRate);
    const auto hits = static_cast<double>(std::count(found.begin(), found.end(), true));
    const auto asked = static_cast<double>(std::max<std::size_t>(search.size(), 1));
    for (std::size_t i = 0; i < search.size(); ++i) {
        if (found[i])
            search[i]->verdict = Verdict::Changed;
        search[i]->level =
            1.0 - kSearchRate * std::min(asked, hits + (found[i] ? 0.0 : 1.0)) / asked;
    }
    for (MeasureChange& change : changes) {
        if (change.verdict == Verdict::NotMeasured)
            continue;
        const double worthwhile = change.measure->worthwhile;
        Change ninety = change.change;
        ninety.widen_to(0.9);
        if (change.verdict == Verdict::CannotTell && ninety.low >= -worthwhile &&
            ninety.high <= worthwhile) {
            change.verdict = Verdict::Unchanged;
            change.level = 0.9;
        }
        change.change.widen_to(change.level);
        const double low = change.change.low;
        const double high = change.change.high;
        if (change.verdict == Verdict::Changed)
            change.size = low >= worthwhile || high <= -worthwhile   ? ChangeSize::Worthwhile
                          : low >= -worthwhile && high <= worthwhile ? ChangeSize::Small
                                                                     : ChangeSize::Unsure;
        if (change.verdict == Verdict::CannotTell)
            say_how_many_more(change, hanging_of(change));
    }
}

namespace {

using Numbers = std::vector<double>;

Numbers all_numbers(const Analysis& swing) {
    Numbers out;
    for (const Measure& measure : all_measures())
        out.push_back(measure.plain(swing).value);
    return out;
}

bool agree(const Numbers& a, const Numbers& b) {
    // Far less than any two swings differ, more than another format rounds.
    constexpr double kShare = 0.02;
    int common = 0;
    for (std::size_t i = 0; i < a.size(); ++i) {
        if (std::isnan(a[i]) || std::isnan(b[i]))
            continue;
        if (!(std::abs(a[i] - b[i]) <= kShare * all_measures()[i].worthwhile))
            return false;
        ++common;
    }
    return common >= 3;
}

} // namespace

bool is_copy(const Analysis& a, const Analysis& b) {
    return agree(all_numbers(a), all_numbers(b));
}

const MeasureChange* Comparison::find(const std::string& key) const {
    const auto found = std::find_if(measures.begin(), measures.end(),
                                    [&](const auto& change) { return change.measure->key == key; });
    return found == measures.end() ? nullptr : &*found;
}

int Comparison::count(Verdict verdict) const {
    return static_cast<int>(
        std::count_if(measures.begin(), measures.end(), [&](const MeasureChange& change) {
            return change.verdict == verdict && !change.is_question;
        }));
}

Comparison compare_sets(const std::vector<Analysis>& before, const std::vector<Analysis>& after,
                        const CompareOptions& options) {
    const auto pointers = [](const std::vector<Analysis>& swings) {
        std::vector<const Analysis*> out;
        out.reserve(swings.size());
        for (const Analysis& swing : swings)
            out.push_back(&swing);
        return out;
    };
    return compare_sets(pointers(before), pointers(after), options);
}

Comparison compare_sets(const std::vector<const Analysis*>& before,
                        const std::vector<const Analysis*>& after, const CompareOptions& options) {
    Comparison out;
    out.sessions = options.sessions.value_or(Sessions::Two);
    out.sessions_said = options.sessions.has_value();
    out.before_n = before.size();
    out.after_n = after.size();
    struct Taken {
        const Analysis* swing;
        Numbers numbers;
    };
    std::vector<Taken> first;
    std::vector<Taken> second;
    const auto known = [](const std::vector<Taken>& among, const Numbers& numbers) {
        return std::any_of(among.begin(), among.end(),
                           [&](const Taken& one) { return agree(one.numbers, numbers); });
    };
    for (const Analysis* swing : before)
        if (Numbers numbers = all_numbers(*swing); !known(first, numbers))
            first.push_back({swing, std::move(numbers)});
    for (const Analysis* swing : after) {
        Numbers numbers = all_numbers(*swing);
        // One swing cannot be of both sets: it would show that nothing changed.
        if (known(first, numbers))
            ++out.in_both;
        else if (!known(second, numbers))
            second.push_back({swing, std::move(numbers)});
    }
    out.before_distinct = first.size();
    out.after_distinct = second.size();
    const auto values_of = [](const std::vector<Taken>& swings, const Measure& measure) {
        std::vector<Measured> values;
        values.reserve(swings.size());
        for (const Taken& one : swings)
            values.push_back(measure.of(*one.swing));
        return values;
    };
    Source source = Source::Poses;
    for (const auto* set : {&first, &second})
        for (const Taken& one : *set)
            if (usual_session_sd(all_measures().front(), one.swing->source) >
                usual_session_sd(all_measures().front(), source))
                source = one.swing->source;
    for (const Measure& measure : all_measures())
        out.measures.push_back(change_of(measure, values_of(first, measure),
                                         values_of(second, measure), options, source));
    judge(out.measures, options.question);
    if (const MeasureChange* asked = out.find(options.question);
        asked != nullptr && asked->verdict != Verdict::NotMeasured)
        out.question = options.question;
    return out;
}

std::vector<MeasureChange> most_changed_first(std::vector<MeasureChange> changes) {
    changes.erase(std::remove_if(changes.begin(), changes.end(),
                                 [](const MeasureChange& change) {
                                     return change.verdict == Verdict::NotMeasured;
                                 }),
                  changes.end());
    const auto rank = [](const MeasureChange& change) {
        return change.is_question                      ? 0
               : change.verdict == Verdict::Changed    ? 1
               : change.verdict == Verdict::CannotTell ? 2
                                                       : 3;
    };
    const auto size = [](const MeasureChange& change) {
        const double out = std::abs(change.change.difference) / change.measure->worthwhile;
        return std::isfinite(out) ? out : 0.0;
    };
    std::stable_sort(changes.begin(), changes.end(),
                     [&](const MeasureChange& a, const MeasureChange& b) {
                         return rank(a) != rank(b) ? rank(a) < rank(b) : size(a) > size(b);
                     });
    return changes;
}

ShownChange as_shown(const MeasureChange& change, double factor) {
    ShownChange out;
    out.decimals = change.measure->decimals;
    // An interval that would be written as a point needs a decimal more, and what stands beside it.
    const double width = (change.change.high - change.change.low) * factor;
    while (out.decimals < 3 && std::abs(width) > 0.0 &&
           std::abs(width) < 2.0 * std::pow(10.0, -out.decimals))
        ++out.decimals;
    const double scale = std::pow(10.0, out.decimals);
    const auto rounded = [&](double value) { return std::round(value * factor * scale) / scale; };
    out.before = rounded(change.before.mean);
    out.after = rounded(change.after.mean);
    out.difference = out.after - out.before;
    // So wide says no more than that it is not known.
    constexpr double kSaysNothing = 60.0;
    if (change.change.high - change.change.low < kSaysNothing * change.measure->worthwhile) {
        out.low = rounded(change.change.low);
        out.high = rounded(change.change.high);
    }
    return out;
}

} // namespace kite
