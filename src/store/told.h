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
    AnalysisOptions options;
    Rules rules;
    std::optional<LaunchNumbers> launch;
};
/// What is not understood, or whose file is no longer there, is as usual.
HowMeasured how_measured(const Row& swing);

} // namespace kite::store
