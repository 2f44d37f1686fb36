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
    double p = std::numeric_limits<double>::quiet_NaN(); ///< two-sided
};
Change calc_change(const Summary& before, const Summary& after);

/// Which of many p-values are rejected at false discovery rate q (Benjamini & Hochberg, J. R. Stat.
/// Soc. B 57, 1995): with p(1) ≤ … ≤ p(m), all up to the largest k with p(k) ≤ k q / m. NaN: never.
std::vector<bool> control_false_discoveries(const std::vector<double>& p, double q);

} // namespace kite
