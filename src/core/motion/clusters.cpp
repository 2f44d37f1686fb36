#include "core/motion/clusters.h"

#include "core/motion/rotation.h"

#include <Eigen/Eigenvalues>

#include <algorithm>
#include <array>
#include <cmath>
#include <cstring>
#include <utility>

namespace kite {

namespace {

using Eigen::Matrix3d;
using Eigen::Quaterniond;
using Eigen::Vector3d;

/// Numbers of four frames beside each other: to compute with, within one function, and to hand
/// over. How the first kind lies in memory hangs on the machine that a function is compiled for.
using Four = double __attribute__((vector_size(32)));
constexpr std::size_t kLanes = 4;
using Lanes = std::array<double, kLanes>;

/// A fit of four frames: everything by frames.
struct FourFits {
    std::array<Lanes, 4> q_now_reference; ///< w, x, y, z; its first component is not negative
    std::array<Lanes, 3> t_now_m;
    Lanes residual_rms_m;
    Lanes sureness; ///< not above nought: two rotations fit alike
};

template <std::size_t N>
using FourMatrix = std::array<std::array<Four, N>, N>;
using FourVector = std::array<Four, 4>;

// What `fit_four` is made of: always part of it, so that it is compiled as that is.

[[gnu::always_inline]] inline bool any(const Four& one_where_so) {
    return one_where_so[0] + one_where_so[1] + one_where_so[2] + one_where_so[3] > 0.0;
}

/// The vector across three rows, in four dimensions.
[[gnu::always_inline]] inline void across(const FourMatrix<4>& N, std::size_t u, std::size_t v,
                                          std::size_t w, FourVector& out) {
    const Four m01 = N[v][0] * N[w][1] - N[v][1] * N[w][0];
    const Four m02 = N[v][0] * N[w][2] - N[v][2] * N[w][0];
    const Four m03 = N[v][0] * N[w][3] - N[v][3] * N[w][0];
    const Four m12 = N[v][1] * N[w][2] - N[v][2] * N[w][1];
    const Four m13 = N[v][1] * N[w][3] - N[v][3] * N[w][1];
    const Four m23 = N[v][2] * N[w][3] - N[v][3] * N[w][2];
    out[0] = N[u][1] * m23 - N[u][2] * m13 + N[u][3] * m12;
    out[1] = N[u][2] * m03 - N[u][0] * m23 - N[u][3] * m02;
    out[2] = N[u][0] * m13 - N[u][1] * m03 + N[u][3] * m01;
    out[3] = N[u][1] * m02 - N[u][0] * m12 - N[u][2] * m01;
}

/// The greatest eigenvalue of N, from above by Newton's steps, and the slope of its polynomial
/// λ⁴ + c2 λ² + c1 λ + c0 there, whose roots are all real.
[[gnu::always_inline]] inline void find_greatest(const FourMatrix<3>& C, const FourMatrix<4>& N,
                                                 Four& l, Four& slope) {
    FourVector v{};
    across(N, 1, 2, 3, v);
    const Four c0 = N[0][0] * v[0] + N[0][1] * v[1] + N[0][2] * v[2] + N[0][3] * v[3];
    const Four c1 = -8.0 * (C[0][0] * (C[1][1] * C[2][2] - C[1][2] * C[2][1]) -
                            C[0][1] * (C[1][0] * C[2][2] - C[1][2] * C[2][0]) +
                            C[0][2] * (C[1][0] * C[2][1] - C[1][1] * C[2][0]));
    Four c2{};
    for (const auto& row : C)
        for (const Four& entry : row)
            c2 -= 2.0 * entry * entry;
    constexpr int kMostSteps = 60;
    slope = (4.0 * l * l + 2.0 * c2) * l + c1;
    for (int step = 0; step < kMostSteps; ++step) {
        const Four down = slope > 0.0 ? (((l * l + c2) * l + c1) * l + c0) / slope : 0.0 * l;
        l -= down;
        slope = (4.0 * l * l + 2.0 * c2) * l + c1;
        // The next would be by the square of that.
        if (!any(down * down > 1e-18 * l * l ? 1.0 + 0.0 * l : 0.0 * l))
            break;
    }
}

/// The vector that N, its eigenvalue taken off, makes nothing of: what lies across three of its
/// rows. Its length is the polynomial's slope times the component of the row left out, of which one
/// is 1/2 at least.
[[gnu::always_inline]] inline void find_vector(const FourMatrix<4>& N, const Four& slope,
                                               FourVector& q, Four& size_2) {
    const Four least = 0.16 * slope * slope;
    for (std::size_t left_out = 0; left_out < 4; ++left_out) {
        FourVector v{};
        across(N, (left_out + 1) % 4, (left_out + 2) % 4, (left_out + 3) % 4, v);
        const Four v_2 = v[0] * v[0] + v[1] * v[1] + v[2] * v[2] + v[3] * v[3];
        for (std::size_t i = 0; i < 4; ++i)
            q[i] = v_2 > size_2 ? v[i] : q[i];
        size_2 = v_2 > size_2 ? v_2 : size_2;
        if (!any(size_2 < least ? 1.0 + 0.0 * size_2 : 0.0 * size_2))
            break;
    }
}

[[gnu::always_inline]] inline void set_matrix_of(const FourVector& q, FourMatrix<3>& R) {
    const Four& w = q[0];
    const Four& x = q[1];
    const Four& y = q[2];
    const Four& z = q[3];
    R[0] = {1.0 - 2.0 * (y * y + z * z), 2.0 * (x * y - w * z), 2.0 * (x * z + w * y)};
    R[1] = {2.0 * (x * y + w * z), 1.0 - 2.0 * (x * x + z * z), 2.0 * (y * z - w * x)};
    R[2] = {2.0 * (x * z - w * y), 2.0 * (y * z + w * x), 1.0 - 2.0 * (x * x + y * y)};
}

[[gnu::always_inline]] inline void load(const Lanes& lanes, Four& out) {
    std::memcpy(&out, lanes.data(), sizeof out);
}
[[gnu::always_inline]] inline void store(const Four& value, Lanes& out) {
    std::memcpy(out.data(), &value, sizeof value);
}

/// The rotations that make tr(R^T C) greatest: marker by marker the least squares. The quaternion
/// of each is the eigenvector of the greatest eigenvalue of N (Horn 1987; Theobald 2005).
///
/// `from` without its middle, `to` as coordinates of every marker by frames. Written for four
/// frames so that the processor can do them at once, and compiled twice, for machines with and
/// without registers for four numbers: with the same products and sums in the same order, so that
/// the numbers are the same everywhere.
#if defined(__x86_64__) && defined(__GNUC__)
__attribute__((target_clones("avx", "default")))
#endif
void fit_four(const std::vector<Vector3d>& from, const Vector3d& middle_from,
              const std::vector<std::array<Lanes, 3>>& to, FourFits& out) {
    const auto coordinate = [&](std::size_t marker, std::size_t axis) {
        return from[marker](static_cast<Eigen::Index>(axis));
    };
    const double one_over_count = 1.0 / static_cast<double>(from.size());
    std::array<Four, 3> middle{};
    for (std::size_t marker = 0; marker < from.size(); ++marker)
        for (std::size_t axis = 0; axis < 3; ++axis) {
            Four place;
            load(to[marker][axis], place);
            middle[axis] += one_over_count * place;
        }
    FourMatrix<3> C{};
    Four squares{};
    for (std::size_t marker = 0; marker < from.size(); ++marker)
        for (std::size_t row = 0; row < 3; ++row) {
            Four p;
            load(to[marker][row], p);
            p -= middle[row];
            squares += p * p + coordinate(marker, row) * coordinate(marker, row);
            for (std::size_t column = 0; column < 3; ++column)
                C[row][column] += coordinate(marker, column) * p;
        }
    FourMatrix<4> N{};
    N[0] = {C[0][0] + C[1][1] + C[2][2], C[2][1] - C[1][2], C[0][2] - C[2][0], C[1][0] - C[0][1]};
    N[1] = {N[0][1], C[0][0] - C[1][1] - C[2][2], C[0][1] + C[1][0], C[0][2] + C[2][0]};
    N[2] = {N[0][2], N[1][2], C[1][1] - C[0][0] - C[2][2], C[1][2] + C[2][1]};
    N[3] = {N[0][3], N[1][3], N[2][3], C[2][2] - C[0][0] - C[1][1]};

    // Squared distances are not negative: λ is no more than half the sum of both shapes' squares,
    // and nearly that where the shape was kept.
    constexpr double kAbove = 0.5 * (1.0 + 1e-12); // whatever rounding takes away
    Four l = kAbove * squares;
    Four slope{};
    find_greatest(C, N, l, slope);
    for (std::size_t i = 0; i < 4; ++i)
        N[i][i] -= l;
    FourVector q{};
    Four size_2{};
    find_vector(N, slope, q, size_2);
    // Against the size of the shapes: what was seen at one point has no rotation either.
    constexpr double kLeastSlope = 1e-9;
    store(slope > kLeastSlope * squares * squares * squares ? size_2 : 0.0 * size_2, out.sureness);
    Four length{};
    for (std::size_t lane = 0; lane < kLanes; ++lane)
        length[lane] = std::sqrt(size_2[lane]);
    length = q[0] < 0.0 ? -length : length;
    for (std::size_t i = 0; i < 4; ++i) {
        q[i] /= length;
        store(q[i], out.q_now_reference[i]);
    }

    FourMatrix<3> R{};
    set_matrix_of(q, R);
    Four sum{};
    for (std::size_t marker = 0; marker < from.size(); ++marker)
        for (std::size_t row = 0; row < 3; ++row) {
            Four place;
            load(to[marker][row], place);
            const Four off = R[row][0] * coordinate(marker, 0) + R[row][1] * coordinate(marker, 1) +
                             R[row][2] * coordinate(marker, 2) + middle[row] - place;
            sum += off * off;
        }
    for (std::size_t row = 0; row < 3; ++row)
        store(middle[row] - R[row][0] * middle_from.x() - R[row][1] * middle_from.y() -
                  R[row][2] * middle_from.z(),
              out.t_now_m[row]);
    for (std::size_t lane = 0; lane < kLanes; ++lane)
        out.residual_rms_m[lane] = std::sqrt(one_over_count * sum[lane]);
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

RigidFit fit_in(const FourFits& four, std::size_t lane) {
    RigidFit fit;
    if (!(four.sureness[lane] > 0.0))
        return fit;
    const auto& q = four.q_now_reference;
    fit.q_now_reference = Quaterniond(q[0][lane], q[1][lane], q[2][lane], q[3][lane]);
    const auto& t = four.t_now_m;
    fit.t_now_m = {t[0][lane], t[1][lane], t[2][lane]};
    fit.residual_rms_m = four.residual_rms_m[lane];
    fit.ok = true;
    return fit;
}

/// Markers seen in both shapes; `from` are those of the reference, without their middle.
RigidFit fit_seen(const std::vector<Vector3d>& from, const Vector3d& middle_from,
                  const std::vector<Vector3d>& to) {
    std::vector<std::array<Lanes, 3>> alike(to.size());
    for (std::size_t marker = 0; marker < to.size(); ++marker)
        for (std::size_t axis = 0; axis < 3; ++axis)
            alike[marker][axis].fill(to[marker](static_cast<Eigen::Index>(axis)));
    FourFits four{};
    fit_four(from, middle_from, alike, four);
    return fit_in(four, 0);
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

std::vector<RigidFit>
Cluster::fit_all(const std::vector<const std::vector<Eigen::Vector3d>*>& tracks_m) const {
    const std::size_t frames = tracks_m.empty() ? 0 : tracks_m.front()->size();
    std::vector<RigidFit> out(frames);
    std::vector<std::array<Lanes, 3>> four(tracks_m.size());
    std::vector<Vector3d> now(tracks_m.size());
    FourFits fits{};
    for (std::size_t first = 0; first < frames; first += kLanes) {
        const std::size_t count = std::min(kLanes, frames - first);
        bool whole = !whole_m_.empty() && count == kLanes;
        for (std::size_t marker = 0; marker < four.size() && whole; ++marker)
            for (std::size_t lane = 0; lane < kLanes; ++lane) {
                const Vector3d& p = (*tracks_m[marker])[first + lane];
                whole = whole && is_finite(p);
                for (std::size_t axis = 0; axis < 3; ++axis)
                    four[marker][axis][lane] = p(static_cast<Eigen::Index>(axis));
            }
        if (whole)
            fit_four(whole_m_, middle_m_, four, fits);
        for (std::size_t lane = 0; lane < count; ++lane) {
            if (whole) {
                out[first + lane] = fit_in(fits, lane);
                continue;
            }
            for (std::size_t marker = 0; marker < now.size(); ++marker)
                now[marker] = (*tracks_m[marker])[first + lane];
            out[first + lane] = fit(now);
        }
    }
    return out;
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
