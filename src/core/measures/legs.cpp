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
    const Path& raw = found->second;
    std::vector<bool> seen(raw.size());
    FourSignals x(raw.size(), Eigen::Array4d::Zero());
    for (std::size_t i = 0; i < raw.size(); ++i) {
        seen[i] = raw[i].allFinite();
        x[i].head<3>() = raw[i].array();
    }
    const FourSignals y = smoothed(std::move(x), std::move(seen), kPointCutoff_hz, take.rate_hz);
    Path out(raw.size());
    for (std::size_t i = 0; i < raw.size(); ++i)
        out[i] = y[i].head<3>();
    return out;
}

/// Hip joint centres: the pelvis' origin lies midway between them, on its X axis.
Path calc_hip_path(const SegmentMotion& pelvis, double width_m, bool lead) {
    Path out(pelvis.size());
    for (std::size_t i = 0; i < out.size(); ++i)
        out[i] = pelvis.p_lab_m[i] +
                 pelvis.q_lab_segment[i] * Vector3d((lead ? 0.5 : -0.5) * width_m, 0.0, 0.0);
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

HipPosition position_at(const HipCurves& curves, double t_s) {
    return {curves.depth_m.at(t_s), curves.lift_m.at(t_s), curves.beyond_ankle_m.at(t_s)};
}

Hips calc_hips(const SegmentMotion& pelvis, const Take& take, const SwingMoments& moments) {
    Hips out;
    if (pelvis.p_lab_m.empty() || !take.hip_joint_width_m)
        return out;
    const auto side = [&](bool lead) {
        HipCurves curves;
        const Path hip = calc_hip_path(pelvis, *take.hip_joint_width_m, lead);
        curves.depth_m = from_address(coordinate(hip, 1, pelvis.rate_hz), moments);
        curves.lift_m = from_address(coordinate(hip, 2, pelvis.rate_hz), moments);
        const Path ankle = find_path(take, lead ? BodyPoint::LeadAnkle : BodyPoint::TrailAnkle);
        if (!ankle.empty()) {
            std::vector<double> beyond(hip.size());
            for (std::size_t i = 0; i < beyond.size(); ++i)
                beyond[i] = (lead ? 1.0 : -1.0) * (hip[i].x() - ankle[i].x());
            curves.beyond_ankle_m = Curve(std::move(beyond), pelvis.rate_hz);
        }
        return curves;
    };
    out.lead = side(true);
    out.trail = side(false);
    return out;
}

namespace {

Curve knee_flex(const SegmentMotion& pelvis, const Take& take, bool lead) {
    const Path knee = find_path(take, lead ? BodyPoint::LeadKnee : BodyPoint::TrailKnee);
    const Path ankle = find_path(take, lead ? BodyPoint::LeadAnkle : BodyPoint::TrailAnkle);
    if (knee.empty() || ankle.empty())
        return {};
    const Path hip = calc_hip_path(pelvis, *take.hip_joint_width_m, lead);
    std::vector<double> flex(hip.size());
    for (std::size_t i = 0; i < flex.size(); ++i) {
        const Vector3d thigh = knee[i] - hip[i];
        const Vector3d shank = ankle[i] - knee[i];
        flex[i] = deg_from_rad(std::atan2(thigh.cross(shank).norm(), thigh.dot(shank)));
    }
    return {std::move(flex), pelvis.rate_hz};
}

} // namespace

Legs calc_legs(const SegmentMotion& pelvis, const Take& take, const SwingMoments& moments,
               double first_reversal_s) {
    Legs out;
    if (pelvis.p_lab_m.empty() || !take.hip_joint_width_m)
        return out;
    out.lead_knee_flex_deg = knee_flex(pelvis, take, true);
    out.trail_knee_flex_deg = knee_flex(pelvis, take, false);
    if (out.lead_knee_flex_deg.empty())
        return out;
    const Path ankle = find_path(take, BodyPoint::LeadAnkle);
    const double impact = moments.time_s(Moment::Impact);
    if (const auto most = out.lead_knee_flex_deg.find_max({first_reversal_s, impact}))
        out.straightening_t_s = most->t_s;

    const Curve lift = from_address(coordinate(ankle, 2, pelvis.rate_hz), moments);
    const auto highest = lift.find_max({moments.time_s(Moment::Takeaway), impact});
    if (highest && highest->value > kLifted_m) {
        const auto down = lift.find_first_crossing(kDown_m, Curve::Direction::Falling,
                                                   {highest->t_s, pelvis.time_of_last()});
        if (down)
            out.plant_to_straighten_ms = ms_from_s(out.straightening_t_s - *down);
    }
    return out;
}

} // namespace kite
