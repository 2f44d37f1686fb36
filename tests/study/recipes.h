#pragma once

#include "core/measures/options.h"
#include "formats/format.h"
#include "study/golfer.h"

#include <functional>
#include <random>
#include <string>
#include <vector>

/// Captures as they happen: what goes wrong between a golfer and a file, each as a recipe that is
/// drawn anew for every seed.
namespace kite::study {

/// A capture as a file's bytes, with what the user says of it.
struct Capture {
    std::string name; ///< its extension tells the format
    std::string bytes;
    formats::ReadOptions options;
    AnalysisOptions analysis;
    double shift_s = 0.0; ///< add to the motion's times to get the file's
};

struct Recipe {
    std::string group;
    std::string name;
    /// Can everything be told from it, after mending where needed? Else some of it can only be
    /// missing or uncertain.
    bool tellable = true;
    std::function<Capture(const Golfer& golfer, std::mt19937& random)> make;
    /// Changes the golfer before it is captured; may be empty.
    std::function<void(Golfer& golfer, std::mt19937& random)> prepare;
    /// Degrees that turns may be off because the target line had to be estimated.
    double turn_allowed_deg = 0.0;
};

const std::vector<Recipe>& all_recipes();

} // namespace kite::study
