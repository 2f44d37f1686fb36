// What is said of how a phone stands, against phones that were put there by the simulator's own
// lens, which is worked out apart.

#include "core/film/camera_check.h"
#include "simulate/film_marks.h"
#include "simulate/golfers.h"

#include <gtest/gtest.h>

#include <algorithm>

using namespace kite;
using namespace kite::film;

namespace {

View filmed(const std::function<void(simulate::FilmCamera&)>& change, Side side = Side::FaceOn) {
    const simulate::SwingModel model(simulate::typical_swing(ClubKind::Iron));
    simulate::FilmSetup setup = simulate::usual_phones({side}, 240.0);
    setup.mark_error_px = 0.0;
    simulate::FilmCamera& camera = setup.cameras.front();
    camera.beside_deg = 0.0;
    camera.focal_px = 1500.0;
    camera.tells_lines = true;
    change(camera);
    return mark_film(model, setup).views.front();
}

const CameraAdvice* find(const std::vector<CameraAdvice>& all, const std::string& id) {
    const auto found =
        std::find_if(all.begin(), all.end(), [&](const CameraAdvice& one) { return one.id == id; });
    return found == all.end() ? nullptr : &*found;
}

} // namespace

TEST(CameraCheck, APhoneThatStandsWellHearsNothing) {
    EXPECT_TRUE(check_camera(filmed([](simulate::FilmCamera&) {})).empty());
    EXPECT_TRUE(check_camera(filmed([](simulate::FilmCamera&) {}, Side::DownTheLine)).empty());
}

TEST(CameraCheck, ALeaningPhoneIsTurnedTheRightWay) {
    // The lens leans its right side up for positive degrees: turn it back clockwise seen from
    // behind, where the picture is looked at.
    const auto left = check_camera(filmed([](simulate::FilmCamera& c) { c.lean_deg = 5.0; }));
    const auto right = check_camera(filmed([](simulate::FilmCamera& c) { c.lean_deg = -5.0; }));
    ASSERT_EQ(left.size(), 1U);
    ASSERT_EQ(right.size(), 1U);
    EXPECT_NE(left.front().id, right.front().id);
    EXPECT_NEAR(left.front().values.front(), 5.0, 0.3);
    EXPECT_EQ(left.front().id, "leans-left");
}

TEST(CameraCheck, APhoneBesideItsPlaceIsMovedBack) {
    for (const Side side : {Side::FaceOn, Side::DownTheLine})
        for (const double beside : {-8.0, 8.0}) {
            SCOPED_TRACE(beside);
            const View view = filmed([&](simulate::FilmCamera& c) { c.beside_deg = beside; }, side);
            const auto told = beside_deg(view);
            ASSERT_TRUE(told);
            EXPECT_NEAR(std::abs(*told), 8.0, 1.5);
            const auto advice = check_camera(view);
            ASSERT_NE(find(advice, "beside"), nullptr);
            // Four metres away eight degrees are 0.59 m (trigonometry).
            EXPECT_NEAR(find(advice, "beside")->values[1], 0.59, 0.15);
        }
    // The lens counts anticlockwise seen from above. Face-on, from in front of the golfer, that is
    // towards the target, to the phone's right: back to the left.
    const auto right = check_camera(filmed([](simulate::FilmCamera& c) { c.beside_deg = 8.0; }));
    EXPECT_NE(find(right, "beside")->what.find("to the left"), std::string::npos);
    const auto left = check_camera(filmed([](simulate::FilmCamera& c) { c.beside_deg = -8.0; }));
    EXPECT_NE(find(left, "beside")->what.find("to the right"), std::string::npos);
    // Behind the ball anticlockwise is to the right of a phone that looks to the target as well.
    const auto line = check_camera(
        filmed([](simulate::FilmCamera& c) { c.beside_deg = 8.0; }, Side::DownTheLine));
    EXPECT_NE(find(line, "beside")->what.find("to the left"), std::string::npos);
}

TEST(CameraCheck, RateSizeAndEdges) {
    const auto slow = check_camera(filmed([](simulate::FilmCamera& c) { c.rate_hz = 30.0; }));
    ASSERT_NE(find(slow, "slow"), nullptr);
    EXPECT_EQ(find(slow, "slow")->values.front(), 30.0);
    const auto near = check_camera(filmed([](simulate::FilmCamera& c) { c.focal_px = 3600.0; }));
    EXPECT_NE(find(near, "edge"), nullptr);
    View far = filmed([](simulate::FilmCamera& c) { c.focal_px = 700.0; });
    far.frames.front()[Point::Head] = Pixel(540.0, 700.0);
    far.frames.front()[Point::LeadAnkle] = Pixel(560.0, 1250.0);
    ASSERT_NE(find(check_camera(far), "small"), nullptr);
    // (1250 - 700) / 1920
    EXPECT_NEAR(find(check_camera(far), "small")->values.front(), 28.6, 0.1);
    const auto lying = check_camera(filmed([](simulate::FilmCamera& c) {
        std::swap(c.size_px.x(), c.size_px.y());
        c.focal_px = 800.0;
    }));
    EXPECT_NE(find(lying, "lying"), nullptr);
}

TEST(CameraCheck, SaysWhatTheFilmWillTell) {
    Marks marks;
    EXPECT_FALSE(promise_of(marks).cannot.empty());
    View face;
    face.capture_rate_hz = 240.0;
    marks.views = {face};
    marks.lengths_m.belt_stick = 1.0;
    const auto alone = promise_of(marks);
    EXPECT_EQ(alone.tells.size(), 1U);
    ASSERT_EQ(alone.cannot.size(), 1U);
    EXPECT_NE(alone.cannot.front().find("second view"), std::string::npos);
    View line = face;
    line.side = Side::DownTheLine;
    marks.views.push_back(line);
    EXPECT_TRUE(promise_of(marks).cannot.empty());
    EXPECT_EQ(promise_of(marks).tells.size(), 2U);
    // As slow as the slower of the two.
    marks.views.back().capture_rate_hz = 30.0;
    EXPECT_EQ(promise_of(marks).tells.size(), 1U);
    ASSERT_EQ(promise_of(marks).cannot.size(), 1U);
    EXPECT_NE(promise_of(marks).cannot.front().find("120"), std::string::npos);
}
