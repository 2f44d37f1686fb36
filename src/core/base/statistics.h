#pragma once

#include <cstddef>
#include <limits>
#include <vector>

namespace kite {

/// Of one measure in one set of swings; NaN where there are too few. NaN values are left out.
struct Summary {
    std::size_t count = 0;
    double mean = std::numeric_limits<double>::quiet_NaN();
    double sd = std::numeric_limits<double>::quiet_NaN(); ///< n - 1
    /// Typical error: SD of the changes from one swing to the next over √2, so that a drift through
    /// the set counts little (Hopkins, Sports Medicine 30, 2000).
    double typical_error = std::numeric_limits<double>::quiet_NaN();
};
Summary summarise(const std::vector<double>& values);

/// Quantile of Student's t for probability p and degrees of freedom (may be fractional).
double student_t_quantile(double p, double degrees_of_freedom);

/// Change of the mean from one set to another with unequal variances (Welch, Biometrika 34, 1947).
struct Change {
    double difference = std::numeric_limits<double>::quiet_NaN(); ///< after minus before
    double low = std::numeric_limits<double>::quiet_NaN();        ///< 95 % interval
    double high = std::numeric_limits<double>::quiet_NaN();
    double degrees_of_freedom = std::numeric_limits<double>::quiet_NaN();
    double p = std::numeric_limits<double>::quiet_NaN();     ///< two-sided
    double error = std::numeric_limits<double>::quiet_NaN(); ///< standard error of the difference

    /// The interval at another level, 0 to 1.
    void widen_to(double level);
};
/// What else moves the mean of a set than its own scatter.
struct Hanging {
    double lag_one = 0.0;    ///< correlation of a swing with the one before it
    double least_sd = 0.0;   ///< the measurement's own uncertainty: no scatter is smaller
    double session_sd = 0.0; ///< of one session's mean; 0: both sets are of one session
    double session_degrees_of_freedom = std::numeric_limits<double>::infinity();
};
/// Without anything that hangs it is Welch's.
Change calc_change(const Summary& before, const Summary& after, const Hanging& hanging = {});

/// Variance of the mean of n values in a row over that of n values apart, where each goes with the
/// one before it by `lag_one` (Anderson 1971, from memory): 1 + 2 Σ (1 − k/n) ρ^k.
double variance_inflation(std::size_t n, double lag_one);

/// Lag-one correlation over both sets, each about its own mean, corrected for that (Marriott &
/// Pope, Biometrika 41, 1954, from memory) and drawn to 0.2 where swings are few; half a standard
/// error more, to be safe. 0 to 0.8. NaN are left out.
double lag_one_of(const std::vector<double>& before, const std::vector<double>& after);

/// So many standard deviations from the mean of n values lie beyond the share `content` of all that
/// may come, on one side, with confidence `confidence` (noncentral t; Hahn & Meeker, Statistical
/// Intervals, 1991, table A.12, from memory). n of two at least.
double tolerance_factor(std::size_t n, double content, double confidence);

/// Which of many p-values are rejected at false discovery rate q (Benjamini & Hochberg, J. R. Stat.
/// Soc. B 57, 1995): with p(1) ≤ … ≤ p(m), all up to the largest k with p(k) ≤ k q / m. NaN: never.
std::vector<bool> control_false_discoveries(const std::vector<double>& p, double q);

} // namespace kite
