#include "report/pictures/kite_geometry.h"

#include "core/base/units.h"
#include "core/motion/rotation.h"

#include <algorithm>
#include <cmath>

namespace kite::report {

namespace {

constexpr double kKiteHalfHips_m = 0.20;
constexpr double kKiteHalfShoulders_m = 0.24;

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

/// Where the pelvis stood at address, the pictures' origin.
Eigen::Vector3d zero_of(const MeasuredSwing& swing) {
    const auto* pelvis = swing.analysis.find_motion(Segment::Pelvis);
    const double address = swing.analysis.moments.time_s(Moment::Address);
    if (pelvis == nullptr)
        return Eigen::Vector3d::Zero();
    return origin_at(*pelvis, std::isfinite(address) ? address : 0.0)
        .value_or(Eigen::Vector3d(Eigen::Vector3d::Zero()));
}

/// The hinge in the lab: along the drawn hip line and behind it, as the measures say. The line is
/// drawn longer than the hips are; `along` is kept to it.
std::optional<Eigen::Vector2d> hinge_at(const MeasuredSwing& swing, const SegmentMotion& pelvis,
                                        double t_s, const Eigen::Vector3d& zero_m) {
    constexpr double kFarthest = 4.0; // hip widths: beyond it is off the picture
    const double along = swing.analysis.hinge_path.along.at(t_s);
    const double behind_m = swing.analysis.hinge_path.behind_m.at(t_s);
    const auto origin = origin_at(pelvis, t_s);
    if (!origin || !(std::abs(along) < kFarthest) || !(std::abs(behind_m) < 1.0))
        return std::nullopt;
    const Between at = frames_around(pelvis, t_s);
    const Eigen::Vector3d x = pelvis.q_lab_segment[at.first] * Eigen::Vector3d::UnitX();
    const Eigen::Vector2d line = x.head<2>().normalized();
    const Eigen::Vector2d back(-line.y(), line.x());
    return Eigen::Vector2d((*origin - zero_m).head<2>() + along * kKiteHalfHips_m * line +
                           behind_m * back);
}

} // namespace

std::vector<Eigen::Vector2d> calc_hinge_way(const MeasuredSwing& swing) {
    std::vector<Eigen::Vector2d> out;
    const auto* pelvis = swing.analysis.find_motion(Segment::Pelvis);
    const auto* part = swing.analysis.sequence.find(Segment::Pelvis);
    const double impact = swing.analysis.moments.time_s(Moment::Impact);
    if (pelvis == nullptr || part == nullptr || !std::isfinite(impact))
        return out;
    const Eigen::Vector3d zero_m = zero_of(swing);
    if (!std::isfinite(part->reversal_t_s))
        return out;
    const double begin_s = part->reversal_t_s;
    const auto frames = static_cast<int>(std::floor((impact - begin_s) * pelvis->rate_hz + 1e-9));
    for (int i = 0; i <= frames; ++i)
        if (const auto hinge = hinge_at(swing, *pelvis, begin_s + i / pelvis->rate_hz, zero_m))
            out.push_back(*hinge);
    return out;
}

KitePicture calc_kite(const MeasuredSwing& swing, double t_s) {
    KitePicture out;
    out.separation_deg = swing.analysis.separation_deg.at(t_s);
    const auto& motion = swing.analysis.motion;
    const auto pelvis = motion.find(Segment::Pelvis);
    const auto torso = motion.find(Segment::Torso);
    const auto club = motion.find(Segment::Club);
    const Eigen::Vector3d zero_m = zero_of(swing);
    Eigen::Vector2d centre_m = Eigen::Vector2d::Zero();
    if (pelvis != motion.end()) {
        centre_m = (origin_at(pelvis->second, t_s).value_or(zero_m) - zero_m).head<2>();
        out.hips = line_at(pelvis->second, t_s, kKiteHalfHips_m, centre_m);
        out.hinge_m = hinge_at(swing, pelvis->second, t_s, zero_m);
    }
    if (torso != motion.end())
        out.shoulders = line_at(torso->second, t_s, kKiteHalfShoulders_m, centre_m);

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

} // namespace kite::report
