#pragma once

#include "core/base/range.h"
#include "core/signal/spline.h"

#include <limits>
#include <optional>
#include <vector>

/// Places in time — peaks, troughs, changes of sign — found between frames from samples as they
/// were measured, with a standard uncertainty that the data themselves give.
///
/// A smoothing spline (spline.h) is laid through the seen samples near the place; the place is that
/// of the most likely curve, its uncertainty the scatter of the same place over curves that the
/// data allow, for several smoothings that they allow. So noise, flat tops, two humps, gaps and
/// ends need no rules of their own.
namespace kite {

/// A quantity as it was measured, a value a frame, missing ones NaN.
struct Samples {
    std::vector<double> x;
    double rate_hz = 0.0;
    /// Which derivative of the samples is looked at: 0 the samples themselves, 1 their rate.
    int derivative = 0;
    Smoothness smoothness;
    std::optional<double> cutoff_hz; ///< fixed from outside; else the data decide
    /// Steps over unseen stretches, which are less sure than the samples (Spline::Options).
    std::vector<std::pair<std::size_t, double>> loose_steps;

    bool empty() const { return x.empty(); }
    double time_of(std::size_t frame) const { return static_cast<double>(frame) / rate_hz; }
    /// Length of the unseen stretch that a time lies in, or that begins or ends within a frame and
    /// a half of it; 0 where it was seen.
    double unseen_about_s(double t_s) const;
    /// Whether a stretch of 0.1 s or more that was not seen, or the end of the take, is within
    /// 0.025 s.
    bool is_beside_hole(double t_s) const;
};

/// A moment at which the quantity may change its slope or jump (the ball), known to `u_s`.
struct Break {
    double t_s = 0.0;
    double u_s = 0.0;
    /// What it usually takes of the rate, as a share, and how much that varies.
    double usual_loss = 0.0;
    double loss_sd = 0.1;
    double odds = 3.0; ///< how much likelier it is beforehand that it takes something than nothing
};

struct Place {
    double t_s = std::numeric_limits<double>::quiet_NaN();
    double u_s = std::numeric_limits<double>::quiet_NaN();     ///< standard uncertainty of t_s
    double value = std::numeric_limits<double>::quiet_NaN();   ///< there
    double value_u = std::numeric_limits<double>::quiet_NaN(); ///< standard uncertainty of value
    bool at_break = false;  ///< at the break itself: still rising when it came
    bool at_end = false;    ///< at the end of what was seen or asked for, so that it may lie beyond
    double unseen_s = 0.0;  ///< length of an unseen stretch at or beside it
    double cutoff_hz = 0.0; ///< of the smoothing used
};

/// A place alone, or with its uncertainty, which costs several times as much.
enum class Depth { PlaceAlone, WithUncertainty };

/// What was laid through the samples about a place: one piece, or two where the break showed.
struct Pieces {
    std::optional<Spline> before; ///< the only one, without a break
    std::optional<Spline> after;
    double break_s = std::numeric_limits<double>::infinity();

    SplineState mean_at(double t_s) const; ///< without covariance
};

/// The greatest value in the range, looked for within kPlaceReach_s of `near_s`. Where a break
/// falls within reach, the curve is taken in two pieces where that is likelier than in one, from
/// what the samples show of a jump and what such a break usually takes. Empty with too few seen
/// samples.
std::optional<Place> find_highest(const Samples& samples, TimeRange range, double near_s,
                                  const std::optional<Break>& at_break = std::nullopt,
                                  Pieces* pieces = nullptr, Depth depth = Depth::WithUncertainty);

/// The last change of sign from below to above nought that lies near `near_s`, within the range.
std::optional<Place> find_rise(const Samples& samples, TimeRange range, double near_s);

/// The derivative asked for just before a time, from samples before it alone.
SplineState find_before(const Samples& samples, double t_s, double reach_s);

inline constexpr double kPlaceReach_s = 0.13;

} // namespace kite
