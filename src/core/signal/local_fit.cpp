#include "core/signal/local_fit.h"

#include <algorithm>
#include <cmath>

namespace kite {

LocalFit::Coefficients LocalFit::powers_at(double u, Eigen::Index terms) {
    Coefficients out(terms);
    double power = 1.0;
    for (Eigen::Index k = 0; k < terms; ++k) {
        out(k) = power;
        power *= u;
    }
    return out;
}

std::optional<LocalFit> LocalFit::around(const Curve& curve, double t_s, double reach_s,
                                         int degree) {
    if (curve.empty() || !std::isfinite(t_s))
        return std::nullopt;
    const auto& values = curve.values();
    const double rate = curve.rate_hz();
    double low_s = 0.0;
    double high_s = curve.duration_s();
    if (const auto change = curve.change_s()) {
        if (t_s <= *change)
            high_s = std::min(high_s, *change);
        else
            low_s = std::max(low_s, *change);
    }
    auto first = static_cast<std::size_t>(
        std::max(0.0, std::ceil(std::max(low_s, t_s - reach_s) * rate - 1e-9)));
    if (curve.change_s() && t_s > *curve.change_s())
        first = std::max(first, curve.first_after_change());
    const double last = std::floor(std::min(high_s, t_s + reach_s) * rate + 1e-9);
    if (last < static_cast<double>(first) || first >= values.size())
        return std::nullopt;
    FrameRange frames{first, std::min(values.size(), static_cast<std::size_t>(last) + 1)};
    // The run of finite samples about the time itself.
    const auto middle = std::clamp(static_cast<std::size_t>(std::max(0.0, std::round(t_s * rate))),
                                   frames.begin, frames.end - 1);
    if (!std::isfinite(values[middle]))
        return std::nullopt;
    for (std::size_t i = middle; i-- > frames.begin;)
        if (!std::isfinite(values[i])) {
            frames.begin = i + 1;
            break;
        }
    for (std::size_t i = middle; i < frames.end; ++i)
        if (!std::isfinite(values[i])) {
            frames.end = i;
            break;
        }
    if (frames.size() < 3)
        return std::nullopt;

    LocalFit fit;
    fit.frames_ = frames;
    fit.rate_hz_ = rate;
    fit.centre_s_ = t_s;
    fit.reach_s_ = reach_s;
    // The change itself may lie between two frames: the fit is used right up to it.
    const double step_s = 1.0 / rate;
    fit.begin_s_ = std::max({low_s, t_s - reach_s, curve.time_of(frames.begin) - step_s});
    fit.end_s_ = std::min({high_s, t_s + reach_s, curve.time_of(frames.end - 1) + step_s});
    const auto count = static_cast<Eigen::Index>(frames.size());
    const Eigen::Index terms =
        std::min<Eigen::Index>({degree + 1, count > 4 ? count - 1 : 3, kMostTerms});
    fit.first_u_ = (curve.time_of(frames.begin) - t_s) / reach_s;
    fit.step_u_ = step_s / reach_s;
    // design^T design and design^T samples, sample by sample.
    Normal normal = Normal::Zero(terms, terms);
    Coefficients right = Coefficients::Zero(terms);
    for (Eigen::Index i = 0; i < count; ++i) {
        const Coefficients powers =
            powers_at(fit.first_u_ + static_cast<double>(i) * fit.step_u_, terms);
        normal += powers * powers.transpose();
        right += values[frames.begin + static_cast<std::size_t>(i)] * powers;
    }
    fit.normal_.compute(normal);
    fit.coefficients_ = fit.normal_.solve(right);
    return fit;
}

double LocalFit::at(double t_s) const {
    const double u = (t_s - centre_s_) / reach_s_;
    double sum = 0.0;
    for (Eigen::Index k = coefficients_.size(); k-- > 0;)
        sum = sum * u + coefficients_(k);
    return sum;
}

double LocalFit::slope_at(double t_s) const {
    const double u = (t_s - centre_s_) / reach_s_;
    double sum = 0.0;
    for (Eigen::Index k = coefficients_.size(); k-- > 1;)
        sum = sum * u + static_cast<double>(k) * coefficients_(k);
    return sum / reach_s_;
}

double LocalFit::bend_at(double t_s) const {
    const double u = (t_s - centre_s_) / reach_s_;
    double sum = 0.0;
    for (Eigen::Index k = coefficients_.size(); k-- > 2;)
        sum = sum * u + static_cast<double>(k * (k - 1)) * coefficients_(k);
    return sum / (reach_s_ * reach_s_);
}

double LocalFit::find_max_s() const {
    constexpr int kSteps = 64;
    const double step_s = (end_s_ - begin_s_) / kSteps;
    double best_s = begin_s_;
    double best = at(begin_s_);
    for (int i = 1; i <= kSteps; ++i) {
        const double t_s = begin_s_ + step_s * i;
        const double value = at(t_s);
        if (value > best) {
            best = value;
            best_s = t_s;
        }
    }
    // Newton on the slope, kept within a step of the best place.
    double t_s = best_s;
    for (int i = 0; i < 6; ++i) {
        const double bend = bend_at(t_s);
        if (!(bend < 0.0))
            break;
        t_s = std::clamp(t_s - slope_at(t_s) / bend, std::max(begin_s_, best_s - step_s),
                         std::min(end_s_, best_s + step_s));
    }
    return at(t_s) >= best ? t_s : best_s;
}

Eigen::VectorXd LocalFit::weights_of(const Coefficients& by_coefficient) const {
    const Coefficients solved = normal_.solve(by_coefficient);
    Eigen::VectorXd out(static_cast<Eigen::Index>(frames_.size()));
    for (Eigen::Index i = 0; i < out.size(); ++i)
        out(i) = solved.dot(powers_at(first_u_ + static_cast<double>(i) * step_u_, solved.size()));
    return out;
}

Eigen::VectorXd LocalFit::value_weights(double t_s) const {
    return weights_of(powers_at((t_s - centre_s_) / reach_s_, coefficients_.size()));
}

Eigen::VectorXd LocalFit::slope_weights(double t_s) const {
    const Coefficients powers = powers_at((t_s - centre_s_) / reach_s_, coefficients_.size());
    Coefficients by_coefficient = Coefficients::Zero(coefficients_.size());
    for (Eigen::Index k = 1; k < by_coefficient.size(); ++k)
        by_coefficient(k) = static_cast<double>(k) * powers(k - 1) / reach_s_;
    return weights_of(by_coefficient);
}

double crossing_u_s(const Curve& curve, double t_s, double noise) {
    constexpr double kReach_s = 0.04;
    constexpr double kFrameShare = 0.03;
    // Passed unseen: between the two ends, a little better than anywhere.
    constexpr double kUnseenShare = 0.15;
    if (const double hidden_s = curve.unseen_about_s(t_s); hidden_s > 0.0)
        return kUnseenShare * hidden_s;
    double slope = curve.slope_at(t_s);
    if (const auto fit = LocalFit::around(curve, t_s, kReach_s, 2))
        slope = fit->slope_at(t_s);
    return std::hypot(noise / std::abs(slope), kFrameShare / curve.rate_hz());
}

} // namespace kite
