#pragma once

#include <Eigen/Geometry>

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

    /// Least-squares fit: with centred markers A (reference) and B (now), the rotation R that makes
    /// tr(R^T B A^T) greatest (Horn 1987, Theobald 2005). NaN markers are left out.
    RigidFit fit(const std::vector<Eigen::Vector3d>& now_m) const;
    /// The same of every frame of the markers' tracks, all of one length: quicker.
    std::vector<RigidFit>
    fit_all(const std::vector<const std::vector<Eigen::Vector3d>*>& tracks_m) const;

private:
    std::vector<Eigen::Vector3d> reference_m_;
    /// Without their middle, where every marker of the reference is there and they fix a rotation;
    /// else empty.
    std::vector<Eigen::Vector3d> whole_m_;
    Eigen::Vector3d middle_m_ = Eigen::Vector3d::Zero();
};

/// The same for a single frame.
RigidFit fit_rigid(const std::vector<Eigen::Vector3d>& reference_m,
                   const std::vector<Eigen::Vector3d>& now_m);

} // namespace kite
