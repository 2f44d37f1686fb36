#include "core/signal/peak.h"

#include "core/base/units.h"
#include "core/signal/butterworth.h"
#include "core/signal/derivative.h"
#include "core/signal/local_fit.h"

#include <algorithm>
#include <cmath>

namespace kite {

namespace {

constexpr int kRounds = 5;
constexpr double kSettled_s = 2e-5;
/// Share of the frame interval that stays uncertain; sub-frame places are far better than the
/// 1/√12 of a whole frame.
constexpr double kFrameShare = 0.1;
constexpr double kFilterPeriods = 2.5; ///< of the cut-off: reach of the filter's response

/// SD, for raw noise of SD 1, of what the weights make of the fit's samples.
double calc_fit_noise(const LocalFit& fit, const Eigen::VectorXd& weights, const Curve& curve,
                      const CurveNoise& noise) {
    const double rate = curve.rate_hz();
    const FrameRange frames = fit.frames();
    const auto reach =
        static_cast<std::size_t>(std::ceil(2.0 * kFilterPeriods * rate / noise.cutoff_hz));

    // The stretch that was filtered in one piece, as far as the filter reaches, and how its ends
    // were continued.
    FrameRange piece{0, curve.size()};
    End begin_kind = End::Odd;
    End end_kind = End::Odd;
    if (curve.change_s()) {
        const std::size_t cut = curve.first_after_change();
        if (frames.begin < cut) {
            piece.end = std::min(piece.end, cut);
            end_kind = End::Trend;
        } else {
            piece.begin = cut;
            begin_kind = End::Trend;
        }
    }
    if (frames.begin > piece.begin + reach) {
        piece.begin = frames.begin - reach;
        begin_kind = End::Odd;
    }
    if (frames.end + reach < piece.end) {
        piece.end = frames.end + reach;
        end_kind = End::Odd;
    }
    std::vector<double> w(piece.size(), 0.0);
    for (std::size_t i = frames.begin; i < frames.end; ++i)
        w[i - piece.begin] = weights(static_cast<Eigen::Index>(i - frames.begin));
    if (noise.derivatives == 1)
        w = differentiate_transposed(w, rate);
    w = raw_weights_of(w, noise.cutoff_hz, rate, begin_kind, end_kind);
    double variance = 0.0;
    for (double weight : w)
        variance += weight * weight;
    return std::sqrt(variance);
}

double normal_density(double x) {
    return std::exp(-0.5 * x * x) / std::sqrt(2.0 * kPi);
}
double normal_cdf(double x) {
    return 0.5 * std::erfc(-x / std::sqrt(2.0));
}

/// A peak cannot lie beyond the edge, so its place is the vertex or the edge, whichever comes
/// first. Root mean square distance of that from the place found, when the vertex is normal with
/// SD u_s about `beyond_s` past the edge (negative: before it, then that is the place found).
double limited_by_edge(double u_s, double beyond_s) {
    if (!(u_s > 0.0) || !std::isfinite(u_s))
        return u_s;
    const double z = std::abs(beyond_s) / u_s;
    if (beyond_s >= 0.0)
        return u_s *
               std::sqrt(std::max(0.0, (z * z + 1.0) * normal_cdf(-z) - z * normal_density(z)));
    return u_s *
           std::sqrt(std::max(0.0, normal_cdf(z) - z * normal_density(z) + z * z * normal_cdf(-z)));
}

} // namespace

std::optional<Peak> find_peak(const Curve& curve, TimeRange range, const PeakMethod& method,
                              const CurveNoise& noise) {
    const auto rough = curve.find_max(range);
    if (!rough)
        return std::nullopt;
    Peak peak{rough->t_s, std::numeric_limits<double>::quiet_NaN(), rough->value, rough->at_edge};
    std::optional<LocalFit> fit;
    for (int i = 0; i < kRounds; ++i) {
        fit = LocalFit::around(curve, peak.t_s, method.reach_s, method.degree);
        if (!fit)
            break;
        const double low = std::max({range.begin_s, fit->begin_s(), rough->t_s - method.reach_s});
        const double high = std::min({range.end_s, fit->end_s(), rough->t_s + method.reach_s});
        const double last_s = peak.t_s;
        peak.t_s = std::clamp(fit->find_max_s(), low, std::max(low, high));
        peak.value = fit->at(peak.t_s);
        if (std::abs(peak.t_s - last_s) < kSettled_s)
            break;
    }
    if (!fit)
        return peak;
    const auto at_end = [&](double t_s) { return std::abs(peak.t_s - t_s) < 1e-9; };
    peak.at_edge = at_end(range.begin_s) || at_end(range.end_s) ||
                   (curve.change_s() && at_end(*curve.change_s()));
    // The bend of the parabola through the same samples: that of the higher polynomial is noisy.
    double noise_u_s = 0.0;
    if (noise.sd > 0.0) {
        double bend = fit->bend_at(peak.t_s);
        if (const auto parabola = LocalFit::around(curve, peak.t_s, method.reach_s, 2))
            bend = parabola->bend_at(peak.t_s);
        noise_u_s = noise.sd * calc_fit_noise(*fit, fit->slope_weights(peak.t_s), curve, noise) /
                    std::abs(bend);
        if (curve.change_s() && peak.t_s <= *curve.change_s()) {
            const double edge_s = std::min(*curve.change_s(), range.end_s);
            noise_u_s = limited_by_edge(
                noise_u_s, peak.at_edge ? std::max(0.0, fit->slope_at(peak.t_s)) / std::abs(bend)
                                        : peak.t_s - edge_s);
        }
    }
    const double frame_u_s = kFrameShare / curve.rate_hz();
    peak.u_s = std::hypot(std::hypot(noise_u_s, frame_u_s), method.model_u_s);
    return peak;
}

std::optional<Peak> find_peak(const Curve& curve, TimeRange range,
                              const std::vector<PeakMethod>& methods, const CurveNoise& noise) {
    std::optional<Peak> best;
    for (const PeakMethod& method : methods) {
        const auto peak = find_peak(curve, range, method, noise);
        if (peak && (!best || peak->u_s < best->u_s))
            best = peak;
    }
    return best;
}

std::optional<Peak> find_trough(const Curve& curve, TimeRange range, const PeakMethod& method,
                                const CurveNoise& noise) {
    auto peak = find_peak(curve.scaled(-1.0), range, method, noise);
    if (peak)
        peak->value = -peak->value;
    return peak;
}

Crossing refine_crossing(const Curve& curve, double t_s, const PeakMethod& method,
                         const CurveNoise& noise) {
    Crossing out{t_s, std::numeric_limits<double>::quiet_NaN()};
    auto fit = LocalFit::around(curve, t_s, method.reach_s, method.degree);
    if (!fit)
        return out;
    const double farthest_s = 0.25 * method.reach_s;
    for (int i = 0; i < kRounds; ++i) {
        const double slope = fit->slope_at(out.t_s);
        if (!std::isfinite(slope) || slope == 0.0)
            break;
        out.t_s =
            std::clamp(out.t_s - fit->at(out.t_s) / slope, t_s - farthest_s, t_s + farthest_s);
    }
    double noise_u_s = 0.0;
    if (noise.sd > 0.0) {
        double slope = fit->slope_at(out.t_s);
        if (const auto parabola = LocalFit::around(curve, out.t_s, method.reach_s, 2))
            slope = parabola->slope_at(out.t_s);
        noise_u_s = noise.sd * calc_fit_noise(*fit, fit->value_weights(out.t_s), curve, noise) /
                    std::abs(slope);
    }
    out.u_s = std::hypot(std::hypot(noise_u_s, kFrameShare / curve.rate_hz()), method.model_u_s);
    return out;
}

} // namespace kite
