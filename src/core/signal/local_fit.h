#pragma once

#include "core/signal/curve.h"

#include <Eigen/Cholesky>
#include <Eigen/Core>

#include <optional>
#include <vector>

namespace kite {

/// Polynomial through the samples of a curve within `reach_s` of a time, by least squares. It stays
/// on the time's side of the curve's sudden change and inside its run of finite samples.
class LocalFit {
public:
    /// Empty with fewer than three samples. The degree falls where there are few of them.
    static std::optional<LocalFit> around(const Curve& curve, double t_s, double reach_s,
                                          int degree);

    double begin_s() const { return begin_s_; } ///< where it may be used: from …
    double end_s() const { return end_s_; }     ///< … to
    double at(double t_s) const;
    double slope_at(double t_s) const;
    double bend_at(double t_s) const;
    /// Place of the greatest value between begin_s and end_s.
    double find_max_s() const;

    FrameRange frames() const { return frames_; }
    /// d(value or slope at t) / d(sample), a weight for each of `frames()`.
    Eigen::VectorXd value_weights(double t_s) const;
    Eigen::VectorXd slope_weights(double t_s) const;

private:
    FrameRange frames_;
    double rate_hz_ = 1.0;
    double centre_s_ = 0.0;
    double reach_s_ = 1.0;
    double begin_s_ = 0.0;
    double end_s_ = 0.0;
    static constexpr int kMostTerms = 6;
    /// Small and of bounded size: never on the heap.
    using Coefficients = Eigen::Matrix<double, Eigen::Dynamic, 1, 0, kMostTerms, 1>;
    using Normal = Eigen::Matrix<double, Eigen::Dynamic, Eigen::Dynamic, 0, kMostTerms, kMostTerms>;

    static Coefficients powers_at(double u, Eigen::Index terms);
    /// d(sum of by_coefficient · coefficients) / d(sample).
    Eigen::VectorXd weights_of(const Coefficients& by_coefficient) const;

    Coefficients coefficients_;
    Eigen::LDLT<Normal> normal_; ///< of design^T design
    double first_u_ = 0.0;       ///< place of the first frame, in reaches from the centre …
    double step_u_ = 1.0;        ///< … and how far the next is
};

/// Standard uncertainty of the time at which a curve passes a level: its noise over the slope of a
/// parabola through the curve about it (the slope between two frames is noisy itself), together
/// with three hundredths of the frame interval.
double crossing_u_s(const Curve& curve, double t_s, double noise);

} // namespace kite
