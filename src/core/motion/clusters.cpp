#include "core/motion/clusters.h"

#include "core/motion/rotation.h"

#include <Eigen/Eigenvalues>
#include <Eigen/LU>

#include <algorithm>
#include <cmath>
#include <optional>
#include <utility>

namespace kite {

namespace {

using Eigen::Matrix3d;
using Eigen::Matrix4d;
using Eigen::Quaterniond;
using Eigen::Vector3d;
using Eigen::Vector4d;

/// The vector across three others in four dimensions.
Vector4d across(const Vector4d& u, const Vector4d& v, const Vector4d& w) {
    const auto minor = [&](int i, int j) { return v(i) * w(j) - v(j) * w(i); };
    const double m01 = minor(0, 1);
    const double m02 = minor(0, 2);
    const double m03 = minor(0, 3);
    const double m12 = minor(1, 2);
    const double m13 = minor(1, 3);
    const double m23 = minor(2, 3);
    return {u(1) * m23 - u(2) * m13 + u(3) * m12, -u(0) * m23 + u(2) * m03 - u(3) * m02,
            u(0) * m13 - u(1) * m03 + u(3) * m01, -u(0) * m12 + u(1) * m02 - u(2) * m01};
}

/// The rotation R that makes tr(R^T C) greatest: the marker by marker least squares. Its quaternion
/// is the eigenvector of the greatest eigenvalue of N (Horn 1987), which Newton's steps find from
/// above, from `most` or nearer (Theobald 2005); the other rows of N - λ say the vector. Empty: two
/// eigenvalues are alike.
std::optional<Quaterniond> best_rotation(const Matrix3d& C, double most) {
    Matrix4d N;
    N << C.trace(), C(2, 1) - C(1, 2), C(0, 2) - C(2, 0), C(1, 0) - C(0, 1),    //
        0.0, C(0, 0) - C(1, 1) - C(2, 2), C(0, 1) + C(1, 0), C(2, 0) + C(0, 2), //
        0.0, 0.0, C(1, 1) - C(0, 0) - C(2, 2), C(1, 2) + C(2, 1),               //
        0.0, 0.0, 0.0, C(2, 2) - C(0, 0) - C(1, 1);
    for (int row = 1; row < 4; ++row)
        for (int column = 0; column < row; ++column)
            N(row, column) = N(column, row);
    // λ⁴ + c2 λ² + c1 λ + c0, its roots all real.
    const double c2 = -2.0 * C.squaredNorm();
    const double c1 = -8.0 * C.determinant();
    const double c0 = N.col(0).dot(across(N.col(1), N.col(2), N.col(3)));
    const auto slope_at = [&](double l) { return (4.0 * l * l + 2.0 * c2) * l + c1; };
    // It is the sum of three singular values at most, so no more than √3 times their length.
    double l = std::min(most, std::sqrt(3.0) * C.norm());
    for (int step = 0; step < 60; ++step) {
        const double slope = slope_at(l);
        if (!(slope > 0.0))
            break;
        const double down = (((l * l + c2) * l + c1) * l + c0) / slope;
        l -= down;
        if (std::abs(down) <= 1e-9 * l)
            break; // the next would be by the square of that
    }
    for (int i = 0; i < 4; ++i)
        N(i, i) -= l;
    // Its length is the polynomial's slope times the component left out, of which one is 1/2 at
    // least.
    const double least = 0.4 * slope_at(l);
    for (int i = 0; i < 4; ++i) {
        const Vector4d v = across(N.col((i + 1) % 4), N.col((i + 2) % 4), N.col((i + 3) % 4));
        const double size = v.norm();
        if (size > 0.0 && size >= least) {
            const double by = std::copysign(size, v(0)); // its first component is not negative
            return Quaterniond(v(0) / by, v(1) / by, v(2) / by, v(3) / by);
        }
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

/// Markers seen in both shapes; `from` are those of the reference, without their middle.
RigidFit fit_seen(const std::vector<Vector3d>& from, const Vector3d& middle_from,
                  const std::vector<Vector3d>& to) {
    RigidFit fit;
    // The middle of `to` drops out of C, for the sum of `from` is nothing.
    Matrix3d C = Matrix3d::Zero();
    Vector3d sum_to = Vector3d::Zero();
    for (std::size_t i = 0; i < from.size(); ++i) {
        C += to[i].lazyProduct(from[i].transpose());
        sum_to += to[i];
    }
    const auto count = static_cast<double>(from.size());
    const Vector3d middle_to = sum_to / count;
    // Squared distances are not negative: λ is no more than half the sum of both shapes' squares,
    // and nearly that where the shape was kept.
    double squares = 0.0;
    for (std::size_t i = 0; i < from.size(); ++i)
        squares += from[i].squaredNorm() + (to[i] - middle_to).squaredNorm();
    constexpr double kAbove = 0.5 * (1.0 + 1e-12); // whatever rounding takes away
    const std::optional<Quaterniond> q = best_rotation(C, kAbove * squares);
    if (!q)
        return fit;
    fit.q_now_reference = *q;
    const Matrix3d R = q->toRotationMatrix();
    double sum = 0.0;
    for (std::size_t i = 0; i < from.size(); ++i)
        sum += (R.lazyProduct(from[i]) + middle_to - to[i]).squaredNorm();
    fit.residual_rms_m = std::sqrt(sum / count);
    fit.t_now_m = middle_to - R * middle_from;
    fit.ok = true;
    return fit;
}

std::vector<Vector3d> without(std::vector<Vector3d> points, const Vector3d& middle) {
    for (Vector3d& point : points)
        point -= middle;
    return points;
}

constexpr std::size_t kFewest = 3;

} // namespace

Cluster::Cluster(std::vector<Eigen::Vector3d> reference_m) : reference_m_(std::move(reference_m)) {
    const bool all = std::all_of(reference_m_.begin(), reference_m_.end(),
                                 [](const Vector3d& p) { return is_finite(p); });
    if (!all || reference_m_.size() < kFewest)
        return;
    middle_m_ = mean_of(reference_m_);
    if (is_spread(reference_m_, middle_m_))
        whole_m_ = without(reference_m_, middle_m_);
}

RigidFit Cluster::fit(const std::vector<Eigen::Vector3d>& now_m) const {
    if (!whole_m_.empty() &&
        std::all_of(now_m.begin(), now_m.end(), [](const Vector3d& p) { return is_finite(p); }))
        return fit_seen(whole_m_, middle_m_, now_m);
    std::vector<Vector3d> a;
    std::vector<Vector3d> b;
    for (std::size_t i = 0; i < reference_m_.size(); ++i) {
        if (!is_finite(reference_m_[i]) || !is_finite(now_m[i]))
            continue;
        a.push_back(reference_m_[i]);
        b.push_back(now_m[i]);
    }
    if (a.size() < kFewest)
        return {};
    const Vector3d middle_m = mean_of(a);
    if (!is_spread(a, middle_m))
        return {};
    return fit_seen(without(a, middle_m), middle_m, b);
}

RigidFit fit_rigid(const std::vector<Eigen::Vector3d>& reference_m,
                   const std::vector<Eigen::Vector3d>& now_m) {
    return Cluster(reference_m).fit(now_m);
}

} // namespace kite
