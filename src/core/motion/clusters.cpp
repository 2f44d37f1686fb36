#include "core/motion/clusters.h"

#include "core/motion/rotation.h"

#include <Eigen/Eigenvalues>
#include <Eigen/SVD>

#include <algorithm>
#include <cmath>
#include <utility>

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
        // Newton's steps square the error: after this one less than 1e-8 rad is left.
        if (w.squaredNorm() < 1e-9)
            return q.toRotationMatrix();
    }
    return std::nullopt;
}

/// Do the markers fix a rotation? About a line of markers it cannot be seen: the second direction
/// must have length.
bool is_spread(const std::vector<Vector3d>& points, const Vector3d& mean) {
    Matrix3d spread = Matrix3d::Zero();
    for (const Vector3d& point : points)
        spread += (point - mean) * (point - mean).transpose();
    Eigen::SelfAdjointEigenSolver<Matrix3d> widths;
    widths.computeDirect(spread, Eigen::EigenvaluesOnly);
    return widths.eigenvalues()(2) > 0.0 &&
           widths.eigenvalues()(1) >= 1e-4 * widths.eigenvalues()(2);
}

Vector3d mean_of(const std::vector<Vector3d>& points) {
    Vector3d sum = Vector3d::Zero();
    for (const Vector3d& point : points)
        sum += point;
    return sum / static_cast<double>(points.size());
}

/// Markers seen in both shapes.
RigidFit fit_seen(const std::vector<Vector3d>& a, const std::vector<Vector3d>& b,
                  const std::optional<Quaterniond>& q_nearby) {
    RigidFit fit;
    const Vector3d mean_a = mean_of(a);
    const Vector3d mean_b = mean_of(b);
    Matrix3d C = Matrix3d::Zero();
    for (std::size_t i = 0; i < a.size(); ++i)
        C += (b[i] - mean_b).lazyProduct((a[i] - mean_a).transpose());
    std::optional<Matrix3d> near;
    if (q_nearby)
        near = best_rotation_near(C, *q_nearby);
    const Matrix3d R = near ? *near : best_rotation(C);
    fit.q_now_reference = Quaterniond(R).normalized();
    fit.t_now_m = mean_b - R * mean_a;
    double sum = 0.0;
    for (std::size_t i = 0; i < a.size(); ++i)
        sum += (R * a[i] + fit.t_now_m - b[i]).squaredNorm();
    fit.residual_rms_m = std::sqrt(sum / static_cast<double>(a.size()));
    fit.ok = true;
    return fit;
}

constexpr std::size_t kFewest = 3;

} // namespace

Cluster::Cluster(std::vector<Eigen::Vector3d> reference_m) : reference_m_(std::move(reference_m)) {
    const bool all = std::all_of(reference_m_.begin(), reference_m_.end(),
                                 [](const Vector3d& p) { return is_finite(p); });
    whole_ =
        all && reference_m_.size() >= kFewest && is_spread(reference_m_, mean_of(reference_m_));
}

RigidFit Cluster::fit(const std::vector<Eigen::Vector3d>& now_m,
                      const std::optional<Eigen::Quaterniond>& q_nearby) const {
    if (whole_ &&
        std::all_of(now_m.begin(), now_m.end(), [](const Vector3d& p) { return is_finite(p); }))
        return fit_seen(reference_m_, now_m, q_nearby);
    std::vector<Vector3d> a;
    std::vector<Vector3d> b;
    for (std::size_t i = 0; i < reference_m_.size(); ++i) {
        if (!is_finite(reference_m_[i]) || !is_finite(now_m[i]))
            continue;
        a.push_back(reference_m_[i]);
        b.push_back(now_m[i]);
    }
    if (a.size() < kFewest || !is_spread(a, mean_of(a)))
        return {};
    return fit_seen(a, b, q_nearby);
}

RigidFit fit_rigid(const std::vector<Eigen::Vector3d>& reference_m,
                   const std::vector<Eigen::Vector3d>& now_m,
                   const std::optional<Eigen::Quaterniond>& q_nearby) {
    return Cluster(reference_m).fit(now_m, q_nearby);
}

} // namespace kite
