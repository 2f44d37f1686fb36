#pragma once

#include "core/reading/reading.h"

#include <cstddef>
#include <string>
#include <vector>

namespace kite {

/// Several swings of one golfer read together. How strongly a fault shows on average and how often
/// it shows are two things: one that is certain in half of the swings is no half-hearted one.
struct SetReading {
    /// Evidence: mean over the swings in which the fault was judged; where it is there in two
    /// swings and a third of them at least, mean over those in which it is there.
    Reading reading;
    std::size_t example = 0; ///< the swing whose numbers the reasons quote
    struct Share {
        std::string id;
        int judged = 0;
        int present = 0;
        double mean_evidence = 0.0; ///< over all in which it was judged
        /// 95 % interval of how often it shows (Wilson, J. Am. Stat. Assoc. 22, 1927), 0 to 1.
        double low = 0.0;
        double high = 1.0;
    };
    std::vector<Share> shares;
};

/// `readings`: one a swing, at least one.
SetReading read_set(const std::vector<Reading>& readings);

} // namespace kite
