#include "core/measures/legs.h"

#include "core/base/units.h"
#include "core/motion/gaps.h"
#include "core/motion/rotation.h"
#include "core/signal/butterworth.h"

#include <algorithm>
#include <cmath>

namespace kite {

using Eigen::Vector3d;

namespace {

constexpr double kPointCutoff_hz = 12.0; ///< knees and ankles move like the trunk
constexpr double kForceCutoff_hz = 20.0;
constexpr double kLeastTotal_n = 50.0; ///< below this nobody stands on the plates
constexpr double kLifted_m = 0.01;
constexpr double kDown_m = 0.005;

using Path = std::vector<Vector3d>;

/// Short gaps bridged, filtered run by run; other missing frames stay missing.
FourSignals smoothed(FourSignals x, std::vector<bool> seen, double cutoff_hz, double rate_hz) {
    bridge_gaps(x, seen, rate_hz);
    FourSignals out(x.size(), Eigen::Array4d::Constant(kMissing));
    for (const FrameRange& run : find_runs(seen, {}))
        filter_two_pass(x, run, std::min(cutoff_hz, highest_cutoff_hz(rate_hz)), rate_hz, End::Odd,
                        End::Odd, out);
    return out;
}
std::vector<double> smoothed(const std::vector<double>& x, double cutoff_hz, double rate_hz) {
    std::vector<bool> seen(x.size());
    FourSignals four(x.size(), Eigen::Array4d::Zero());
    for (std::size_t i = 0; i < x.size(); ++i) {
        seen[i] = std::isfinite(x[i]);
        four[i](0) = x[i];
    }
    const FourSignals y = smoothed(std::move(four), std::move(seen), cutoff_hz, rate_hz);
    std::vector<double> out(x.size());
    for (std::size_t i = 0; i < x.size(); ++i)
        out[i] = y[i](0);
    return out;
}

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

Legs calc_legs(const SegmentMotion& pelvis, const Take& take, const SwingMoments& moments,
               double first_reversal_s) {
    Legs out;
    const Path knee = find_path(take, BodyPoint::LeadKnee);
    const Path ankle = find_path(take, BodyPoint::LeadAnkle);
    if (pelvis.p_lab_m.empty() || !take.hip_joint_width_m || knee.empty() || ankle.empty())
        return out;
    const Path hip = calc_hip_path(pelvis, *take.hip_joint_width_m, true);
    std::vector<double> flex(hip.size());
    for (std::size_t i = 0; i < flex.size(); ++i) {
        const Vector3d thigh = knee[i] - hip[i];
        const Vector3d shank = ankle[i] - knee[i];
        flex[i] = deg_from_rad(std::atan2(thigh.cross(shank).norm(), thigh.dot(shank)));
    }
    out.lead_knee_flex_deg = Curve(std::move(flex), pelvis.rate_hz);
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

Pressure calc_pressure(const Take& take, const SwingMoments& moments) {
    Pressure out;
    if (take.lead_force_n.size() != take.frames || take.trail_force_n.size() != take.frames ||
        take.frames == 0)
        return out;
    const auto lead = smoothed(take.lead_force_n, kForceCutoff_hz, take.rate_hz);
    const auto trail = smoothed(take.trail_force_n, kForceCutoff_hz, take.rate_hz);
    std::vector<double> share(lead.size(), kMissing);
    std::vector<double> total(lead.size(), kMissing);
    for (std::size_t i = 0; i < lead.size(); ++i) {
        total[i] = lead[i] + trail[i];
        if (total[i] > (take.force_is_share ? 0.0 : kLeastTotal_n))
            share[i] = 100.0 * lead[i] / total[i];
    }
    out.lead_pct = Curve(std::move(share), take.rate_hz);
    const Curve total_n(std::move(total), take.rate_hz);

    const double takeaway = moments.time_s(Moment::Takeaway);
    const double top = moments.time_s(Moment::Top);
    const double impact = moments.time_s(Moment::Impact);
    if (const auto least =
            out.lead_pct.find_min({std::isfinite(takeaway) ? takeaway : 0.0, impact})) {
        out.lead_min_pct = least->value;
        out.lead_min_t_s = least->t_s;
        out.lead_half_t_s =
            out.lead_pct.find_last_crossing(50.0, Curve::Direction::Rising, {least->t_s, impact})
                .value_or(kMissing);
    }
    if (moments[Moment::Address] && !take.force_is_share) {
        const double weight_n = mean_between(total_n, moments.address_window);
        const auto most = total_n.find_max({top, moments.window_end_s});
        if (most && weight_n > kLeastTotal_n) {
            out.peak_total_bw = most->value / weight_n;
            out.peak_total_t_s = most->t_s;
        }
    }
    return out;
}

} // namespace kite
