#include "core/signal/spline.h"

#include "core/base/units.h"

#include <Eigen/Cholesky>

#include <algorithm>
#include <cmath>
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

/// Columns as Fᵀ mixes them from the right.
Matrix4d mixed(const Matrix4d& P) {
    Matrix4d out;
    out.col(3) = P.col(3);
    out.col(2) = P.col(2) + P.col(3);
    out.col(1) = P.col(1) + P.col(2) + 0.5 * P.col(3);
    out.col(0) = P.col(0) + P.col(1) + 0.5 * P.col(2) + (1.0 / 6.0) * P.col(3);
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

/// Runs the filter and returns minus twice the logarithm of the likelihood, with the noise at its
/// best value for this roughness (left in noise_sd_).
double Spline::filter(double roughness, bool keep) {
    Vector4d x = Vector4d::Zero();
    Stepper stepper(roughness);
    double log_product = 0.0;
    double product = 1.0;
    double sum_squares = 0.0;
    std::size_t used = 0;
    for (std::size_t i = 0; i < frames_.size(); ++i) {
        const double z = centred_[i];
        const bool seen = std::isfinite(z);
        if (i > 0) // x = F x, by sums.
            x = Vector4d(x(0) + x(1) + x(2) / 2.0 + x(3) / 6.0, x(1) + x(2) + x(3) / 2.0,
                         x(2) + x(3), x(3));
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
    const auto n = static_cast<double>(used - 4);
    const double variance = sum_squares / n;
    noise_sd_ = std::sqrt(variance);
    return n * std::log(std::max(variance, 1e-300)) + log_product + std::log(product);
}

/// With r gathered backwards the smooth state is x + P r. What the frames after one know of it is
/// what a filter that runs backwards would.
void Spline::smooth() {
    Vector4d r = Vector4d::Zero();
    Stepper back(roughness_);
    for (std::size_t i = nodes_.size(); i-- > 0;) {
        Node& node = nodes_[i];
        const Step& step = steps_[node.step];
        // r = Fᵀ r, by sums.
        r = Vector4d(r(0), r(0) + r(1), r(0) / 2.0 + r(1) + r(2),
                     r(0) / 6.0 + r(1) / 2.0 + r(2) + r(3));
        node.smooth_x = filtered_x(node) + step.filtered_P() * r;
        if (step.S > 0.0)
            r(0) += node.off / step.S - step.K.dot(r);
        node.pull = r;
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

/// What is known from the frames up to this one, and from those after it, together.
Matrix4d Spline::smooth_P(std::size_t frame) const {
    const Node& node = nodes_[frame];
    const Matrix4d before = steps_[node.step].filtered_P();
    const Matrix4d& after = back_P_[node.back];
    // From the better known of the two, so that no large numbers are taken from each other.
    const Matrix4d& P = before.trace() < after.trace() ? before : after;
    const Eigen::LLT<Matrix4d> root(before + after);
    if (root.info() != Eigen::Success)
        return P;
    const Matrix4d W = divided(root, P);
    return P - W.transpose().lazyProduct(W);
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
        return filter(roughness_of(std::exp(log_hz), rate_hz_), false) + off * off;
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
    constexpr double kAside = 0.2;
    constexpr int kMostRounds = 4;
    for (int round = 0; round < kMostRounds; ++round) {
        double to = three.bend() > 0.0 ? three.vertex()
                                       : std::copysign(three.step, three.below - three.above);
        to = std::clamp(to, -three.step, three.step);
        const double middle = std::clamp(three.middle + to, low, high);
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

Spline::Draws Spline::room_for(FrameRange range, int count) const {
    Draws out;
    out.frames = {std::max(range.begin, frames_.begin), std::min(range.end, frames_.end)};
    if (out.frames.empty())
        out.frames = {};
    const auto rows = static_cast<Eigen::Index>(out.frames.size());
    out.level.resize(rows, count);
    out.change.resize(rows, count);
    return out;
}

Spline::Draws Spline::draw(FrameRange range, int derivative, int count) const {
    Draws out = room_for(range, count);
    if (out.frames.empty())
        return out;
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
    Columns x = noise_sd_ * (root_of(smooth_P(last)) * noise_at(last));
    Columns next_x(4, count);
    // Along even frames what the state after says of this one settles, and what is left open.
    static const Matrix4d F = transition(1.0);
    Matrix4d C;
    Matrix4d root;
    x.colwise() += nodes_[last].smooth_x;
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
            x.colwise() -= next.predicted_x;
            next_x.noalias() = C.lazyProduct(x);
            next_x.noalias() += root.lazyProduct(noise_at(i));
            x = next_x.colwise() + filtered_x(node);
        }
        const auto row = static_cast<Eigen::Index>(i - first);
        out.level.row(row) = level_unit * x.row(derivative).array();
        out.change.row(row) = rate_hz_ * level_unit * x.row(derivative + 1).array();
    }
    if (derivative == 0)
        out.level += centre_;
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
            out.push_back(unit * std::sqrt(std::max(0.0, smooth_P(i)(derivative, derivative))));
    }
    return out;
}

Spline::Draws Spline::mean(FrameRange range, int derivative) const {
    Draws out = room_for(range, 1);
    const Eigen::Index rows = out.level.rows();
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
