#include "core/motion/clusters.h"

#include <Eigen/Eigenvalues>
#include <Eigen/SVD>

#include <cmath>

namespace kite {

RigidFit fit_rigid(const std::vector<Eigen::Vector3d>& reference_m,
                   const std::vector<Eigen::Vector3d>& now_m) {
    using Eigen::Matrix3d;
    using Eigen::Vector3d;
    RigidFit fit;
    Vector3d mean_a = Vector3d::Zero();
    Vector3d mean_b = Vector3d::Zero();
    int seen = 0;
    const auto both = [&](std::size_t i) {
        return reference_m[i].allFinite() && now_m[i].allFinite();
    };
    for (std::size_t i = 0; i < reference_m.size(); ++i) {
        if (!both(i))
            continue;
        mean_a += reference_m[i];
        mean_b += now_m[i];
        ++seen;
    }
    if (seen < 3)
        return fit;
    mean_a /= seen;
    mean_b /= seen;
    Matrix3d C = Matrix3d::Zero();
    Matrix3d spread = Matrix3d::Zero();
    for (std::size_t i = 0; i < reference_m.size(); ++i) {
        if (!both(i))
            continue;
        C += (now_m[i] - mean_b) * (reference_m[i] - mean_a).transpose();
        spread += (reference_m[i] - mean_a) * (reference_m[i] - mean_a).transpose();
    }
    // The rotation about a line of markers cannot be seen: the second direction must have length.
    Eigen::SelfAdjointEigenSolver<Matrix3d> widths;
    widths.computeDirect(spread, Eigen::EigenvaluesOnly);
    if (!(widths.eigenvalues()(2) > 0.0) ||
        widths.eigenvalues()(1) < 1e-4 * widths.eigenvalues()(2))
        return fit;
    const Eigen::JacobiSVD<Matrix3d> svd(C, Eigen::ComputeFullU | Eigen::ComputeFullV);
    const double sign =
        (svd.matrixU() * svd.matrixV().transpose()).determinant() < 0.0 ? -1.0 : 1.0;
    const Matrix3d R =
        svd.matrixU() * Vector3d(1.0, 1.0, sign).asDiagonal() * svd.matrixV().transpose();
    fit.q_now_reference = Eigen::Quaterniond(R).normalized();
    fit.t_now_m = mean_b - R * mean_a;
    double sum = 0.0;
    for (std::size_t i = 0; i < reference_m.size(); ++i)
        if (both(i))
            sum += (R * reference_m[i] + fit.t_now_m - now_m[i]).squaredNorm();
    fit.residual_rms_m = std::sqrt(sum / seen);
    fit.ok = true;
    return fit;
}

} // namespace kite
