// Following points and finding lines in film whose truth is known from the lens that made it, and
// what proposes moments from them.

#include "core/base/missing.h"
#include "core/film/marking.h"
#include "film/filmed_swing.h"
#include "film/find_line.h"
#include "film/follow.h"
#include "film/motion.h"

#include <algorithm>
#include <cmath>

using namespace kite;
using namespace kite::film;
using kite::test::FilmedSwing;

namespace {

constexpr double kRate_hz = 240.0;

/// Made once for all tests of this file.
const FilmedSwing& usual() {
    static const FilmedSwing swing(
        [](simulate::FilmCamera& camera, FilmLook&) { camera.blur_s = 0.0005; });
    return swing;
}

std::shared_ptr<Film> opened(const FilmedSwing& swing) {
    const auto film = Film::open(swing.path);
    EXPECT_TRUE(film.ok());
    return film.value;
}

std::size_t picture_at(const FilmedSwing& swing, double swing_s) {
    return static_cast<std::size_t>(
        std::lround((swing_s - swing.setup.cameras.front().starts_s) * kRate_hz));
}

} // namespace

TEST(Following, EndsOfSticksStayFoundThroughTheDownswing) {
    const FilmedSwing& swing = usual();
    const auto film = opened(swing);
    const std::size_t first = picture_at(swing, swing.times.top_s - 0.1);
    const std::size_t last = picture_at(swing, swing.times.impact_s);
    for (const auto& ends : {std::array{Point::BeltLead, Point::BeltTrail},
                             std::array{Point::ShoulderLead, Point::ShoulderTrail}}) {
        SCOPED_TRACE(point_keys()[static_cast<std::size_t>(ends[0])]);
        const GreyPicture marked_in = grey_of(*film->picture(first));
        std::vector<Followed> points(2);
        for (std::size_t k = 0; k < 2; ++k) {
            points[k].marked = swing.truth(ends[k], static_cast<double>(first) / kRate_hz);
            points[k].from = points[k].expected = points[k].marked;
            points[k].marked_in = &marked_in;
            points[k].partner = 1 - k;
        }
        GreyPicture before = marked_in;
        std::size_t lost = 0;
        for (std::size_t i = first + 1; i <= last; ++i) {
            const GreyPicture now = grey_of(*film->picture(i));
            const auto found = follow(before, now, points);
            for (std::size_t k = 0; k < 2; ++k) {
                const Pixel truth = swing.truth(ends[k], static_cast<double>(i) / kRate_hz);
                if (found[k]) {
                    EXPECT_LT((*found[k] - truth).norm(), 3.0) << i << ", end " << k;
                }
                // Lost is allowed, wrong is not: somebody sets it right and goes on.
                lost += found[k] ? 0U : 1U;
                const Pixel at = found[k].value_or(truth);
                points[k].expected = at + (at - points[k].from);
                points[k].from = at;
            }
            before = now;
        }
        EXPECT_LE(lost, (last - first) / 5); // of both ends: a tenth
    }
}

TEST(Following, WhatDoesNotComeHomeIsNotFound) {
    const FilmedSwing& swing = usual();
    const auto film = opened(swing);
    // The belt's end at address and in a picture of nothing.
    const Pixel at = swing.truth(Point::BeltLead, 0.0);
    const GreyPicture from = grey_of(*film->picture(0));
    GreyPicture blank = from;
    std::fill(blank.grey.begin(), blank.grey.end(), static_cast<std::uint8_t>(90));
    EXPECT_FALSE(follow(from, blank, {{at, at}}).front());
    GreyPicture other = from;
    other.width_px -= 1;
    EXPECT_FALSE(follow(from, other, {{at, at}}).front());
    EXPECT_FALSE(follow(from, from, {{Pixel(kMissing, 0.0), at}}).front());
    // … and where nothing moved it is where it was.
    const auto same = follow(from, from, {{at, at}});
    ASSERT_TRUE(same.front());
    EXPECT_LT((*same.front() - at).norm(), 0.05);
}

TEST(Following, TheShaftIsFoundAsALine) {
    const FilmedSwing& swing = usual();
    const auto film = opened(swing);
    std::size_t found = 0;
    std::size_t asked = 0;
    for (double t_s = swing.times.takeaway_s; t_s < swing.times.impact_s; t_s += 0.05) {
        const std::size_t i = picture_at(swing, t_s);
        const double film_s = static_cast<double>(i) / kRate_hz;
        const Line truth{swing.truth(Point::Grip, film_s), swing.truth(Point::ClubHead, film_s)};
        const double length = (truth.to - truth.from).norm();
        if (length < 60.0)
            continue; // it points at the phone
        ++asked;
        // Where the last picture had it: some degrees and pixels off.
        const Eigen::Rotation2Dd off(0.06);
        const Line expected{truth.from + Pixel(3.0, -2.0),
                            truth.from + Pixel(3.0, -2.0) + off * (truth.to - truth.from)};
        const auto line = find_line(grey_of(*film->picture(i)), expected, 40.0);
        if (!line)
            continue;
        ++found;
        const Pixel way = (line->to - line->from).normalized();
        const double turned =
            std::acos(std::clamp(way.dot((truth.to - truth.from) / length), -1.0, 1.0));
        EXPECT_LT(turned, 0.03) << t_s;
    }
    EXPECT_GE(found * 10, asked * 7);
    EXPECT_GT(asked, 10U);
}

TEST(Following, NothingIsNoLine) {
    GreyPicture blank{200, 200, std::vector<std::uint8_t>(40000, 90)};
    EXPECT_FALSE(find_line(blank, {{20.0, 20.0}, {150.0, 150.0}}, 30.0));
    EXPECT_FALSE(find_line({}, {{20.0, 20.0}, {150.0, 150.0}}, 30.0));
}

TEST(Following, MomentsAreProposedFromTheChangeOfPictures) {
    const FilmedSwing& swing = usual();
    const auto film = opened(swing);
    std::vector<double> change{0.0};
    std::vector<double> times{0.0};
    GreyPicture before = grey_of(*film->picture(0));
    constexpr std::size_t kEvery = 2;
    for (std::size_t i = kEvery; i < film->facts().pictures(); i += kEvery) {
        const GreyPicture now = grey_of(*film->picture(i));
        change.push_back(difference(before, now));
        times.push_back(static_cast<double>(i) / kRate_hz);
        before = now;
    }
    const double starts_s = swing.setup.cameras.front().starts_s;
    const GuessedMoments alone = guess_moments(times, change, std::nullopt);
    ASSERT_TRUE(alone.impact_s);
    EXPECT_NEAR(*alone.impact_s, swing.times.impact_s - starts_s, 0.08);
    const GuessedMoments heard = guess_moments(times, change, swing.times.impact_s - starts_s);
    ASSERT_TRUE(heard.top_s && heard.address_s);
    EXPECT_NEAR(*heard.top_s, swing.times.top_s - starts_s, 0.06);
    EXPECT_NEAR(*heard.address_s, swing.times.takeaway_s - starts_s, 0.3);
}
