#include "core/measures/smoothed_series.h"

#include "core/base/missing.h"
#include "core/motion/gaps.h"

#include <algorithm>
#include <cmath>

namespace kite {

FourSignals smoothed(FourSignals x, Flags seen, double cutoff_hz, double rate_hz) {
    bridge_gaps(x, seen, rate_hz);
    FourSignals out(x.size(), Eigen::Array4d::Constant(kMissing));
    for (const FrameRange& run : find_runs(seen, {}))
        filter_two_pass(x, run, std::min(cutoff_hz, highest_cutoff_hz(rate_hz)), rate_hz, End::Odd,
                        End::Odd, out);
    return out;
}

std::vector<Eigen::Vector3d> smoothed(const std::vector<Eigen::Vector3d>& path, double cutoff_hz,
                                      double rate_hz) {
    Flags seen(path.size());
    FourSignals x(path.size(), Eigen::Array4d::Zero());
    for (std::size_t i = 0; i < path.size(); ++i) {
        seen[i] = path[i].allFinite();
        x[i].head<3>() = path[i].array();
    }
    const FourSignals y = smoothed(std::move(x), std::move(seen), cutoff_hz, rate_hz);
    std::vector<Eigen::Vector3d> out(path.size());
    for (std::size_t i = 0; i < path.size(); ++i)
        out[i] = y[i].head<3>();
    return out;
}

std::vector<double> smoothed(const std::vector<double>& x, double cutoff_hz, double rate_hz) {
    Flags seen(x.size());
    FourSignals four(x.size(), Eigen::Array4d::Zero());
    for (std::size_t i = 0; i < x.size(); ++i) {
        seen[i] = std::isfinite(x[i]);
        four[i](0) = x[i];
    }
    const FourSignals y = smoothed(std::move(four), std::move(seen), cutoff_hz, rate_hz);
    std::vector<double> out(x.size());
    for (std::size_t i = 0; i < x.size(); ++i)
        out[i] = y[i](0);
    return out;
}

} // namespace kite
