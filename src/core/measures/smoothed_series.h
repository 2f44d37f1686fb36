#pragma once

#include "core/signal/butterworth.h"

#include <vector>

namespace kite {

/// A series that was measured beside the parts — a point's path, a force — after the low-pass:
/// short gaps bridged, filtered run by run; other missing frames stay missing.
FourSignals smoothed(FourSignals x, Flags seen, double cutoff_hz, double rate_hz);
/// A frame in which a coordinate is missing is missing as a whole.
std::vector<Eigen::Vector3d> smoothed(const std::vector<Eigen::Vector3d>& path, double cutoff_hz,
                                      double rate_hz);
std::vector<double> smoothed(const std::vector<double>& x, double cutoff_hz, double rate_hz);

} // namespace kite
