#pragma once

#include "core/base/names.h"
#include "simulate/speed_profile.h"

#include <Eigen/Geometry>

#include <array>
#include <cstdint>

namespace kite::simulate {

/// One part's turning, against impact. Times in ms before impact, so a larger number is earlier.
struct PartParameters {
    double reversal_before_ms = 0.0;
    double peak_before_ms = 0.0;
    double peak_deg_s = 0.0;
    double top_deg = 0.0;    ///< about the part's own axis at its reversal, negative = closed, back
    double impact_deg = 0.0; ///< about the part's own axis at impact
    double at_impact_share = 1.0;
    double after_impact_share = 1.0;
    double finish_deg = 90.0;      ///< about the part's own axis in the finish
    double after_gain_share = 0.0; ///< by which it is faster still 22 ms after impact
};

/// Origin of the pelvis against address, metres: sway to the target, depth from the ball, lift up.
struct PelvisPath {
    Eigen::Vector3d arm_level_back_m{-0.02, 0.005, 0.0};
    Eigen::Vector3d top_m{-0.005, 0.015, -0.005};
    Eigen::Vector3d arm_level_down_m{0.07, 0.02, -0.032};
    Eigen::Vector3d impact_m{0.12, 0.025, 0.02};
    Eigen::Vector3d finish_m{0.18, 0.01, 0.05};
};

/// Vertical force under the feet: lead share in per cent and total in body weights.
struct ForceParameters {
    double arm_level_back_pct = 28.0; ///< lowest
    double top_pct = 42.0;
    double arm_level_down_pct = 72.0;
    double impact_pct = 84.0;
    double lightest_bw = 0.82; ///< as the pelvis drops, before lead arm level down
    double heaviest_bw = 1.45; ///< as it rises, 40 ms before impact
    double weight_n = 780.0;
};

/// A whole swing. The defaults are a full swing with an iron by a skilled player. The rates are
/// those of the `axis` convention; pelvis and torso turn about their own bent-forward axes, so the
/// turn seen from above is a little smaller or larger than the angle given here.
struct SwingParameters {
    Handedness handed = Handedness::Right;
    ClubKind club = ClubKind::Iron;
    double rate_hz = 240.0;
    double noise_mm = 0.0; ///< SD a coordinate of every marker
    std::uint32_t seed = 1;

    double lead_in_s = 0.6;    ///< stillness before the takeaway
    double backswing_s = 0.90; ///< takeaway to the club's reversal
    double follow_s = 0.9;     ///< recorded after impact
    PartParameters pelvis{335, 85, 450, -48, 50, 0.74, 1.05, 118};
    PartParameters torso{268, 58, 740, -89, 30, 0.70, 1.15, 140};
    PartParameters lead_arm{285, 45, 1000, -142, 6, 0.70, 0.96, 155};
    /// The club's angle at impact is solved so that the head meets the ball.
    PartParameters club_turn{270, 1, 2150, -203, 0, 1.0, 0.82, 235};
    PelvisPath pelvis_path;
    ForceParameters force;
    double lead_heel_lift_m =
        0.0; ///< of the lead ankle at the top, down again 150 ms before impact

    double pelvis_bend_deg = 20.0;
    double torso_bend_deg = 38.0;
    double torso_side_tilt_impact_deg = -12.0; ///< added by impact; negative: lead side lower
    double spine_lean_top_deg = -4.0;  ///< face-on, at the top; positive: towards the target
    double pelvis_tilt_down_deg = 0.0; ///< lead side up as the lead arm comes level, gone by impact
    double path_deg = 0.0;             ///< by which the club comes from outside in the downswing
    double shallow_deg = 5.0;          ///< the club's plane flattens by this much after the top
    double club_roll_deg = 70.0;       ///< about the shaft, back and down again
    double arm_length_m = 0.62;
    double hip_joint_width_m = 0.17;
    double hip_height_m = 0.92;
    double thigh_m = 0.46;
    double shank_m = 0.46;

    double club_length_m() const;         ///< grip to head, by club
    double plane_inclination_deg() const; ///< of the shaft at address, by club
    PartParameters& part(Segment segment);
    const PartParameters& part(Segment segment) const;
};

/// Exact position and orientation of every segment at any time (right-handed lab frame).
class SwingModel {
public:
    explicit SwingModel(const SwingParameters& parameters);

    struct Pose {
        Eigen::Quaterniond q_lab_segment = Eigen::Quaterniond::Identity();
        Eigen::Vector3d p_lab_m = Eigen::Vector3d::Zero();
    };
    Pose pose(Segment segment, double t_s) const; ///< one of the four parts
    Eigen::Vector3d head_m(double t_s) const;     ///< club head
    Eigen::Vector3d ankle_m(bool lead, double t_s) const;
    Eigen::Vector3d knee_m(bool lead, double t_s) const; ///< bent towards the ball as far as needed
    Eigen::Vector3d hip_m(bool lead, double t_s) const;  ///< hip joint centre
    Eigen::Vector3d trail_shoulder_m(double t_s) const;
    Eigen::Vector3d trail_wrist_m(double t_s) const; ///< below the lead hand on the shaft
    /// Turning speed of one of the four parts about its own axis or in its plane, °/s.
    double rate_deg_s(Segment segment, double t_s) const;
    double lead_force_pct(double t_s) const;
    double total_force_bw(double t_s) const;

    const SwingParameters& parameters() const { return parameters_; }
    double duration_s() const;
    double takeaway_s() const { return parameters_.lead_in_s; }
    double impact_s() const { return impact_s_; }

private:
    Pose trunk(Segment segment, double t_s) const;
    Pose arm(double t_s) const;
    Pose club(double t_s) const;
    Eigen::Vector3d pelvis_origin_m(double t_s) const;

    SwingParameters parameters_;
    double impact_s_ = 0.0;
    std::array<SpeedProfile, 4> profiles_;
    std::array<QuinticCurve, 3> pelvis_shift_m_;
    QuinticCurve lead_force_pct_;
    QuinticCurve total_force_bw_;
};

} // namespace kite::simulate
