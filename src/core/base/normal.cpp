#include "core/base/normal.h"

#include <algorithm>
#include <boost/math/distributions/normal.hpp>
#include <cmath>

namespace kite {

namespace {

/// What is not known gives what is not known, never an exception; and nothing is computed in more
/// digits than are returned, which costs five times as much.
using Quiet = boost::math::policies::policy<
    boost::math::policies::domain_error<boost::math::policies::ignore_error>,
    boost::math::policies::overflow_error<boost::math::policies::ignore_error>,
    boost::math::policies::promote_double<false>>;
const boost::math::normal_distribution<double, Quiet> kStandard;

} // namespace

double normal_density(double z) {
    return boost::math::pdf(kStandard, z);
}

double normal_cdf(double z) {
    return boost::math::cdf(kStandard, z);
}

double normal_quantile(double p) {
    return boost::math::quantile(kStandard, p);
}

std::pair<double, double> wilson_interval(int k, int n) {
    if (n <= 0)
        return {0.0, 1.0};
    const double share = static_cast<double>(k) / n;
    const double z2 = kCover95 * kCover95;
    const double middle = (share + z2 / (2.0 * n)) / (1.0 + z2 / n);
    const double half =
        kCover95 * std::sqrt(share * (1.0 - share) / n + z2 / (4.0 * n * n)) / (1.0 + z2 / n);
    return {std::max(0.0, middle - half), std::min(1.0, middle + half)};
}

} // namespace kite
