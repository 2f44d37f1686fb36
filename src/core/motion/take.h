#pragma once

#include "core/base/names.h"
#include "core/motion/axes.h"
#include "core/motion/beside.h"
#include "core/motion/gaps.h"

#include <Eigen/Geometry>

#include <map>
#include <memory>
#include <optional>
#include <string>
#include <vector>

namespace kite {

/// Orientation and, where known, origin of one segment in the lab frame, a value a frame.
/// Missing frames are NaN. Segment frames: docs/frames.md.
struct PoseSeries {
    std::vector<Eigen::Quaterniond> q_lab_segment;
    std::vector<Eigen::Vector3d> p_lab_m; ///< empty: this source has no positions
    bool has_roll = true; ///< false: only the direction of the long axis was measured
    /// SD by which skin that slides over bone turns the part slowly, as its markers show by moving
    /// against each other; 0 where nothing shows it.
    double wander_rad = 0.0;
    bool tells_peak = true; ///< false: where the part is fastest it is not told how fast
    /// Gaps up to this long are laid over: film is marked sparsely where little happens.
    double longest_bridge_s = kLongestFilledGap_s;

    bool has_positions() const { return !p_lab_m.empty(); }
};

/// What a take was made from, and so what of it had to be taken as given.
enum class Source { Poses, Markers, Joints, Angles, Rates, Sensors, Film };

/// One recording, at uniform times, as a right-handed swing in the lab frame: x towards the
/// target, z up, y = z × x (away from the ball). Left-handed recordings are mirrored on reading.
/// Times are seconds from the first frame.
struct Take {
    std::string name; ///< for messages: the file's name, without its folder
    double rate_hz = 0.0;
    std::size_t frames = 0;
    Handedness handed = Handedness::Right;
    bool handed_said = false; ///< by the file or the user; else it was taken from the motion
    ClubKind club = ClubKind::Iron;
    bool club_said = false;                  ///< by the file or the user; else an iron stands in
    std::optional<double> arm_length_m;      ///< shoulder to wrist centre
    std::optional<double> club_length_m;     ///< grip end to head
    std::optional<double> hip_joint_width_m; ///< between the hip joint centres
    std::optional<double> contact_s;         ///< contact mark, from the first frame
    bool contact_is_picture = false;         ///< the mark is the nearest picture's time
    std::map<Moment, double> told_s;         ///< moments that somebody saw, from the first frame
    std::map<Segment, PoseSeries> segments;
    /// Rotation speeds in °/s, positive in the downswing direction, of a source that gives these
    /// alone (then `segments` is empty). Missing frames NaN.
    std::map<Segment, std::vector<double>> rates_deg_s;
    std::map<BodyPoint, std::vector<Eigen::Vector3d>> points_lab_m;
    std::vector<double> lead_force_n;    ///< vertical; empty when not measured
    std::vector<double> trail_force_n;   ///< vertical; empty when not measured
    bool force_is_share = false;         ///< the two are per cent of an unknown total
    std::optional<LaunchNumbers> launch; ///< of this shot, as measured: never mirrored
    std::optional<LabAxes> file_axes;    ///< of a marker file: how its axes were taken
    Source source = Source::Poses;
    /// The same recording as it may also have been: what had to be taken as given (cameras,
    /// lengths, clocks) drawn anew for each. By how much they differ is part of every uncertainty.
    std::vector<std::shared_ptr<const Take>> also;

    double time_of(std::size_t frame) const { return static_cast<double>(frame) / rate_hz; }
    double duration_s() const { return frames == 0 ? 0.0 : time_of(frames - 1); }
    const PoseSeries* find(Segment segment) const;
};

/// Mirror about the plane through the target line and the vertical: positions y → -y, orientations
/// (w, x, y, z) → (w, -x, y, -z). Its own inverse. Lead and trail need no swapping.
Eigen::Vector3d mirrored(const Eigen::Vector3d& p_lab);
Eigen::Quaterniond mirrored(const Eigen::Quaterniond& q_lab_body);
void mirror_in_place(Take& take);

} // namespace kite
