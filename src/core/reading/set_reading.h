#pragma once

#include "core/reading/reading.h"

#include <cstddef>
#include <string>
#include <vector>

namespace kite {

/// Several swings of one golfer read together: a fault counts by how strongly it shows on average,
/// not on one lucky swing.
struct SetReading {
    Reading reading;         ///< evidence: mean over the swings in which it was judged
    std::size_t example = 0; ///< the swing whose numbers the reasons quote
    struct Share {
        std::string id;
        int judged = 0;
        int present = 0;
    };
    std::vector<Share> shares;
};

/// `readings`: one a swing, at least one.
SetReading read_set(const std::vector<Reading>& readings);

} // namespace kite
