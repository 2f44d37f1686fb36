// The open file of marks: what is written is read, what a person writes by hand is read, and every
// kind of damage is named with its place.

#include "core/measures/analyse.h"
#include "formats/film/film_json.h"
#include "formats/reader.h"
#include "simulate/film_marks.h"
#include "simulate/golfers.h"

#include <gtest/gtest.h>
#include <nlohmann/json.hpp>

using namespace kite;
using namespace kite::formats;

namespace {

film::Marks some_marks() {
    simulate::FilmSetup setup;
    for (film::Side side : {film::Side::FaceOn, film::Side::DownTheLine}) {
        simulate::FilmCamera camera;
        camera.side = side;
        camera.tells_lines = true;
        setup.cameras.push_back(camera);
    }
    static const simulate::SwingModel model(simulate::typical_swing(ClubKind::Wedge));
    film::Marks out = mark_film(simulate::points_of(model, setup), simulate::times_of(model),
                                Handedness::Right, ClubKind::Wedge, setup);
    out.views[0].film = "face.mp4";
    out.views[1].offset_s = -0.02;
    out.views[0].scale_px = film::Line{{100.0, 200.0}, {100.5, 640.25}};
    out.views[0].scale_m = 1.0;
    return out;
}

nlohmann::ordered_json some_json() {
    return nlohmann::ordered_json::parse(write_film_marks(some_marks()));
}

std::string first_error(const nlohmann::ordered_json& json) {
    const auto read = read_film_marks(json.dump(1));
    for (const Finding& finding : read.findings)
        if (finding.severity == Finding::Severity::Error)
            return finding.what + " [" + finding.where + "] " + finding.mend;
    return {};
}

} // namespace

TEST(FilmJson, WhatIsWrittenIsRead) {
    const film::Marks marks = some_marks();
    const std::string text = write_film_marks(marks);
    const auto read = read_film_marks(text);
    ASSERT_TRUE(read.ok());
    EXPECT_TRUE(read.findings.empty());
    EXPECT_EQ(write_film_marks(read.value), text);
    EXPECT_EQ(read.value.club, ClubKind::Wedge);
    ASSERT_EQ(read.value.views.size(), 2U);
    EXPECT_EQ(read.value.views[0].film, "face.mp4");
    EXPECT_EQ(read.value.views[1].offset_s, -0.02);
    EXPECT_EQ(read.value.views[0].scale_px->to, Eigen::Vector2d(100.5, 640.25));
    EXPECT_EQ(read.value.views[0].frames.size(), marks.views[0].frames.size());
}

// Every format's reader is asked; marks are found by what stands in them, whatever the file's name.
TEST(FilmJson, IsASwingFileLikeAnyOther) {
    const std::string text = write_film_marks(some_marks());
    for (const char* name : {"swing.film.json", "swing.json", "swing"}) {
        const auto take = read_take(std::string_view(text), name, {});
        ASSERT_TRUE(take.ok()) << name;
        EXPECT_EQ(take.value.source, Source::Film);
        EXPECT_EQ(take.value.segments.size(), 4U);
    }
    ReadOptions options;
    options.club = ClubKind::Driver;
    EXPECT_EQ(read_take(std::string_view(text), "swing.film.json", options).value.club,
              ClubKind::Driver);
}

TEST(FilmJson, ReadsWhatAPersonWrote) {
    const auto read = read_film_marks(R"({"kite-hinge": "film 1", "lengths_m": {"club": 0.95},
        "views": [{"view": "above", "size_px": [1920, 1080], "capture_rate_hz": null,
        "offset_s": null, "camera": {"height_m": 3.1}, "moments_s": {"impact": 1.31},
        "marks": [{"t_s": 0.2, "wrist": [10.5, 20]}, {"t_s": 0.1, "grip": [1, -2], "head": null}]}]})");
    ASSERT_TRUE(read.ok());
    const film::View& view = read.value.views.at(0);
    EXPECT_FALSE(read.value.handed);
    EXPECT_EQ(view.side, film::Side::Above);
    EXPECT_EQ(view.capture_rate_hz, 0.0);
    EXPECT_EQ(view.height_m, 3.1);
    EXPECT_EQ(view.moments_s.at(Moment::Impact), 1.31);
    // Marks may have been made in any order.
    ASSERT_EQ(view.frames.size(), 2U);
    EXPECT_EQ(view.frames[0].t_s, 0.1);
    EXPECT_EQ(*view.frames[0][film::Point::Grip], Eigen::Vector2d(1.0, -2.0));
    EXPECT_FALSE(view.frames[0][film::Point::Head]);
}

// SD of one mark from pairs: root of half the mean square of their differences (ISO 5725-2,
// duplicate measurements; from memory).
TEST(FilmJson, MarkingTwiceGivesTheMarkersOwnError) {
    auto json = some_json();
    json.erase("mark_error_px");
    auto& marks = json["views"][0]["marks"];
    for (int i = 0; i < 6; ++i) {
        auto again = marks[20 + i];
        for (auto& entry : again.items())
            if (entry.value().is_array()) {
                entry.value()[0] = entry.value()[0].get<double>() + 3.0;
                entry.value()[1] = entry.value()[1].get<double>() - 3.0;
            }
        marks.push_back(again);
    }
    const auto read = read_film_marks(json.dump());
    ASSERT_TRUE(read.ok());
    EXPECT_NEAR(*read.value.mark_error_px, 3.0 / std::sqrt(2.0), 1e-9);
    EXPECT_EQ(read.value.views[0].frames.size(), some_marks().views[0].frames.size());
    EXPECT_NEAR((*read.value.views[0].frames[22][film::Point::Wrist] -
                 *some_marks().views[0].frames[22][film::Point::Wrist])
                    .norm(),
                1.5 * std::sqrt(2.0), 1e-9);
}

TEST(FilmJson, DamageIsNamedWithItsPlace) {
    const struct {
        const char* pointer;
        nlohmann::ordered_json value;
        const char* said;
    } cases[] = {
        {"/kite-hinge", "film 2", "must say"},
        {"/handed", "both", "right or left"},
        {"/club", 7, "driver, wood"},
        {"/lengths_m/arm", -1, "metres"},
        {"/lengths_m/leg", 1, "\"leg\""},
        {"/mark_error_px", "two", "number"},
        {"/views", nlohmann::ordered_json::array(), "no view"},
        {"/views/0/view", "behind", "down-the-line"},
        {"/views/1/view", "face-on", "Two views"},
        {"/views/0/size_px", {1080}, "two numbers"},
        {"/views/0/size_px", {0, 0}, "upright picture"},
        {"/views/0/capture_rate_hz", 0, "pictures a second"},
        {"/views/0/camera/distance_m", 0, "metres"},
        {"/views/0/plumb_px", {1, 2}, "two numbers"},
        {"/views/0/plumb_px", {{5, 5}, {5, 5}}, "same place"},
        {"/views/0/moments_s/impakt", 1.0, "\"impakt\""},
        {"/views/0/moments_s/top", "soon", "seconds"},
        {"/views/0/marks/3/t_s", nullptr, "t_s"},
        {"/views/0/marks/3/elbow", {1, 2}, "\"elbow\""},
        {"/views/0/marks/3/wrist", {1, 2, 3}, "two numbers"},
        {"/views/0/marks/3/wrist", {1e9, 2}, "outside"},
        {"/views/0/marks/3", 4, "object"},
    };
    for (const auto& one : cases) {
        auto json = some_json();
        json[nlohmann::ordered_json::json_pointer(one.pointer)] = one.value;
        const std::string error = first_error(json);
        EXPECT_NE(error.find(one.said), std::string::npos) << one.pointer << ": " << error;
        if (std::string(one.pointer) != "/kite-hinge") {
            EXPECT_NE(error.find("line "), std::string::npos) << error;
        }
    }
    EXPECT_FALSE(read_film_marks("{\"kite-hinge\": \"film 1\", ").ok());
    EXPECT_FALSE(read_film_marks("").ok());
}

TEST(FilmJson, TimesThatMakeNoFilmAreRefused) {
    auto json = some_json();
    double t_s = 0.0;
    for (auto& mark : json["views"][0]["marks"])
        mark["t_s"] = t_s += 400.0;
    const auto take = read_take(std::string_view(json.dump()), "slow.film.json", {});
    EXPECT_FALSE(take.ok());
    for (const Finding& finding : take.findings)
        EXPECT_FALSE(finding.what.empty());
}

// Any byte wrong: something is said or it is measured, and nothing crashes (also under the
// sanitizers).
TEST(FilmJson, AnyByteWrongIsSurvived) {
    film::Marks marks = some_marks();
    for (film::View& view : marks.views)
        view.frames.erase(view.frames.begin(), view.frames.end() - 20);
    const std::string whole = write_film_marks(marks);
    const std::uint32_t seed = 20261129;
    SCOPED_TRACE("seed " + std::to_string(seed));
    std::mt19937 random(seed);
    std::uniform_int_distribution<std::size_t> anywhere(0, whole.size() - 1);
    constexpr std::string_view kBytes = "0123456789.-e,:[]{}\"n ";
    std::uniform_int_distribution<std::size_t> byte(0, kBytes.size() - 1);
    for (int round = 0; round < 120; ++round) {
        std::string bytes = whole;
        for (int i = 0; i <= round % 3; ++i)
            bytes[anywhere(random)] = kBytes[byte(random)];
        const auto take = read_take(std::string_view(bytes), "swing.film.json", {});
        for (const Finding& finding : take.findings)
            EXPECT_FALSE(finding.what.empty());
        if (take.ok()) {
            EXPECT_LE(take.value.frames, 4 * bytes.size());
        }
    }
}
