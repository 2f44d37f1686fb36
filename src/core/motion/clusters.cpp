#include "core/motion/clusters.h"

#include "core/motion/rotation.h"

#include <Eigen/Eigenvalues>
#include <Eigen/SVD>

#include <cmath>

namespace kite {

namespace {

using Eigen::Matrix3d;
using Eigen::Quaterniond;
using Eigen::Vector3d;

/// The rotation R that makes tr(R^T C) greatest: the marker by marker least squares.
Matrix3d best_rotation(const Matrix3d& C) {
    const Eigen::JacobiSVD<Matrix3d> svd(C, Eigen::ComputeFullU | Eigen::ComputeFullV);
    const double sign =
        (svd.matrixU() * svd.matrixV().transpose()).determinant() < 0.0 ? -1.0 : 1.0;
    return svd.matrixU() * Vector3d(1.0, 1.0, sign).asDiagonal() * svd.matrixV().transpose();
}

/// The same from a start nearby. With M = R^T C, tr(exp([w])^T M) has the gradient
/// g = (M32 - M23, M13 - M31, M21 - M12) and the curvature -(tr S - S), S = (M + M^T) / 2, so
/// Newton's step is w = (tr S - S)^-1 g; at the optimum M is symmetric. Empty: no maximum nearby.
std::optional<Matrix3d> best_rotation_near(const Matrix3d& C, const Quaterniond& start) {
    Quaterniond q = start;
    for (int step = 0; step < 8; ++step) {
        const Matrix3d M = q.toRotationMatrix().transpose() * C;
        const Matrix3d S = 0.5 * (M + M.transpose());
        const Matrix3d H = S.trace() * Matrix3d::Identity() - S;
        // Positive definite, or this is no maximum.
        if (!(H(0, 0) > 0.0 && H.topLeftCorner<2, 2>().determinant() > 0.0 &&
              H.determinant() > 0.0))
            return std::nullopt;
        const Vector3d w =
            H.inverse() * Vector3d(M(2, 1) - M(1, 2), M(0, 2) - M(2, 0), M(1, 0) - M(0, 1));
        if (!(w.squaredNorm() < 0.25))
            return std::nullopt;
        q = (q * Quaterniond(1.0, 0.5 * w.x(), 0.5 * w.y(), 0.5 * w.z())).normalized();
        if (w.squaredNorm() < 1e-20)
            return q.toRotationMatrix();
    }
    return std::nullopt;
}

} // namespace

RigidFit fit_rigid(const std::vector<Eigen::Vector3d>& reference_m,
                   const std::vector<Eigen::Vector3d>& now_m,
                   const std::optional<Eigen::Quaterniond>& q_nearby) {
    RigidFit fit;
    Vector3d mean_a = Vector3d::Zero();
    Vector3d mean_b = Vector3d::Zero();
    int seen = 0;
    const auto both = [&](std::size_t i) {
        return is_finite(reference_m[i]) && is_finite(now_m[i]);
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
    std::optional<Matrix3d> near;
    if (q_nearby)
        near = best_rotation_near(C, *q_nearby);
    const Matrix3d R = near ? *near : best_rotation(C);
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
