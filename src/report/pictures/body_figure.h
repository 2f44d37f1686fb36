#pragma once

#include "report/pictures/measured_swing.h"

#include <Eigen/Core>

#include <optional>
#include <vector>

namespace kite::report {

/// The golfer as lines at one time, in the lab against the pelvis' place at address (x to the
/// target, y away from the ball, z up, metres above the lowest ankle). What the source does not
/// give is empty. Shoulders are drawn at a fixed width: their direction is what was measured.
struct Figure {
    std::optional<Eigen::Vector3d> lead_hip_m;
    std::optional<Eigen::Vector3d> trail_hip_m;
    std::optional<Eigen::Vector3d> neck_m;
    std::optional<Eigen::Vector3d> lead_shoulder_m;
    std::optional<Eigen::Vector3d> trail_shoulder_m;
    std::optional<Eigen::Vector3d> wrist_m;
    std::optional<Eigen::Vector3d> head_m; ///< of the club
    std::optional<Eigen::Vector3d> lead_knee_m;
    std::optional<Eigen::Vector3d> trail_knee_m;
    std::optional<Eigen::Vector3d> lead_ankle_m;
    std::optional<Eigen::Vector3d> trail_ankle_m;

    bool empty() const { return !lead_hip_m && !lead_shoulder_m && !wrist_m; }
};
Figure calc_figure(const MeasuredSwing& swing, double t_s);

/// Paths from takeaway to just after impact.
struct FigureTraces {
    std::vector<Eigen::Vector3d> lead_hip_m;
    std::vector<Eigen::Vector3d> trail_hip_m;
    std::vector<Eigen::Vector3d> wrist_m;
    std::vector<Eigen::Vector3d> head_m;
};
FigureTraces calc_traces(const MeasuredSwing& swing);

} // namespace kite::report
