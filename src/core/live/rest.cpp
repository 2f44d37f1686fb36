#include "core/live/rest.h"

#include "core/base/missing.h"

#include <algorithm>
#include <cmath>
#include <limits>

namespace kite::live {

using Eigen::Vector3d;

namespace {

constexpr double kRestStep_s = 0.05;

} // namespace

std::size_t first_from(const Samples& samples, double t_s) {
    return static_cast<std::size_t>(
        std::lower_bound(samples.times_s.begin(), samples.times_s.end(), t_s) -
        samples.times_s.begin());
}

double restlessness_deg_s(const Samples& samples, TimeRange block) {
    const std::size_t begin = first_from(samples, block.begin_s);
    const std::size_t end = first_from(samples, block.end_s);
    if (static_cast<double>(end - begin) < 0.3 * samples.rate_hz * block.duration_s())
        return kMissing;
    Vector3d mean = Vector3d::Zero();
    for (std::size_t i = begin; i < end; ++i)
        mean += gyro_of(samples.values[i]) / static_cast<double>(end - begin);
    double sum = 0.0;
    for (std::size_t i = begin; i < end; ++i)
        sum += (gyro_of(samples.values[i]) - mean).squaredNorm();
    return std::sqrt(sum / static_cast<double>(end - begin) + 0.25 * mean.squaredNorm());
}

double restlessness_deg_s(const Parts& parts, TimeRange block) {
    double sum = 0.0;
    int count = 0;
    for (const auto& [segment, samples] : parts)
        if (const double here = restlessness_deg_s(samples, block); std::isfinite(here)) {
            sum += here * here;
            ++count;
        }
    return count == 0 ? kMissing : std::sqrt(sum / count);
}

std::optional<TimeRange> last_rest(const Parts& parts, TimeRange within, double limit_deg_s) {
    for (double end = within.end_s; end - kStillBlock_s >= within.begin_s; end -= kRestStep_s)
        if (const TimeRange block{end - kStillBlock_s, end};
            restlessness_deg_s(parts, block) < limit_deg_s)
            return block;
    return std::nullopt;
}

TimeRange find_rest(const Parts& parts, TimeRange within) {
    if (const auto rest = last_rest(parts, within, kStill_deg_s))
        return *rest;
    TimeRange best{within.begin_s, std::min(within.end_s, within.begin_s + kStillBlock_s)};
    double least = std::numeric_limits<double>::infinity();
    for (double end = within.end_s; end - kStillBlock_s >= within.begin_s; end -= kRestStep_s) {
        const TimeRange block{end - kStillBlock_s, end};
        if (const double here = restlessness_deg_s(parts, block); here < least) {
            least = here;
            best = block;
        }
    }
    return best;
}

Vector3d mean_force(const Samples& samples, TimeRange range) {
    Vector3d sum = Vector3d::Zero();
    std::size_t count = 0;
    for (std::size_t i = first_from(samples, range.begin_s);
         i < samples.times_s.size() && samples.times_s[i] < range.end_s; ++i) {
        sum += force_of(samples.values[i]);
        ++count;
    }
    return count == 0 ? sum : Vector3d(sum / static_cast<double>(count));
}

} // namespace kite::live
