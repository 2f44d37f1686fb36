#pragma once

#include "core/signal/curve.h"

#include <limits>
#include <optional>
#include <vector>

namespace kite {

/// How a peak is placed between frames: by a polynomial through the curve about it. Reach and
/// degree fit how fast the quantity changes: longer averages more noise, shorter follows a lopsided
/// peak better (docs/decisions.md).
struct PeakMethod {
    double reach_s = 0.05;
    int degree = 4;
    double model_u_s = 0.001; ///< standard uncertainty of the place without any noise
};

/// White noise of the raw samples from which a curve was made by the two-pass filter and, with
/// `derivatives` = 1, by differences.
struct CurveNoise {
    double sd = 0.0; ///< in the curve's unit, times s for derivatives = 1
    double cutoff_hz = 10.0;
    int derivatives = 0;
};

struct Peak {
    double t_s = std::numeric_limits<double>::quiet_NaN();
    double u_s = std::numeric_limits<double>::quiet_NaN(); ///< standard uncertainty of t_s
    double value = std::numeric_limits<double>::quiet_NaN();
    bool at_edge = false; ///< at the end of the range or at the sudden change: still rising there
};

/// The greatest value within a range. Its uncertainty in time is the noise of the slope there,
/// carried through filter, differences and polynomial, over the bend, together with the method's
/// own and with the frame interval.
std::optional<Peak> find_peak(const Curve& curve, TimeRange range, const PeakMethod& method,
                              const CurveNoise& noise);
/// The same by the method whose stated uncertainty is smallest: a short reach where there is little
/// noise, a long one where there is much.
std::optional<Peak> find_peak(const Curve& curve, TimeRange range,
                              const std::vector<PeakMethod>& methods, const CurveNoise& noise);

/// The same for the smallest value.
std::optional<Peak> find_trough(const Curve& curve, TimeRange range, const PeakMethod& method,
                                const CurveNoise& noise);

struct Crossing {
    double t_s = std::numeric_limits<double>::quiet_NaN();
    double u_s = std::numeric_limits<double>::quiet_NaN(); ///< standard uncertainty of t_s
};

/// A passage through zero near `t_s` (where the samples pass it), placed by a polynomial through
/// the curve about it: calmer than the two samples on either side. Stays within a quarter of the
/// reach. Its uncertainty is the noise of the value there over the slope of a parabola.
Crossing refine_crossing(const Curve& curve, double t_s, const PeakMethod& method,
                         const CurveNoise& noise);

} // namespace kite
