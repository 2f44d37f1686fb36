#include "core/measures/smoothed_parts.h"

#include <algorithm>
#include <limits>

namespace kite {

const SegmentMotion& SmoothedParts::get(Segment segment, double cutoff_hz,
                                        std::optional<double> change_s, Wanted wanted) {
    if (!feels_impact(segment))
        change_s.reset();
    const PoseSeries& series = *take_.find(segment);
    constexpr auto kNoSplit = std::numeric_limits<std::size_t>::max();
    const auto [found, is_new] = kept_.try_emplace(
        {segment, cutoff_hz, split_frame(change_s, take_.rate_hz).value_or(kNoSplit)},
        SegmentMotion{});
    if (is_new) {
        found->second = smooth_turning(series, take_.rate_hz, cutoff_hz, change_s);
        // Of other parts nobody asks how fast they turn.
        if (std::find(kSequence.begin(), kSequence.end(), segment) != kSequence.end())
            add_rates(found->second);
    }
    found->second.change_s = change_s;
    if (wanted == Wanted::PlacesToo && found->second.p_lab_m.empty())
        add_places(series, found->second);
    return found->second;
}

} // namespace kite
