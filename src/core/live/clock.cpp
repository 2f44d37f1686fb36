#include "core/live/clock.h"

#include "core/base/median.h"

#include <algorithm>
#include <cmath>
#include <vector>

namespace kite::live {

namespace {

constexpr double kBucket_s = 0.25;
constexpr double kRemembered_s = 60.0;
/// A tag this much too early or too late is of another clock than the one known.
constexpr double kEarly_s = 0.1;
constexpr double kLate_s = 1.0;
/// The same offset for so long, and the clock was set anew.
constexpr std::size_t kFewestOdd = 8;
constexpr double kLongOdd_s = 0.3;
constexpr double kSteady_s = 0.06;
/// What no packet shows: the least time on the way, and reading the clock.
constexpr double kUnseen_s = 0.0002;
constexpr double kUnsettled_s = 0.003; ///< with one bucket

} // namespace

DeviceClock::DeviceClock(double likely_drift) : likely_drift_(likely_drift) {}

void DeviceClock::start(double device_s, double arrival_s) {
    edge_.clear();
    odd_ = {};
    first_device_s_ = device_s;
    first_arrival_s_ = arrival_s;
    newest_x_s_ = 0.0;
    edge_.push_back({0.0, 0.0});
    fit();
}

bool DeviceClock::add(double device_s, double arrival_s) {
    if (!std::isfinite(device_s) || !std::isfinite(arrival_s))
        return false;
    if (fixed_)
        return true;
    if (edge_.empty()) {
        start(device_s, arrival_s);
        return true;
    }
    const double x = device_s - first_device_s_;
    const double y = arrival_s - first_arrival_s_ - x;
    const double late = y - (intercept_s_ + slope_ * x);
    const bool young = newest_x_s_ < 1.0;
    if (late > kLate_s || late < (young ? -kLate_s : -kEarly_s)) {
        const bool same =
            odd_.count > 0 && std::max(odd_.most_y_s, y) - std::min(odd_.least_y_s, y) <
                                  (late > 0.0 ? kSteady_s : kLate_s);
        if (!same)
            odd_ = {0, device_s, y, y};
        ++odd_.count;
        odd_.least_y_s = std::min(odd_.least_y_s, y);
        odd_.most_y_s = std::max(odd_.most_y_s, y);
        if (odd_.count >= kFewestOdd && device_s - odd_.first_s >= kLongOdd_s) {
            ++restarts_;
            start(device_s, arrival_s);
            return true;
        }
        return false;
    }
    odd_ = {};
    newest_x_s_ = std::max(newest_x_s_, x);
    const double bucket = std::floor(x / kBucket_s);
    const auto place = std::find_if(edge_.rbegin(), edge_.rend(), [&](const Point& point) {
        return std::floor(point.x_s / kBucket_s) <= bucket;
    });
    if (place != edge_.rend() && std::floor(place->x_s / kBucket_s) == bucket) {
        if (y >= place->y_s)
            return true;
        *place = {x, y};
    } else
        edge_.insert(place.base(), {x, y});
    while (edge_.size() > 1 && edge_.front().x_s < newest_x_s_ - kRemembered_s)
        edge_.pop_front();
    fit();
    return true;
}

void DeviceClock::fit() {
    // The lower hull, and of it the edge above the middle: the line below all points that is
    // nearest to them in the mean.
    std::vector<Point> hull;
    double middle = 0.0;
    for (const Point& point : edge_) {
        middle += point.x_s / static_cast<double>(edge_.size());
        while (hull.size() >= 2) {
            const Point& a = hull[hull.size() - 2];
            const Point& b = hull.back();
            if ((b.y_s - a.y_s) * (point.x_s - a.x_s) < (point.y_s - a.y_s) * (b.x_s - a.x_s))
                break;
            hull.pop_back();
        }
        hull.push_back(point);
    }
    double slope = 0.0;
    for (std::size_t i = 0; i + 1 < hull.size(); ++i)
        if (hull[i].x_s <= middle && middle <= hull[i + 1].x_s)
            slope = (hull[i + 1].y_s - hull[i].y_s) / (hull[i + 1].x_s - hull[i].x_s);
    const auto height = [&](double s) {
        double least = edge_.front().y_s - s * edge_.front().x_s;
        for (const Point& point : edge_)
            least = std::min(least, point.y_s - s * point.x_s);
        return least;
    };
    const auto scatter = [&](double s, double from) {
        std::vector<double> above;
        for (const Point& point : edge_)
            above.push_back(point.y_s - s * point.x_s - from);
        return median_of(above);
    };
    // What is known of drifts counts for as long as the edge says little.
    const double span = edge_.back().x_s - edge_.front().x_s;
    const double u_edge = std::max(5e-5, 0.5 * scatter(slope, height(slope)));
    const double u_slope = span > 0.0 ? 2.0 * u_edge / span : 1.0;
    const double known = likely_drift_ * likely_drift_;
    slope_ = slope * known / (known + u_slope * u_slope);
    intercept_s_ = height(slope_);
    // Few packets may all have been slow.
    const double unsettled_s = kUnsettled_s / static_cast<double>(edge_.size());
    u_s_ = std::hypot(kUnseen_s, 0.5 * scatter(slope_, intercept_s_), unsettled_s);
}

DeviceClock::Line DeviceClock::line() const {
    // The same numbers as are used, so that they give the same times again.
    return {first_device_s_, first_arrival_s_ + intercept_s_, slope_, u_s_};
}

DeviceClock DeviceClock::of(const Line& line) {
    DeviceClock out;
    out.fixed_ = true;
    out.first_device_s_ = line.device_s;
    out.first_arrival_s_ = line.computer_s;
    out.slope_ = line.slope;
    out.u_s_ = line.u_s;
    out.edge_.push_back({0.0, 0.0});
    return out;
}

double DeviceClock::to_computer(double device_s) const {
    const double x = device_s - first_device_s_;
    return (first_arrival_s_ + intercept_s_) + (x + slope_ * x);
}

double DeviceClock::offset_s() const {
    const double device_s = first_device_s_ + newest_x_s_;
    return device_s - to_computer(device_s);
}

} // namespace kite::live
