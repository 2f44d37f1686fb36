#include "report/pictures/body_figure.h"

#include "core/motion/rotation.h"

#include <algorithm>
#include <cmath>

namespace kite::report {

using Eigen::Vector3d;

namespace {

constexpr double kHalfShoulders_m = 0.19;
constexpr double kTraceAfterImpact_s = 0.12;

/// Nearest frame of a time.
std::size_t frame_at(double t_s, double rate_hz, std::size_t size) {
    return static_cast<std::size_t>(
        std::clamp(std::round(t_s * rate_hz), 0.0, static_cast<double>(size) - 1.0));
}

std::optional<Vector3d> seen(const Vector3d& p_m) {
    return is_finite(p_m) ? std::optional(p_m) : std::nullopt;
}

/// Where the drawing's origin lies in the lab: the pelvis at address, at the height of the ankles.
Vector3d zero_of(const MeasuredSwing& swing) {
    Vector3d zero = Vector3d::Zero();
    const double address = swing.analysis.moments.time_s(Moment::Address);
    const double rate = swing.analysis.rate_hz;
    const auto* pelvis = swing.analysis.find_motion(Segment::Pelvis);
    if (pelvis != nullptr && !pelvis->p_lab_m.empty()) {
        const auto frame = frame_at(std::isfinite(address) ? address : 0.0, rate, pelvis->size());
        zero = seen(pelvis->p_lab_m[frame]).value_or(zero);
        zero.z() -= 0.92; // without ankles: about a hip's height
    }
    const auto ankle = swing.take.points_lab_m.find(BodyPoint::LeadAnkle);
    if (ankle != swing.take.points_lab_m.end() && !ankle->second.empty()) {
        const auto frame =
            frame_at(std::isfinite(address) ? address : 0.0, rate, ankle->second.size());
        if (is_finite(ankle->second[frame]))
            zero.z() = ankle->second[frame].z() - 0.08;
    }
    return zero;
}

Figure figure_at(const MeasuredSwing& swing, double t_s, const Vector3d& zero_m) {
    Figure out;
    const Analysis& analysis = swing.analysis;
    const auto motion_of = [&](Segment segment) {
        const auto* motion = analysis.find_motion(segment);
        return motion != nullptr && !motion->p_lab_m.empty() ? motion : nullptr;
    };
    if (const auto* pelvis = motion_of(Segment::Pelvis)) {
        const auto i = frame_at(t_s, analysis.rate_hz, pelvis->size());
        const Vector3d half(0.5 * swing.take.hip_joint_width_m.value_or(0.17), 0.0, 0.0);
        out.lead_hip_m = seen(pelvis->p_lab_m[i] + pelvis->q_lab_segment[i] * half - zero_m);
        out.trail_hip_m = seen(pelvis->p_lab_m[i] - pelvis->q_lab_segment[i] * half - zero_m);
    }
    if (const auto* torso = motion_of(Segment::Torso)) {
        const auto i = frame_at(t_s, analysis.rate_hz, torso->size());
        const Vector3d half(kHalfShoulders_m, 0.0, 0.0);
        out.neck_m = seen(torso->p_lab_m[i] - zero_m);
        out.lead_shoulder_m = seen(torso->p_lab_m[i] + torso->q_lab_segment[i] * half - zero_m);
        out.trail_shoulder_m = seen(torso->p_lab_m[i] - torso->q_lab_segment[i] * half - zero_m);
    }
    if (const auto* arm = motion_of(Segment::LeadArm)) {
        const auto i = frame_at(t_s, analysis.rate_hz, arm->size());
        out.lead_shoulder_m = seen(arm->p_lab_m[i] - zero_m);
        if (swing.take.arm_length_m)
            out.wrist_m =
                seen(arm->p_lab_m[i] - *swing.take.arm_length_m * arm->long_axis(i) - zero_m);
    }
    if (const auto* club = motion_of(Segment::Club)) {
        const auto i = frame_at(t_s, analysis.rate_hz, club->size());
        out.wrist_m = seen(club->p_lab_m[i] - zero_m);
        if (swing.take.club_length_m)
            out.head_m =
                seen(club->p_lab_m[i] - *swing.take.club_length_m * club->long_axis(i) - zero_m);
    }
    const auto point = [&](BodyPoint key) -> std::optional<Vector3d> {
        const auto found = swing.take.points_lab_m.find(key);
        if (found == swing.take.points_lab_m.end() || found->second.empty())
            return std::nullopt;
        return seen(found->second[frame_at(t_s, swing.take.rate_hz, found->second.size())] -
                    zero_m);
    };
    out.lead_knee_m = point(BodyPoint::LeadKnee);
    out.trail_knee_m = point(BodyPoint::TrailKnee);
    out.lead_ankle_m = point(BodyPoint::LeadAnkle);
    out.trail_ankle_m = point(BodyPoint::TrailAnkle);
    return out;
}

} // namespace

Figure calc_figure(const MeasuredSwing& swing, double t_s) {
    return figure_at(swing, t_s, zero_of(swing));
}

FigureTraces calc_traces(const MeasuredSwing& swing) {
    FigureTraces out;
    const Analysis& analysis = swing.analysis;
    const Vector3d zero_m = zero_of(swing);
    const double takeaway = analysis.moments.time_s(Moment::Takeaway);
    const double begin = std::isfinite(takeaway) ? takeaway : 0.0;
    const double end =
        std::min(analysis.duration_s, analysis.moments.reference_s() + kTraceAfterImpact_s);
    const auto frames = static_cast<int>(std::floor((end - begin) * analysis.rate_hz + 1e-9));
    for (int i = 0; i <= frames; ++i) {
        const Figure figure = figure_at(swing, begin + i / analysis.rate_hz, zero_m);
        const auto add = [](std::vector<Vector3d>& path, const std::optional<Vector3d>& p_m) {
            if (p_m)
                path.push_back(*p_m);
        };
        add(out.lead_hip_m, figure.lead_hip_m);
        add(out.trail_hip_m, figure.trail_hip_m);
        add(out.wrist_m, figure.wrist_m);
        add(out.head_m, figure.head_m);
    }
    return out;
}

} // namespace kite::report
