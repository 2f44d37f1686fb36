#include "film/follow_through.h"

#include "film/find_line.h"
#include "film/follow.h"

#include <Eigen/Geometry>

#include <algorithm>
#include <cmath>

namespace kite::film {

namespace {

/// What lies at both ends of something straight.
constexpr std::array<std::pair<Point, Point>, 4> kPairs{
    {{Point::BeltLead, Point::BeltTrail},
     {Point::ShoulderLead, Point::ShoulderTrail},
     {Point::Grip, Point::ClubHead},
     {Point::LeadShoulder, Point::Wrist}}};

std::optional<std::size_t> partner_of(std::size_t point) {
    for (const auto& [a, b] : kPairs) {
        if (point == static_cast<std::size_t>(a))
            return static_cast<std::size_t>(b);
        if (point == static_cast<std::size_t>(b))
            return static_cast<std::size_t>(a);
    }
    return std::nullopt;
}

/// The longer side of what is looked at, about.
constexpr double kLookedAt_px = 960.0;
/// So many pictures something may be hidden before it counts as lost.
constexpr int kHidden = 16;
/// … and so many it may be outside of the picture.
constexpr int kOutside = 60;
/// How far from where it is expected a hidden point is looked for: so much, and more with its
/// speed.
constexpr double kReach_px = 10.0;

/// A point on its way.
struct OnTheWay {
    Pixel marked = Pixel::Zero();
    Pixel now = Pixel::Zero();
    Pixel step = Pixel::Zero(); ///< from the picture before
    double turned_rad = 0.0;    ///< in the picture, with its stick, since it was marked
    bool found = false;
    int hidden = 0;  ///< pictures since it was seen, those outside not counted
    int outside = 0; ///< pictures since it left the picture

    bool is_followed() const {
        return found || ((hidden > 0 || outside > 0) && hidden <= kHidden && outside <= kOutside);
    }
};

constexpr auto kGrip = static_cast<std::size_t>(Point::Grip);
constexpr auto kClubHead = static_cast<std::size_t>(Point::ClubHead);

/// The shaft turns faster than anything else: where its end is expected, from how it turned last.
Pixel expected_head(const OnTheWay& grip, const OnTheWay& head, const Pixel& grip_expected) {
    const Pixel now = head.now - grip.now;
    const Pixel before = now - (head.step - grip.step);
    if (!(now.norm() > 1.0) || !(before.norm() > 1.0))
        return head.now + head.step;
    const double turned = std::atan2(now.y(), now.x()) - std::atan2(before.y(), before.x());
    // How it is foreshortened changes steadily; where it is not seen nothing is known of that.
    const double longer = head.found ? std::clamp(now.norm() / before.norm(), 0.8, 1.25) : 1.0;
    return grip_expected + longer * (Eigen::Rotation2Dd(turned) * now);
}

Followed as_followed(const OnTheWay& one, const GreyPicture& marked_in) {
    Followed out;
    out.marked = one.marked;
    out.marked_in = &marked_in;
    return out;
}

/// By how much a stick has turned in the picture since it was marked.
double turned_between(const OnTheWay& one, const OnTheWay& other) {
    const Pixel before = other.marked - one.marked;
    const Pixel after = other.now - one.now;
    if (!(before.norm() > 1.0) || !(after.norm() > 1.0))
        return one.turned_rad;
    return std::atan2(after.y(), after.x()) - std::atan2(before.y(), before.x());
}

bool is_outside(const Pixel& at, const GreyPicture& picture) {
    constexpr double kEdge_px = 4.0;
    return at.x() < kEdge_px || at.y() < kEdge_px || at.x() > picture.width_px - kEdge_px ||
           at.y() > picture.height_px - kEdge_px;
}

/// A point that was not followed, where its way leads; a club head also at the end of its shaft.
std::optional<Pixel> look_again(const std::array<OnTheWay, kPoints>& way, std::size_t p,
                                const std::array<std::optional<Pixel>, kPoints>& seen,
                                const GreyPicture& now, const GreyPicture& marked_in) {
    const OnTheWay& one = way[p];
    Pixel expected = one.now + one.step;
    if (p == kClubHead && seen[kGrip])
        expected = expected_head(way[kGrip], one, *seen[kGrip]);
    if (is_outside(expected, now))
        return std::nullopt;
    const Followed point = as_followed(one, marked_in);
    if (p == kClubHead && seen[kGrip]) {
        const double length = (expected - *seen[kGrip]).norm();
        if (const auto shaft = find_line(now, {*seen[kGrip], expected}, 0.25 * length)) {
            const Pixel before = one.marked - way[kGrip].marked;
            const Pixel after = shaft->to - *seen[kGrip];
            const double turned =
                std::atan2(after.y(), after.x()) - std::atan2(before.y(), before.x());
            if (auto head = find_again(now, point, shaft->to, turned, kReach_px))
                return head;
        }
    }
    const double reach = kReach_px * (1.0 + 0.2 * one.hidden) + 0.5 * one.step.norm();
    const auto found = find_again(now, point, expected, one.turned_rad, reach);
    return found ? found : find_again(now, point, expected, 0.0, reach);
}

/// The point where it was seen; else where its way leads on to.
void go_on(OnTheWay& one, const std::optional<Pixel>& at, const Pixel& expected,
           const GreyPicture& picture) {
    if (at) {
        one.step = *at - one.now;
        one.now = *at;
        one.found = true;
        one.hidden = one.outside = 0;
        return;
    }
    one.found = false;
    one.step = expected - one.now;
    one.now = expected;
    ++(is_outside(expected, picture) ? one.outside : one.hidden);
}

/// Where those that were found are in the next picture, and those that are looked for again; empty:
/// nobody is followed any more.
std::optional<Points> seen_next(const std::array<OnTheWay, kPoints>& way, const GreyPicture& before,
                                const GreyPicture& now, const GreyPicture& marked_in) {
    // Those that are seen, with each other as partners.
    std::vector<std::size_t> which;
    std::array<std::size_t, kPoints> index{};
    bool any = false;
    for (std::size_t p = 0; p < kPoints; ++p) {
        any = any || way[p].is_followed();
        if (way[p].found) {
            index[p] = which.size();
            which.push_back(p);
        }
    }
    if (!any)
        return std::nullopt;
    std::vector<Followed> points;
    for (const std::size_t p : which) {
        Followed point = as_followed(way[p], marked_in);
        point.from = way[p].now;
        point.expected = way[p].now + way[p].step;
        if (p == kClubHead && way[kGrip].found)
            point.expected =
                expected_head(way[kGrip], way[kClubHead], way[kGrip].now + way[kGrip].step);
        if (const auto other = partner_of(p); other && way[*other].found)
            point.partner = index[*other];
        points.push_back(point);
    }
    const std::vector<std::optional<Pixel>> places = follow(before, now, points);
    Points seen;
    for (const std::size_t p : which)
        seen[p] = places[index[p]];
    for (std::size_t p = 0; p < kPoints; ++p)
        if (way[p].is_followed() && !seen[p])
            seen[p] = look_again(way, p, seen, now, marked_in);
    return seen;
}

/// Everybody goes on by a picture, found or as expected.
FollowedPoints go_on(std::array<OnTheWay, kPoints>& way, const Points& seen,
                     const GreyPicture& now) {
    std::array<Pixel, kPoints> expected;
    for (std::size_t p = 0; p < kPoints; ++p)
        expected[p] = way[p].now + way[p].step;
    if (seen[kGrip])
        expected[kClubHead] = expected_head(way[kGrip], way[kClubHead], *seen[kGrip]);
    FollowedPoints out;
    for (std::size_t p = 0; p < kPoints; ++p)
        if (way[p].is_followed()) {
            go_on(way[p], seen[p], expected[p], now);
            out.outside[p] = !seen[p] && is_outside(way[p].now, now);
        }
    for (std::size_t p = 0; p < kPoints; ++p)
        if (const auto other = partner_of(p); other && way[p].found && way[*other].found)
            way[p].turned_rad = turned_between(way[p], way[*other]);
    out.at = seen;
    return out;
}

} // namespace

std::size_t follow_through(Film& film, std::size_t from, std::size_t to, const Points& marked,
                           const Points& steps,
                           const std::function<bool(std::size_t, const FollowedPoints&)>& found) {
    const SharedPicture first = film.picture(from);
    if (!first)
        return from;
    // Large pictures are looked at from so far that a stick's end is as many pixels as in small
    // ones.
    const int times = std::max(1, static_cast<int>(std::lround(
                                      std::max(first->width_px, first->height_px) / kLookedAt_px)));
    const GreyPicture marked_in = grey_of(*first, times);
    std::array<OnTheWay, kPoints> way;
    for (std::size_t p = 0; p < kPoints; ++p)
        if (marked[p]) {
            way[p].marked = way[p].now = *marked[p] / times;
            way[p].step = steps[p].value_or(Pixel(0.0, 0.0)) / times;
            way[p].found = true;
        }
    GreyPicture before = marked_in;
    std::size_t at = from;
    while (at != to) {
        const std::size_t next = to > at ? at + 1 : at - 1;
        const SharedPicture picture = film.picture(next);
        if (!picture)
            return at;
        GreyPicture now = grey_of(*picture, times);
        const std::optional<Points> seen = seen_next(way, before, now, marked_in);
        if (!seen)
            return at;
        FollowedPoints out = go_on(way, *seen, now);
        for (std::optional<Pixel>& place : out.at)
            if (place)
                *place *= times;
        at = next;
        if (!found(at, out))
            return at;
        before = std::move(now);
    }
    return at;
}

} // namespace kite::film
