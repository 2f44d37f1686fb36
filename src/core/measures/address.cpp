#include "core/measures/address.h"

#include <algorithm>
#include <cmath>
#include <limits>

namespace kite {

using Eigen::Vector3d;

namespace {

constexpr double kFootMoved_m = 0.04;
constexpr double kPelvisMoved_m = 0.12;
constexpr double kAbout_s = 0.03; ///< the place at the takeaway is the mean of what was seen here

/// When a point, going back from a time, was last further than `moved_m` from its place there.
double find_arrival(const std::vector<Vector3d>& track, double rate_hz, double takeaway_s,
                    double moved_m) {
    const auto frame = [&](double t_s) {
        return static_cast<std::size_t>(
            std::clamp(std::round(t_s * rate_hz), 0.0, static_cast<double>(track.size() - 1)));
    };
    Vector3d place = Vector3d::Zero();
    int count = 0;
    for (std::size_t i = frame(takeaway_s - kAbout_s); i <= frame(takeaway_s + kAbout_s); ++i)
        if (track[i].allFinite()) {
            place += track[i];
            ++count;
        }
    if (count == 0)
        return 0.0;
    place /= count;
    int off = 0;
    for (std::size_t i = frame(takeaway_s) + 1; i-- > 0;) {
        if (!track[i].allFinite())
            continue;
        // Two in a row: a single one is a spike.
        off = (track[i] - place).head<2>().norm() > moved_m ? off + 1 : 0;
        if (off >= 2)
            return (static_cast<double>(i) + 2.0) / rate_hz;
    }
    return 0.0;
}

} // namespace

double find_stance_begin(const Take& take, double takeaway_s) {
    double begin_s = std::max(0.0, takeaway_s - kLongestAddress_s);
    bool feet = false;
    for (BodyPoint point : {BodyPoint::LeadAnkle, BodyPoint::TrailAnkle})
        if (const auto track = take.points_lab_m.find(point); track != take.points_lab_m.end()) {
            feet = true;
            begin_s = std::max(begin_s,
                               find_arrival(track->second, take.rate_hz, takeaway_s, kFootMoved_m));
        }
    const PoseSeries* pelvis = take.find(Segment::Pelvis);
    if (!feet && pelvis != nullptr && pelvis->has_positions())
        begin_s = std::max(begin_s,
                           find_arrival(pelvis->p_lab_m, take.rate_hz, takeaway_s, kPelvisMoved_m));
    return std::min(begin_s, takeaway_s);
}

TimeRange find_address_window(const Curve& speed_deg_s, double begin_s, double takeaway_s) {
    const double rate = speed_deg_s.rate_hz();
    const auto start = static_cast<std::size_t>(std::max(0.0, std::ceil(begin_s * rate - 1e-9)));
    const auto end = static_cast<std::size_t>(std::floor(takeaway_s * rate + 1e-9)) + 1;
    const auto length = static_cast<std::size_t>(std::lround(kAddressWindow_s * rate)) + 1;
    if (end <= start + length)
        return {std::min(begin_s, takeaway_s), takeaway_s};
    const auto& v = speed_deg_s.values();
    double best_rms = std::numeric_limits<double>::infinity();
    std::size_t best = end - length;
    for (std::size_t begin = end - length + 1; begin-- > start;) {
        double sum = 0.0;
        for (std::size_t i = begin; i < begin + length; ++i)
            sum += v[i] * v[i]; // NaN in a gap: never the calmest
        const double rms = std::sqrt(sum / static_cast<double>(length));
        if (rms < 0.99 * best_rms - 0.05 || (std::isfinite(rms) && !std::isfinite(best_rms))) {
            best_rms = rms;
            best = begin;
        }
    }
    return {speed_deg_s.time_of(best), speed_deg_s.time_of(best + length - 1)};
}

} // namespace kite
