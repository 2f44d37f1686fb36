#include "core/measures/wrist.h"

#include "core/base/units.h"

#include <algorithm>
#include <cmath>

namespace kite {

using Eigen::Vector3d;

namespace {

constexpr double kRelease_deg = 15.0;

} // namespace

Curve calc_wrist_hinge_deg(const SegmentMotion& arm, const SegmentMotion& club) {
    std::vector<double> hinge(club.size(), kMissing);
    for (std::size_t i = club.frames().begin; i < club.frames().end; ++i) {
        const Vector3d a = arm.long_axis(i);
        const Vector3d c = club.long_axis(i);
        hinge[i] = deg_from_rad(std::atan2(a.cross(c).norm(), a.dot(c)));
    }
    return {std::move(hinge), club.rate_hz, club.change_s};
}

Wrist calc_wrist(const Curve& hinge_deg, const SwingMoments& moments) {
    Wrist out;
    const double takeaway = moments.time_s(Moment::Takeaway);
    const double top = moments.time_s(Moment::Top);
    const double impact = moments.time_s(Moment::Impact);
    out.top_deg = hinge_deg.at(top);
    if (const auto most = hinge_deg.find_max({std::isfinite(takeaway) ? takeaway : 0.0, impact}))
        out.max_deg = most->value;
    if (const auto downswing = hinge_deg.find_max({top, impact})) {
        const auto released = hinge_deg.find_crossings(
            downswing->value - kRelease_deg, Curve::Direction::Falling, {downswing->t_s, impact});
        if (!released.empty())
            out.release_t_s = released.front();
    }
    out.kept_pct = hinge_deg.at(moments.time_s(Moment::ShaftLevelDown)) / out.top_deg * 100.0;
    return out;
}

} // namespace kite
