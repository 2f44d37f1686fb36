#pragma once

#include "core/signal/curve.h"

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
    Eigen::VectorXd coefficients_;
    Eigen::MatrixXd inverse_; ///< coefficients = inverse · samples
};

/// Standard uncertainty of the time at which a curve passes a level: its noise over the slope of a
/// parabola through the curve about it (the slope between two frames is noisy itself), together
/// with three hundredths of the frame interval.
double crossing_u_s(const Curve& curve, double t_s, double noise);

} // namespace kite
