#include "core/motion/outline.h"

#include "core/base/units.h"
#include "core/motion/rotation.h"

#include <algorithm>
#include <cmath>
#include <limits>

namespace kite {

using Eigen::Quaterniond;

Quaterniond mean_rotation(const std::vector<Quaterniond>& q, FrameRange frames) {
    Eigen::Vector4d sum = Eigen::Vector4d::Zero();
    for (std::size_t i = frames.begin; i < std::min(frames.end, q.size()); ++i) {
        if (!is_finite(q[i]))
            continue;
        sum += q[i].coeffs().dot(sum) < 0.0 ? Eigen::Vector4d(-q[i].coeffs())
                                            : Eigen::Vector4d(q[i].coeffs());
    }
    if (!(sum.norm() > 0.0))
        return missing_rotation();
    return Quaterniond(Eigen::Vector4d(sum.normalized()));
}

namespace {

/// Angle turned from a frame to another some frames on; NaN where one is missing.
double turned_rad(const std::vector<Quaterniond>& q, std::size_t from, std::size_t to) {
    return is_finite(q[from]) && is_finite(q[to]) ? q[from].angularDistance(q[to])
                                                  : std::numeric_limits<double>::quiet_NaN();
}

} // namespace

Outline outline_of(const Take& take) {
    Outline out;
    const PoseSeries* fast = nullptr;
    for (Segment segment : {Segment::Club, Segment::LeadArm, Segment::Torso, Segment::Pelvis})
        if (fast == nullptr)
            fast = take.find(segment);
    if (fast == nullptr || take.frames < 20)
        return out;
    const auto& q = fast->q_lab_segment;
    const auto frames = [&](double s) {
        return static_cast<std::size_t>(std::lround(s * take.rate_hz));
    };
    const std::size_t aside = std::max<std::size_t>(1, frames(0.008));
    double most = 0.0;
    for (std::size_t i = aside; i + aside < take.frames; ++i) {
        const double step = std::min(turned_rad(q, i - aside, i), turned_rad(q, i, i + aside));
        if (std::isfinite(step) && step > most) {
            most = step;
            out.fastest = i;
        }
    }
    const double speed_deg_s = deg_from_rad(most) / static_cast<double>(aside) * take.rate_hz;
    out.swings = speed_deg_s > 90.0;
    const std::size_t window = std::max<std::size_t>(3, frames(0.1));
    const std::size_t end = out.fastest > frames(0.5) ? out.fastest - frames(0.5) : 0;
    const std::size_t begin = end > frames(2.5) ? end - frames(2.5) : 0;
    double least = std::numeric_limits<double>::infinity();
    for (std::size_t i = begin; i + window <= end; ++i) {
        double sum = 0.0;
        for (std::size_t k = i; k + 1 < i + window; ++k)
            sum += turned_rad(q, k, k + 1);
        if (std::isfinite(sum) && sum < least) {
            least = sum;
            out.calm = {i, i + window};
        }
    }
    if (out.calm.empty())
        out.calm = {0, std::min(take.frames, window)};
    return out;
}

} // namespace kite
