#include "core/signal/spline.h"

#include "core/base/units.h"

#include <Eigen/Cholesky>

#include <algorithm>
#include <cmath>
#include <map>
#include <random>

namespace kite {

using Eigen::Matrix4d;
using Eigen::Vector4d;

namespace {

constexpr std::size_t kFewestSeen = 6;
constexpr double kSettled = 1e-6; ///< relative change of variances from frame to frame
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
    std::array<double, 8> power{1.0};
    for (std::size_t k = 1; k < power.size(); ++k)
        power[k] = f * power[k - 1];
    Matrix4d Q;
    for (std::size_t i = 0; i < 4; ++i)
        for (std::size_t j = 0; j < 4; ++j)
            Q(static_cast<Eigen::Index>(i), static_cast<Eigen::Index>(j)) =
                power[7 - i - j] / (kFactorial[i] * kFactorial[j] * static_cast<double>(7 - i - j));
    return Q;
}

/// roughness = (2 π f0 / rate)^8: where the low-pass has its half.
double roughness_of(double cutoff_hz, double rate_hz) {
    return std::pow(2.0 * kPi * cutoff_hz / rate_hz, 8.0);
}

constexpr double kSixth = 1.0 / 6.0;

/// x = F x over one frame, by sums.
Vector4d carried_over(const Vector4d& x) {
    return {(x(0) + x(1)) + (0.5 * x(2) + kSixth * x(3)), x(1) + (x(2) + 0.5 * x(3)), x(2) + x(3),
            x(3)};
}
/// Columns as Fᵀ mixes them from the right.
Matrix4d mixed(const Matrix4d& P) {
    Matrix4d out;
    out.col(3) = P.col(3);
    out.col(2) = P.col(2) + P.col(3);
    out.col(1) = P.col(1) + P.col(2) + 0.5 * P.col(3);
    out.col(0) = P.col(0) + P.col(1) + 0.5 * P.col(2) + kSixth * P.col(3);
    return out;
}
/// F P Fᵀ for one frame and a symmetric P.
Matrix4d carried_over(const Matrix4d& P) {
    return mixed(mixed(P).transpose());
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
        constexpr Eigen::Index kRows = Eigen::Index{4} * 256;
        Eigen::MatrixXd out(kRows, Spline::kDraws / 2);
        std::mt19937 random(20261125);
        std::normal_distribution<double> normal;
        for (Eigen::Index i = 0; i < kRows; ++i)
            for (Eigen::Index j = 0; j < out.cols(); ++j)
                out(i, j) = normal(random);
        return out;
    }();
    return table;
}

} // namespace

double SplineState::slope_u() const {
    return std::sqrt(std::max(0.0, P(1, 1)));
}

/// What the filter knows without looking at the samples, from frame to frame. Where the frames come
/// evenly it settles: then it is not computed again.
class Spline::Stepper {
public:
    explicit Stepper(double roughness) : Q_(roughness * driven_a_frame()) {
        step_.predicted_P = kDiffuse * Matrix4d::Identity();
    }
    /// On to the next frame (the first call: to the first); `loose` is the variance of a step that
    /// leads there.
    void go_on(bool seen, double loose) {
        is_new_ = !settled_;
        if (!begun_) {
            begun_ = true;
        } else if (!settled_ || !seen || loose > 0.0) {
            is_new_ = true;
            settled_ = false;
            step_.predicted_P = carried_over(step_.filtered_P()) + Q_;
            // Rounding that is not symmetric would grow without end.
            make_symmetric(step_.predicted_P);
            step_.predicted_P(0, 0) += loose;
        }
        if (!is_new_)
            return;
        if (!seen) {
            step_.K.setZero();
            step_.S = 0.0;
            return;
        }
        const double last = step_.S;
        const double last_jerk = jerk_;
        step_.S = step_.predicted_P(0, 0) + 1.0;
        step_.K = step_.predicted_P.col(0) / step_.S;
        jerk_ = step_.predicted_P(3, 3);
        // They settle in waves that are out of step: one alone stands still at every crest.
        settled_ = ++used_ > 8 && std::abs(step_.S - last) < kSettled * step_.S &&
                   std::abs(jerk_ - last_jerk) < kSettled * jerk_;
    }
    const Step& step() const { return step_; }
    bool is_new() const { return is_new_; } ///< another than at the frame before

private:
    static const Matrix4d& driven_a_frame() {
        static const Matrix4d Q = driven(1.0);
        return Q;
    }
    Matrix4d Q_;
    Step step_;
    double jerk_ = 0.0; ///< variance of the third derivative, before the frame is seen
    bool begun_ = false;
    bool settled_ = false;
    bool is_new_ = true;
    int used_ = 0;
};

/// Gains over even frames of which every one was seen. They hang on the roughness alone, and the
/// same few are tried for every curve: they are kept, each thread its own.
class Spline::EvenGains {
public:
    explicit EvenGains(double roughness) : stepper_(roughness) {}

    static EvenGains& of(double roughness) {
        constexpr std::size_t kMost = 256;
        static thread_local std::map<double, EvenGains> kept;
        if (kept.size() >= kMost && kept.count(roughness) == 0)
            kept.clear();
        return kept.try_emplace(roughness, roughness).first->second;
    }
    struct Gain {
        Vector4d carried_K; ///< what a sample is worth a frame on
        double S;
        double one_over_S;
    };
    /// One a frame up to `frames`, or to where they have settled: then the last one goes on.
    const std::vector<Gain>& up_to(std::size_t frames) {
        while (gains_.size() < frames && !settled_) {
            stepper_.go_on(true, 0.0);
            settled_ = !stepper_.is_new();
            if (settled_)
                break;
            const Step& step = stepper_.step();
            gains_.push_back({carried_over(step.K), step.S, 1.0 / step.S});
            // The first four only say where the signal begins.
            log_product_.push_back(
                gains_.size() <= 4 ? 0.0 : log_product_.back() + std::log(gains_.back().S));
        }
        return gains_;
    }
    /// Logarithm of the product of S over the first frames but four.
    double log_product(std::size_t frames) const {
        const std::size_t own = std::min(frames, gains_.size());
        return log_product_[own - 1] +
               static_cast<double>(frames - own) * std::log(gains_.back().S);
    }

private:
    Stepper stepper_;
    std::vector<Gain> gains_;
    std::vector<double> log_product_;
    bool settled_ = false;
};

/// Minus twice the logarithm of the likelihood, with the noise at its best value.
double Spline::minus_log_likelihood(double variance, double log_product, std::size_t used) const {
    return static_cast<double>(used - 4) * std::log(std::max(variance, 1e-300)) + log_product;
}

/// How unlikely the samples are under a roughness.
double Spline::unlikeliness(double roughness) {
    if (!is_even())
        return filter(roughness, false);
    EvenGains& even = EvenGains::of(roughness);
    const auto& gains = even.up_to(frames_.size());
    Vector4d x = Vector4d::Zero();
    double sum_squares = 0.0;
    for (std::size_t i = 0; i < frames_.size(); ++i) {
        const auto& gain = gains[std::min(i, gains.size() - 1)];
        const double off = centred_[i] - x(0);
        if (i >= 4)
            sum_squares += off * off * gain.one_over_S;
        // Carried on and corrected beside each other: neither waits for the other.
        x = carried_over(x) + off * gain.carried_K;
    }
    return minus_log_likelihood(sum_squares / static_cast<double>(seen_ - 4),
                                even.log_product(frames_.size()), seen_);
}

/// Runs the filter and returns minus twice the logarithm of the likelihood, with the noise at its
/// best value for this roughness (left in noise_sd_).
double Spline::filter(double roughness, bool keep) {
    Vector4d x = Vector4d::Zero();
    Stepper stepper(roughness);
    double log_product = 0.0;
    double product = 1.0;
    double sum_squares = 0.0;
    std::size_t used = 0;
    if (keep)
        steps_.reserve(frames_.size());
    for (std::size_t i = 0; i < frames_.size(); ++i) {
        const double z = centred_[i];
        const bool seen = std::isfinite(z);
        if (i > 0)
            x = carried_over(x);
        stepper.go_on(seen, loose_.empty() ? 0.0 : loose_[i]);
        const Step& step = stepper.step();
        const double off = seen ? z - x(0) : 0.0;
        if (keep) {
            if (stepper.is_new())
                steps_.push_back(step);
            nodes_[i].predicted_x = x;
            nodes_[i].off = off;
            nodes_[i].step = steps_.size() - 1;
        }
        if (!seen)
            continue;
        x += off * step.K;
        // The first four only say where the signal begins.
        if (++used > 4) {
            product *= step.S;
            if (product > 1e100) {
                log_product += std::log(product);
                product = 1.0;
            }
            sum_squares += off * off / step.S;
        }
    }
    const double variance = sum_squares / static_cast<double>(used - 4);
    noise_sd_ = std::sqrt(variance);
    return minus_log_likelihood(variance, log_product + std::log(product), used);
}

/// With r gathered backwards the smooth state is x + P r. What the frames after one know of it is
/// what a filter that runs backwards would.
void Spline::smooth() {
    Vector4d r = Vector4d::Zero();
    // Of even frames of which every one was seen, a filter that runs backwards knows what the one
    // that runs forwards does.
    const bool even = is_even();
    back_P_.reserve(even ? steps_.size() : nodes_.size());
    if (even)
        for (const Step& step : steps_)
            back_P_.push_back(step.predicted_P);
    Stepper back(roughness_);
    for (std::size_t i = nodes_.size(); i-- > 0;) {
        Node& node = nodes_[i];
        const Step& step = steps_[node.step];
        // r = Fᵀ r, by sums.
        r = Vector4d(r(0), r(0) + r(1), 0.5 * r(0) + r(1) + r(2),
                     (kSixth * r(0) + 0.5 * r(1)) + (r(2) + r(3)));
        const double pulled = step.K.dot(r);
        node.smooth_x = filtered_x(node) + step.predicted_P * r - step.S * pulled * step.K;
        if (step.S > 0.0)
            r(0) += node.off / step.S - pulled;
        node.pull = r;
        if (even) {
            node.back = std::min(nodes_.size() - 1 - i, back_P_.size() - 1);
            continue;
        }
        back.go_on(step.S > 0.0, loose_.empty() || i + 1 == nodes_.size() ? 0.0 : loose_[i + 1]);
        if (back.is_new())
            back_P_.push_back(back.step().predicted_P);
        node.back = back_P_.size() - 1;
    }
    // Run backwards, odd derivatives have the other sign.
    for (Matrix4d& P : back_P_)
        for (int i = 0; i < 4; ++i)
            for (int j = 1 - i % 2; j < 4; j += 2)
                P(i, j) = -P(i, j);
}

namespace {

/// L⁻¹ P, column by column: for single columns Eigen unrolls it.
Matrix4d divided(const Eigen::LLT<Matrix4d>& root, const Matrix4d& P) {
    Matrix4d out;
    for (Eigen::Index i = 0; i < 4; ++i) {
        Vector4d column = P.col(i);
        root.matrixL().solveInPlace(column);
        out.col(i) = column;
    }
    return out;
}

} // namespace

namespace {

/// What is known from one side and from the other, together: from the better known of the two, so
/// that no large numbers are taken from each other.
struct Together {
    Together(const Matrix4d& before, const Matrix4d& after)
        : better(before.trace() < after.trace() ? before : after), root(before + after) {}

    const Matrix4d& better;
    Eigen::LLT<Matrix4d> root;

    bool can_join() const { return root.info() == Eigen::Success; }
};

} // namespace

/// From the frames up to this one and from those after it.
Matrix4d Spline::smooth_P(std::size_t frame) const {
    const Node& node = nodes_[frame];
    const Matrix4d before = steps_[node.step].filtered_P();
    const Together both(before, back_P_[node.back]);
    if (!both.can_join())
        return both.better;
    const Matrix4d W = divided(both.root, both.better);
    return both.better - W.transpose().lazyProduct(W);
}

/// One element of its diagonal.
double Spline::smooth_variance(std::size_t frame, Eigen::Index element) const {
    const Node& node = nodes_[frame];
    const Matrix4d before = steps_[node.step].filtered_P();
    const Together both(before, back_P_[node.back]);
    if (!both.can_join())
        return both.better(element, element);
    Vector4d column = both.better.col(element);
    both.root.matrixL().solveInPlace(column);
    return both.better(element, element) - column.squaredNorm();
}

/// The most likely half-power frequency, given what is usual, by its logarithm; and how sharply:
/// -2 log L grows by 1 within one standard deviation. Every look is a run of the filter: from the
/// usual one down the hill by octaves, then by parabolas, whose bend is wanted too.
void Spline::choose_cutoff(const Smoothness& smoothness) {
    const double usual = std::log(smoothness.usual_hz);
    const double low = usual - std::log(4.0);
    const double high = std::log(std::min(8.0 * smoothness.usual_hz, 1.2 * rate_hz_));
    const auto unlikely = [&](double log_hz) {
        const double off = (log_hz - usual) / smoothness.log_sd;
        return unlikeliness(roughness_of(std::exp(log_hz), rate_hz_)) + off * off;
    };
    // Values a step below, at and a step above the middle.
    struct Three {
        double middle, step, below, here, above;
        double bend() const { return (below + above - 2.0 * here) / (step * step); }
        /// Of the parabola's vertex from the middle.
        double vertex() const { return (below - above) / (2.0 * step * bend()); }
    };
    const double octave = std::log(2.0);
    Three three{usual, octave, 0.0, unlikely(usual), unlikely(usual + octave)};
    const bool upwards = three.above < three.here;
    three.below = upwards ? three.here : unlikely(usual - octave);
    if (upwards) {
        while (three.above < three.here && three.middle + 2.0 * octave < high + 1e-9) {
            three = {three.middle + octave, octave, three.here, three.above,
                     unlikely(three.middle + 2.0 * octave)};
        }
    } else {
        while (three.below < three.here && three.middle - 2.0 * octave > low - 1e-9) {
            three = {three.middle - octave, octave, unlikely(three.middle - 2.0 * octave),
                     three.below, three.here};
        }
    }
    // On a grid, so that other curves ask for the same.
    constexpr double kAside = 0.2;
    constexpr double kGrid = 0.1;
    constexpr int kMostRounds = 4;
    for (int round = 0; round < kMostRounds; ++round) {
        double to = three.bend() > 0.0 ? three.vertex()
                                       : std::copysign(three.step, three.below - three.above);
        to = std::clamp(to, -three.step, three.step);
        const double middle =
            std::clamp(kGrid * std::round((three.middle + to) / kGrid), low, high);
        three = {middle, kAside, unlikely(middle - kAside), unlikely(middle),
                 unlikely(middle + kAside)};
        if (three.bend() > 0.0 && std::abs(three.vertex()) < 0.5 * kAside)
            break;
    }
    const bool bent = three.bend() > 0.0;
    const double vertex = bent ? std::clamp(three.vertex(), -kAside, kAside) : 0.0;
    cutoff_hz_ = std::exp(std::clamp(three.middle + vertex, low, high));
    constexpr double kMost = 0.5;
    log_cutoff_sd_ = bent ? std::min(kMost, std::sqrt(2.0 / three.bend())) : kMost;
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
    out.centred_.resize(out.frames_.size());
    for (std::size_t i = 0; i < out.frames_.size(); ++i)
        out.centred_[i] = samples[out.frames_.begin + i] - out.centre_;
    for (const auto& [frame, variance] : options.loose_steps)
        if (frame > out.frames_.begin && frame < out.frames_.end) {
            out.loose_.resize(out.frames_.size(), 0.0);
            out.loose_[frame - out.frames_.begin] = variance;
        }

    if (options.cutoff_hz) {
        out.cutoff_hz_ = *options.cutoff_hz;
    } else {
        out.choose_cutoff(options.smoothness);
    }
    out.roughness_ = roughness_of(out.cutoff_hz_, rate_hz);
    out.filter(out.roughness_, true);
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
                        F * smooth_P(nodes_.size() - 1) * F.transpose() +
                            roughness_ * driven(u - last));
    }
    if (u <= 0.0) {
        const Matrix4d F = transition(u);
        Matrix4d P = F * smooth_P(0) * F.transpose();
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
        return in_units(t_s, node.smooth_x, smooth_P(i));
    const Matrix4d to = transition(f);
    const Matrix4d P =
        to * steps_[node.step].filtered_P() * to.transpose() + roughness_ * driven(f);
    const Matrix4d on = transition(1.0 - f);
    const Matrix4d C = P * on.transpose();
    // As beside the next frame: what lies before it, and what it and all after it know.
    const Matrix4d gain = steps_[next.step].predicted_P.ldlt().solve(on * P).transpose();
    return in_units(t_s, to * filtered_x(node) + C * next.pull,
                    P + gain * (smooth_P(i + 1) - steps_[next.step].predicted_P) *
                            gain.transpose());
}

SplineState Spline::mean_at(double t_s) const {
    const double u = t_s * rate_hz_ - static_cast<double>(frames_.begin);
    const auto last = static_cast<double>(nodes_.size() - 1);
    if (u >= last)
        return in_units(t_s, transition(u - last) * nodes_.back().smooth_x, Matrix4d::Zero());
    if (u <= 0.0)
        return in_units(t_s, transition(u) * nodes_.front().smooth_x, Matrix4d::Zero());
    const auto i = std::min(static_cast<std::size_t>(u), nodes_.size() - 2);
    const double f = u - static_cast<double>(i);
    const Node& node = nodes_[i];
    if (f < 1e-9)
        return in_units(t_s, node.smooth_x, Matrix4d::Zero());
    const Matrix4d to = transition(f);
    const Vector4d pull = transition(1.0 - f).transpose() * nodes_[i + 1].pull;
    const Vector4d back = to.transpose() * pull;
    const Step& step = steps_[node.step];
    const Vector4d carried = step.predicted_P * back - step.S * step.K.dot(back) * step.K;
    return in_units(t_s, to * (filtered_x(node) + carried) + roughness_ * (driven(f) * pull),
                    Matrix4d::Zero());
}

Spline::Draws Spline::draw(FrameRange range, int derivative, int count) const {
    Draws out = mean(range, derivative);
    if (out.frames.empty())
        return out;
    const Eigen::Index rows = out.level.rows();
    const Eigen::ArrayXXd smooth_level = out.level.col(0);
    const Eigen::ArrayXXd smooth_change = out.change.col(0);
    out.level.resize(rows, count);
    out.change.resize(rows, count);
    const Eigen::MatrixXd& normal = normal_table();
    // Draws come in pairs of opposite sign about the mean: how far off, once for both.
    const Eigen::Index pairs = count / 2;
    using Columns = Eigen::Matrix<double, 4, Eigen::Dynamic, 0, 4, kDraws / 2>;
    const auto noise_at = [&](std::size_t i) -> Columns {
        const auto row =
            static_cast<Eigen::Index>((4 * i) % static_cast<std::size_t>(normal.rows()));
        return normal.block(row, 0, 4, pairs);
    };
    const std::size_t last = out.frames.end - 1 - frames_.begin;
    const std::size_t first = out.frames.begin - frames_.begin;
    const double level_unit = std::pow(rate_hz_, derivative);
    // The last one from what is known there, each before it given the one after.
    Columns off = noise_sd_ * (root_of(smooth_P(last)) * noise_at(last));
    Columns next_off(4, pairs);
    // Along even frames what the state after says of this one settles, and what is left open.
    static const Matrix4d F = transition(1.0);
    Matrix4d C;
    Matrix4d root;
    for (std::size_t i = last + 1; i-- > first;) {
        if (i < last) {
            const Node& node = nodes_[i];
            const Node& next = nodes_[i + 1];
            if (i + 1 == last || node.step != next.step || next.step != nodes_[i + 2].step) {
                const Matrix4d filtered_P = steps_[node.step].filtered_P();
                const Matrix4d& predicted_P = steps_[next.step].predicted_P;
                C = predicted_P.ldlt().solve(F * filtered_P).transpose();
                Matrix4d left = filtered_P - C * predicted_P * C.transpose();
                make_symmetric(left);
                root = noise_sd_ * root_of(left);
            }
            next_off.noalias() = C.lazyProduct(off);
            next_off.noalias() += root.lazyProduct(noise_at(i));
            off.swap(next_off);
        }
        const auto row = static_cast<Eigen::Index>(i - first);
        for (Eigen::Index pair = 0; pair < pairs; ++pair) {
            const double level = level_unit * off(derivative, pair);
            const double change = rate_hz_ * level_unit * off(derivative + 1, pair);
            out.level(row, 2 * pair) = smooth_level(row, 0) + level;
            out.level(row, 2 * pair + 1) = smooth_level(row, 0) - level;
            out.change(row, 2 * pair) = smooth_change(row, 0) + change;
            out.change(row, 2 * pair + 1) = smooth_change(row, 0) - change;
        }
    }
    return out;
}

std::vector<double> Spline::sd(FrameRange range, int derivative) const {
    std::vector<double> out;
    out.reserve(range.size());
    const double unit = noise_sd_ * std::pow(rate_hz_, derivative);
    for (std::size_t frame = range.begin; frame < range.end; ++frame) {
        const std::size_t i = frame - frames_.begin;
        // Along even frames nothing changes.
        if (!out.empty() && nodes_[i].step == nodes_[i - 1].step &&
            nodes_[i].back == nodes_[i - 1].back)
            out.push_back(out.back());
        else
            out.push_back(unit * std::sqrt(std::max(0.0, smooth_variance(i, derivative))));
    }
    return out;
}

Spline::Draws Spline::mean(FrameRange range, int derivative) const {
    Draws out;
    out.frames = {std::max(range.begin, frames_.begin), std::min(range.end, frames_.end)};
    if (out.frames.empty())
        out.frames = {};
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
