#include "core/measures/impact.h"

#include "core/motion/rotation.h"
#include "core/signal/place.h"

#include <algorithm>
#include <cmath>

namespace kite {

using Eigen::Vector3d;

namespace {

/// How well the ball's place is known from where the head stood.
constexpr double kBallPlace_m = 0.0015;
constexpr double kBefore_s = 0.14; ///< of the way to the ball that is looked at
constexpr Smoothness kHeadPath{20.0, 0.4};

/// x of the club head as measured: its own marker, else the far end of the club.
std::vector<double> head_x_m(const Take& take) {
    std::vector<double> x(take.frames, std::numeric_limits<double>::quiet_NaN());
    if (const auto head = take.points_lab_m.find(BodyPoint::ClubHead);
        head != take.points_lab_m.end()) {
        for (std::size_t i = 0; i < x.size(); ++i)
            x[i] = head->second[i].x();
        return x;
    }
    const PoseSeries* club = take.find(Segment::Club);
    if (club == nullptr || !club->has_positions() || !take.club_length_m)
        return {};
    for (std::size_t i = 0; i < x.size(); ++i)
        x[i] = (club->p_lab_m[i] -
                *take.club_length_m * (club->q_lab_segment[i].normalized() * Vector3d::UnitZ()))
                   .x();
    return x;
}

} // namespace

std::optional<MomentTime> find_head_passing(const Take& take, TimeRange address_window,
                                            TimeRange window) {
    std::vector<double> x = head_x_m(take);
    if (x.empty())
        return std::nullopt;
    const double rate = take.rate_hz;
    const double rest = mean_between(Curve(x, rate), address_window);
    if (!std::isfinite(rest))
        return std::nullopt;
    // The first seen frame beyond the ball, and the last one before it.
    const auto begin = static_cast<std::size_t>(std::max(0.0, std::ceil(window.begin_s * rate)));
    std::optional<std::size_t> before;
    std::optional<std::size_t> after;
    for (std::size_t i = begin; i < x.size() && take.time_of(i) <= window.end_s; ++i) {
        if (!std::isfinite(x[i]))
            continue;
        if (x[i] < rest) {
            before = i;
        } else if (before) {
            after = i;
            break;
        }
    }
    if (!before || !after)
        return std::nullopt;
    const double low_s = take.time_of(*before);
    const double high_s = take.time_of(*after);
    // Somewhere between the two at least.
    MomentTime out{low_s + (high_s - low_s) * (rest - x[*before]) / (x[*after] - x[*before]),
                   (high_s - low_s) / std::sqrt(12.0), false};
    Samples samples;
    samples.rate_hz = rate;
    samples.smoothness = kHeadPath;
    samples.x.assign(x.begin(), x.begin() + static_cast<std::ptrdiff_t>(*before) + 1);
    const auto path = [&] {
        Spline::Options options;
        const double from = std::max(0.0, std::ceil((low_s - kBefore_s) * rate));
        options.frames = {static_cast<std::size_t>(from), *before + 1};
        options.smoothness = kHeadPath;
        return Spline::fit(samples.x, rate, options);
    }();
    if (!path)
        return out;
    double t_s = out.t_s;
    SplineState at;
    for (int k = 0; k < 6; ++k) {
        at = path->at(t_s);
        if (!(at.slope() > 0.0))
            return out;
        t_s = std::clamp(t_s - (at.value() - rest) / at.slope(), low_s, high_s);
    }
    constexpr double kFrameShare = 0.006;
    // How the head goes on after the last seen frame is not known for long: some 500 m/s² either
    // way, at 40 m/s, is a time error of 6 t².
    constexpr double kUnsure_per_s = 6.0;
    const double carried_s = t_s - low_s;
    const double u_s = std::hypot(
        kUnsure_per_s * carried_s * carried_s,
        std::hypot(std::hypot(std::sqrt(std::max(0.0, at.P(0, 0))), kBallPlace_m) / at.slope(),
                   kFrameShare / rate));
    if (u_s < out.u_s) {
        out.t_s = t_s;
        out.u_s = u_s;
    }
    return out;
}

} // namespace kite
