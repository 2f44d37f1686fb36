#pragma once

#include "core/base/missing.h"

#include <Eigen/Core>

#include <vector>

namespace kite {

/// How a fast point comes to the ball, in the limit as impact is approached from before.
struct Approach {
    /// Of its velocity from the horizontal, positive upwards.
    double attack_deg = kMissing;
    double attack_u_deg = kMissing;
    /// Of its velocity from above against the target line (x), positive from inside to outside
    /// (-y).
    double path_deg = kMissing;
    double path_u_deg = kMissing;
    /// Where the path, going on as it went, is lowest: along x from the point at impact, positive
    /// ahead of it. On the circle that has velocity and curvature of the path at impact.
    double low_point_m = kMissing;
    double low_point_u_m = kMissing;
};

/// `path_m`: places at equal times, NaN where not seen; only those up to impact are used.
/// Polynomials in time of several degrees are fitted to stretches of several lengths before impact;
/// of each quantity the value is taken that is least shaken by noise among those that no finer fit
/// contradicts (Lepski, Theory Probab. Appl. 35, 1991). What finer fits still differ by, the noise
/// and the doubt about when impact was are in the uncertainty. Missing where too little was seen.
Approach fit_approach(const std::vector<Eigen::Vector3d>& path_m, double rate_hz, double impact_s,
                      double impact_u_s);

} // namespace kite
