#pragma once

namespace kite {

/// The standard normal distribution.
double normal_density(double z);
double normal_cdf(double z);
double normal_quantile(double p); ///< 0 < p < 1

/// A 95 % interval reaches so many standard uncertainties to either side.
inline constexpr double kCover95 = 1.959963984540054;

} // namespace kite
