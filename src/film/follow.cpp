#include "film/follow.h"

#include "film/opencv.h"

#include <algorithm>
#include <cmath>
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

/// From where it was marked it must lie about there, this far at most.
constexpr double kDrift_px = 4.0;
/// Half the width of what must look the same, and how much so.
constexpr int kSpot_px = 11;
constexpr double kAlike = 0.7;
constexpr double kSurelyAlike = 0.85;

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

bool inside(const Pixel& at, const GreyPicture& picture) {
    return at.x() >= 0.0 && at.y() >= 0.0 && at.x() < picture.width_px &&
           at.y() < picture.height_px;
}

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

/// What was marked, turned, in a square of this half width about its spot.
cv::Mat turned_mark(const Followed& point, double turned_rad, int half_px) {
    const double c = std::cos(turned_rad);
    const double s = std::sin(turned_rad);
    const Pixel m = point.marked - Pixel(0.5, 0.5);
    const double middle = half_px;
    // From here to there: R (p - marked) + middle.
    const cv::Matx23d turn(c, -s, middle - c * m.x() + s * m.y(), //
                           s, c, middle - s * m.x() - c * m.y());
    cv::Mat out;
    cv::warpAffine(seen(*point.marked_in), out, turn, {2 * half_px + 1, 2 * half_px + 1},
                   cv::INTER_LINEAR, cv::BORDER_REPLICATE);
    return out;
}

/// The picture about a place, with the place itself in the middle, to a part of a pixel.
cv::Mat about(const GreyPicture& picture, const Pixel& place, int half_px) {
    cv::Mat out;
    cv::getRectSubPix(seen(picture), {2 * half_px + 1, 2 * half_px + 1},
                      {static_cast<float>(place.x() - 0.5), static_cast<float>(place.y() - 0.5)},
                      out);
    return out;
}

/// How much two spots look alike, -1 to 1: correlation of their brightness, the middle counting
/// most, since what is behind a point changes while it moves.
double likeness(const cv::Mat& a, const cv::Mat& b) {
    constexpr double kMiddle_px = 5.0;
    const double half = 0.5 * (a.cols - 1);
    double w_sum = 0.0;
    double a_sum = 0.0;
    double b_sum = 0.0;
    double aa = 0.0;
    double bb = 0.0;
    double ab = 0.0;
    for (int y = 0; y < a.rows; ++y)
        for (int x = 0; x < a.cols; ++x) {
            const double r2 = (x - half) * (x - half) + (y - half) * (y - half);
            const double w = std::exp(-0.5 * r2 / (kMiddle_px * kMiddle_px));
            const double va = a.at<unsigned char>(y, x);
            const double vb = b.at<unsigned char>(y, x);
            w_sum += w;
            a_sum += w * va;
            b_sum += w * vb;
            aa += w * va * va;
            bb += w * vb * vb;
            ab += w * va * vb;
        }
    const double a_var = aa - a_sum * a_sum / w_sum;
    const double b_var = bb - b_sum * b_sum / w_sum;
    // Nothing to be seen looks like nothing.
    constexpr double kPlain = 4.0; // SD of brightness, of 255
    if (a_var < w_sum * kPlain * kPlain || b_var < w_sum * kPlain * kPlain)
        return 0.0;
    return (ab - a_sum * b_sum / w_sum) / std::sqrt(a_var * b_var);
}

/// The place near a given one that looks like what was marked; empty: it does not.
std::optional<Pixel> as_marked(const Followed& point, const Pixel& place, double turned_rad,
                               const GreyPicture& to) {
    constexpr int kHalf = 2 * kWindow_px;
    const cv::Mat mark = turned_mark(point, turned_rad, kHalf);
    const cv::Mat now = about(to, place, kHalf);
    const cv::Size window(kWindow_px, kWindow_px);
    const std::vector<cv::Point2f> start{{static_cast<float>(kHalf), static_cast<float>(kHalf)}};
    std::vector<cv::Point2f> end = start;
    std::vector<unsigned char> found;
    std::vector<float> difference;
    cv::calcOpticalFlowPyrLK(mark, now, start, end, found, difference, window, 0, kUntil,
                             cv::OPTFLOW_USE_INITIAL_FLOW);
    Pixel out = place;
    if (found.front() != 0) {
        const Pixel off(end.front().x - start.front().x, end.front().y - start.front().y);
        if (off.norm() < kDrift_px)
            out += off;
    }
    const cv::Mat spot = turned_mark(point, turned_rad, kSpot_px);
    if (likeness(about(to, out, kSpot_px), spot) < kAlike)
        return std::nullopt;
    return out;
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
        if (inside(*at, to))
            out[i] = *at;
    }
    const std::vector<std::optional<Pixel>> first = out;
    for (std::size_t i = 0; i < points.size(); ++i)
        if (first[i] && points[i].marked_in != nullptr && same_size(*points[i].marked_in) &&
            points[i].marked.allFinite())
            out[i] = as_marked(points[i], *first[i], turn_since_marked(points, first, i), to);
    // What does not turn with its stick, as a shoulder under the arm.
    for (std::size_t i = 0; i < points.size(); ++i)
        if (first[i] && !out[i])
            out[i] = as_marked(points[i], *first[i], 0.0, to);
    return out;
}

std::optional<Pixel> find_again(const GreyPicture& picture, const Followed& point,
                                const Pixel& place, double turned_rad, double reach_px) {
    if (picture.empty() || point.marked_in == nullptr || point.marked_in->empty() ||
        !place.allFinite() || !point.marked.allFinite() || !(reach_px >= 1.0) || reach_px > 1e4)
        return std::nullopt;
    const cv::Mat mark = turned_mark(point, turned_rad, kSpot_px);
    const int reach = static_cast<int>(std::ceil(reach_px));
    const cv::Mat there = about(picture, place, reach + kSpot_px);
    cv::Mat alike;
    cv::matchTemplate(there, mark, alike, cv::TM_CCOEFF_NORMED);
    double best = 0.0;
    cv::Point at;
    cv::minMaxLoc(alike, nullptr, &best, nullptr, &at);
    if (!(best >= kSurelyAlike))
        return std::nullopt;
    const Pixel found = place + Pixel(at.x - reach, at.y - reach);
    if (!inside(found, picture))
        return std::nullopt;
    return as_marked(point, found, turned_rad, picture);
}

} // namespace kite::film
