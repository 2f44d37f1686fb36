#pragma once

#include "core/base/findings.h"
#include "core/motion/take.h"

#include <optional>
#include <vector>

namespace kite {

/// A uniform time base for time stamps as they were read.
struct TimeBase {
    double start_s = 0.0;
    double rate_hz = 0.0;
    std::size_t frames = 0;
    bool resampled = false; ///< false: every stamp already sits on the base

    std::vector<double> times_s() const; ///< from start_s
};

/// Finds the base, or says why there is none honest: stamps that are missing, stand still or go
/// backwards (with the index of the row), fewer than `kFewestFrames`, or rows so far apart that the
/// base would be mostly empty. A declared rate that the stamps contradict by over 2 % is noted.
inline constexpr std::size_t kFewestFrames = 16;
Outcome<TimeBase> find_time_base(const std::vector<double>& times_s,
                                 std::optional<double> declared_rate_hz);

/// Brings every series of a take onto the base, fills short gaps, names long ones.
/// The take's series have one value per time stamp. contact_s is given on the stamps' clock and
/// comes out counted from the first frame.
void bring_to_time_base(Take& take, const std::vector<double>& times_s, const TimeBase& base,
                        std::vector<Finding>& findings);

/// Stamps that tremble about even times say less than the samples do: a clock that was read late
/// now and then. Where the fast parts of the take run smoother over even times than over the
/// stamps, the base is made even, and a note says so. Also for stamps that only then go forwards.
/// `take` as it stands on the stamps.
void settle_tremble(const Take& take, const std::vector<double>& times_s, Outcome<TimeBase>& base);
/// The same for bare tracks of points.
void settle_tremble(const std::vector<std::vector<Eigen::Vector3d>>& tracks,
                    const std::vector<double>& times_s, Outcome<TimeBase>& base);

/// The same for bare tracks of points (a track a marker, a point a time stamp).
void resample_tracks(std::vector<std::vector<Eigen::Vector3d>>& tracks,
                     const std::vector<double>& times_s, const TimeBase& base);

} // namespace kite
