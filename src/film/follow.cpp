#include "film/follow.h"

#include <algorithm>
#include <cmath>
#include <opencv2/core.hpp>
#include <opencv2/imgproc.hpp>
#include <opencv2/video/tracking.hpp>

namespace kite::film {

namespace {

const cv::TermCriteria kUntil(cv::TermCriteria::COUNT + cv::TermCriteria::EPS, 30, 0.01);
constexpr int kWindow_px = 21;
constexpr int kLevels = 3;
constexpr double kHome_px = 0.5;
/// Mean difference of brightness within the window, of 255.
constexpr float kLooksAlike = 20.0F;

cv::Mat seen(const GreyPicture& picture) {
    return {picture.height_px, picture.width_px, CV_8UC1,
            const_cast<std::uint8_t*>(picture.grey.data())}; // only read
}

/// From where it was marked it must lie about there, this far at most.
constexpr double kDrift_px = 4.0;

/// A part of a picture about some points, in which OpenCV's places and ours are told apart: pixel
/// centres are at whole numbers there, at halves here.
class Part {
public:
    Part(const GreyPicture& picture, const Pixel& about, double reach_px) {
        x_ = std::max(0, static_cast<int>(std::floor(about.x() - reach_px)));
        y_ = std::max(0, static_cast<int>(std::floor(about.y() - reach_px)));
        const int right =
            std::min(picture.width_px, static_cast<int>(std::ceil(about.x() + reach_px)));
        const int low =
            std::min(picture.height_px, static_cast<int>(std::ceil(about.y() + reach_px)));
        if (right - x_ >= 2 * kWindow_px && low - y_ >= 2 * kWindow_px)
            seen_ = seen(picture)(cv::Rect(x_, y_, right - x_, low - y_));
    }
    bool empty() const { return seen_.empty(); }
    const cv::Mat& seen_part() const { return seen_; }
    cv::Point2f there(const Pixel& p) const {
        return {static_cast<float>(p.x() - 0.5 - x_), static_cast<float>(p.y() - 0.5 - y_)};
    }
    Pixel here(const cv::Point2f& p) const { return {p.x + 0.5 + x_, p.y + 0.5 + y_}; }

private:
    int x_ = 0;
    int y_ = 0;
    cv::Mat seen_;
};

/// One point from one picture to another; empty: it does not look the same there.
std::optional<Pixel> go(const Part& from, const Pixel& at, const Part& to, const Pixel& expected,
                        int levels, float alike) {
    const cv::Size window(kWindow_px, kWindow_px);
    const std::vector<cv::Point2f> start{from.there(at)};
    std::vector<cv::Point2f> end{to.there(expected)};
    std::vector<unsigned char> found;
    std::vector<float> difference;
    cv::calcOpticalFlowPyrLK(from.seen_part(), to.seen_part(), start, end, found, difference,
                             window, levels, kUntil, cv::OPTFLOW_USE_INITIAL_FLOW);
    if (found.front() == 0 || difference.front() > alike)
        return std::nullopt;
    return to.here(end.front());
}

/// By how much its stick has turned in the picture since it was marked, rad clockwise on screen.
double turn_since_marked(const std::vector<Followed>& points,
                         const std::vector<std::optional<Pixel>>& now, std::size_t i) {
    const auto partner = points[i].partner;
    if (!partner || *partner >= points.size() || !now[*partner] ||
        points[*partner].marked_in != points[i].marked_in)
        return 0.0;
    const Pixel before = points[*partner].marked - points[i].marked;
    const Pixel after = *now[*partner] - *now[i];
    if (!(before.norm() > 1.0) || !(after.norm() > 1.0))
        return 0.0;
    return std::atan2(after.y(), after.x()) - std::atan2(before.y(), before.x());
}

/// The place that looks like what was marked; the given one where that is not found near it.
Pixel as_marked(const Followed& point, const Pixel& place, double turned_rad,
                const GreyPicture& to) {
    // What was marked, turned, as large as what is looked at and with the spot in the same place.
    const Part now(to, place, 2.0 * kWindow_px);
    if (now.empty())
        return place;
    const cv::Point2f spot = now.there(place);
    const double c = std::cos(turned_rad);
    const double s = std::sin(turned_rad);
    const Pixel m = point.marked - Pixel(0.5, 0.5);
    // From here to there: R (p - marked) + spot.
    const cv::Matx23d turn(c, -s, spot.x - c * m.x() + s * m.y(), //
                           s, c, spot.y - s * m.x() - c * m.y());
    cv::Mat turned;
    cv::warpAffine(seen(*point.marked_in), turned, turn, now.seen_part().size(), cv::INTER_LINEAR,
                   cv::BORDER_REPLICATE);
    const cv::Size window(kWindow_px, kWindow_px);
    const std::vector<cv::Point2f> start{spot};
    std::vector<cv::Point2f> end{spot};
    std::vector<unsigned char> found;
    std::vector<float> difference;
    cv::calcOpticalFlowPyrLK(turned, now.seen_part(), start, end, found, difference, window, 0,
                             kUntil, cv::OPTFLOW_USE_INITIAL_FLOW);
    if (found.front() == 0 || difference.front() > kLooksAlike)
        return place;
    const Pixel set = now.here(end.front());
    return (set - place).norm() < kDrift_px ? set : place;
}

} // namespace

std::vector<std::optional<Pixel>> follow(const GreyPicture& from, const GreyPicture& to,
                                         const std::vector<Followed>& points) {
    std::vector<std::optional<Pixel>> out(points.size());
    const auto same_size = [&](const GreyPicture& other) {
        return !other.empty() && other.width_px == to.width_px && other.height_px == to.height_px;
    };
    if (!same_size(from) || !same_size(to))
        return out;
    for (std::size_t i = 0; i < points.size(); ++i) {
        const Followed& point = points[i];
        if (!point.from.allFinite() || !point.expected.allFinite())
            continue;
        // Only what lies about the point and its way is looked at, in both pictures alike.
        const Pixel middle = 0.5 * (point.from + point.expected);
        const double reach = 12.0 * kWindow_px + 0.5 * (point.from - point.expected).norm();
        const Part before(from, middle, reach);
        const Part after(to, middle, reach);
        if (before.empty() || after.empty())
            continue;
        const auto at = go(before, point.from, after, point.expected, kLevels, kLooksAlike);
        if (!at)
            continue;
        const auto home = go(after, *at, before, point.from, kLevels, 255.0F);
        if (!home || (*home - point.from).norm() > kHome_px)
            continue;
        if (at->x() >= 0.0 && at->y() >= 0.0 && at->x() < to.width_px && at->y() < to.height_px)
            out[i] = *at;
    }
    const std::vector<std::optional<Pixel>> first = out;
    for (std::size_t i = 0; i < points.size(); ++i)
        if (first[i] && points[i].marked_in != nullptr && same_size(*points[i].marked_in) &&
            points[i].marked.allFinite())
            out[i] = as_marked(points[i], *first[i], turn_since_marked(points, first, i), to);
    return out;
}

} // namespace kite::film
