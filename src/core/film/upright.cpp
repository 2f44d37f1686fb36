#include "core/film/upright.h"

#include <algorithm>
#include <cmath>

namespace kite::film {

namespace {

const View* find_view(const Marks& marks, Side side) {
    for (const View& view : marks.views)
        if (view.side == side)
            return &view;
    return nullptr;
}

/// Where a point was first marked.
std::optional<Pixel> early(const View& view, Point point) {
    for (const MarkedFrame& frame : view.frames)
        if (frame[point])
            return frame[point];
    return std::nullopt;
}

/// The frame of a view nearest to a moment in which the golfer has hands and club in front.
const MarkedFrame* hands_in_front(const View& view) {
    for (Moment moment : {Moment::Address, Moment::Impact}) {
        const auto told = view.moments_s.find(moment);
        if (told == view.moments_s.end() || view.frames.empty())
            continue;
        return &*std::min_element(view.frames.begin(), view.frames.end(),
                                  [&](const MarkedFrame& a, const MarkedFrame& b) {
                                      return std::abs(a.t_s - told->second) <
                                             std::abs(b.t_s - told->second);
                                  });
    }
    return view.frames.empty() ? nullptr : &view.frames.front();
}

/// Whether hands and club are below the hips in a picture from above; empty: not marked.
std::optional<bool> is_ball_below(const View& view) {
    const MarkedFrame* frame = hands_in_front(view);
    if (frame == nullptr || !(*frame)[Point::BeltLead] || !(*frame)[Point::BeltTrail])
        return std::nullopt;
    const double hips = 0.5 * ((*frame)[Point::BeltLead]->y() + (*frame)[Point::BeltTrail]->y());
    for (Point point : {Point::ClubHead, Point::Grip, Point::Wrist})
        if (const auto& hands = (*frame)[point])
            return hands->y() >= hips;
    return std::nullopt;
}

/// Along the picture, positive to the right, as a share of the way: how the hands go, where they
/// are fast counting most; of a club that leaves the picture half of its way is not seen. Where no
/// hands were marked, how the club goes where it is fastest. Empty: neither was marked.
std::optional<double> swing_to_the_right(const View& view) {
    constexpr double kLongest_s = 0.05; ///< from one mark to the next
    for (const Point point : {Point::Grip, Point::Wrist}) {
        double right = 0.0;
        double all = 0.0;
        for (std::size_t i = 1; i < view.frames.size(); ++i) {
            const MarkedFrame& from = view.frames[i - 1];
            const MarkedFrame& to = view.frames[i];
            const double lasts_s = to.t_s - from.t_s;
            if (!from[point] || !to[point] || !(lasts_s > 0.0) || lasts_s > kLongest_s)
                continue;
            const Pixel way = *to[point] - *from[point];
            const double weight = way.squaredNorm() / (lasts_s * lasts_s);
            right += way.x() * weight;
            all += way.norm() * weight;
        }
        if (all > 0.0)
            return right / all;
    }
    const auto fastest = find_fastest_step(view, {Point::ClubHead});
    if (!fastest || !(fastest->px_s.norm() > 0.0))
        return std::nullopt;
    return fastest->px_s.x() / fastest->px_s.norm();
}

} // namespace

std::optional<Handedness> hand_in_film(const Marks& marks) {
    constexpr double kClearly = 0.5;
    if (const View* view = find_view(marks, Side::FaceOn))
        if (const auto right = swing_to_the_right(*view); right && std::abs(*right) > kClearly)
            return *right > 0.0 ? Handedness::Right : Handedness::Left;
    if (const View* view = find_view(marks, Side::DownTheLine)) {
        const auto belt_lead = early(*view, Point::BeltLead);
        const auto belt_trail = early(*view, Point::BeltTrail);
        for (Point point : {Point::ClubHead, Point::Grip, Point::Wrist})
            if (const auto hands = early(*view, point); hands && belt_lead && belt_trail)
                return hands->x() > 0.5 * (belt_lead->x() + belt_trail->x()) ? Handedness::Right
                                                                             : Handedness::Left;
    }
    if (const View* view = find_view(marks, Side::Above)) {
        const auto right = swing_to_the_right(*view);
        const auto below = is_ball_below(*view);
        if (right && below && std::abs(*right) > kClearly)
            return (*right > 0.0) == *below ? Handedness::Right : Handedness::Left;
    }
    return std::nullopt;
}

void set_above_upright(Marks& marks) {
    for (View& view : marks.views)
        if (view.side == Side::Above && !is_ball_below(view).value_or(true))
            turn_about(view);
}

} // namespace kite::film
