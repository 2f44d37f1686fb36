// What is marked in pictures, before any camera is solved for.

#include "core/film/camera.h"
#include "core/film/marking.h"

#include <gtest/gtest.h>

#include <algorithm>
#include <cmath>

namespace kite::film {
namespace {

View view_of(std::initializer_list<double> times_s) {
    View view;
    view.size_px = {1080.0, 1920.0};
    view.capture_rate_hz = 240.0;
    for (double t_s : times_s) {
        MarkedFrame frame;
        frame.t_s = t_s;
        view.frames.push_back(frame);
    }
    return view;
}

TEST(Marks, MirroringExchangesLeftForRightAndIsItsOwnInverse) {
    Marks marks;
    marks.views.push_back(view_of({0.0}));
    View& view = marks.views[0];
    view.frames[0][Point::BeltLead] = Pixel(100.0, 700.0);
    view.plumb_px = Line{{10.0, 0.0}, {12.0, 900.0}};
    view.scale_px = Line{{200.0, 1800.0}, {800.0, 1800.0}};
    view.target_line_px = Line{{0.0, 1850.0}, {1080.0, 1840.0}};
    const Marks before = marks;
    mirror_in_place(marks);
    EXPECT_EQ(*view.frames[0][Point::BeltLead], Pixel(980.0, 700.0));
    EXPECT_EQ(view.plumb_px->from, Pixel(1070.0, 0.0));
    EXPECT_EQ(view.scale_px->to, Pixel(280.0, 1800.0));
    EXPECT_EQ(view.target_line_px->to, Pixel(0.0, 1840.0));
    EXPECT_FALSE(view.frames[0][Point::Wrist]) << "what was not marked stays so";
    mirror_in_place(marks);
    EXPECT_EQ(*view.frames[0][Point::BeltLead], *before.views[0].frames[0][Point::BeltLead]);
    EXPECT_EQ(view.plumb_px->to, before.views[0].plumb_px->to);
}

TEST(Marks, TurningAPictureUpsideDownMovesEveryPointThroughItsMiddle) {
    View view = view_of({0.0});
    view.frames[0][Point::Head] = Pixel(540.0, 960.0);
    view.frames[0][Point::Grip] = Pixel(100.0, 200.0);
    turn_about(view);
    EXPECT_EQ(*view.frames[0][Point::Head], Pixel(540.0, 960.0));
    EXPECT_EQ(*view.frames[0][Point::Grip], Pixel(980.0, 1720.0));
}

TEST(Marks, TheFastestStepIsTheLongestPerSecond) {
    View view = view_of({0.0, 0.1, 0.11, 0.3});
    const double x_px[] = {0.0, 50.0, 62.0, 100.0}; // 500, 1200 and 200 px/s
    for (std::size_t i = 0; i < 4; ++i)
        view.frames[i][Point::Wrist] = Pixel(x_px[i], 10.0);
    const auto step = find_fastest_step(view, {Point::ClubHead, Point::Wrist});
    ASSERT_TRUE(step) << "the club head was never marked: the wrist tells";
    EXPECT_NEAR(step->t_s, 0.11, 1e-12);
    EXPECT_NEAR(step->px_s.x(), 1200.0, 1e-9);
    // The first of the points that was marked twice counts, however slow it is.
    view.frames[2][Point::ClubHead] = Pixel(0.0, 0.0);
    view.frames[3][Point::ClubHead] = Pixel(0.0, -19.0);
    const auto club = find_fastest_step(view, {Point::ClubHead, Point::Wrist});
    EXPECT_NEAR(club->px_s.y(), -100.0, 1e-9);
    EXPECT_FALSE(find_fastest_step(view, {Point::Head}));
    // Between marks that are not neighbours nothing is known of the way.
    view.frames[2][Point::ClubHead].reset();
    EXPECT_NEAR(find_fastest_step(view, {Point::ClubHead, Point::Wrist})->px_s.x(), 1200.0, 1e-9);
}

TEST(Marks, SidesHaveNamesAndShowWhatLiesAcrossTheirView) {
    for (Side side : {Side::FaceOn, Side::DownTheLine, Side::Above})
        EXPECT_EQ(find_side(key_of(side)), side);
    EXPECT_FALSE(find_side("behind"));
    EXPECT_FALSE(find_side(""));
    // x to the target, y away from the ball, z up: face-on looks along y, and so on.
    const bool wanted[3][3] = {{true, false, true}, {false, true, true}, {true, true, false}};
    for (int axis = 0; axis < 3; ++axis) {
        EXPECT_EQ(shows_axis(Side::FaceOn, axis), wanted[0][axis]) << axis;
        EXPECT_EQ(shows_axis(Side::DownTheLine, axis), wanted[1][axis]) << axis;
        EXPECT_EQ(shows_axis(Side::Above, axis), wanted[2][axis]) << axis;
    }
    for (Side side : {Side::FaceOn, Side::DownTheLine, Side::Above})
        EXPECT_NEAR(nominal_axes(side).determinant(), -1.0, 1e-12)
            << "right, up and forward are left-handed";
}

TEST(Pictures, TheNearestOneIsFound) {
    const std::vector<double> times_s{0.0, 0.1, 0.2, 0.5};
    EXPECT_EQ(nearest_picture(times_s, -3.0), 0U);
    EXPECT_EQ(nearest_picture(times_s, 0.04), 0U);
    EXPECT_EQ(nearest_picture(times_s, 0.06), 1U);
    EXPECT_EQ(nearest_picture(times_s, 0.34), 2U);
    EXPECT_EQ(nearest_picture(times_s, 0.36), 3U);
    EXPECT_EQ(nearest_picture(times_s, 9.0), 3U);
    EXPECT_EQ(nearest_picture({}, 1.0), 0U);
}

TEST(Pictures, AMarkIsKeptWithItsPictureAndTheyStayInOrder) {
    View view = view_of({0.0, 0.5});
    // Within half a picture it is the same one.
    EXPECT_EQ(&frame_at(view, 0.501), &view.frames[1]);
    EXPECT_EQ(view.frames.size(), 2U);
    frame_at(view, 0.25)[Point::Grip] = Pixel(1.0, 2.0);
    frame_at(view, 0.75)[Point::Grip] = Pixel(3.0, 4.0);
    ASSERT_EQ(view.frames.size(), 4U);
    for (std::size_t i = 1; i < view.frames.size(); ++i)
        EXPECT_LT(view.frames[i - 1].t_s, view.frames[i].t_s);
    ASSERT_NE(find_frame(view, 0.251), nullptr);
    EXPECT_EQ(*(*find_frame(view, 0.251))[Point::Grip], Pixel(1.0, 2.0));
    EXPECT_EQ(find_frame(view, 0.26), nullptr);
    drop_empty_frames(view);
    ASSERT_EQ(view.frames.size(), 2U);
    EXPECT_NEAR(view.frames[0].t_s, 0.25, 1e-12);
}

// Common practice, no source: a downswing lasts 0.15 to 0.6 s, a backswing under 4 s.
TEST(Pictures, ATempoThatNobodyHasTellsAWrongCaptureRate) {
    View view = view_of({});
    EXPECT_TRUE(is_possible_tempo(view)) << "nothing marked, nothing to doubt";
    const auto with = [&](double address_s, double top_s, double impact_s) {
        view.moments_s = {
            {Moment::Address, address_s}, {Moment::Top, top_s}, {Moment::Impact, impact_s}};
        return is_possible_tempo(view);
    };
    EXPECT_TRUE(with(0.0, 1.0, 1.25));
    EXPECT_FALSE(with(0.0, 8.0, 10.0)) << "eight times too slow";
    EXPECT_FALSE(with(0.0, 0.1, 0.15));
    EXPECT_FALSE(with(0.0, 4.2, 4.5));
    EXPECT_FALSE(with(0.0, 1.3, 1.1)) << "the ball before the top";
    view.moments_s.erase(Moment::Address);
    view.moments_s[Moment::Top] = 9.0;
    view.moments_s[Moment::Impact] = 9.3;
    EXPECT_TRUE(is_possible_tempo(view));
}

// Stillness, half a second back, the turn at the top, 0.3 s down, a fast way through, stillness
// that is quieter than the top: in the change of pictures, made by hand.
TEST(Marking, TheTopIsTheQuietBeforeImpactAndNotAnother) {
    std::vector<double> times;
    std::vector<double> change;
    for (int i = 0; i < 720; ++i) {
        const double t = i / 240.0;
        times.push_back(t);
        change.push_back(t < 1.0     ? 1.0
                         : t < 1.6   ? 6.0
                         : t < 1.7   ? 6.0 - 3.0 * std::cos(20.0 * 3.14159265358979 * (t - 1.65))
                         : t < 1.975 ? 10.0
                         : t < 2.0   ? 25.0
                         : t < 2.4   ? 12.0
                                     : 1.0);
    }
    change[479] = 30.0; // at 1.996 s
    for (const std::optional<double> heard_s : {std::optional<double>(), std::optional(2.0)}) {
        const GuessedMoments found = guess_moments(times, change, heard_s);
        ASSERT_TRUE(found.impact_s && found.top_s && found.address_s);
        EXPECT_NEAR(*found.impact_s, heard_s.value_or(479.0 / 240.0), 1e-9);
        EXPECT_NEAR(*found.top_s, 1.65, 0.01);
        EXPECT_NEAR(*found.address_s, 0.9, 0.02) << "a tenth of a second before it begins";
    }
    // Without a sound a swing must stand out from the stillness.
    for (double& value : change)
        value = 1.0 + 0.08 * value;
    EXPECT_FALSE(guess_moments(times, change, std::nullopt).impact_s);
}

TEST(Marking, AStillFilmHasNoMoments) {
    std::vector<double> times;
    std::vector<double> change;
    for (int i = 0; i < 200; ++i) {
        times.push_back(i / 240.0);
        change.push_back(1.0 + 0.05 * (i % 7));
    }
    EXPECT_FALSE(guess_moments(times, change, std::nullopt).impact_s);
}

TEST(Marking, ThePlanIsWhatAnInstructorHasTimeFor) {
    View view;
    view.capture_rate_hz = 240.0;
    std::vector<double> times;
    for (int i = 0; i < 480; ++i)
        times.push_back(i / 240.0);
    EXPECT_TRUE(plan_marking(view, times).pictures.empty()); // the moments come first
    view.moments_s = {{Moment::Address, 0.1}, {Moment::Top, 1.1}, {Moment::Impact, 1.4}};
    const MarkingPlan plan = plan_marking(view, times);
    ASSERT_FALSE(plan.pictures.empty());
    EXPECT_TRUE(std::is_sorted(plan.pictures.begin(), plan.pictures.end()));
    EXPECT_EQ(plan.pictures.front(), 24U);
    // Every picture from before the top to after impact.
    const auto has = [&](std::size_t i) {
        return std::binary_search(plan.pictures.begin(), plan.pictures.end(), i);
    };
    for (std::size_t i = 264; i <= 340; ++i)
        EXPECT_TRUE(has(i)) << i;
    EXPECT_FALSE(has(480 - 1));
    // Of address three in a row, then of the backswing one here and there.
    for (std::size_t i = 24; i < 27; ++i)
        EXPECT_TRUE(has(i)) << i;
    EXPECT_FALSE(has(27));
    EXPECT_FALSE(has(230));
    const auto early = static_cast<std::size_t>(std::count_if(
        plan.pictures.begin(), plan.pictures.end(), [](std::size_t i) { return i < 230; }));
    EXPECT_GE(early, 8U);
    EXPECT_LE(early, 16U);
}

TEST(Marking, ATempoThatNoSwingHasIsSeen) {
    View view;
    view.moments_s = {{Moment::Address, 0.0}, {Moment::Top, 0.9}, {Moment::Impact, 1.2}};
    EXPECT_TRUE(is_possible_tempo(view));
    // The same swing taken for eight times slower: the file did not tell that it is slow motion.
    for (auto& [moment, t_s] : view.moments_s)
        t_s *= 8.0;
    EXPECT_FALSE(is_possible_tempo(view));
    view.moments_s = {{Moment::Top, 0.9 / 8.0}, {Moment::Impact, 1.2 / 8.0}};
    EXPECT_FALSE(is_possible_tempo(view));
}

TEST(Marking, FramesAreFoundWithinHalfAPicture) {
    View view;
    view.capture_rate_hz = 100.0;
    frame_at(view, 0.50)[Point::Grip] = Pixel(1.0, 2.0);
    frame_at(view, 0.20)[Point::Grip] = Pixel(3.0, 4.0);
    ASSERT_EQ(view.frames.size(), 2U);
    EXPECT_DOUBLE_EQ(view.frames.front().t_s, 0.20);
    EXPECT_EQ(&frame_at(view, 0.503), find_frame(view, 0.497));
    EXPECT_EQ(find_frame(view, 0.51), nullptr);
    frame_at(view, 0.5)[Point::Grip].reset();
    drop_empty_frames(view);
    EXPECT_EQ(view.frames.size(), 1U);
}

} // namespace
} // namespace kite::film
