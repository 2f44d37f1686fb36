#include "core/measures/legs.h"

#include "core/base/units.h"
#include "core/measures/smoothed_series.h"
#include "core/motion/rotation.h"

#include <algorithm>
#include <cmath>

namespace kite {

using Eigen::Vector3d;

namespace {

constexpr double kPointCutoff_hz = 12.0; ///< knees and ankles move like the trunk
constexpr double kLifted_m = 0.01;
constexpr double kDown_m = 0.005;

using Path = std::vector<Vector3d>;

/// The filtered path of a point; empty if the take has none.
Path find_path(const Take& take, BodyPoint point) {
    const auto found = take.points_lab_m.find(point);
    if (found == take.points_lab_m.end())
        return {};
    return smoothed(found->second, kPointCutoff_hz, take.rate_hz);
}

/// The pelvis' origin lies midway between the hip joint centres, on its X axis.
Path calc_hip_path(const SegmentMotion& pelvis, double offset_m) {
    Path out(pelvis.size());
    for (std::size_t i = 0; i < out.size(); ++i)
        out[i] = pelvis.p_lab_m[i] + pelvis.q_lab_segment[i] * Vector3d(offset_m, 0.0, 0.0);
    return out;
}

Curve coordinate(const Path& path, Eigen::Index axis, double rate_hz) {
    std::vector<double> values(path.size());
    for (std::size_t i = 0; i < values.size(); ++i)
        values[i] = path[i](axis);
    return {std::move(values), rate_hz};
}

/// Against the mean at address; empty without address.
Curve from_address(const Curve& curve, const SwingMoments& moments) {
    if (!moments[Moment::Address])
        return {};
    const double rest = mean_between(curve, moments.address_window);
    std::vector<double> values(curve.values());
    for (double& value : values)
        value -= rest;
    return {std::move(values), curve.rate_hz()};
}

} // namespace

LegPaths calc_leg_paths(const SegmentMotion& pelvis, const Take& take) {
    LegPaths out;
    out.rate_hz = pelvis.rate_hz;
    out.wanted = pelvis.frames();
    out.lead = {{}, find_path(take, BodyPoint::LeadKnee), find_path(take, BodyPoint::LeadAnkle)};
    out.trail = {{}, find_path(take, BodyPoint::TrailKnee), find_path(take, BodyPoint::TrailAnkle)};
    if (pelvis.p_lab_m.empty() || !take.hip_joint_width_m)
        return out;
    const double half_m = 0.5 * *take.hip_joint_width_m;
    out.lead.hip = calc_hip_path(pelvis, half_m);
    out.trail.hip = calc_hip_path(pelvis, -half_m);
    return out;
}

HipPosition position_at(const HipCurves& curves, double t_s) {
    return {curves.depth_m.at(t_s), curves.lift_m.at(t_s), curves.beyond_ankle_m.at(t_s)};
}

namespace {

/// `outwards`: +1 where the target is outwards, -1 where it is inwards.
HipCurves hip_curves(const Leg& leg, double outwards, double rate_hz, const SwingMoments& moments) {
    HipCurves out;
    if (leg.hip.empty())
        return out;
    out.depth_m = from_address(coordinate(leg.hip, 1, rate_hz), moments);
    out.lift_m = from_address(coordinate(leg.hip, 2, rate_hz), moments);
    if (!leg.ankle.empty()) {
        std::vector<double> beyond(leg.hip.size());
        for (std::size_t i = 0; i < beyond.size(); ++i)
            beyond[i] = outwards * (leg.hip[i].x() - leg.ankle[i].x());
        out.beyond_ankle_m = Curve(std::move(beyond), rate_hz);
    }
    return out;
}

Curve knee_flex(const Leg& leg, FrameRange wanted, double rate_hz) {
    if (leg.hip.empty() || leg.knee.empty() || leg.ankle.empty())
        return {};
    std::vector<double> flex(leg.hip.size(), kMissing);
    for (std::size_t i = wanted.begin; i < wanted.end; ++i) {
        const Vector3d thigh = leg.knee[i] - leg.hip[i];
        const Vector3d shank = leg.ankle[i] - leg.knee[i];
        flex[i] = deg_from_rad(std::atan2(thigh.cross(shank).norm(), thigh.dot(shank)));
    }
    return {std::move(flex), rate_hz};
}

Curve shin(const Leg& leg, FrameRange wanted, double rate_hz) {
    if (leg.knee.empty() || leg.ankle.empty())
        return {};
    std::vector<double> up(leg.knee.size(), kMissing);
    for (std::size_t i = wanted.begin; i < wanted.end; ++i) {
        const Vector3d shank = leg.knee[i] - leg.ankle[i];
        up[i] = deg_from_rad(std::atan2(shank.z(), shank.x()));
    }
    return {std::move(up), rate_hz};
}

} // namespace

Hips calc_hips(const LegPaths& paths, const SwingMoments& moments) {
    return {hip_curves(paths.lead, 1.0, paths.rate_hz, moments),
            hip_curves(paths.trail, -1.0, paths.rate_hz, moments)};
}

Legs calc_legs(const LegPaths& paths, const SwingMoments& moments, double first_reversal_s) {
    Legs out;
    out.lead_knee_flex_deg = knee_flex(paths.lead, paths.wanted, paths.rate_hz);
    out.trail_knee_flex_deg = knee_flex(paths.trail, paths.wanted, paths.rate_hz);
    out.trail_shin_deg = shin(paths.trail, paths.wanted, paths.rate_hz);
    if (out.lead_knee_flex_deg.empty())
        return out;
    const double impact = moments.time_s(Moment::Impact);
    if (const auto most = out.lead_knee_flex_deg.find_max({first_reversal_s, impact}))
        out.straightening_t_s = most->t_s;

    const Curve lift = from_address(coordinate(paths.lead.ankle, 2, paths.rate_hz), moments);
    const auto highest = lift.find_max({moments.time_s(Moment::Takeaway), impact});
    if (highest && highest->value > kLifted_m) {
        const auto down = lift.find_first_crossing(kDown_m, Curve::Direction::Falling,
                                                   {highest->t_s, lift.duration_s()});
        if (down)
            out.plant_to_straighten_ms = ms_from_s(out.straightening_t_s - *down);
    }
    return out;
}

} // namespace kite
