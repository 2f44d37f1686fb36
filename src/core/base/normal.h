#pragma once

#include <utility>

namespace kite {

/// The standard normal distribution.
double normal_density(double z);
double normal_cdf(double z);
double normal_quantile(double p); ///< 0 < p < 1

/// A 95 % interval reaches so many standard uncertainties to either side.
inline constexpr double kCover95 = 1.959963984540054;

/// 95 % interval of a share of which k of n were seen (score interval; Wilson, J. Am. Stat. Assoc.
/// 22, 1927). Of none: 0 to 1.
std::pair<double, double> wilson_interval(int k, int n);

} // namespace kite
