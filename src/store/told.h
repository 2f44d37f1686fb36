#pragma once

#include "core/measures/options.h"
#include "core/motion/beside.h"
#include "core/reading/rules.h"
#include "formats/format.h"
#include "store/record.h"

#include <optional>

namespace kite::store {

/// How a kept swing was read and measured: what was said of its file, the moments moved by hand,
/// the launch numbers beside it.
struct HowMeasured {
    formats::ReadOptions read;
    std::string names_file; ///< of other marker names, by its path; empty: none
    AnalysisOptions options;
    Rules rules;
    std::optional<LaunchNumbers> launch;
    /// What was said and cannot be had any more: a school or a table of names whose file is gone.
    std::vector<Finding> missing;
};
/// What is not understood is as usual.
HowMeasured how_measured(const Row& swing);

/// The column "told": JSON of all that was said and is not the usual, as how_measured reads it;
/// moved moments and launch numbers have columns of their own. Empty: nothing.
std::string told_of(const HowMeasured& how);

/// Do measures of the one stand beside measures of the other? Rotation speed, separation, top and
/// cut-offs must be the same.
bool measured_alike(const AnalysisOptions& a, const AnalysisOptions& b);

/// The same swing as everybody's are measured: what was said of the file holds, but rotation speed,
/// separation, top and cut-offs are the usual ones.
AnalysisOptions usual_of(AnalysisOptions options);

} // namespace kite::store
