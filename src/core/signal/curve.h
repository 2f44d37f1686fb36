#pragma once

#include "core/base/range.h"

#include <limits>
#include <optional>
#include <vector>

namespace kite {

/// A quantity sampled at uniform times, with an optional sudden change (impact) between two frames.
/// Values between frames come from a local cubic that never reaches across the change or a gap.
/// Missing samples are NaN. Times are seconds from the file's first frame.
class Curve {
public:
    enum class Side { Before, After }; ///< which limit is meant at the sudden change itself

    struct Extreme {
        double t_s = std::numeric_limits<double>::quiet_NaN();
        double value = std::numeric_limits<double>::quiet_NaN();
        bool at_edge = false; ///< at the end of the searched range or at the sudden change
    };

    enum class Direction { Rising, Falling };

    Curve() = default;
    Curve(std::vector<double> values, double rate_hz,
          std::optional<double> change_s = std::nullopt);

    const std::vector<double>& values() const { return values_; }
    double rate_hz() const { return rate_hz_; }
    std::size_t size() const { return values_.size(); }
    bool empty() const { return values_.empty(); }
    double time_of(std::size_t frame) const { return static_cast<double>(frame) / rate_hz_; }
    double duration_s() const { return empty() ? 0.0 : time_of(size() - 1); }
    std::optional<double> change_s() const { return change_s_; }
    /// First frame that belongs after the change (one exactly on it lies before); size() without.
    std::size_t first_after_change() const;

    /// Value at a time; NaN outside the samples, or beside a gap. Up to one frame is extrapolated
    /// on either side of the sudden change, where the curve itself has no sample.
    double at(double t_s, Side side = Side::Before) const;

    /// Slope per second at a time, from the same local cubic.
    double slope_at(double t_s, Side side = Side::Before) const;

    /// Greatest value within the range, refined between frames; empty if there is no sample in it.
    std::optional<Extreme> find_max(TimeRange range) const;
    std::optional<Extreme> find_min(TimeRange range) const;

    /// Times within the range at which the curve passes `level` in the direction, ascending. Where
    /// it passes in a stretch without samples, the straight line between both ends gives the time:
    /// `unseen_about_s` tells so.
    std::vector<double> find_crossings(double level, Direction direction, TimeRange range) const;
    /// The first or the last of them, without a look at the others.
    std::optional<double> find_first_crossing(double level, Direction direction,
                                              TimeRange range) const;
    std::optional<double> find_last_crossing(double level, Direction direction,
                                             TimeRange range) const;

    /// Length of the stretch without samples that a time lies in; 0 where there are some.
    double unseen_about_s(double t_s) const;
    /// The longest stretch without samples within a range.
    double longest_unseen_s(TimeRange range) const;

    /// First derivative per second at the frames, by differences within runs (same change, gaps).
    double slope_at_frame(std::size_t frame) const;
    /// The same within a range; NaN outside.
    Curve derivative(TimeRange range) const;

    /// The same curve times a factor.
    Curve scaled(double factor) const;

private:
    bool stays(std::size_t frame, double level, Direction direction) const;
    /// The crossing between a frame and the next, in seconds, if it lies in the range.
    std::optional<double> crossing_after(std::size_t frame, double level, Direction direction,
                                         TimeRange range) const;
    /// Frames between which a crossing in the range may lie: each with the next.
    FrameRange frames_of(TimeRange range) const;
    std::optional<FrameRange> stencil(double t_s, Side side) const;
    std::vector<double> values_;
    double rate_hz_ = 1.0;
    std::optional<double> change_s_;
};

/// Mean of the finite samples between two times; NaN if there is none.
double mean_between(const Curve& curve, TimeRange range);

} // namespace kite
