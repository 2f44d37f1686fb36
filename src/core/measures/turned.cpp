#include "core/measures/turned.h"

#include "core/base/units.h"
#include "core/motion/rotation.h"

#include <algorithm>
#include <cmath>

namespace kite {

using Eigen::Quaterniond;
using Eigen::Vector3d;

Smoothness smoothness_of(Segment segment) {
    switch (segment) {
    case Segment::Club:
        return {18.0, 0.35, 0.6};
    case Segment::LeadArm:
    case Segment::LeadForearm:
    case Segment::TrailArm:
        return {12.5, 0.35, 0.0};
    default:
        return {11.5, 0.35, 0.4};
    }
}

namespace {

/// A step over a hole of kDetourHole_s may be off by this share of itself (standard deviation).
constexpr double kDetour = 0.03;
constexpr double kDetourHole_s = 0.06;
constexpr double kUsualNoise_deg = 0.15; ///< of an orientation, to weigh that by

/// Unit axis about which the rate of the convention is taken; zero where it is not known.
Vector3d axis_at(const SegmentMotion& smooth, std::size_t i, Segment segment,
                 RateConvention convention, const Vector3d& normal, Turning turning) {
    if (convention == RateConvention::Plane ||
        (turning == Turning::Reversing && !is_trunk(segment)))
        return normal;
    const Vector3d& omega = smooth.omega_lab_rad_s[i];
    if (!omega.allFinite())
        return Vector3d::Zero();
    if (is_trunk(segment)) {
        Vector3d z = smooth.long_axis(i);
        if (convention == RateConvention::Axis)
            return z;
        const double size = omega.norm();
        return size > 0.0 ? Vector3d(std::copysign(1.0, omega.dot(z)) / size * omega) : z;
    }
    const Vector3d across = smooth.omega_without_roll(i);
    const double size = across.norm();
    return size > 0.0 ? Vector3d(std::copysign(1.0, across.dot(normal)) / size * across) : normal;
}

/// Rotation vector from one long axis to another in the lab: of arm and club, without their roll.
Vector3d step_between(const Vector3d& a, const Vector3d& b) {
    const Vector3d across = a.cross(b);
    const double sine2 = across.squaredNorm();
    if (sine2 < kSmallSine * kSmallSine && a.dot(b) > 0.0)
        return angle_over_sine(sine2) * across;
    const double sine = std::sqrt(sine2);
    return sine > 0.0 ? Vector3d(std::atan2(sine, a.dot(b)) / sine * across) : Vector3d::Zero();
}

} // namespace

Samples calc_turned_deg(const PoseSeries& raw, const SegmentMotion& smooth, Segment segment,
                        RateConvention convention, const Vector3d& normal, Turning turning,
                        TimeRange stretch) {
    Samples out;
    out.rate_hz = smooth.rate_hz;
    out.derivative = 1;
    out.smoothness = smoothness_of(segment);
    out.x.assign(smooth.size(), std::numeric_limits<double>::quiet_NaN());
    const bool with_roll = is_trunk(segment) || (convention == RateConvention::Plane &&
                                                 turning == Turning::Rate && raw.has_roll);
    const auto first =
        static_cast<std::size_t>(std::max(0.0, std::floor(stretch.begin_s * smooth.rate_hz)));
    const auto end = std::min(
        smooth.size(),
        static_cast<std::size_t>(std::max(0.0, std::ceil(stretch.end_s * smooth.rate_hz))) + 1);
    std::size_t last = end;
    double sum = 0.0;
    Vector3d last_axis = Vector3d::Zero();
    Vector3d last_z = Vector3d::Zero();
    for (std::size_t i = first; i < end; ++i) {
        if (!is_finite(raw.q_lab_segment[i]))
            continue;
        const Vector3d axis = axis_at(smooth, i, segment, convention, normal, turning);
        const Quaterniond& now = raw.q_lab_segment[i];
        const Vector3d z = with_roll ? last_z : Vector3d(now * Vector3d::UnitZ());
        if (last < end) {
            const Vector3d step = with_roll ? log_of(now * raw.q_lab_segment[last].conjugate())
                                            : step_between(last_z, z);
            Vector3d about = axis + last_axis;
            const double size = about.norm();
            // Where the axis turns right round between two frames the step is next to nothing.
            // The smoothed axis is poor beside a hole: there the whole angle counts.
            if (i - last > 2 && turning == Turning::Rate && !with_roll &&
                convention != RateConvention::Plane)
                about = step.dot(about) < 0.0 ? Vector3d(-size * step.normalized())
                                              : Vector3d(size * step.normalized());
            const double turned_deg = size > 1e-6 ? deg_from_rad(step.dot(about) / size) : 0.0;
            sum += turned_deg;
            // Over a hole the way between may have been another than the shortest.
            if (i - last > 1) {
                const double hole_s = static_cast<double>(i - last) / smooth.rate_hz;
                const double sd_deg = kDetour * std::abs(turned_deg) * hole_s / kDetourHole_s;
                out.loose_steps.emplace_back(i,
                                             sd_deg * sd_deg / (kUsualNoise_deg * kUsualNoise_deg));
            }
        }
        out.x[i] = sum;
        last = i;
        last_axis = axis;
        last_z = z;
    }
    return out;
}

} // namespace kite
