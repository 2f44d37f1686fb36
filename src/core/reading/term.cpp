#include "core/reading/term.h"

#include "core/base/units.h"

#include <algorithm>
#include <cmath>

namespace kite {

double Instant::time_s(const Analysis& analysis) const {
    const double at_s =
        moment ? analysis.moments.time_s(*moment) : analysis.transition.first_reversal_s;
    return at_s + plus_ms / 1000.0;
}

namespace {

/// Standard uncertainty of the time of an instant.
double time_u_s(const Instant& instant, const Analysis& analysis) {
    if (instant.moment) {
        const auto& at = analysis.moments[*instant.moment];
        return at ? at->u_s : kMissing;
    }
    double u_s = kMissing;
    for (Segment segment : analysis.transition.reversal_order) {
        u_s = analysis.sequence.find(segment)->reversal_u_s;
        break;
    }
    return u_s;
}

Measured quantity_at(const Quantity& quantity, const Analysis& analysis, const Instant& instant) {
    const Curve& curve = quantity.curve(analysis);
    const double t_s = instant.time_s(analysis);
    if (curve.empty() || !std::isfinite(t_s))
        return {};
    const double u =
        std::hypot(quantity.own_u(analysis), curve.slope_at(t_s) * time_u_s(instant, analysis));
    return {curve.at(t_s) * quantity.per_file_unit, u * quantity.per_file_unit};
}

std::optional<Curve::Extreme> extreme_of(const Term& term, const Quantity& quantity,
                                         const Analysis& analysis) {
    const TimeRange range{term.from.time_s(analysis), term.to.time_s(analysis)};
    const Curve& curve = quantity.curve(analysis);
    // What was not seen may hide a lower or a higher one.
    if (curve.empty() || range.empty() || curve.longest_unseen_s(range) > 0.0)
        return std::nullopt;
    return term.kind == Term::Kind::Lowest ? curve.find_min(range) : curve.find_max(range);
}

Measured difference(const Measured& a, const Measured& b) {
    return {a.value - b.value, std::hypot(a.u, b.u)};
}

/// Without what hangs on things taken as given.
Measured own_value_of(const Term& term, const Analysis& analysis);

/// The largest or smallest; missing if one of them is.
Measured extreme_among(const Term& term, const Analysis& analysis) {
    Measured best;
    for (std::size_t i = 0; i < term.of.size(); ++i) {
        const Measured one = own_value_of(term.of[i], analysis);
        if (!std::isfinite(one.value))
            return {};
        const bool better =
            term.kind == Term::Kind::Largest ? one.value > best.value : one.value < best.value;
        if (i == 0 || better)
            best = one;
    }
    return best;
}

Measured own_value_of(const Term& term, const Analysis& analysis) {
    switch (term.kind) {
    case Term::Kind::Measure: {
        const Measure* measure = find_measure(term.key);
        return measure == nullptr ? Measured{} : measure->plain(analysis);
    }
    case Term::Kind::At: {
        const Quantity* quantity = find_quantity(term.key);
        return quantity == nullptr ? Measured{} : quantity_at(*quantity, analysis, term.from);
    }
    case Term::Kind::Lowest:
    case Term::Kind::Highest: {
        const Quantity* quantity = find_quantity(term.key);
        const auto found =
            quantity == nullptr ? std::nullopt : extreme_of(term, *quantity, analysis);
        if (!found)
            return {};
        return {found->value * quantity->per_file_unit,
                quantity->own_u(analysis) * quantity->per_file_unit};
    }
    case Term::Kind::Growth: {
        const Quantity* quantity = find_quantity(term.key);
        if (quantity == nullptr)
            return {};
        return difference(quantity_at(*quantity, analysis, term.to),
                          quantity_at(*quantity, analysis, term.from));
    }
    case Term::Kind::Reversal:
    case Term::Kind::Peak: {
        const SegmentSequence* part = analysis.sequence.find(term.part);
        if (part == nullptr)
            return {};
        const bool peak = term.kind == Term::Kind::Peak;
        return {ms_from_s(peak ? part->peak_t_s : part->reversal_t_s),
                ms_from_s(peak ? part->peak_t_u_s : part->reversal_u_s)};
    }
    case Term::Kind::Time:
        return {ms_from_s(term.from.time_s(analysis)), ms_from_s(time_u_s(term.from, analysis))};
    case Term::Kind::Difference:
        return difference(own_value_of(term.of.at(0), analysis),
                          own_value_of(term.of.at(1), analysis));
    case Term::Kind::Largest:
    case Term::Kind::Smallest:
        return extreme_among(term, analysis);
    }
    return {};
}

} // namespace

Measured value_of(const Term& term, const Analysis& analysis) {
    return with_spread(analysis, [&](const Analysis& a) { return own_value_of(term, a); });
}

double place_of(const Term& term, const Analysis& analysis) {
    switch (term.kind) {
    case Term::Kind::At:
    case Term::Kind::Time:
        return term.from.time_s(analysis);
    case Term::Kind::Growth:
        return term.to.time_s(analysis);
    case Term::Kind::Lowest:
    case Term::Kind::Highest: {
        const Quantity* quantity = find_quantity(term.key);
        const auto found =
            quantity == nullptr ? std::nullopt : extreme_of(term, *quantity, analysis);
        return found ? found->t_s : term.to.time_s(analysis);
    }
    case Term::Kind::Reversal:
    case Term::Kind::Peak: {
        const SegmentSequence* part = analysis.sequence.find(term.part);
        if (part == nullptr)
            return kMissing;
        return term.kind == Term::Kind::Peak ? part->peak_t_s : part->reversal_t_s;
    }
    case Term::Kind::Measure:
        return analysis.moments.time_s(Moment::Impact);
    case Term::Kind::Difference:
    case Term::Kind::Largest:
    case Term::Kind::Smallest:
        // Of two times the earlier one; else where the first is.
        return place_of(term.of.back(), analysis);
    }
    return kMissing;
}

namespace {

std::string name_of(const Instant& instant, const Language& language) {
    const std::string at =
        language.translate(instant.moment ? std::string(kite::name_of(*instant.moment))
                                          : KITE_TR("the first reversal"));
    if (instant.plus_ms == 0.0)
        return at;
    return filled(instant.plus_ms < 0.0 ? KITE_TR("{1} ms before {2}")
                                        : KITE_TR("{1} ms after {2}"),
                  {written(std::abs(instant.plus_ms), 0, language), at}, language);
}

std::string lower_first(std::string text) {
    if (text.size() > 1 && text[0] >= 'A' && text[0] <= 'Z')
        text[0] = static_cast<char>(text[0] - 'A' + 'a');
    return text;
}

std::string quantity_name(const Term& term, const Language& language) {
    const Quantity* quantity = find_quantity(term.key);
    return quantity == nullptr ? term.key : lower_first(language.translate(quantity->name));
}

const char* name_template(Term::Kind kind) {
    switch (kind) {
    case Term::Kind::Measure:
        return "{1}";
    case Term::Kind::At:
        return KITE_TR("{1} at {2}");
    case Term::Kind::Lowest:
        return KITE_TR("lowest {1} from {2} to {3}");
    case Term::Kind::Highest:
        return KITE_TR("highest {1} from {2} to {3}");
    case Term::Kind::Growth:
        return KITE_TR("growth of {1} from {2} to {3}");
    case Term::Kind::Reversal:
        return KITE_TR("reversal of the {1}");
    case Term::Kind::Peak:
        return KITE_TR("peak of the {1}");
    case Term::Kind::Time:
        return KITE_TR("time of {2}");
    case Term::Kind::Difference:
        return KITE_TR("{1}, less {2}");
    case Term::Kind::Largest:
        return KITE_TR("largest of: {1}");
    case Term::Kind::Smallest:
        return KITE_TR("smallest of: {1}");
    }
    return "";
}

} // namespace

std::string name_of(const Term& term, const Language& language) {
    std::vector<std::string> values;
    switch (term.kind) {
    case Term::Kind::Measure: {
        const Measure* measure = find_measure(term.key);
        values = {measure == nullptr ? term.key : lower_first(language.translate(measure->name))};
        break;
    }
    case Term::Kind::Reversal:
    case Term::Kind::Peak:
        values = {language.translate(std::string(kite::name_of(term.part)))};
        break;
    case Term::Kind::Difference:
        values = {name_of(term.of.at(0), language), name_of(term.of.at(1), language)};
        break;
    case Term::Kind::Largest:
    case Term::Kind::Smallest: {
        std::string all;
        for (const Term& one : term.of)
            all += (all.empty() ? "" : ", ") + name_of(one, language);
        values = {all};
        break;
    }
    default:
        values = {quantity_name(term, language), name_of(term.from, language),
                  name_of(term.to, language)};
    }
    return filled(name_template(term.kind), values, language);
}

std::string_view unit_of(const Term& term) {
    switch (term.kind) {
    case Term::Kind::Measure: {
        const Measure* measure = find_measure(term.key);
        return measure == nullptr ? "" : measure->unit;
    }
    case Term::Kind::At:
    case Term::Kind::Lowest:
    case Term::Kind::Highest:
    case Term::Kind::Growth: {
        const Quantity* quantity = find_quantity(term.key);
        if (quantity == nullptr)
            return "";
        const std::string_view unit = quantity->unit;
        return unit == "m" ? "cm" : unit;
    }
    case Term::Kind::Reversal:
    case Term::Kind::Peak:
    case Term::Kind::Time:
        return "ms";
    case Term::Kind::Difference:
    case Term::Kind::Largest:
    case Term::Kind::Smallest:
        return unit_of(term.of.front());
    }
    return "";
}

std::optional<std::string> unknown_name(const Term& term) {
    switch (term.kind) {
    case Term::Kind::Measure:
        return find_measure(term.key) == nullptr ? std::optional(term.key) : std::nullopt;
    case Term::Kind::At:
    case Term::Kind::Lowest:
    case Term::Kind::Highest:
    case Term::Kind::Growth:
        return find_quantity(term.key) == nullptr ? std::optional(term.key) : std::nullopt;
    default:
        for (const Term& one : term.of)
            if (auto unknown = unknown_name(one))
                return unknown;
        return std::nullopt;
    }
}

} // namespace kite
