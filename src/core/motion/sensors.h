#pragma once

#include "core/base/findings.h"
#include "core/base/range.h"
#include "core/motion/gaps.h"
#include "core/motion/take.h"

#include <Eigen/Geometry>

#include <map>
#include <optional>
#include <vector>

namespace kite {

/// One inertial sensor in its own axes, a value a frame at uniform times; missing frames NaN.
struct SensorSeries {
    std::vector<Eigen::Vector3d> gyro_rad_s;
    std::vector<Eigen::Vector3d> specific_force_g; ///< +1 g upwards at rest
    /// Sensor → a world with z up and unknown heading; empty: integrate the gyro.
    std::vector<Eigen::Quaterniond> q_world_sensor;
    Eigen::Quaterniond q_segment_sensor = Eigen::Quaterniond::Identity(); ///< how it is mounted
    bool clipped = false; ///< the gyro stood at the end of its range
};

inline constexpr double kUsualStill_deg_s = 15.0; ///< a golfer at address, bias included

struct SensorTake {
    double rate_hz = 0.0;
    std::size_t frames = 0;
    std::map<Segment, SensorSeries> sensors;
    /// The rate is integrated over gaps up to this long; what was bridged counts as not seen.
    double longest_integrated_s = kLongestFilledGap_s;
    /// The stillness lies within the first so many seconds, where that is known: a hold at the top
    /// is calm too.
    std::optional<double> still_within_s;
    /// More restless than this at address, bias included, and there is no stillness. Above
    /// kUsualStill_deg_s a warning says that tilt and bias are less sure.
    double largest_still_deg_s = kUsualStill_deg_s;
};

/// Orientations from sensors. The stillness before the swing (the calmest 0.25 s before the fastest
/// moment) gives the gyros' bias and, by gravity, the tilt; the heading is taken as square there
/// (turn 0), since gravity cannot tell it. From there the rate is integrated both ways by
/// quaternion increments. Short gaps are bridged for it; beyond a longer one, or where a gyro stood
/// at the end of its range, the part is not known. Errors: no stillness, too few frames.
Outcome<std::map<Segment, PoseSeries>> poses_from_sensors(SensorTake take);

} // namespace kite
