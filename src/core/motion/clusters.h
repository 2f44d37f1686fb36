#pragma once

#include <Eigen/Geometry>

#include <optional>
#include <vector>

namespace kite {

/// Rigid motion that brings a cluster of markers from its reference shape to where it was seen.
struct RigidFit {
    Eigen::Quaterniond q_now_reference = Eigen::Quaterniond::Identity();
    Eigen::Vector3d t_now_m = Eigen::Vector3d::Zero(); ///< p_now = q * p_reference + t
    double residual_rms_m = 0.0; ///< root mean square distance of the markers after the fit
    bool ok = false;             ///< false: fewer than three markers seen, or all on one line
};

/// A cluster of markers in its reference shape, fitted frame by frame.
class Cluster {
public:
    explicit Cluster(std::vector<Eigen::Vector3d> reference_m);

    /// Least-squares fit by singular value decomposition (Söderkvist & Wedin 1993; Arun et al.
    /// 1987): with centred markers A (reference) and B (now), C = B A^T = P Γ Q^T, R = P diag(1, 1,
    /// det(P Q^T)) Q^T. NaN markers are left out. Given a rotation nearby (the frame before), the
    /// same optimum is found from there by Newton's steps, which is quicker.
    RigidFit fit(const std::vector<Eigen::Vector3d>& now_m,
                 const std::optional<Eigen::Quaterniond>& q_nearby = std::nullopt) const;

private:
    std::vector<Eigen::Vector3d> reference_m_;
    bool whole_ = false; ///< every marker of the reference is there, and they fix a rotation
};

/// The same for a single frame.
RigidFit fit_rigid(const std::vector<Eigen::Vector3d>& reference_m,
                   const std::vector<Eigen::Vector3d>& now_m,
                   const std::optional<Eigen::Quaterniond>& q_nearby = std::nullopt);

} // namespace kite
