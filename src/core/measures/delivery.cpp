#include "core/measures/delivery.h"

#include "core/base/units.h"
#include "core/signal/noise.h"

#include <Eigen/Cholesky>

#include <algorithm>
#include <cmath>

namespace kite {

using Eigen::Vector3d;

namespace {

constexpr double kLowPointReach_s = 0.03;
/// A low point further off than this was not seen by an arc so short.
constexpr double kLeastSureLowPoint_cm = 6.0;
constexpr std::size_t kFewestFrames = 5;

/// Coefficients of a parabola y = c0 + c1 x + c2 x², and their covariance from what is left over.
struct Parabola {
    Vector3d c = Vector3d::Constant(kMissing);
    Eigen::Matrix3d cov = Eigen::Matrix3d::Zero();
};

std::optional<Parabola> fit_parabola(const std::vector<double>& x, const std::vector<double>& y) {
    const auto n = static_cast<Eigen::Index>(x.size());
    if (x.size() < kFewestFrames)
        return std::nullopt;
    Eigen::MatrixXd A(n, 3);
    Eigen::VectorXd b(n);
    for (Eigen::Index i = 0; i < n; ++i) {
        const double at = x[static_cast<std::size_t>(i)];
        A.row(i) << 1.0, at, at * at;
        b(i) = y[static_cast<std::size_t>(i)];
    }
    const Eigen::Matrix3d normal = A.transpose() * A;
    const Eigen::LDLT<Eigen::Matrix3d> solver(normal);
    Parabola out;
    out.c = solver.solve(A.transpose() * b);
    const double left = (A * out.c - b).squaredNorm() / static_cast<double>(n - 3);
    out.cov = left * solver.solve(Eigen::Matrix3d::Identity());
    return out;
}

void add_shaft_lean(const SegmentMotion& club, const SwingMoments& moments, Delivery& out) {
    std::vector<double> lean(club.size(), kMissing);
    for (std::size_t i = club.frames().begin; i < club.frames().end; ++i) {
        const Vector3d up = club.long_axis(i);
        lean[i] = deg_from_rad(std::atan2(up.x(), up.z()));
    }
    const Curve curve(std::move(lean), club.rate_hz, club.change_s);
    const auto& impact = *moments[Moment::Impact];
    out.shaft_lean_deg = curve.at(impact.t_s, Curve::Side::Before);
    const double noise_deg =
        deg_from_rad(club.noise_across_rad()) * calc_noise_gain(club.cutoff_hz, club.rate_hz).value;
    out.shaft_lean_u_deg =
        std::hypot(noise_deg, curve.slope_at(impact.t_s, Curve::Side::Before) * impact.u_s);
}

void add_low_point(const std::vector<Vector3d>& head_m, double rate_hz, double impact_s,
                   double impact_u_s, Delivery& out) {
    std::vector<double> t;
    std::vector<double> x;
    std::vector<double> z;
    for (std::size_t i = 0; i < head_m.size(); ++i) {
        const double t_s = static_cast<double>(i) / rate_hz;
        if (t_s < impact_s - kLowPointReach_s - 1e-9 || t_s > impact_s + 1e-9 ||
            !head_m[i].allFinite())
            continue;
        t.push_back(t_s - impact_s);
        x.push_back(head_m[i].x());
        z.push_back(head_m[i].z());
    }
    const auto way = fit_parabola(t, x);
    if (!way)
        return;
    const double at_impact_m = way->c(0);
    for (double& value : x)
        value -= at_impact_m;
    const auto arc = fit_parabola(x, z);
    if (!arc || !(arc->c(2) > 0.0))
        return;
    // Vertex -b / 2c and what its coefficients' uncertainty leaves of it.
    const double low_m = -arc->c(1) / (2.0 * arc->c(2));
    const Vector3d by(0.0, -1.0 / (2.0 * arc->c(2)), -low_m / arc->c(2));
    const double u_m = std::sqrt(std::max(0.0, by.dot(arc->cov * by)) + way->cov(0, 0) +
                                 std::pow(way->c(1) * impact_u_s, 2.0));
    if (!(cm_from_m(u_m) <= kLeastSureLowPoint_cm))
        return;
    out.low_point_cm = cm_from_m(low_m);
    out.low_point_u_cm = cm_from_m(u_m);
}

} // namespace

Delivery calc_delivery(const SegmentMotion* club, const std::vector<Vector3d>& head_m,
                       double rate_hz, const SwingMoments& moments) {
    Delivery out;
    const auto& impact = moments[Moment::Impact];
    if (!impact)
        return out;
    // Where the shaft or the arm itself had to tell impact, it leans as at address by definition.
    const bool by_shaft = moments.impact_source == ImpactSource::Shaft ||
                          moments.impact_source == ImpactSource::Arm ||
                          moments.impact_source == ImpactSource::Peak;
    if (club != nullptr && !by_shaft)
        add_shaft_lean(*club, moments, out);
    add_low_point(head_m, rate_hz, impact->t_s, std::isfinite(impact->u_s) ? impact->u_s : 0.0,
                  out);
    return out;
}

} // namespace kite
