#include "film/render/scene.h"

#include "simulate/lens.h"

#include <algorithm>
#include <cmath>
#include <memory>
#include <opencv2/core.hpp>
#include <opencv2/imgproc.hpp>

namespace kite::film {

using Eigen::Vector2d;
using Eigen::Vector3d;

namespace {

constexpr int kShift = 4;       ///< bits of a pixel's fraction
constexpr double kGrain = 16.0; ///< SD as it is kept, of 255

cv::Scalar colour(int red, int green, int blue) {
    return {static_cast<double>(blue), static_cast<double>(green), static_cast<double>(red)};
}

} // namespace

struct Scene::Parts {
    const simulate::SwingModel& model;
    simulate::PlaceOf place_of;
    simulate::Lens lens;
    cv::Size size;
    double blur_s;
    bool mirrored;
    bool from_above;
    cv::Mat empty;              ///< floor and wall
    std::vector<cv::Mat> grain; ///< with an SD of 16, some to take turns

    Parts(const simulate::SwingModel& m, const simulate::FilmSetup& setup,
          const simulate::FilmCamera& camera)
        : model(m), place_of(simulate::points_of(m, setup)), lens(camera),
          size(static_cast<int>(camera.size_px.x()), static_cast<int>(camera.size_px.y())),
          blur_s(camera.blur_s), mirrored(m.parameters().handed == Handedness::Left),
          from_above(camera.side == film::Side::Above) {
        furnish();
    }

    cv::Point at(const Vector3d& p_m) const {
        Vector2d px = lens.see(p_m);
        if (!px.allFinite())
            px = Vector2d(-1e4, -1e4);
        if (mirrored)
            px.x() = size.width - px.x();
        px = px.cwiseMax(-1e4).cwiseMin(1e4);
        // Centres of pixels are at halves in marks, at whole numbers here.
        return {static_cast<int>(std::lround((px.x() - 0.5) * (1 << kShift))),
                static_cast<int>(std::lround((px.y() - 0.5) * (1 << kShift)))};
    }
    int thick(const Vector3d& p_m, double m) const {
        return std::clamp(static_cast<int>(std::lround(m * lens.px_per_m(p_m))), 1, 400);
    }
    void limb(cv::Mat& to, const Vector3d& a, const Vector3d& b, double m,
              const cv::Scalar& ink) const {
        cv::line(to, at(a), at(b), ink, thick(0.5 * (a + b), m), cv::LINE_AA, kShift);
    }
    void dot(cv::Mat& to, const Vector3d& a, double radius_m, const cv::Scalar& ink) const {
        const int radius = static_cast<int>(
            std::lround(std::max(radius_m * lens.px_per_m(a), 0.5) * (1 << kShift)));
        cv::circle(to, at(a), radius, ink, cv::FILLED, cv::LINE_AA, kShift);
    }

    /// A still room with enough on its wall and floor to tell places apart.
    void furnish() {
        empty.create(size, CV_8UC3);
        cv::RNG random(20260425);
        for (int y = 0; y < size.height; ++y) {
            const double share = static_cast<double>(y) / size.height;
            const bool floor = from_above || share > 0.72;
            const cv::Scalar ink = floor ? colour(64, 86, 74) : colour(88, 90, 94);
            empty.row(y).setTo(ink * (0.9 + 0.2 * share));
        }
        // Grey stains, as of a wall that is not new and a mat that is used.
        for (const int every : {90, 30}) {
            cv::Mat coarse(size.height / every + 2, size.width / every + 2, CV_8UC1);
            random.fill(coarse, cv::RNG::UNIFORM, 0, 16);
            cv::Mat stains;
            cv::resize(coarse, stains, size, 0, 0, cv::INTER_CUBIC);
            cv::Mat grey;
            cv::cvtColor(stains, grey, cv::COLOR_GRAY2BGR);
            empty += grey;
        }
        grain.resize(7);
        for (cv::Mat& one : grain) {
            one.create(size, CV_16SC3);
            random.fill(one, cv::RNG::NORMAL, 0.0, kGrain);
        }
    }

    void figure(cv::Mat& to, double t_s) const {
        const auto point = [&](Point p) { return place_of(p, t_s); };
        const Vector3d hip_lead = model.hip_m(true, t_s);
        const Vector3d hip_trail = model.hip_m(false, t_s);
        const cv::Scalar trousers = colour(38, 44, 62);
        const cv::Scalar shirt = colour(96, 118, 150);
        const cv::Scalar skin = colour(176, 140, 116);
        for (const bool lead : {false, true}) {
            const Vector3d knee = model.knee_m(lead, t_s);
            const Vector3d ankle = model.ankle_m(lead, t_s);
            limb(to, lead ? hip_lead : hip_trail, knee, 0.13, trousers);
            limb(to, knee, ankle, 0.10, trousers);
            limb(to, ankle, ankle + Vector3d(0.0, -0.16, -0.05), 0.08, colour(206, 206, 200));
        }
        const Vector3d shoulder_lead = point(Point::LeadShoulder);
        const Vector3d shoulder_trail = model.trail_shoulder_m(t_s);
        const std::array outline{at(hip_lead), at(shoulder_lead), at(shoulder_trail),
                                 at(hip_trail)};
        const Vector3d middle = 0.25 * (hip_lead + hip_trail + shoulder_lead + shoulder_trail);
        cv::fillConvexPoly(to, outline.data(), 4, shirt, cv::LINE_AA, kShift);
        for (std::size_t i = 0; i < 4; ++i)
            cv::line(to, outline[i], outline[(i + 1) % 4], shirt, thick(middle, 0.15), cv::LINE_AA,
                     kShift);
        const Vector3d head = point(Point::Head);
        limb(to, 0.5 * (shoulder_lead + shoulder_trail), head, 0.10, skin);
        dot(to, head, 0.11, skin);
        const Vector3d wrist = point(Point::Wrist);
        limb(to, shoulder_trail, model.trail_wrist_m(t_s), 0.085, shirt * 0.9);
        limb(to, shoulder_lead, wrist, 0.085, shirt * 1.1);
        dot(to, shoulder_lead, 0.028, colour(240, 214, 96));
        limb(to, wrist, point(Point::Grip), 0.06, skin);
        dot(to, wrist, 0.026, colour(240, 214, 96));
        const auto stick = [&](Point a, Point b, const cv::Scalar& ink) {
            limb(to, point(a), point(b), 0.018, ink);
            dot(to, point(a), 0.022, colour(30, 30, 34));
            dot(to, point(b), 0.022, colour(30, 30, 34));
        };
        stick(Point::BeltLead, Point::BeltTrail, colour(250, 250, 244));
        stick(Point::ShoulderLead, Point::ShoulderTrail, colour(250, 236, 214));
        const Vector3d grip = point(Point::Grip);
        const Vector3d club = point(Point::ClubHead);
        limb(to, grip, club, 0.016, colour(232, 234, 238));
        dot(to, grip, 0.022, colour(30, 30, 34));
        dot(to, club, 0.035, colour(236, 238, 242));
        const Vector3d ball = model.head_m(model.impact_s());
        if (t_s < model.impact_s())
            dot(to, ball, 0.022, colour(255, 255, 255));
        else if (t_s < model.impact_s() + 0.25)
            dot(to, ball + (t_s - model.impact_s()) * Vector3d(50.0, 0.0, 16.0), 0.022,
                colour(255, 255, 255));
    }
};

Scene::Scene(const simulate::SwingModel& model, const simulate::FilmSetup& setup,
             const simulate::FilmCamera& camera)
    : parts_(std::make_unique<Parts>(model, setup, camera)) {}

Scene::~Scene() = default;

Drawn Scene::draw(double t_s, double grain, std::uint32_t seed) const {
    constexpr int kOfShutter = 5;
    const double last_s = parts_->model.duration_s();
    const auto still = [&](double at_s) {
        cv::Mat picture = parts_->empty.clone();
        parts_->figure(picture, std::clamp(at_s, 0.0, last_s));
        return picture;
    };
    cv::Mat seen;
    if (parts_->blur_s > 0.0) {
        // Marks lie in the middle of what the shutter saw.
        cv::Mat sum(parts_->size, CV_32FC3, cv::Scalar::all(0.0));
        for (int i = 0; i < kOfShutter; ++i)
            cv::accumulate(still(t_s + parts_->blur_s * ((i + 0.5) / kOfShutter - 0.5)), sum);
        sum.convertTo(seen, CV_8UC3, 1.0 / kOfShutter);
    } else {
        seen = still(t_s);
    }
    if (grain > 0.0) {
        cv::addWeighted(seen, 1.0, parts_->grain[seed % parts_->grain.size()], grain / kGrain, 0.0,
                        seen, CV_8UC3);
    }
    Drawn out;
    out.width_px = seen.cols;
    out.height_px = seen.rows;
    out.bgr.assign(seen.datastart, seen.dataend);
    return out;
}

} // namespace kite::film
