#pragma once

#include "core/base/range.h"
#include "core/live/device.h"

#include <Eigen/Core>

#include <array>
#include <cstddef>
#include <map>
#include <optional>

namespace kite::live {

/// What the sensors of the parts say, in their own axes, at the computer's times.
using Parts = std::map<Segment, Samples>;

/// Of a sample: °/s, and g.
inline Eigen::Vector3d gyro_of(const std::array<double, 6>& values) {
    return {values[0], values[1], values[2]};
}
inline Eigen::Vector3d force_of(const std::array<double, 6>& values) {
    return {values[3], values[4], values[5]};
}
/// Index of the first sample from a time on.
std::size_t first_from(const Samples& samples, double t_s);

inline constexpr double kStillBlock_s = 0.25; ///< a rest is looked for in blocks of this length
inline constexpr double kStill_deg_s = 10.0;  ///< less restless than this is a rest

/// The last calm quarter of a second in a stretch of time; else the calmest there is.
TimeRange find_rest(const Parts& parts, TimeRange within);
/// The last quarter of a second that is calmer than that; empty: there is none.
std::optional<TimeRange> last_rest(const Parts& parts, TimeRange within, double limit_deg_s);
/// How restless the parts are, °/s: scatter of the rate and half its mean. NaN: not heard.
double restlessness_deg_s(const Parts& parts, TimeRange block);
double restlessness_deg_s(const Samples& samples, TimeRange block);
/// Mean specific force, g, in the sensor's axes; zero: not heard.
Eigen::Vector3d mean_force(const Samples& samples, TimeRange range);

} // namespace kite::live
