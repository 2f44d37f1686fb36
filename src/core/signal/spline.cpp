#include "core/signal/spline.h"

#include "core/base/units.h"

#include <Eigen/Cholesky>
#include <Eigen/LU>

#include <algorithm>
#include <boost/math/tools/minima.hpp>
#include <cmath>
#include <cstdint>
#include <random>

namespace kite {

using Eigen::Matrix4d;
using Eigen::Vector4d;

namespace {

constexpr std::size_t kFewestSeen = 6;
constexpr double kSettled = 1e-7; ///< relative change of the innovation's variance
constexpr double kDiffuse = 1e9;  ///< variance of a state that nothing is known of, against noise 1

/// Over `f` frames; derivatives are per frame.
Matrix4d transition(double f) {
    Matrix4d F;
    F << 1.0, f, f * f / 2.0, f * f * f / 6.0, //
        0.0, 1.0, f, f * f / 2.0,              //
        0.0, 0.0, 1.0, f,                      //
        0.0, 0.0, 0.0, 1.0;
    return F;
}

/// What white noise of intensity 1 in the fourth derivative adds over `f` frames:
/// Q_ij = f^(7-i-j) / ((3-i)! (3-j)! (7-i-j)).
Matrix4d driven(double f) {
    constexpr std::array<double, 4> kFactorial{6.0, 2.0, 1.0, 1.0}; // (3 - i)!
    Matrix4d Q;
    for (int i = 0; i < 4; ++i)
        for (int j = 0; j < 4; ++j)
            Q(i, j) =
                std::pow(f, 7 - i - j) / (kFactorial[static_cast<std::size_t>(i)] *
                                          kFactorial[static_cast<std::size_t>(j)] * (7 - i - j));
    return Q;
}

/// roughness = (2 π f0 / rate)^8: where the low-pass has its half.
double roughness_of(double cutoff_hz, double rate_hz) {
    return std::pow(2.0 * kPi * cutoff_hz / rate_hz, 8.0);
}

void make_symmetric(Matrix4d& P) {
    P = 0.5 * (P + P.transpose()).eval();
}

/// Lower triangular L with L Lᵀ = P, for a P that rounding may have left slightly indefinite.
Matrix4d root_of(const Matrix4d& P) {
    const Eigen::LDLT<Matrix4d> ldlt(P);
    const Vector4d d = ldlt.vectorD().cwiseMax(0.0).cwiseSqrt();
    Matrix4d L = ldlt.matrixL();
    return ldlt.transpositionsP().transpose() * (L * d.asDiagonal()).eval();
}

/// Standard normal numbers, always the same.
const Eigen::MatrixXd& normal_table() {
    static const Eigen::MatrixXd table = [] {
        constexpr Eigen::Index kRows = 4 * 256;
        Eigen::MatrixXd out(kRows, Spline::kDraws);
        std::mt19937 random(20261125);
        std::normal_distribution<double> normal;
        // In pairs of opposite sign: their mean is exactly the smooth signal.
        for (Eigen::Index i = 0; i < kRows; ++i)
            for (Eigen::Index j = 0; j < Spline::kDraws; j += 2) {
                out(i, j) = normal(random);
                out(i, j + 1) = -out(i, j);
            }
        return out;
    }();
    return table;
}

} // namespace

double SplineState::slope_u() const {
    return std::sqrt(std::max(0.0, P(1, 1)));
}

/// Runs the filter and returns minus twice the logarithm of the likelihood, with the noise at its
/// best value for this roughness (left in noise_sd_).
double Spline::filter(const std::vector<double>& samples, const Options& options, double roughness,
                      bool keep) {
    static const Matrix4d F = transition(1.0);
    static const Matrix4d Q1 = driven(1.0);
    const Matrix4d Q = roughness * Q1;
    Vector4d x = Vector4d::Zero();
    Matrix4d P = kDiffuse * Matrix4d::Identity();
    Matrix4d predicted_P = P;
    // Where the frames come evenly the covariances settle: then they are not computed again.
    Vector4d K = Vector4d::Zero();
    double S = 0.0;
    bool settled = false;
    double log_product = 0.0;
    double product = 1.0;
    double sum_squares = 0.0;
    std::size_t used = 0;
    auto loose = options.loose_steps.begin();
    for (std::size_t i = 0; i < frames_.size(); ++i) {
        if (i > 0) {
            // x = F x, by sums.
            x = Vector4d(x(0) + x(1) + x(2) / 2.0 + x(3) / 6.0, x(1) + x(2) + x(3) / 2.0,
                         x(2) + x(3), x(3));
            while (loose != options.loose_steps.end() && loose->first < frames_.begin + i)
                ++loose;
            const bool is_loose =
                loose != options.loose_steps.end() && loose->first == frames_.begin + i;
            const double z = samples[frames_.begin + i];
            settled = settled && !is_loose && std::isfinite(z);
            if (!settled) {
                predicted_P.noalias() = F.lazyProduct(P).lazyProduct(F.transpose());
                predicted_P += Q;
                if (is_loose)
                    predicted_P(0, 0) += loose->second;
            }
        }
        if (keep) {
            nodes_[i].predicted_x = x;
            nodes_[i].predicted_P = predicted_P;
            nodes_[i].settled = settled;
        }
        const double z = samples[frames_.begin + i] - centre_;
        if (std::isfinite(z)) {
            if (!settled) {
                const double last = S;
                const Vector4d PH = predicted_P.col(0);
                S = PH(0) + 1.0;
                K = PH / S;
                P.noalias() = predicted_P - K * PH.transpose();
                make_symmetric(P);
                settled = used > 8 && std::abs(S - last) < kSettled * S;
            }
            const double off = z - x(0);
            x += K * off;
            // The first four only say where the signal begins.
            if (++used > 4) {
                product *= S;
                if (product > 1e100) {
                    log_product += std::log(product);
                    product = 1.0;
                }
                sum_squares += off * off / S;
            }
        } else {
            P = predicted_P;
            S = 0.0;
        }
        if (keep) {
            nodes_[i].filtered_x = x;
            nodes_[i].filtered_P = P;
        }
    }
    const auto n = static_cast<double>(used - 4);
    const double variance = sum_squares / n;
    noise_sd_ = std::sqrt(variance);
    return n * std::log(std::max(variance, 1e-300)) + log_product + std::log(product);
}

void Spline::smooth() {
    static const Matrix4d F = transition(1.0);
    nodes_.back().smooth_x = nodes_.back().filtered_x;
    nodes_.back().smooth_P = nodes_.back().filtered_P;
    for (std::size_t i = nodes_.size() - 1; i-- > 0;) {
        Node& node = nodes_[i];
        const Node& next = nodes_[i + 1];
        // In a settled stretch every step back is the same.
        if (node.settled && next.settled && i + 2 < nodes_.size() && nodes_[i + 2].settled)
            node.gain = next.gain;
        else
            node.gain = next.predicted_P.ldlt().solve(F * node.filtered_P).transpose();
        const Matrix4d& C = node.gain;
        node.smooth_x = node.filtered_x + C * (next.smooth_x - next.predicted_x);
        const Matrix4d change = next.smooth_P - next.predicted_P;
        node.smooth_P.noalias() = C.lazyProduct(change).lazyProduct(C.transpose());
        node.smooth_P += node.filtered_P;
        make_symmetric(node.smooth_P);
    }
}

std::optional<Spline> Spline::fit(const std::vector<double>& samples, double rate_hz,
                                  const Options& options) {
    Spline out;
    out.frames_ = {options.frames.begin, std::min(options.frames.end, samples.size())};
    out.rate_hz_ = rate_hz;
    double sum = 0.0;
    for (std::size_t i = out.frames_.begin; i < out.frames_.end; ++i)
        if (std::isfinite(samples[i])) {
            if (out.seen_ == 0)
                out.first_seen_ = i;
            out.last_seen_ = i;
            ++out.seen_;
            sum += samples[i];
        }
    if (out.seen_ < kFewestSeen)
        return std::nullopt;
    // What lies before the first and after the last seen frame tells nothing.
    out.frames_ = {out.first_seen_, options.to_the_end ? out.frames_.end : out.last_seen_ + 1};
    out.centre_ = sum / static_cast<double>(out.seen_);
    out.nodes_.resize(out.frames_.size());

    if (options.cutoff_hz) {
        out.cutoff_hz_ = *options.cutoff_hz;
    } else {
        // The most likely half-power frequency, given what is usual; by its logarithm.
        const double low = std::log(0.25 * options.smoothness.usual_hz);
        const double high = std::log(std::min(8.0 * options.smoothness.usual_hz, 1.2 * rate_hz));
        const auto unlikely = [&](double log_hz) {
            const double off =
                (log_hz - std::log(options.smoothness.usual_hz)) / options.smoothness.log_sd;
            return out.filter(samples, options, roughness_of(std::exp(log_hz), rate_hz), false) +
                   off * off;
        };
        constexpr int kSteps = 5;
        double best = low;
        double best_value = std::numeric_limits<double>::infinity();
        const double step = (high - low) / kSteps;
        for (int k = 0; k <= kSteps; ++k)
            if (const double value = unlikely(low + step * k); value < best_value) {
                best_value = value;
                best = low + step * k;
            }
        // To a hundredth of the frequency is more than the data tell.
        constexpr int kBits = 8;
        std::uintmax_t most_calls = 6;
        const auto [log_hz, least] = boost::math::tools::brent_find_minima(
            unlikely, std::max(low, best - step), std::min(high, best + step), kBits, most_calls);
        out.cutoff_hz_ = std::exp(log_hz);
        // How sharply: -2 log L grows by 1 within one standard deviation.
        constexpr double kAside = 0.2;
        const double bend = (unlikely(log_hz - kAside) + unlikely(log_hz + kAside) - 2.0 * least) /
                            (kAside * kAside);
        constexpr double kMost = 0.5;
        out.log_cutoff_sd_ = bend > 0.0 ? std::min(kMost, std::sqrt(2.0 / bend)) : kMost;
    }
    out.roughness_ = roughness_of(out.cutoff_hz_, rate_hz);
    out.filter(samples, options, out.roughness_, true);
    out.smooth();
    return out;
}

double Spline::begin_s() const {
    return (static_cast<double>(first_seen_) - 1.0) / rate_hz_;
}
double Spline::end_s() const {
    return (static_cast<double>(last_seen_) + 1.0) / rate_hz_;
}

SplineState Spline::in_units(double t_s, const Vector4d& x, const Matrix4d& P) const {
    SplineState out;
    out.t_s = t_s;
    const Vector4d scale(1.0, rate_hz_, rate_hz_ * rate_hz_, rate_hz_ * rate_hz_ * rate_hz_);
    out.x = scale.cwiseProduct(x);
    out.x(0) += centre_;
    out.P = noise_sd_ * noise_sd_ * (scale.asDiagonal() * P * scale.asDiagonal());
    return out;
}

SplineState Spline::at(double t_s) const {
    const double u = t_s * rate_hz_ - static_cast<double>(frames_.begin);
    const auto last = static_cast<double>(nodes_.size() - 1);
    if (u >= last) {
        const Matrix4d F = transition(u - last);
        return in_units(t_s, F * nodes_.back().smooth_x,
                        F * nodes_.back().smooth_P * F.transpose() + roughness_ * driven(u - last));
    }
    if (u <= 0.0) {
        const Matrix4d F = transition(u);
        Matrix4d P = F * nodes_.front().smooth_P * F.transpose();
        // Backwards the driving noise adds as much, with the signs of odd derivatives turned.
        Matrix4d Q = roughness_ * driven(-u);
        for (int i = 0; i < 4; ++i)
            for (int j = 0; j < 4; ++j)
                if ((i + j) % 2 != 0)
                    Q(i, j) = -Q(i, j);
        return in_units(t_s, F * nodes_.front().smooth_x, P + Q);
    }
    const auto i = std::min(static_cast<std::size_t>(u), nodes_.size() - 2);
    const double f = u - static_cast<double>(i);
    const Node& node = nodes_[i];
    const Node& next = nodes_[i + 1];
    if (f < 1e-9)
        return in_units(t_s, node.smooth_x, node.smooth_P);
    const Matrix4d to = transition(f);
    const Vector4d x = to * node.filtered_x;
    const Matrix4d P = to * node.filtered_P * to.transpose() + roughness_ * driven(f);
    const Matrix4d on = transition(1.0 - f);
    const Matrix4d C = next.predicted_P.ldlt().solve(on * P).transpose();
    return in_units(t_s, x + C * (next.smooth_x - next.predicted_x),
                    P + C * (next.smooth_P - next.predicted_P) * C.transpose());
}

Spline::Draws Spline::draw(FrameRange range, int derivative, int count) const {
    Draws out;
    out.frames = {std::max(range.begin, frames_.begin), std::min(range.end, frames_.end)};
    if (out.frames.empty()) {
        out.frames = {};
        return out;
    }
    const auto rows = static_cast<Eigen::Index>(out.frames.size());
    out.level.resize(rows, count);
    out.change.resize(rows, count);
    const Eigen::MatrixXd& normal = normal_table();
    using Columns = Eigen::Matrix<double, 4, Eigen::Dynamic, 0, 4, kDraws>;
    const auto noise_at = [&](std::size_t i) -> Columns {
        const auto row =
            static_cast<Eigen::Index>((4 * i) % static_cast<std::size_t>(normal.rows()));
        return normal.block(row, 0, 4, count);
    };
    const std::size_t last = out.frames.end - 1 - frames_.begin;
    const std::size_t first = out.frames.begin - frames_.begin;
    const double level_unit = std::pow(rate_hz_, derivative);
    // The last one from what is known there, each before it given the one after.
    Columns x = noise_sd_ * (root_of(nodes_[last].smooth_P) * noise_at(last));
    Columns next_x(4, count);
    // Along even frames what a draw may still do from one to the next settles.
    Matrix4d left;
    Matrix4d root;
    x.colwise() += nodes_[last].smooth_x;
    for (std::size_t i = last + 1; i-- > first;) {
        if (i < last) {
            const Node& node = nodes_[i];
            const Node& next = nodes_[i + 1];
            const Matrix4d& C = node.gain;
            if (i + 1 == last || C != next.gain) {
                left = node.filtered_P - C * next.predicted_P * C.transpose();
                make_symmetric(left);
                root = noise_sd_ * root_of(left);
            }
            x.colwise() -= next.predicted_x;
            next_x.noalias() = C.lazyProduct(x);
            next_x.noalias() += root.lazyProduct(noise_at(i));
            x = next_x.colwise() + node.filtered_x;
        }
        const auto row = static_cast<Eigen::Index>(i - first);
        out.level.row(row) = level_unit * x.row(derivative).array();
        out.change.row(row) = rate_hz_ * level_unit * x.row(derivative + 1).array();
    }
    if (derivative == 0)
        out.level += centre_;
    return out;
}

double Spline::sd(std::size_t frame, int derivative) const {
    const double variance = nodes_[frame - frames_.begin].smooth_P(derivative, derivative);
    return noise_sd_ * std::pow(rate_hz_, derivative) * std::sqrt(std::max(0.0, variance));
}

Spline::Draws Spline::mean(FrameRange range, int derivative) const {
    Draws out;
    out.frames = {std::max(range.begin, frames_.begin), std::min(range.end, frames_.end)};
    if (out.frames.empty()) {
        out.frames = {};
        return out;
    }
    const auto rows = static_cast<Eigen::Index>(out.frames.size());
    out.level.resize(rows, 1);
    out.change.resize(rows, 1);
    const double level_unit = std::pow(rate_hz_, derivative);
    for (Eigen::Index row = 0; row < rows; ++row) {
        const Vector4d& x =
            nodes_[out.frames.begin - frames_.begin + static_cast<std::size_t>(row)].smooth_x;
        out.level(row, 0) = level_unit * x(derivative) + (derivative == 0 ? centre_ : 0.0);
        out.change(row, 0) = rate_hz_ * level_unit * x(derivative + 1);
    }
    return out;
}

} // namespace kite
