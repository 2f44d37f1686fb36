#pragma once

#include "core/base/language.h"
#include "core/catalogue/measure.h"
#include "core/measures/analyse.h"

#include <optional>
#include <string>
#include <vector>

namespace kite {

/// A time of a swing by name: a moment, or the first reversal, and some milliseconds beside it.
struct Instant {
    std::optional<Moment> moment; ///< empty: the first reversal of any part
    double plus_ms = 0.0;

    double time_s(const Analysis& analysis) const;
};

/// A number that a rule takes from a swing. No general arithmetic: what a rule may ask is this.
struct Term {
    enum class Kind {
        Measure,    ///< of the catalogue, by `key`
        At,         ///< a quantity of the catalogue at `from`
        Lowest,     ///< its lowest value between `from` and `to` …
        Highest,    ///< … or its highest
        Growth,     ///< its value at `to` less that at `from`
        Reversal,   ///< ms, when `part` turns back …
        Peak,       ///< … and when it is fastest, from the first frame
        Time,       ///< ms, when `from` is
        Difference, ///< the first of `of` less the second
        Largest,    ///< of several …
        Smallest
    };
    Kind kind = Kind::Measure;
    std::string key;
    Segment part = Segment::Pelvis;
    Instant from;
    Instant to;
    std::vector<Term> of;
};

/// In the unit of files (cm, °, ms). Missing where the source does not give it; the uncertainty
/// missing where it is not known.
Measured value_of(const Term& term, const Analysis& analysis);

/// Where it is looked at in the curves, s from the first frame; missing: nowhere in particular.
double place_of(const Term& term, const Analysis& analysis);

/// What it is called: "pelvis turn at top".
std::string name_of(const Term& term, const Language& language = {});
std::string_view unit_of(const Term& term);
/// Every quantity, measure and moment that it names is known; else the name that is not.
std::optional<std::string> unknown_name(const Term& term);

} // namespace kite
