#include "core/measures/setup.h"

#include "core/base/units.h"
#include "core/motion/rotation.h"
#include "core/signal/local_fit.h"

#include <algorithm>
#include <cmath>

namespace kite {

using Eigen::Vector3d;

namespace {

/// Mean of a point in the address window, and how sure that is by its scatter there.
struct Stand {
    Vector3d mean_m = missing_point();
    double u_m = kMissing;
};

Stand place_at_address(const std::vector<Vector3d>& path_m, double rate_hz, TimeRange window) {
    Stand out;
    Vector3d sum = Vector3d::Zero();
    Vector3d squares = Vector3d::Zero();
    int count = 0;
    for (std::size_t i = 0; i < path_m.size(); ++i)
        if (window.contains(static_cast<double>(i) / rate_hz) && path_m[i].allFinite()) {
            sum += path_m[i];
            squares += path_m[i].cwiseProduct(path_m[i]);
            ++count;
        }
    if (count < 3)
        return out;
    out.mean_m = sum / count;
    const Vector3d variance = (squares / count - out.mean_m.cwiseProduct(out.mean_m)).cwiseMax(0.0);
    // What the golfer trembles is not averaged away: the scatter itself, and markers to a few mm.
    constexpr double kMarker_m = 0.003;
    out.u_m = std::hypot(std::sqrt(variance.maxCoeff()), kMarker_m);
    return out;
}

Stand place_of(const Take& take, BodyPoint point, const SwingMoments& moments) {
    const auto found = take.points_lab_m.find(point);
    return found == take.points_lab_m.end()
               ? Stand{}
               : place_at_address(found->second, take.rate_hz, moments.address_window);
}

} // namespace

Setup calc_setup(const Take& take, const std::vector<Vector3d>& head_m,
                 const SwingMoments& moments) {
    Setup out;
    if (!moments[Moment::Address])
        return out;
    const Stand lead = place_of(take, BodyPoint::LeadAnkle, moments);
    const Stand trail = place_of(take, BodyPoint::TrailAnkle, moments);
    const double stance_m = (lead.mean_m - trail.mean_m).head<2>().norm();
    if (!std::isfinite(stance_m))
        return out;
    out.stance_cm = cm_from_m(stance_m);
    out.stance_u_cm = cm_from_m(std::hypot(lead.u_m, trail.u_m));
    const Stand head = place_at_address(head_m, take.rate_hz, moments.address_window);
    const double half_m = 0.5 * (lead.mean_m.x() - trail.mean_m.x());
    constexpr double kLeastStance_m = 0.05;
    if (!(half_m > 0.5 * kLeastStance_m) || !std::isfinite(head.u_m))
        return out;
    out.ball_place = (head.mean_m.x() - 0.5 * (lead.mean_m.x() + trail.mean_m.x())) / half_m;
    out.ball_place_u = std::hypot(head.u_m, lead.u_m, trail.u_m) / half_m;
    return out;
}

double Takeaway::start_ms(Segment segment) const {
    return ms_from_s(parts[index_of(Segment::Club)].start_s - parts[index_of(segment)].start_s);
}

double Takeaway::start_u_ms(Segment segment) const {
    return ms_from_s(
        std::hypot(parts[index_of(Segment::Club)].start_u_s, parts[index_of(segment)].start_u_s));
}

Takeaway calc_takeaway(const std::array<Curve, kSequence.size()>& rates_deg_s,
                       const std::array<double, kSequence.size()>& noise_deg_s,
                       const SwingMoments& moments) {
    constexpr double kStarted = 0.05;
    constexpr double kBefore_s = 0.6; // a part may start so much before the club
    /// The filter spreads the onset of motion, and slow parts most.
    constexpr double kModel_u_s = 0.008;
    Takeaway out;
    const double top = moments.time_s(Moment::Top);
    const double takeaway = moments.time_s(Moment::Takeaway);
    if (!std::isfinite(top) || !std::isfinite(takeaway))
        return out;
    for (Segment segment : kSequence) {
        const Curve& rate = rates_deg_s[index_of(segment)];
        if (rate.empty())
            continue;
        const Curve back = rate.scaled(-1.0);
        const TimeRange range{std::max(0.0, takeaway - kBefore_s), top};
        const auto fastest = back.find_max(range);
        if (!fastest || !(fastest->value > 0.0))
            continue;
        const auto start = back.find_last_crossing(
            kStarted * fastest->value, Curve::Direction::Rising, {range.begin_s, fastest->t_s});
        if (!start)
            continue;
        auto& part = out.parts[index_of(segment)];
        part.start_s = *start;
        part.start_u_s =
            std::hypot(crossing_u_s(back, *start, noise_deg_s[index_of(segment)]), kModel_u_s);
        out.order.push_back(segment);
    }
    std::stable_sort(out.order.begin(), out.order.end(), [&](Segment a, Segment b) {
        return out.parts[index_of(a)].start_s < out.parts[index_of(b)].start_s;
    });
    return out;
}

} // namespace kite
