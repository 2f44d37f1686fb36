#include "core/film/camera_check.h"

#include "core/base/names.h"
#include "core/base/units.h"

#include <Eigen/Geometry>

#include <algorithm>
#include <cmath>

namespace kite::film {

namespace {

constexpr double kSlow_hz = 100.0;
constexpr double kLean_deg = 1.5;
constexpr double kBeside_deg = 4.0;
constexpr double kSmall = 0.45; ///< of the picture's height, that the golfer fills at least
constexpr double kEdge = 0.04;  ///< of the picture, that stays free
/// Height over focal length of a phone's upright picture (main camera, common practice, no source).
constexpr double kUsualFocal = 0.9;

double focal_of(const View& view) {
    return view.focal_px.value_or(kUsualFocal * view.size_px.maxCoeff());
}

/// By how much the camera leans, as a plumb line shows it, rad: positive to the left (its right
/// side up), so that what is upright leans to the right in the picture.
double lean_rad(const View& view) {
    if (!view.plumb_px)
        return 0.0;
    Pixel down = view.plumb_px->to - view.plumb_px->from;
    if (down.y() < 0.0)
        down = -down;
    return std::atan2(-down.x(), down.y());
}

/// The picture as a camera sees it that does not lean.
Pixel straightened(const View& view, const Pixel& px) {
    const Pixel middle = 0.5 * view.size_px;
    return middle + Eigen::Rotation2Dd(-lean_rad(view)) * (px - middle);
}

/// A point of the floor under a level camera, m: right of it and ahead.
std::optional<Pixel> on_floor(const View& view, const Pixel& px, double height_m) {
    const Pixel d = px - 0.5 * view.size_px;
    if (!(d.y() > 1.0))
        return std::nullopt;
    const double ahead = focal_of(view) * height_m / d.y();
    return Pixel(d.x() * ahead / focal_of(view), ahead);
}

const MarkedFrame* first_frame(const View& view) {
    return view.frames.empty() ? nullptr : &view.frames.front();
}

} // namespace

std::optional<double> beside_deg(const View& view) {
    if (!view.target_line_px || !view.height_m || view.side == Side::Above)
        return std::nullopt;
    const auto a = on_floor(view, straightened(view, view.target_line_px->from), *view.height_m);
    const auto b = on_floor(view, straightened(view, view.target_line_px->to), *view.height_m);
    if (!a || !b)
        return std::nullopt;
    Pixel way = *b - *a;
    if (view.side == Side::FaceOn) {
        if (way.x() < 0.0)
            way = -way;
        return -deg_from_rad(std::atan2(way.y(), way.x()));
    }
    if (way.y() < 0.0)
        way = -way;
    return deg_from_rad(std::atan2(way.x(), way.y()));
}

std::vector<CameraAdvice> check_camera(const View& view) {
    std::vector<CameraAdvice> out;
    const auto advise = [&](const char* id, const char* what, std::vector<double> values,
                            int decimals = 0) {
        out.push_back({id, what, std::move(values), decimals});
    };
    if (view.capture_rate_hz > 0.0 && view.capture_rate_hz < kSlow_hz)
        advise("slow",
               KITE_TR("The phone takes {1} pictures a second. Choose slow motion: 120 a second or "
                       "more tell the order, 240 are best."),
               {view.capture_rate_hz});
    if (view.plumb_px) {
        const double lean = deg_from_rad(lean_rad(view));
        if (std::abs(lean) > kLean_deg)
            advise(
                lean > 0.0 ? "leans-left" : "leans-right",
                lean > 0.0
                    ? KITE_TR("The phone leans: turn it clockwise by {1}°, as seen from behind it.")
                    : KITE_TR("The phone leans: turn it anticlockwise by {1}°, as seen from behind "
                              "it."),
                {std::abs(lean)}, 1);
    }
    if (const auto beside = beside_deg(view); beside && std::abs(*beside) > kBeside_deg) {
        const double distance_m = view.distance_m.value_or(4.0);
        const double by_m = distance_m * std::tan(rad_from_deg(std::abs(*beside)));
        advise(
            "beside",
            *beside > 0.0
                ? KITE_TR("The phone stands {1}° beside its place: move it about {2} m to the left "
                          "and point it at the golfer again.")
                : KITE_TR(
                      "The phone stands {1}° beside its place: move it about {2} m to the right "
                      "and point it at the golfer again."),
            {std::abs(*beside), by_m}, 1);
    }
    if (const MarkedFrame* frame = first_frame(view)) {
        Pixel low = Pixel::Constant(1e9);
        Pixel high = Pixel::Constant(-1e9);
        for (const auto& at : frame->at)
            if (at) {
                low = low.cwiseMin(*at);
                high = high.cwiseMax(*at);
            }
        const auto head = (*frame)[Point::Head];
        const auto foot =
            (*frame)[Point::LeadAnkle] ? (*frame)[Point::LeadAnkle] : (*frame)[Point::TrailAnkle];
        if (head && foot && view.side != Side::Above) {
            const double share = (foot->y() - head->y()) / view.size_px.y();
            if (share > 0.0 && share < kSmall)
                advise("small",
                       KITE_TR("The golfer fills {1} % of the picture's height. Step closer, until "
                               "club and hands just stay inside at the top."),
                       {100.0 * share});
        }
        if (low.x() < high.x()) {
            const Pixel edge = kEdge * view.size_px;
            if (low.x() < edge.x() || low.y() < edge.y() ||
                high.x() > view.size_px.x() - edge.x() || high.y() > view.size_px.y() - edge.y())
                advise("edge",
                       KITE_TR(
                           "Something that is marked lies at the picture's edge. Step back or turn "
                           "the phone: hands and club need room above and beside."),
                       {});
        }
    }
    if (view.size_px.x() > view.size_px.y() && view.side != Side::Above)
        advise("lying",
               KITE_TR("The phone lies on its side. Stand it upright: the golfer gets larger."),
               {});
    return out;
}

FilmPromise promise_of(const Marks& marks) {
    FilmPromise out;
    bool face = false;
    bool line = false;
    bool above = false;
    double slowest = 1e9;
    bool rate_known = !marks.views.empty();
    for (const View& view : marks.views) {
        face = face || view.side == Side::FaceOn;
        line = line || view.side == Side::DownTheLine;
        above = above || view.side == Side::Above;
        rate_known = rate_known && view.capture_rate_hz > 0.0;
        slowest = std::min(slowest, view.capture_rate_hz);
    }
    const bool quick = rate_known && slowest >= kSlow_hz;
    if (face && line) {
        out.tells.emplace_back(KITE_TR("Turn of pelvis and torso and their separation through the "
                                       "whole downswing."));
        if (quick)
            out.tells.emplace_back(KITE_TR("When each part is fastest, and the order."));
    } else if (above) {
        out.tells.emplace_back(KITE_TR("Turn of pelvis and torso, seen directly."));
    } else if (face) {
        out.tells.emplace_back(KITE_TR(
            "Turn of pelvis and torso where their lines are seen foreshortened, as at impact."));
        out.cannot.emplace_back(
            KITE_TR("Turn near square cannot be told from the front alone. A second "
                    "view, down the line, would help."));
    } else if (line) {
        out.tells.emplace_back(
            KITE_TR("Turn of pelvis and torso near square, and the club's plane."));
        out.cannot.emplace_back(
            KITE_TR("Turn near 90° cannot be told down the line alone. A second "
                    "view, face-on, would help."));
    }
    if (!rate_known)
        out.cannot.emplace_back(KITE_TR("No time can be told before the capture rate is said."));
    else if (!quick)
        out.cannot.emplace_back(KITE_TR("The order can hardly be told at this rate: 120 pictures a "
                                        "second or more would help."));
    if (!marks.lengths_m.belt_stick)
        out.cannot.emplace_back(
            KITE_TR("How far the pelvis turns is told better with a stick in the "
                    "belt whose length is said."));
    return out;
}

} // namespace kite::film
