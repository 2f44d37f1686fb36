#include "core/measures/approach.h"

#include "core/base/units.h"

#include <Eigen/QR>

#include <algorithm>
#include <array>
#include <cmath>
#include <limits>
#include <optional>

namespace kite {

using Eigen::MatrixXd;
using Eigen::Vector3d;

namespace {

constexpr double kLongest_s = 0.06;
constexpr int kLowest = 2;
constexpr int kHighest = 5;
/// Rows: attack rad, path rad, low point m. Columns: place, velocity, acceleration at impact.
constexpr std::size_t kQuantities = 3;

/// Place, velocity and acceleration at impact.
struct State {
    Vector3d p = Vector3d::Zero();
    Vector3d v = Vector3d::Zero();
    Vector3d a = Vector3d::Zero();
};

std::array<double, kQuantities> quantities_of(const State& at) {
    const double speed = at.v.norm();
    const Vector3d tangent = at.v / speed;
    const Vector3d across = at.a - at.a.dot(tangent) * tangent;
    const double radius = speed * speed / across.norm();
    const Vector3d normal = across.normalized();
    // Lowest where the tangent has no rise: tan φ = -T_z / N_z.
    const double phi = normal.z() > 0.0 ? std::atan2(-tangent.z(), normal.z()) : kMissing;
    const double low = radius * (std::sin(phi) * tangent.x() + (1.0 - std::cos(phi)) * normal.x());
    return {std::asin(std::clamp(tangent.z(), -1.0, 1.0)), std::atan2(-at.v.y(), at.v.x()),
            low + at.p.x()};
}

/// One polynomial over one stretch.
struct Fit {
    int degree = 0;
    std::size_t frames = 0;
    double rms_m = 0.0; ///< left over, a coordinate
    int freedom = 0;    ///< of all coordinates together
    std::array<double, kQuantities> value{};
    std::array<double, kQuantities> gain{};     ///< standard uncertainty a metre of noise
    std::array<double, kQuantities> a_second{}; ///< change a second of later impact
};

/// `t`: from impact, s, all below 0 and ascending; the last `n` are used.
std::optional<Fit> fit_polynomial(const std::vector<double>& t, const std::vector<Vector3d>& p,
                                  std::size_t n, int degree) {
    const auto rows = static_cast<Eigen::Index>(n);
    const Eigen::Index columns = degree + 1;
    if (rows < columns + 1)
        return std::nullopt;
    const std::size_t from = t.size() - n;
    const double length = -t[from];
    MatrixXd A(rows, columns);
    MatrixXd b(rows, 3);
    for (Eigen::Index i = 0; i < rows; ++i) {
        const std::size_t at = from + static_cast<std::size_t>(i);
        double power = 1.0;
        for (Eigen::Index k = 0; k < columns; ++k, power *= t[at] / length)
            A(i, k) = power;
        b.row(i) = p[at].transpose();
    }
    const Eigen::HouseholderQR<MatrixXd> qr(A);
    const MatrixXd c = qr.solve(b);
    if (!c.allFinite())
        return std::nullopt;
    State state;
    state.p = c.row(0).transpose();
    state.v = c.row(1).transpose() / length;
    state.a = 2.0 * c.row(2).transpose() / (length * length);
    Fit out;
    out.degree = degree;
    out.frames = n;
    out.freedom = 3 * static_cast<int>(rows - columns);
    out.rms_m = std::sqrt((A * c - b).squaredNorm() / std::max(1, out.freedom));
    out.value = quantities_of(state);
    // Covariance of the first three coefficients, the same for every coordinate.
    const MatrixXd R = qr.matrixQR().topRows(columns).triangularView<Eigen::Upper>();
    const MatrixXd inverse =
        R.triangularView<Eigen::Upper>().solve(MatrixXd::Identity(columns, columns));
    const MatrixXd cov = inverse * inverse.transpose();
    const std::array<double, 3> scale{1.0, 1.0 / length, 2.0 / (length * length)};
    Eigen::Matrix3d among;
    for (Eigen::Index i = 0; i < 3; ++i)
        for (Eigen::Index k = 0; k < 3; ++k)
            among(i, k) =
                cov(i, k) * scale[static_cast<std::size_t>(i)] * scale[static_cast<std::size_t>(k)];
    // What each quantity turns by, by small steps of the state.
    std::array<double, kQuantities> variance{};
    for (Eigen::Index axis = 0; axis < 3; ++axis) {
        std::array<std::array<double, kQuantities>, 3> slope{};
        for (std::size_t k = 0; k < 3; ++k) {
            State moved = state;
            Vector3d& part = k == 0 ? moved.p : k == 1 ? moved.v : moved.a;
            const double step = k == 0 ? 1e-4 : 1e-4 * std::max(part.norm(), 1e-3);
            part(axis) += step;
            const auto value = quantities_of(moved);
            for (std::size_t q = 0; q < kQuantities; ++q)
                slope[k][q] = (value[q] - out.value[q]) / step;
        }
        for (std::size_t q = 0; q < kQuantities; ++q) {
            const Vector3d by(slope[0][q], slope[1][q], slope[2][q]);
            variance[q] += by.dot(among * by);
        }
    }
    State later = state;
    constexpr double kStep_s = 1e-5;
    later.p += state.v * kStep_s;
    later.v += state.a * kStep_s;
    const auto then = quantities_of(later);
    for (std::size_t q = 0; q < kQuantities; ++q) {
        out.gain[q] = std::sqrt(std::max(0.0, variance[q]));
        out.a_second[q] = (then[q] - out.value[q]) / kStep_s;
    }
    // The low point is counted from where the point is when the ball is hit.
    out.value[2] -= state.p.x();
    out.a_second[2] -= state.v.x();
    return out;
}

/// What is left over by the longest stretch that a polynomial of high degree still follows as
/// closely as any: the path itself cannot be that.
double noise_of(const std::vector<Fit>& fits) {
    constexpr double kLeast_m = 2e-6;
    constexpr double kAsClosely = 1.5;
    for (const int enough : {12, 6, 3}) {
        double least = std::numeric_limits<double>::infinity();
        const auto tells = [&](const Fit& fit) {
            return fit.degree >= kHighest - 1 && fit.freedom >= enough;
        };
        for (const Fit& fit : fits)
            if (tells(fit))
                least = std::min(least, fit.rms_m);
        const Fit* best = nullptr;
        for (const Fit& fit : fits)
            if (tells(fit) && fit.rms_m <= kAsClosely * least &&
                (best == nullptr || fit.freedom > best->freedom))
                best = &fit;
        if (best != nullptr)
            return std::max(best->rms_m, kLeast_m);
    }
    return kLeast_m;
}

struct Chosen {
    double value = kMissing;
    double u = kMissing;
};

/// `few`: there are too few frames for finer fits.
Chosen choose(const std::vector<Fit>& fits, std::size_t q, double noise_m, double impact_u_s,
              bool few) {
    // Those that noise shakes least first.
    std::vector<const Fit*> order;
    for (const Fit& fit : fits)
        if (std::isfinite(fit.value[q]) && std::isfinite(fit.gain[q]))
            order.push_back(&fit);
    std::sort(order.begin(), order.end(),
              [&](const Fit* a, const Fit* b) { return a->gain[q] < b->gain[q]; });
    if (order.empty())
        return {};
    constexpr double kContradicts = 2.8; // times the noise of both
    std::size_t taken = order.size() - 1;
    for (std::size_t i = 0; i < order.size(); ++i) {
        const bool holds = std::all_of(
            order.begin() + static_cast<std::ptrdiff_t>(i), order.end(), [&](const Fit* finer) {
                return std::abs(finer->value[q] - order[i]->value[q]) <=
                       kContradicts * noise_m * std::hypot(finer->gain[q], order[i]->gain[q]);
            });
        if (holds) {
            taken = i;
            break;
        }
    }
    const Fit& fit = *order[taken];
    // What the next finer ones of another degree still see differently.
    double left = 0.0;
    int looked_at = 0;
    for (std::size_t i = taken + 1; i < order.size() && looked_at < 4; ++i, ++looked_at)
        left = std::max(left, std::abs(order[i]->value[q] - fit.value[q]));
    if (taken + 1 == order.size() && taken > 0)
        left = std::abs(order[taken - 1]->value[q] - fit.value[q]);
    // Chosen among many: what it says of itself is too little by so much (study delivery). Where
    // frames are few there is no finer fit that would know better.
    constexpr double kChosen = 1.05;
    const double of_what_is_left = few ? 1.3 : 0.5;
    return {fit.value[q],
            std::hypot(kChosen * std::hypot(noise_m * fit.gain[q], of_what_is_left * left),
                       fit.a_second[q] * impact_u_s)};
}

} // namespace

Approach fit_approach(const std::vector<Vector3d>& path_m, double rate_hz, double impact_s,
                      double impact_u_s) {
    std::vector<double> t;
    std::vector<Vector3d> p;
    Vector3d origin = Vector3d::Zero();
    for (std::size_t i = 0; i < path_m.size(); ++i) {
        const double t_s = static_cast<double>(i) / rate_hz - impact_s;
        // A frame at impact itself may have felt the blow.
        if (t_s < -kLongest_s || t_s > -0.02 / rate_hz || !path_m[i].allFinite())
            continue;
        if (p.empty())
            origin = path_m[i];
        t.push_back(t_s);
        p.push_back(path_m[i] - origin);
    }
    Approach out;
    constexpr double kCarried_s = 0.01;
    if (t.size() < kLowest + 3 || -t.back() > std::max(kCarried_s, 1.05 / rate_hz))
        return out;
    std::vector<Fit> fits;
    for (int degree = kLowest; degree <= kHighest; ++degree) {
        // Stretches longer by a third each.
        for (double n = degree + 2; n <= static_cast<double>(t.size());
             n = std::max(n + 1.0, std::floor(1.35 * n)))
            if (auto fit = fit_polynomial(t, p, static_cast<std::size_t>(n), degree))
                fits.push_back(*fit);
    }
    const double noise_m = noise_of(fits);
    constexpr std::size_t kFewFrames = 10;
    const bool few = t.size() <= kFewFrames;
    const Chosen attack = choose(fits, 0, noise_m, impact_u_s, few);
    const Chosen path = choose(fits, 1, noise_m, impact_u_s, few);
    const Chosen low = choose(fits, 2, noise_m, impact_u_s, few);
    out.attack_deg = deg_from_rad(attack.value);
    out.attack_u_deg = deg_from_rad(attack.u);
    out.path_deg = deg_from_rad(path.value);
    out.path_u_deg = deg_from_rad(path.u);
    out.low_point_m = low.value;
    out.low_point_u_m = low.u;
    return out;
}

} // namespace kite
