#include "core/measures/smoothed_parts.h"

namespace kite {

const SegmentMotion& SmoothedParts::get(Segment segment, double cutoff_hz,
                                        std::optional<double> change_s) {
    if (!feels_impact(segment))
        change_s.reset();
    const auto [found, is_new] =
        kept_.try_emplace({segment, cutoff_hz, change_s.value_or(-1.0)}, SegmentMotion{});
    if (is_new)
        found->second = smooth(*take_.find(segment), take_.rate_hz, cutoff_hz, change_s);
    return found->second;
}

} // namespace kite
