#pragma once

#include "core/base/language.h"
#include "core/sets/comparison.h"

#include <functional>
#include <string>
#include <utility>
#include <vector>

namespace kite {

/// The unit a value is shown in, per unit of the measure, and its name.
using ShownUnit = std::function<std::pair<double, std::string>(const char* unit)>;

/// A comparison, written out: one way in which window, report and command line say it.
struct ComparisonWords {
    std::string answer;                ///< to the question; empty without one
    std::string others;                ///< how many others changed
    std::vector<std::string> cautions; ///< copies, mountings, few swings
};
ComparisonWords write_words(const Comparison& comparison, const Language& language = {},
                            const ShownUnit& unit = {});

/// "changed, worth having"; "as before"; "cannot be told yet".
std::string verdict_words(const MeasureChange& change, const Language& language = {});

/// What would settle what cannot be told; empty for what can.
std::string further_words(const MeasureChange& change, const Language& language = {});

/// "+3 (1 to 5)" as it is shown; without an interval the difference alone.
std::string change_words(const ShownChange& shown, const Language& language = {});

} // namespace kite
