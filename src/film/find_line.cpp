#include "film/find_line.h"

#include "core/base/units.h"
#include "film/opencv.h"

#include <algorithm>
#include <cmath>
#include <opencv2/imgproc.hpp>

namespace kite::film {

namespace {

constexpr double kSameWay_deg = 15.0;
constexpr int kThickest_px = 15;

/// Brightness-weighted middle of the line across it, at points along: its place to a part of a
/// pixel, as a straight line through them.
std::optional<Line> sharpen(const cv::Mat& bright, const Pixel& a, const Pixel& b) {
    const double length = (b - a).norm();
    const Pixel along = (b - a) / length;
    const Pixel across(-along.y(), along.x());
    cv::Mat rows;
    std::vector<cv::Point2f> middles;
    constexpr int kHalf = 6;
    constexpr double kStep_px = 4.0;
    for (int step = 0; step * kStep_px <= length; ++step) {
        const double s = step * kStep_px;
        double sum = 0.0;
        double at = 0.0;
        for (int i = -kHalf; i <= kHalf; ++i) {
            const Pixel p = a + s * along + i * across;
            const int x = static_cast<int>(std::lround(p.x()));
            const int y = static_cast<int>(std::lround(p.y()));
            if (x < 0 || y < 0 || x >= bright.cols || y >= bright.rows)
                continue;
            const double value = bright.at<unsigned char>(y, x);
            sum += value;
            at += value * i;
        }
        if (sum > 60.0) {
            const Pixel p = a + s * along + at / sum * across;
            middles.emplace_back(static_cast<float>(p.x()), static_cast<float>(p.y()));
        }
    }
    if (middles.size() < 4)
        return std::nullopt;
    cv::Vec4f fitted;
    cv::fitLine(middles, fitted, cv::DIST_HUBER, 0.0, 0.01, 0.01);
    const Pixel way(fitted[0], fitted[1]);
    const Pixel on(fitted[2], fitted[3]);
    return Line{on + way * way.dot(a - on), on + way * way.dot(b - on)};
}

} // namespace

std::optional<Line> find_line(const GreyPicture& picture, const Line& expected, double reach_px) {
    if (picture.empty() || !expected.from.allFinite() || !expected.to.allFinite())
        return std::nullopt;
    const double length = (expected.to - expected.from).norm();
    if (!(length > 8.0) || !(length < 1e5))
        return std::nullopt;
    const Pixel low = expected.from.cwiseMin(expected.to) - Pixel::Constant(reach_px);
    const Pixel high = expected.from.cwiseMax(expected.to) + Pixel::Constant(reach_px);
    const int x = std::max(0, static_cast<int>(std::floor(low.x())));
    const int y = std::max(0, static_cast<int>(std::floor(low.y())));
    const int right = std::min(picture.width_px, static_cast<int>(std::ceil(high.x())));
    const int bottom = std::min(picture.height_px, static_cast<int>(std::ceil(high.y())));
    if (right - x < kThickest_px || bottom - y < kThickest_px)
        return std::nullopt;
    const cv::Mat whole = seen(picture);
    const cv::Mat part = whole(cv::Rect(x, y, right - x, bottom - y));
    // What is brighter than all around it within the width of a stick.
    cv::Mat bright;
    cv::morphologyEx(part, bright, cv::MORPH_TOPHAT,
                     cv::getStructuringElement(cv::MORPH_ELLIPSE, {kThickest_px, kThickest_px}));
    cv::Mat clear;
    cv::threshold(bright, clear, 0.0, 255.0, cv::THRESH_BINARY | cv::THRESH_OTSU);
    std::vector<cv::Vec4i> segments;
    cv::HoughLinesP(clear, segments, 1.0, kPi / 360.0, 30, 0.5 * length, 0.15 * length);
    const Pixel corner(x + 0.5, y + 0.5); // centres at halves here, at whole numbers there
    const Pixel way = (expected.to - expected.from) / length;
    std::optional<Line> best;
    double best_cost = reach_px;
    for (const cv::Vec4i& s : segments) {
        Pixel a(s[0], s[1]);
        Pixel b(s[2], s[3]);
        if ((b - a).dot(way) < 0.0)
            std::swap(a, b);
        const double cosine = (b - a).normalized().dot(way);
        if (cosine < std::cos(rad_from_deg(kSameWay_deg)))
            continue;
        // Both ends count, and a whole line more than a piece of it.
        const double cost =
            0.5 * ((a + corner - expected.from).norm() + (b + corner - expected.to).norm());
        if (cost < best_cost)
            if (const auto fine = sharpen(bright, a, b)) {
                best_cost = cost;
                best = Line{fine->from + corner, fine->to + corner};
            }
    }
    return best;
}

} // namespace kite::film
