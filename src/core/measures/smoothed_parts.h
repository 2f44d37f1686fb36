#pragma once

#include "core/measures/kinematics.h"
#include "core/motion/take.h"

#include <map>
#include <optional>
#include <tuple>

namespace kite {

/// The parts of a take after filtering, each filtered once for each cut-off and split and kept:
/// finding the moments asks for the same again and again. Holds a reference to the take.
class SmoothedParts {
public:
    explicit SmoothedParts(const Take& take) : take_(take) {}

    /// All: places, and how noisy the part's orientation was.
    enum class Wanted { Turning, PlacesToo, All };
    /// The part must be in the take. `change_s` is used for parts that feel impact alone. The
    /// reference stays good as long as this object; more may be added to it and its time of change
    /// moved between the same two frames later.
    const SegmentMotion& get(Segment segment, double cutoff_hz, std::optional<double> change_s,
                             Wanted wanted);
    /// The same with all there is of it, for good: a reference to it is none any more.
    SegmentMotion take(Segment segment, double cutoff_hz, std::optional<double> change_s);

private:
    using Key = std::tuple<Segment, double, std::size_t>;
    Key key_of(Segment segment, double cutoff_hz, std::optional<double> change_s) const;

    const Take& take_;
    /// By segment, cut-off and the first frame after the split: a filter knows it no finer.
    std::map<Key, SegmentMotion> kept_;
};

} // namespace kite
