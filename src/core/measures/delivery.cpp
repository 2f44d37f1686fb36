#include "core/measures/delivery.h"

#include "core/base/units.h"
#include "core/signal/noise.h"

#include <cmath>

namespace kite {

using Eigen::Vector3d;

namespace {

/// A low point that may be further off than this was not seen by an arc so short.
constexpr double kLeastSureLowPoint_cm = 6.0;

void add_shaft_lean(const SegmentMotion& club, const SwingMoments& moments, Delivery& out) {
    std::vector<double> lean(club.size(), kMissing);
    for (std::size_t i = club.frames().begin; i < club.frames().end; ++i) {
        const Vector3d up = club.long_axis(i);
        lean[i] = deg_from_rad(std::atan2(up.x(), up.z()));
    }
    const Curve curve(std::move(lean), club.rate_hz, club.change_s);
    const auto& impact = *moments[Moment::Impact];
    out.shaft_lean_deg = curve.at(impact.t_s, Curve::Side::Before);
    const double noise_deg =
        deg_from_rad(club.noise_across_rad()) * calc_noise_gain(club.cutoff_hz, club.rate_hz).value;
    out.shaft_lean_u_deg =
        std::hypot(noise_deg, curve.slope_at(impact.t_s, Curve::Side::Before) * impact.u_s);
}

} // namespace

Delivery calc_delivery(const SegmentMotion* club, const Approach& approach,
                       const SwingMoments& moments) {
    Delivery out;
    const auto& impact = moments[Moment::Impact];
    if (!impact)
        return out;
    // Where the shaft or the arm itself had to tell impact, it leans as at address by definition.
    const bool by_shaft = moments.impact_source == ImpactSource::Shaft ||
                          moments.impact_source == ImpactSource::Arm ||
                          moments.impact_source == ImpactSource::Peak;
    if (club != nullptr && !by_shaft)
        add_shaft_lean(*club, moments, out);
    if (cm_from_m(approach.low_point_u_m) <= kLeastSureLowPoint_cm) {
        out.low_point_cm = cm_from_m(approach.low_point_m);
        out.low_point_u_cm = cm_from_m(approach.low_point_u_m);
    }
    return out;
}

} // namespace kite
