#pragma once

#include "core/base/missing.h"
#include "core/base/range.h"
#include "core/measures/options.h"
#include "core/motion/gaps.h"
#include "core/motion/take.h"
#include "core/signal/curve.h"

#include <Eigen/Geometry>

#include <algorithm>
#include <array>
#include <limits>
#include <optional>
#include <vector>

namespace kite {

/// One segment after filtering, with its angular velocity.
struct SegmentMotion {
    double rate_hz = 0.0;
    double cutoff_hz = 0.0;
    std::optional<double> change_s; ///< filtered separately before and after (arm and club: impact)
    std::vector<Eigen::Quaterniond> q_lab_segment; ///< filtered; missing frames NaN
    std::vector<Eigen::Vector3d> p_lab_m;          ///< filtered origin; empty without positions
    std::vector<Eigen::Vector3d> omega_lab_rad_s;  ///< angular velocity in lab; empty: unasked
    std::vector<Seen> seen;                        ///< what each frame's orientation rests on
    /// SD of white noise of the raw orientation about the body's axes; about Z NaN without roll,
    /// all NaN: unasked.
    Eigen::Vector3d angle_noise_rad = Eigen::Vector3d::Constant(kMissing);

    double wander_rad = 0.0; ///< how far skin slides under its markers, about any axis
    /// Frames whose curves are wanted: at others they are missing.
    FrameRange wanted{0, std::numeric_limits<std::size_t>::max()};

    std::size_t size() const { return q_lab_segment.size(); }
    FrameRange frames() const {
        return {std::min(wanted.begin, size()), std::min(wanted.end, size())};
    }
    double time_of_last() const {
        return size() == 0 ? 0.0 : static_cast<double>(size() - 1) / rate_hz;
    }
    /// Unit long axis (Z, proximal) at a frame, in the lab.
    Eigen::Vector3d long_axis(std::size_t frame) const {
        // Third column of the rotation matrix, without the rest of it.
        const Eigen::Quaterniond& q = q_lab_segment[frame];
        return {2.0 * (q.x() * q.z() + q.w() * q.y()), 2.0 * (q.y() * q.z() - q.w() * q.x()),
                1.0 - 2.0 * (q.x() * q.x() + q.y() * q.y())};
    }
    /// SD of the raw orientation about an axis across the long axis.
    double noise_across_rad() const;
    /// SD of the raw orientation about an axis given in the lab, as the body stands at a frame.
    double noise_about_rad(const Eigen::Vector3d& axis_lab, std::size_t frame) const;
    /// ω without the roll about the long axis.
    Eigen::Vector3d omega_without_roll(std::size_t frame) const {
        const Eigen::Vector3d axis = long_axis(frame);
        const Eigen::Vector3d& omega = omega_lab_rad_s[frame];
        return omega - omega.dot(axis) * axis;
    }
};

/// Stretches longer than what is bridged in which a part was not seen, the ends of the take
/// included.
std::vector<TimeRange> unseen_stretches(const SegmentMotion& motion);
/// Stretches that were bridged.
std::vector<TimeRange> bridged_stretches(const SegmentMotion& motion);

/// Zero-lag Butterworth on orientation and origin, then angular velocity. `change_s` splits the
/// signal at a sudden change, so that nothing is smeared across it.
SegmentMotion smooth(const PoseSeries& series, double rate_hz, double cutoff_hz,
                     std::optional<double> change_s);

/// The same in parts, for who asks for the orientation alone: `angle_noise_rad` is missing,
/// `omega_lab_rad_s` and `p_lab_m` are empty until they are added.
SegmentMotion smooth_turning(const PoseSeries& series, double rate_hz, double cutoff_hz,
                             std::optional<double> change_s);
void add_noise(const PoseSeries& series, SegmentMotion& motion);
void add_rates(SegmentMotion& motion);
void add_places(const PoseSeries& series, SegmentMotion& motion);

/// Cut-off of one segment by residual analysis of its orientation in a stretch of time.
double choose_cutoff_hz(const PoseSeries& series, double rate_hz, TimeRange stretch,
                        CutoffBounds bounds);

/// Curves of one segment, a value a frame. Degrees, °/s and metres; signs as in docs/frames.md.
struct TrunkAngles {
    Curve turn_deg;
    Curve side_tilt_deg;
    Curve forward_bend_deg;
};
TrunkAngles calc_trunk_angles(const SegmentMotion& motion);

/// |ω ⟂ long axis| in °/s: the turning speed of arm or club without sign.
Curve calc_speed_deg_s(const SegmentMotion& motion);

/// (ω without roll) · n in °/s: the turning speed of arm or club within the plane with normal n.
Curve calc_speed_along_deg_s(const SegmentMotion& motion, const Eigen::Vector3d& normal);

/// The speed whose change of sign is the reversal: of pelvis and torso about their own long axis,
/// of arm and club within the plane with normal n; °/s.
Curve calc_reversing_deg_s(const SegmentMotion& motion, Segment segment,
                           const Eigen::Vector3d& normal);

/// The rotation speed of a sequence segment in the convention, °/s, positive in the downswing
/// direction. `normal` is the swing plane's unit normal.
Curve calc_rate_deg_s(const SegmentMotion& motion, Segment segment, RateConvention convention,
                      const Eigen::Vector3d& normal);

/// Height of the distal direction (-Z): sine of the angle above the horizontal, -1 to +1.
Curve calc_elevation(const SegmentMotion& motion);

/// One coordinate of the segment's origin, metres; empty without positions.
Curve calc_coordinate_m(const SegmentMotion& motion, int axis);

/// Separation in degrees, positive when the torso is more closed than the pelvis; of two
/// orientations, and of two parts along the take.
double separation_of_deg(const Eigen::Quaterniond& q_lab_pelvis,
                         const Eigen::Quaterniond& q_lab_torso, SeparationMethod method);
Curve calc_separation_deg(const SegmentMotion& pelvis, const SegmentMotion& torso,
                          SeparationMethod method);

/// The first frame after a change, which the filter does not look across; empty: before the take.
std::optional<std::size_t> split_frame(std::optional<double> change_s, double rate_hz);

} // namespace kite
