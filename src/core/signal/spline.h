#pragma once

#include "core/base/range.h"

#include <Eigen/Core>

#include <array>
#include <limits>
#include <optional>
#include <utility>
#include <vector>

namespace kite {

/// What is known of a smooth signal at a time: value, first, second and third derivative (per s,
/// s², s³), and their covariance.
struct SplineState {
    double t_s = 0.0;
    Eigen::Vector4d x = Eigen::Vector4d::Constant(std::numeric_limits<double>::quiet_NaN());
    Eigen::Matrix4d P = Eigen::Matrix4d::Zero();

    double value() const { return x(0); }
    double slope() const { return x(1); }
    double slope_u() const; ///< standard uncertainty of the slope
};

/// How smooth a signal is expected to be, before the data are asked: the half-power frequency of
/// the low-pass that suits it, as a normal distribution of its natural logarithm. Wide: the data
/// decide where they can.
struct Smoothness {
    double usual_hz = 12.0;
    double log_sd = 0.5;
    /// One smoothing for a whole stretch is an approximation. Where noise asks for more of it than
    /// usual it counts as known no better than this (SD of the logarithm; docs/accuracy.md).
    double least_log_sd = 0.0;
};

/// Smoothing spline of a short stretch of samples with white noise, with its uncertainty.
///
/// The signal is taken as a process whose fourth derivative is white noise (Wahba, J. R. Stat. Soc.
/// B 40, 1978); Kalman filter and fixed-interval smoother give its mean and covariance (Bryson &
/// Frazier 1963, in the form of de Jong, Biometrika 75, 1988). Noise and roughness are those under
/// which the data are most likely, so that noise, gaps, ends and the method's own smoothing all
/// show in the stated uncertainty. In frequency it is a zero-lag low-pass 1 / (1 + (f / f0)^8).
/// Missing samples (NaN) are simply not used: between and beyond samples the uncertainty grows.
class Spline {
public:
    struct Options {
        FrameRange frames; ///< of the samples; the spline is defined within them …
        Smoothness smoothness;
        std::optional<double> cutoff_hz; ///< f0 where it is fixed from outside
        bool to_the_end = false;         ///< defined up to the last of the frames, seen or not
        /// Steps of the samples that are less sure than the samples, by the frame that they lead
        /// to: their variance against that of the samples' noise. Ascending.
        std::vector<std::pair<std::size_t, double>> loose_steps;
    };
    /// Empty with fewer than six seen samples in the frames.
    static std::optional<Spline> fit(const std::vector<double>& samples, double rate_hz,
                                     const Options& options);

    double begin_s() const; ///< time of the first seen frame, less one frame
    double end_s() const;   ///< time of the last seen frame, and one frame on
    double cutoff_hz() const { return cutoff_hz_; }
    /// How well the data tell it: SD of its natural logarithm; 0 where it was fixed.
    double log_cutoff_sd() const { return log_cutoff_sd_; }
    double noise_sd() const { return noise_sd_; }
    FrameRange frames() const { return frames_; }
    std::size_t seen() const { return seen_; }

    /// At any time; up to a few frames beyond the ends it is carried on, ever less certain.
    SplineState at(double t_s) const;
    /// The same without its covariance (nought), for less work.
    SplineState mean_at(double t_s) const;

    /// Possible signals at the frames of a range, their derivative of some order and the one above
    /// it: a row a frame, a column a draw, an even number of them, kDraws at most. The same every
    /// time.
    struct Draws {
        FrameRange frames;
        Eigen::ArrayXXd level;
        Eigen::ArrayXXd change;
    };
    Draws draw(FrameRange range, int derivative, int count = kDraws) const;
    /// The most likely signal in the same form, as a single column.
    Draws mean(FrameRange range, int derivative) const;
    /// Standard deviation of the derivative of some order at frames that the spline has.
    std::vector<double> sd(FrameRange range, int derivative) const;

    static constexpr int kDraws = 48;

private:
    /// What a step of the filter knows without looking at the samples. Along even frames it soon
    /// settles: then many frames share one.
    struct Step {
        Eigen::Matrix4d predicted_P;
        Eigen::Vector4d K = Eigen::Vector4d::Zero(); ///< gain; nought where nothing was seen
        double S = 0.0;                              ///< variance of the innovation

        Eigen::Matrix4d filtered_P() const { return predicted_P - S * K * K.transpose(); }
    };
    struct Node {
        // Written out, so that making many does not fill them with noughts first.
        Node() {} // NOLINT(modernize-use-equals-default)
        Eigen::Vector4d predicted_x;
        double off = 0.0;     ///< innovation
        std::size_t step = 0; ///< of steps_
        std::size_t back = 0; ///< of back_P_
        Eigen::Vector4d pull; ///< what all from here on say of the state: r of the smoother
        Eigen::Vector4d smooth_x;
    };
    class Stepper;
    class EvenGains;
    /// Every frame was seen, and all steps between them are as firm.
    bool is_even() const { return loose_.empty() && seen_ == frames_.size(); }
    Eigen::Vector4d filtered_x(const Node& node) const {
        return node.predicted_x + node.off * steps_[node.step].K;
    }
    Eigen::Matrix4d smooth_P(std::size_t node) const;
    void choose_cutoff(const Smoothness& smoothness);
    double smooth_variance(std::size_t node, Eigen::Index element) const;
    double minus_log_likelihood(double variance, double log_product, std::size_t used) const;
    double unlikeliness(double roughness);
    double filter(double roughness, bool keep);
    void smooth();
    SplineState in_units(double t_s, const Eigen::Vector4d& x, const Eigen::Matrix4d& P) const;

    FrameRange frames_;
    double rate_hz_ = 1.0;
    double cutoff_hz_ = 0.0;
    double log_cutoff_sd_ = 0.0;
    double noise_sd_ = 0.0;
    double roughness_ = 0.0; ///< of the driving noise, against the samples' noise, per frame
    double centre_ = 0.0;    ///< taken away from the samples, so that numbers stay small
    std::size_t seen_ = 0;
    std::size_t first_seen_ = 0;
    std::size_t last_seen_ = 0;
    std::vector<double> centred_; ///< samples without their centre
    std::vector<double> loose_;   ///< variance of the step to each frame; empty without any
    std::vector<Node> nodes_;
    std::vector<Step> steps_;
    std::vector<Eigen::Matrix4d> back_P_; ///< of the state, from the frames after it alone
};

} // namespace kite
