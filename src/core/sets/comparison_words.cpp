#include "core/sets/comparison_words.h"

#include "core/base/names.h"

#include <algorithm>
#include <cmath>

namespace kite {

namespace {

std::string signed_number(double value, int decimals, const Language& language) {
    // What is written as nought has no sign.
    return (value >= 0.5 * std::pow(10.0, -decimals) ? "+" : "") +
           written(value, decimals, language);
}

std::string range_of(const FurtherSwings& further, const Language& language) {
    const std::string likely = written(further.likely, 0, language);
    const std::string low = written(further.low, 0, language);
    if (!std::isfinite(further.high))
        return filled(KITE_TR("{1} ({2} to very many)"), {likely, low}, language);
    return filled(KITE_TR("{1} ({2} to {3})"), {likely, low, written(further.high, 0, language)},
                  language);
}

std::string answer_of(const MeasureChange& change, const Language& language,
                      const ShownUnit& unit) {
    const auto [factor, name] =
        unit ? unit(change.measure->unit) : std::pair(1.0, std::string(change.measure->unit));
    const ShownChange shown = as_shown(change, factor);
    const std::string by =
        change_words(shown, language) + (name.empty() ? "" : " ") + language.translate(name);
    const std::string what = language.translate(change.measure->name);
    std::string out;
    switch (change.verdict) {
    case Verdict::Changed:
        out = filled(change.size == ChangeSize::Worthwhile
                         ? KITE_TR("{1} has changed: {2}. That is worth having.")
                     : change.size == ChangeSize::Small
                         ? KITE_TR("{1} has changed, too little to matter: {2}.")
                         : KITE_TR("{1} has changed: {2}. Whether by enough to matter is not "
                                   "known yet."),
                     {what, by}, language);
        break;
    case Verdict::Unchanged:
        out = filled(KITE_TR("{1} is as before: {2}. A change that matters is ruled out."),
                     {what, by}, language);
        break;
    default:
        out = filled(std::isfinite(change.change.low)
                         ? KITE_TR("Whether {1} has changed cannot be told yet: {2}.")
                         : KITE_TR("Whether {1} has changed cannot be told from so few swings: "
                                   "{2}."),
                     {what, by}, language);
    }
    const std::string further = further_words(change, language);
    return further.empty() ? out : out + " " + further;
}

} // namespace

std::string verdict_words(const MeasureChange& change, const Language& language) {
    if (change.verdict == Verdict::Changed)
        return language.translate(change.size == ChangeSize::Worthwhile
                                      ? KITE_TR("changed, worth having")
                                  : change.size == ChangeSize::Small ? KITE_TR("changed, small")
                                                                     : KITE_TR("changed"));
    return language.translate(said_word(change.verdict));
}

std::string further_words(const MeasureChange& change, const Language& language) {
    if (change.verdict != Verdict::CannotTell)
        return {};
    if (!std::isfinite(change.change.low))
        return language.translate(KITE_TR("Two swings at least in each set, better five."));
    const double show = change.to_show.likely;
    const double exclude = change.to_exclude.likely;
    if (std::isfinite(show) && !(exclude < show))
        return filled(KITE_TR("If it is as large as it looks, {1} more would show it."),
                      {range_of(change.to_show, language)}, language);
    if (std::isfinite(exclude))
        return filled(KITE_TR("If nothing changed, {1} more would show that."),
                      {range_of(change.to_exclude, language)}, language);
    // More now would make the later mean surer, and neither the earlier one nor the sessions.
    return language.translate(
        change.session_sd > 0.0
            ? KITE_TR("More swings now would not tell: the first set, or two sessions, limit it.")
            : KITE_TR("More swings now would not tell: the first set is too small."));
}

std::string change_words(const ShownChange& shown, const Language& language) {
    const std::string by = signed_number(shown.difference, shown.decimals, language);
    if (!std::isfinite(shown.low))
        return by;
    return filled(KITE_TR("{1} ({2} to {3})"),
                  {by, signed_number(shown.low, shown.decimals, language),
                   signed_number(shown.high, shown.decimals, language)},
                  language);
}

ComparisonWords write_words(const Comparison& comparison, const Language& language,
                            const ShownUnit& unit) {
    ComparisonWords out;
    if (const MeasureChange* asked = comparison.find(comparison.question);
        asked != nullptr && asked->verdict != Verdict::NotMeasured)
        out.answer = answer_of(*asked, language, unit);
    const int changed = comparison.count(Verdict::Changed);
    const std::string number = written(changed, 0, language);
    out.others =
        out.answer.empty()
            ? (changed == 0   ? language.translate(KITE_TR("No change is shown."))
               : changed == 1 ? language.translate(KITE_TR("One measure changed."))
                              : filled(KITE_TR("{1} measures changed."), {number}, language))
        : changed == 0 ? language.translate(KITE_TR("Nothing else is shown to have changed."))
        : changed == 1 ? language.translate(KITE_TR("One other measure changed."))
                       : filled(KITE_TR("{1} other measures changed."), {number}, language);
    const std::size_t copies = comparison.before_n + comparison.after_n -
                               comparison.before_distinct - comparison.after_distinct -
                               static_cast<std::size_t>(comparison.in_both);
    if (copies > 0)
        out.cautions.push_back(
            filled(copies == 1 ? KITE_TR("One capture is there twice and counts once.")
                               : KITE_TR("{1} captures are copies of others and do not count."),
                   {written(static_cast<double>(copies), 0, language)}, language));
    if (comparison.in_both > 0)
        out.cautions.push_back(
            filled(comparison.in_both == 1
                       ? KITE_TR("One swing stands in both sets; it counts in the first alone.")
                       : KITE_TR("{1} swings stand in both sets; they count in the first alone."),
                   {written(comparison.in_both, 0, language)}, language));
    constexpr std::size_t kFew = 5;
    if (std::min(comparison.before_distinct, comparison.after_distinct) < kFew)
        out.cautions.push_back(language.translate(
            KITE_TR("These are few swings: only large changes show with them.")));
    if (comparison.sessions == Sessions::Two) {
        const bool own = std::any_of(comparison.measures.begin(), comparison.measures.end(),
                                     [](const auto& change) { return change.session_is_own; });
        out.cautions.push_back(language.translate(
            own ? KITE_TR("Two sessions: what differs between this golfer's sessions counts as "
                          "uncertainty.")
            : comparison.sessions_said
                ? KITE_TR("Two sessions: that markers, sensors or cameras were put on anew counts "
                          "as uncertainty.")
                : KITE_TR("Taken as two sessions, markers, sensors or cameras put on anew. Say so "
                          "if it was one.")));
    }
    return out;
}

} // namespace kite
