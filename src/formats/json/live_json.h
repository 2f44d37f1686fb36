#pragma once

#include "core/live/bay.h"
#include "core/measures/analyse.h"
#include "core/reading/reading.h"

#include <optional>
#include <string>
#include <vector>

namespace kite::formats {

/// A swing of the bay, measured. `latency_ms`: from what it needed having happened (0.3 s after
/// impact) to the reading; empty where nobody waited for it.
struct LiveSwing {
    const live::BaySwing& swing;
    std::optional<double> latency_ms;
    const Analysis& analysis;
    const Reading& reading;
    const std::vector<Finding>& findings; ///< errors too: what cannot be told of it
};

/// One JSON object on one line: the keys of docs/analysis-json.md and those of docs/live.md.
std::string to_json(const LiveSwing& live);

} // namespace kite::formats
