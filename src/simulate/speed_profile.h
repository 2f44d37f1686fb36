#pragma once

#include <vector>

namespace kite::simulate {

/// A curve through knots with given value, slope and bend: quintic pieces between them, constant
/// before the first and after the last knot. Value, slope and bend are continuous, and the integral
/// is exact.
class QuinticCurve {
public:
    struct Knot {
        double t_s = 0.0;
        double value = 0.0;
        double slope = 0.0; ///< per second
        double bend = 0.0;  ///< second derivative, per second squared
    };

    QuinticCurve() = default;
    /// Knots in ascending order of time.
    explicit QuinticCurve(std::vector<Knot> knots);

    double at(double t_s) const;
    double integral_to(double t_s) const; ///< from the first knot

    /// Integral of one piece: T (f0 + f1) / 2 + T² (f0' - f1') / 10 + T³ (f0'' + f1'') / 120.
    static double piece_integral(const Knot& from, const Knot& to);

private:
    std::vector<Knot> knots_;
    std::vector<double> integral_before_; ///< of all pieces before piece i
};

/// How one part turns about its axis. Times in s, angles in degrees (zero at address, positive in
/// the downswing direction), rates in °/s.
struct TurnPlan {
    double takeaway_t_s = 0.0;
    double reversal_t_s = 0.0;
    double peak_t_s = 0.0;
    double impact_t_s = 0.0;
    double top_deg = 0.0;    ///< angle at the reversal, negative
    double impact_deg = 0.0; ///< angle at impact
    double finish_deg = 0.0; ///< angle in the finish
    double peak_deg_s = 0.0;
    double at_impact_share = 1.0;    ///< rate just before impact over the peak rate
    double after_impact_share = 1.0; ///< rate just after impact over the rate just before it
    double after_gain_share = 0.0;   ///< by which it is faster still a moment after impact
};

/// Rotation speed and angle over time for a plan. The rate reverses, peaks and meets impact where
/// the plan says; the shape in between is bent so that the angle at impact is met as well (within
/// what keeps the speed rising smoothly, else as near as that allows).
class SpeedProfile {
public:
    SpeedProfile() = default;
    explicit SpeedProfile(const TurnPlan& plan);

    /// Before or after the sudden change at impact, where t is impact itself.
    double rate_deg_s(double t_s, bool after_impact = false) const;
    double angle_deg(double t_s) const;

private:
    QuinticCurve before_;
    QuinticCurve after_;
    double impact_t_s_ = 0.0;
};

} // namespace kite::simulate
