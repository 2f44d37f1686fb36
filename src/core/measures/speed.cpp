#include "core/measures/speed.h"

#include "core/base/units.h"
#include "core/motion/rotation.h"
#include "core/signal/place.h"

#include <algorithm>
#include <array>
#include <cmath>

namespace kite {

using Eigen::Vector3d;

namespace {

struct Velocity {
    double speed_m_s = kMissing;
    double speed_u_m_s = kMissing;
    bool hidden = false; ///< the point was not seen so near that time
};

/// Velocity just before a time, from places before it alone. Its direction comes from a spline
/// through each coordinate. Its size comes from the way covered along that direction: a fast point
/// goes round an arc, and what the coordinates of an arc lose to smoothing its length does not.
Velocity velocity_before(const std::vector<Vector3d>& path_m, double rate_hz, double t_s,
                         Smoothness smoothness) {
    constexpr double kReach_s = 0.16;
    Velocity out;
    const double last = std::floor(t_s * rate_hz + 1e-9);
    if (path_m.empty() || !(last >= 0.0))
        return out;
    const std::size_t end = std::min(path_m.size(), static_cast<std::size_t>(last) + 1);
    const auto begin =
        static_cast<std::size_t>(std::max(0.0, std::ceil((t_s - kReach_s) * rate_hz - 1e-9)));
    std::array<std::optional<Spline>, 3> coordinate;
    std::vector<double> values(end);
    Spline::Options options;
    options.frames = {begin, end};
    options.smoothness = smoothness;
    // What noise turns a direction by counts in its square alone: it may follow the path closely.
    constexpr double kDirection = 2.0;
    options.cutoff_hz = kDirection * smoothness.usual_hz;
    for (Eigen::Index axis = 0; axis < 3; ++axis) {
        for (std::size_t i = begin; i < end; ++i)
            values[i] = path_m[i](axis);
        auto& spline = coordinate[static_cast<std::size_t>(axis)];
        spline = Spline::fit(values, rate_hz, options);
        if (!spline)
            return out;
    }
    const auto direction_at = [&](double at_s) {
        return Vector3d(coordinate[0]->mean_at(at_s).slope(), coordinate[1]->mean_at(at_s).slope(),
                        coordinate[2]->mean_at(at_s).slope())
            .normalized();
    };
    // The way from one seen frame to the next, along the direction in between; an arc is longer
    // than its chord by half its angle over the sine of that.
    std::fill(values.begin(), values.end(), kMissing);
    double way = 0.0;
    std::optional<std::size_t> before;
    Vector3d direction_before = Vector3d::Zero();
    for (std::size_t i = begin; i < end; ++i) {
        if (!path_m[i].allFinite())
            continue;
        const double at_s = static_cast<double>(i) / rate_hz;
        const Vector3d direction = direction_at(at_s);
        if (before) {
            const Vector3d middle = (direction + direction_before).normalized();
            const double half =
                0.5 * std::acos(std::clamp(direction.dot(direction_before), -1.0, 1.0));
            way += (path_m[i] - path_m[*before]).dot(middle) *
                   (half > 1e-6 ? half / std::sin(half) : 1.0);
        }
        values[i] = way;
        before = i;
        direction_before = direction;
    }
    // Carried on no further than to the next frame: beyond that anything may have happened.
    constexpr double kCarried_s = 0.01;
    if (!before ||
        t_s - static_cast<double>(*before) / rate_hz > std::max(kCarried_s, 1.05 / rate_hz)) {
        out.hidden = true;
        return out;
    }
    options.cutoff_hz.reset();
    const auto along = Spline::fit(values, rate_hz, options);
    if (!along)
        return out;
    const SplineState state = along->at(t_s);
    out.speed_m_s = state.slope();
    // The path's own smoothing and what the arc is taken for: this share was seen in trials, more
    // where frames are so few that the arc bends far between them.
    const double method_share = std::max(0.005, 1.5 / rate_hz);
    out.speed_u_m_s = std::hypot(state.slope_u(), method_share * state.slope());
    return out;
}

} // namespace

Speed calc_speed(const std::vector<Vector3d>& wrist_m, const std::vector<Vector3d>& head_m,
                 const Approach& approach, double rate_hz, const SwingMoments& moments,
                 std::vector<Finding>& findings) {
    constexpr Smoothness kHands{10.0, 0.5};
    constexpr Smoothness kHead{16.0, 0.5};
    Speed out;
    const double impact = moments.time_s(Moment::Impact);
    if (!std::isfinite(impact))
        return out;
    std::string unsure;
    const auto take = [&](const Velocity& velocity, const char* name, double& speed, double& u) {
        const double size = velocity.speed_m_s;
        if (!std::isfinite(size) && !velocity.hidden)
            return;
        if (!(velocity.speed_u_m_s <= kLeastSureSpeed * size)) {
            unsure += (unsure.empty() ? "" : " and ") + std::string(name);
            return;
        }
        speed = size;
        u = velocity.speed_u_m_s;
    };
    take(velocity_before(wrist_m, rate_hz, impact, kHands), "hands", out.hands_m_s,
         out.hands_u_m_s);
    const Velocity head = velocity_before(head_m, rate_hz, impact, kHead);
    take(head, "club head", out.club_head_m_s, out.club_head_u_m_s);
    out.ratio = out.hands_m_s / out.club_head_m_s;
    if (std::isfinite(out.club_head_m_s)) {
        out.club_head_direction_deg = approach.path_deg;
        out.club_head_direction_u_deg = approach.path_u_deg;
        out.attack_deg = approach.attack_deg;
        out.attack_u_deg = approach.attack_u_deg;
    }
    if (!unsure.empty())
        findings.push_back(
            {Finding::Severity::Warning, "speed-unsure",
             "The speed of the " + unsure +
                 " at impact cannot be told: too few frames, or hidden ones, so near "
                 "the ball.",
             "", "Record more frames a second."});
    return out;
}

} // namespace kite
