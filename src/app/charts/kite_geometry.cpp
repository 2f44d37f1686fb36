#include "app/charts/kite_geometry.h"

#include "core/base/units.h"
#include "core/motion/rotation.h"

#include <algorithm>
#include <cmath>

namespace kite::app {

namespace {

constexpr double kHalfHips_m = 0.20;
constexpr double kHalfShoulders_m = 0.24;

/// Nearest measured frames around a time and the share of the second one.
struct Between {
    std::size_t first = 0;
    std::size_t second = 0;
    double share = 0.0;
};

Between frames_around(const SegmentMotion& motion, double t_s) {
    const auto last = static_cast<double>(motion.size() - 1);
    const double u = std::clamp(t_s * motion.rate_hz, 0.0, last);
    const auto first = static_cast<std::size_t>(std::floor(u));
    return {first, std::min(first + 1, motion.size() - 1), u - std::floor(u)};
}

std::optional<Eigen::Vector3d> origin_at(const SegmentMotion& motion, double t_s) {
    if (motion.p_lab_m.empty())
        return std::nullopt;
    const Between at = frames_around(motion, t_s);
    const Eigen::Vector3d p =
        (1.0 - at.share) * motion.p_lab_m[at.first] + at.share * motion.p_lab_m[at.second];
    return p.allFinite() ? std::optional(p) : std::nullopt;
}

std::optional<KitePicture::Line> line_at(const SegmentMotion& motion, double t_s, double half_m,
                                         const Eigen::Vector2d& middle_m) {
    const Between at = frames_around(motion, t_s);
    const Eigen::Quaterniond& a = motion.q_lab_segment[at.first];
    const Eigen::Quaterniond& b = motion.q_lab_segment[at.second];
    if (!is_finite(a) || !is_finite(b))
        return std::nullopt;
    const Eigen::Vector3d half = a.slerp(at.share, b) * Eigen::Vector3d(half_m, 0.0, 0.0);
    KitePicture::Line line;
    line.trail_m = middle_m - half.head<2>();
    line.lead_m = middle_m + half.head<2>();
    line.turn_deg = deg_from_rad(std::atan2(half.y(), half.x()));
    return line;
}

} // namespace

KitePicture calc_kite(const LoadedSwing& swing, double t_s) {
    KitePicture out;
    out.separation_deg = swing.analysis.separation_deg.at(t_s);
    const auto& motion = swing.analysis.motion;
    const auto pelvis = motion.find(Segment::Pelvis);
    const auto torso = motion.find(Segment::Torso);
    const auto club = motion.find(Segment::Club);
    const double address = swing.analysis.moments.time_s(Moment::Address);
    Eigen::Vector3d zero_m = Eigen::Vector3d::Zero();
    if (pelvis != motion.end())
        zero_m = origin_at(pelvis->second, std::isfinite(address) ? address : 0.0).value_or(zero_m);
    Eigen::Vector2d centre_m = Eigen::Vector2d::Zero();
    if (pelvis != motion.end()) {
        centre_m = (origin_at(pelvis->second, t_s).value_or(zero_m) - zero_m).head<2>();
        out.hips = line_at(pelvis->second, t_s, kHalfHips_m, centre_m);
    }
    if (torso != motion.end())
        out.shoulders = line_at(torso->second, t_s, kHalfShoulders_m, centre_m);

    const double impact = swing.analysis.moments.reference_s();
    if (club != motion.end() && swing.take.club_length_m && std::isfinite(impact)) {
        if (const auto grip = origin_at(club->second, impact)) {
            const Between at = frames_around(club->second, impact);
            const Eigen::Vector3d head_m =
                *grip - *swing.take.club_length_m * club->second.long_axis(at.first);
            if (head_m.allFinite())
                out.ball_x_m = head_m.x() - zero_m.x();
        }
    }
    const auto foot = [&](BodyPoint point) -> std::optional<Eigen::Vector2d> {
        const auto found = swing.take.points_lab_m.find(point);
        if (found == swing.take.points_lab_m.end() || found->second.empty())
            return std::nullopt;
        const auto frame = static_cast<std::size_t>(std::clamp(
            t_s * swing.take.rate_hz, 0.0, static_cast<double>(found->second.size() - 1)));
        const Eigen::Vector3d& p = found->second[frame];
        if (!p.allFinite())
            return std::nullopt;
        return (p - zero_m).head<2>();
    };
    out.lead_foot_m = foot(BodyPoint::LeadAnkle);
    out.trail_foot_m = foot(BodyPoint::TrailAnkle);
    return out;
}

} // namespace kite::app
