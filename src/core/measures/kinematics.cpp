#include "core/measures/kinematics.h"

#include "core/base/median.h"
#include "core/base/units.h"
#include "core/motion/rotation.h"
#include "core/signal/butterworth.h"
#include "core/signal/noise.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <limits>

namespace kite {

using Eigen::Quaterniond;
using Eigen::Vector3d;

namespace {

constexpr double kNaN = std::numeric_limits<double>::quiet_NaN();

template <class Function>
Curve curve_from(const SegmentMotion& motion, Function value_at) {
    std::vector<double> values(motion.size(), kNaN);
    for (std::size_t i = motion.frames().begin; i < motion.frames().end; ++i)
        values[i] = value_at(i);
    return {std::move(values), motion.rate_hz, motion.change_s};
}

std::vector<std::size_t> cuts_at(std::optional<double> change_s, double rate_hz) {
    const auto frame = split_frame(change_s, rate_hz);
    return frame ? std::vector<std::size_t>{*frame} : std::vector<std::size_t>{};
}

/// Rotations as the filter takes them.
FourSignals signals_of(const std::vector<Quaterniond>& q, FrameRange frames) {
    FourSignals out(frames.size());
    Continuous continuous;
    for (std::size_t i = 0; i < out.size(); ++i)
        out[i] = continuous.next(q[frames.begin + i]).array();
    return out;
}

/// Filters run by run; outside the runs NaN.
FourSignals filter_runs(const FourSignals& x, const std::vector<FrameRange>& runs, double cutoff_hz,
                        double rate_hz) {
    // At the ends of the take nothing moves; at a blow and beside a hole the motion goes on.
    const auto kind_at = [&](std::size_t frame) {
        return frame == 0 || frame == x.size() ? End::Odd : End::Trend;
    };
    FourSignals out(x.size(), Eigen::Array4d::Constant(kNaN));
    for (const FrameRange& run : runs)
        filter_two_pass(x, run, cutoff_hz, rate_hz, kind_at(run.begin), kind_at(run.end), out);
    return out;
}

/// SD of white noise before the filter, from the squares of what the filter took away: by their
/// median, so that fast parts and outliers count little.
double noise_from_squares(std::vector<double>& squares, double cutoff_hz, double rate_hz) {
    constexpr double kMedianOfChiSquared = 0.4549; // with one degree of freedom
    if (squares.empty())
        return kMissing;
    return std::sqrt(median_of(squares) / kMedianOfChiSquared) /
           calc_noise_gain(cutoff_hz, rate_hz).residual;
}

/// SD of the raw orientation about the body's axes.
Vector3d estimate_angle_noise(const std::vector<Quaterniond>& raw,
                              const std::vector<Quaterniond>& smoothed, bool has_roll,
                              double cutoff_hz, double rate_hz) {
    std::array<std::vector<double>, 3> squares;
    for (auto& axis : squares)
        axis.resize(raw.size());
    std::size_t count = 0;
    for (std::size_t i = 0; i < raw.size(); ++i) {
        // Small: twice the vector part is the rotation vector, with either sign of the quaternion.
        // Missing where one of them is.
        const Quaterniond between = smoothed[i].conjugate() * raw[i];
        if (!is_finite(between))
            continue;
        const Vector3d square = (2.0 * between.vec()).cwiseAbs2();
        squares[0][count] = square.x();
        squares[1][count] = square.y();
        squares[2][count] = square.z();
        ++count;
    }
    for (auto& axis : squares)
        axis.resize(count);
    Vector3d out = Vector3d::Constant(kNaN);
    for (std::size_t axis = 0; axis < (has_roll ? 3U : 2U); ++axis)
        out(static_cast<Eigen::Index>(axis)) =
            noise_from_squares(squares[axis], cutoff_hz, rate_hz);
    return out;
}

} // namespace

std::optional<std::size_t> split_frame(std::optional<double> change_s, double rate_hz) {
    const double frame = change_s ? std::floor(*change_s * rate_hz + 1e-9) + 1.0 : -1.0;
    return frame < 0.0 ? std::nullopt : std::optional(static_cast<std::size_t>(frame));
}

double SegmentMotion::noise_across_rad() const {
    return std::sqrt(0.5 * angle_noise_rad.head<2>().squaredNorm());
}

double SegmentMotion::noise_about_rad(const Vector3d& axis_lab, std::size_t frame) const {
    if (!std::isfinite(angle_noise_rad.z()) || frame >= size() || !is_finite(q_lab_segment[frame]))
        return noise_across_rad();
    const Vector3d axis = q_lab_segment[frame].conjugate() * axis_lab.normalized();
    return axis.cwiseProduct(angle_noise_rad).norm();
}

namespace {

std::vector<TimeRange> stretches_of(const SegmentMotion& motion, Seen kind) {
    std::vector<TimeRange> out;
    for (std::size_t i = 0; i < motion.seen.size(); ++i) {
        if (motion.seen[i] != kind)
            continue;
        const std::size_t from = i;
        while (i + 1 < motion.seen.size() && motion.seen[i + 1] == kind)
            ++i;
        out.push_back(
            {static_cast<double>(from) / motion.rate_hz, static_cast<double>(i) / motion.rate_hz});
    }
    return out;
}

} // namespace

std::vector<TimeRange> unseen_stretches(const SegmentMotion& motion) {
    return stretches_of(motion, Seen::Unseen);
}
std::vector<TimeRange> bridged_stretches(const SegmentMotion& motion) {
    return stretches_of(motion, Seen::Bridged);
}

SegmentMotion smooth(const PoseSeries& series, double rate_hz, double cutoff_hz,
                     std::optional<double> change_s) {
    SegmentMotion out = smooth_turning(series, rate_hz, cutoff_hz, change_s);
    add_noise(series, out);
    add_rates(out);
    add_places(series, out);
    return out;
}

SegmentMotion smooth_turning(const PoseSeries& series, double rate_hz, double cutoff_hz,
                             std::optional<double> change_s) {
    SegmentMotion out;
    out.rate_hz = rate_hz;
    out.cutoff_hz = std::min(cutoff_hz, highest_cutoff_hz(rate_hz));
    out.change_s = change_s;
    out.wander_rad = series.wander_rad;
    const std::size_t n = series.q_lab_segment.size();
    Flags valid(n);
    FourSignals rotations = signals_of(series.q_lab_segment, {0, n});
    for (std::size_t i = 0; i < n; ++i)
        valid[i] = is_finite(series.q_lab_segment[i]);
    out.seen = bridge_gaps(rotations, valid, rate_hz, series.longest_bridge_s);
    rotations = filter_runs(rotations, find_runs(valid, cuts_at(change_s, rate_hz)), out.cutoff_hz,
                            rate_hz);
    out.q_lab_segment.resize(n);
    for (std::size_t i = 0; i < n; ++i)
        out.q_lab_segment[i] =
            valid[i] ? Quaterniond(Eigen::Vector4d(rotations[i])).normalized() : missing_rotation();
    return out;
}

void add_noise(const PoseSeries& series, SegmentMotion& motion) {
    motion.angle_noise_rad =
        estimate_angle_noise(series.q_lab_segment, motion.q_lab_segment, series.has_roll,
                             motion.cutoff_hz, motion.rate_hz);
}

void add_rates(SegmentMotion& motion) {
    Flags valid(motion.size());
    for (std::size_t i = 0; i < valid.size(); ++i)
        valid[i] = is_finite(motion.q_lab_segment[i]);
    motion.omega_lab_rad_s = calc_angular_velocity(
        motion.q_lab_segment, find_runs(valid, cuts_at(motion.change_s, motion.rate_hz)),
        motion.rate_hz);
}

void add_places(const PoseSeries& series, SegmentMotion& motion) {
    if (!series.has_positions())
        return;
    const std::size_t n = series.p_lab_m.size();
    Flags valid(n);
    FourSignals places(n, Eigen::Array4d::Zero());
    for (std::size_t i = 0; i < n; ++i) {
        valid[i] = is_finite(series.p_lab_m[i]);
        places[i].head<3>() = series.p_lab_m[i].array();
    }
    bridge_gaps(places, valid, motion.rate_hz, series.longest_bridge_s);
    places = filter_runs(places, find_runs(valid, cuts_at(motion.change_s, motion.rate_hz)),
                         motion.cutoff_hz, motion.rate_hz);
    motion.p_lab_m.resize(n);
    for (std::size_t i = 0; i < n; ++i)
        motion.p_lab_m[i] = places[i].head<3>();
}

double choose_cutoff_hz(const PoseSeries& series, double rate_hz, TimeRange stretch,
                        CutoffBounds bounds) {
    const auto& q = series.q_lab_segment;
    const auto frame_at = [&](double t_s) {
        return static_cast<std::size_t>(
            std::clamp(std::round(t_s * rate_hz), 0.0, static_cast<double>(q.size())));
    };
    // The longest run of seen frames in the stretch.
    FrameRange longest;
    FrameRange run{frame_at(stretch.begin_s), frame_at(stretch.begin_s)};
    for (; run.end < frame_at(stretch.end_s); ++run.end) {
        if (!is_finite(q[run.end]))
            run.begin = run.end + 1;
        else if (run.end + 1 - run.begin > longest.size())
            longest = {run.begin, run.end + 1};
    }
    return choose_cutoff_hz(signals_of(q, longest), rate_hz, bounds);
}

TrunkAngles calc_trunk_angles(const SegmentMotion& motion) {
    std::vector<double> turn(motion.size(), kNaN);
    std::vector<double> tilt(motion.size(), kNaN);
    std::vector<double> bend(motion.size(), kNaN);
    for (std::size_t i = motion.frames().begin; i < motion.frames().end; ++i) {
        if (!is_finite(motion.q_lab_segment[i]))
            continue;
        const BodyAngles angles = angles_of(motion.q_lab_segment[i]);
        turn[i] = deg_from_rad(angles.turn_rad);
        tilt[i] = deg_from_rad(angles.side_tilt_rad);
        bend[i] = deg_from_rad(angles.forward_bend_rad);
    }
    unwrap_deg(turn);
    unwrap_deg(bend);
    return {Curve(std::move(turn), motion.rate_hz, motion.change_s),
            Curve(std::move(tilt), motion.rate_hz, motion.change_s),
            Curve(std::move(bend), motion.rate_hz, motion.change_s)};
}

Curve calc_speed_deg_s(const SegmentMotion& motion) {
    return curve_from(
        motion, [&](std::size_t i) { return deg_from_rad(motion.omega_without_roll(i).norm()); });
}

Curve calc_speed_along_deg_s(const SegmentMotion& motion, const Vector3d& normal) {
    return curve_from(motion, [&](std::size_t i) {
        return deg_from_rad(motion.omega_without_roll(i).dot(normal));
    });
}

Curve calc_reversing_deg_s(const SegmentMotion& motion, Segment segment, const Vector3d& normal) {
    if (is_trunk(segment))
        return calc_rate_deg_s(motion, segment, RateConvention::Axis, normal);
    return calc_speed_along_deg_s(motion, normal);
}

Curve calc_rate_deg_s(const SegmentMotion& motion, Segment segment, RateConvention convention,
                      const Vector3d& normal) {
    return curve_from(motion, [&](std::size_t i) {
        const Vector3d& omega = motion.omega_lab_rad_s[i];
        if (convention == RateConvention::Plane)
            return deg_from_rad(omega.dot(normal));
        if (is_trunk(segment)) {
            const double axial = omega.dot(motion.long_axis(i));
            return deg_from_rad(convention == RateConvention::Resultant
                                    ? std::copysign(omega.norm(), axial)
                                    : axial);
        }
        const Vector3d across = motion.omega_without_roll(i);
        return deg_from_rad(std::copysign(across.norm(), across.dot(normal)));
    });
}

Curve calc_elevation(const SegmentMotion& motion) {
    return curve_from(motion, [&](std::size_t i) { return -motion.long_axis(i).z(); });
}

Curve calc_coordinate_m(const SegmentMotion& motion, int axis) {
    if (motion.p_lab_m.empty())
        return {};
    return curve_from(motion, [&](std::size_t i) { return motion.p_lab_m[i](axis); });
}

double separation_of_deg(const Quaterniond& q_lab_pelvis, const Quaterniond& q_lab_torso,
                         SeparationMethod method) {
    return method == SeparationMethod::Joint
               ? -deg_from_rad(joint_turn_rad(q_lab_pelvis, q_lab_torso))
               : deg_from_rad(turn_of(q_lab_pelvis) - turn_of(q_lab_torso));
}

Curve calc_separation_deg(const SegmentMotion& pelvis, const SegmentMotion& torso,
                          SeparationMethod method) {
    std::vector<double> values(pelvis.size(), kNaN);
    for (std::size_t i = pelvis.frames().begin; i < pelvis.frames().end; ++i) {
        const Quaterniond& p = pelvis.q_lab_segment[i];
        const Quaterniond& t = torso.q_lab_segment[i];
        if (!is_finite(p) || !is_finite(t))
            continue;
        values[i] = separation_of_deg(p, t, method);
    }
    unwrap_deg(values);
    return {std::move(values), pelvis.rate_hz};
}

} // namespace kite
