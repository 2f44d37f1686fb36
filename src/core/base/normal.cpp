#include "core/base/normal.h"

#include <boost/math/distributions/normal.hpp>

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

} // namespace kite
