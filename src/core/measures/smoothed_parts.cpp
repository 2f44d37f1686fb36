#include "core/measures/smoothed_parts.h"

#include <algorithm>
#include <cmath>
#include <limits>

namespace kite {

SmoothedParts::Key SmoothedParts::key_of(Segment segment, double cutoff_hz,
                                         std::optional<double> change_s) const {
    constexpr auto kNoSplit = std::numeric_limits<std::size_t>::max();
    const auto split = feels_impact(segment) ? split_frame(change_s, take_.rate_hz) : std::nullopt;
    return {segment, cutoff_hz, split.value_or(kNoSplit)};
}

const SegmentMotion& SmoothedParts::get(Segment segment, double cutoff_hz,
                                        std::optional<double> change_s, Wanted wanted) {
    if (!feels_impact(segment))
        change_s.reset();
    const PoseSeries& series = *take_.find(segment);
    const auto [found, is_new] =
        kept_.try_emplace(key_of(segment, cutoff_hz, change_s), SegmentMotion{});
    if (is_new) {
        found->second = smooth_turning(series, take_.rate_hz, cutoff_hz, change_s);
        // Of other parts nobody asks how fast they turn.
        if (std::find(kSequence.begin(), kSequence.end(), segment) != kSequence.end())
            add_rates(found->second);
    }
    found->second.change_s = change_s;
    if (wanted != Wanted::Turning && found->second.p_lab_m.empty())
        add_places(series, found->second);
    if (wanted == Wanted::All && std::isnan(found->second.angle_noise_rad.x()))
        add_noise(series, found->second);
    return found->second;
}

SegmentMotion SmoothedParts::take(Segment segment, double cutoff_hz,
                                  std::optional<double> change_s) {
    get(segment, cutoff_hz, change_s, Wanted::All);
    return std::move(kept_.extract(key_of(segment, cutoff_hz, change_s)).mapped());
}

} // namespace kite
