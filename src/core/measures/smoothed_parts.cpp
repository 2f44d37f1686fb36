#include "core/measures/smoothed_parts.h"

namespace kite {

const SegmentMotion& SmoothedParts::get(Segment segment, double cutoff_hz,
                                        std::optional<double> change_s, Wanted wanted) {
    if (!feels_impact(segment))
        change_s.reset();
    const PoseSeries& series = *take_.find(segment);
    const auto [found, is_new] =
        kept_.try_emplace({segment, cutoff_hz, change_s.value_or(-1.0)}, SegmentMotion{});
    if (is_new)
        found->second = smooth_turning(series, take_.rate_hz, cutoff_hz, change_s);
    if (wanted == Wanted::PlacesToo && found->second.p_lab_m.empty())
        add_places(series, found->second);
    return found->second;
}

} // namespace kite
