#pragma once

#include <cstddef>

namespace kite {

/// Frames begin ≤ i < end.
struct FrameRange {
    std::size_t begin = 0;
    std::size_t end = 0;

    std::size_t size() const { return end - begin; }
    bool empty() const { return end <= begin; }
    bool operator==(const FrameRange& other) const {
        return begin == other.begin && end == other.end;
    }
};

/// A stretch of time in seconds from the file's first frame.
struct TimeRange {
    double begin_s = 0.0;
    double end_s = 0.0;

    double duration_s() const { return end_s - begin_s; }
    bool contains(double t_s) const { return t_s >= begin_s && t_s <= end_s; }
    bool empty() const { return !(end_s > begin_s); }
};

} // namespace kite
