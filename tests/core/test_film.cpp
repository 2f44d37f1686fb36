// Marks in film to angles: by hand where it can be, else against swings with known truth filmed by
// the simulator's own lens, which is written apart from the camera that reads.

#include "core/base/missing.h"
#include "core/base/units.h"
#include "core/catalogue/measure.h"
#include "core/catalogue/quantity.h"
#include "core/film/bundle.h"
#include "core/film/film_take.h"
#include "core/film/first_guess.h"
#include "core/film/upright.h"
#include "core/measures/analyse.h"
#include "core/motion/gaps.h"
#include "core/motion/rotation.h"
#include "simulate/film_marks.h"
#include "simulate/golfers.h"
#include "simulate/truth.h"
#include "support/findings.h"

#include <gtest/gtest.h>

#include <algorithm>

using namespace kite;
using kite::test::has_code;
using namespace kite::film;

namespace {

struct Filmed {
    simulate::SwingModel model;
    simulate::Truth truth;
    Marks marks;
    double start_s; ///< of the take on the swing's clock

    explicit Filmed(const simulate::SwingParameters& parameters,
                    const std::vector<Side>& sides = {Side::FaceOn, Side::DownTheLine},
                    const std::function<void(simulate::FilmSetup&)>& change = {})
        : model(parameters), truth(calc_truth(model)) {
        simulate::FilmSetup setup;
        for (Side side : sides) {
            simulate::FilmCamera camera;
            camera.side = side;
            camera.distance_m = side == Side::Above ? 3.0 : 4.2;
            camera.focal_px = 420.0 * camera.distance_m;
            camera.beside_deg = 1.5 - 2.5 * static_cast<double>(setup.cameras.size());
            camera.nod_deg = 1.0;
            camera.starts_s = -0.0837 * static_cast<double>(setup.cameras.size());
            setup.cameras.push_back(camera);
        }
        if (change)
            change(setup);
        marks = mark_film(simulate::points_of(model, setup), simulate::times_of(model),
                          parameters.handed, parameters.club, setup);
        start_s = setup.cameras.front().starts_s;
    }
};

Analysis measured(const Filmed& film, std::vector<Finding>* findings = nullptr) {
    const Outcome<Take> take = take_from_marks(film.marks);
    EXPECT_TRUE(take.ok());
    const Outcome<Analysis> out = analyse(take.value, {});
    EXPECT_TRUE(out.ok());
    if (findings != nullptr) {
        *findings = take.findings;
        findings->insert(findings->end(), out.findings.begin(), out.findings.end());
    }
    return out.value;
}

void expect_turns(const Filmed& film, const Analysis& a, double limit_deg) {
    for (Moment moment : {Moment::Top, Moment::ShaftLevelDown, Moment::Impact}) {
        const double pelvis = film.truth.pelvis.at(moment).turn_deg;
        const double torso = film.truth.torso.at(moment).turn_deg;
        const auto check = [&](const char* key, double is, double limit) {
            const Measured m = at_moment(*find_quantity(key), a, moment);
            EXPECT_NEAR(m.value, is, limit) << key << " " << key_of(moment);
            EXPECT_GT(m.u, 0.1) << key;
            EXPECT_LT(std::abs(m.value - is), 3.0 * m.u) << key << " " << key_of(moment);
        };
        check("pelvis_turn", pelvis, limit_deg);
        check("torso_turn", torso, limit_deg);
        check("separation", pelvis - torso, 4.0);
    }
}

} // namespace

// By hand: 3 m in front of a lens of 1200 px, half a metre aside is 200 px, a quarter up 100 px.
TEST(FilmCamera, SeesPlacesAsTheDirectionsSay) {
    for (Side side : {Side::FaceOn, Side::DownTheLine, Side::Above}) {
        Camera camera;
        camera.axes = nominal_axes(side);
        camera.focal_px = 1200.0;
        camera.centre_px = {540.0, 960.0};
        // The target, away from the ball, and up, as seen from each side: docs/film.md.
        const Eigen::Vector3d aside = side == Side::DownTheLine ? Eigen::Vector3d(0.0, -0.5, 0.0)
                                                                : Eigen::Vector3d(0.5, 0.0, 0.0);
        const Eigen::Vector3d above =
            side == Side::Above ? Eigen::Vector3d(0.0, 0.25, 0.0) : Eigen::Vector3d(0.0, 0.0, 0.25);
        const Eigen::Vector3d forward = side == Side::FaceOn        ? Eigen::Vector3d(0, 3, 0)
                                        : side == Side::DownTheLine ? Eigen::Vector3d(3, 0, 0)
                                                                    : Eigen::Vector3d(0, 0, -3);
        EXPECT_NEAR((camera.see(forward) - Pixel(540.0, 960.0)).norm(), 0.0, 1e-9);
        EXPECT_NEAR((camera.see(forward + aside) - Pixel(740.0, 960.0)).norm(), 0.0, 1e-9);
        EXPECT_NEAR((camera.see(forward + above) - Pixel(540.0, 860.0)).norm(), 0.0, 1e-9);
    }
}

TEST(FilmTrack, LaysACubicBetweenMarksAndSaysHowRoughItIs) {
    Track track;
    // A cubic in time is met exactly by a cubic through four marks, whatever their times.
    const auto cubic = [](double t) { return Pixel(100.0 + 3e5 * t * t * t, 50.0 - 400.0 * t); };
    for (double t : {0.0, 0.004, 0.0085, 0.0125, 0.0166, 0.0209})
        track.add(t, cubic(t));
    const auto place = track.at(0.0105);
    ASSERT_TRUE(place);
    EXPECT_NEAR((place->at - cubic(0.0105)).norm(), 0.0, 1e-9);
    EXPECT_GT(place->bend_px, 0.0);
    // Half-way between even marks: 2 (9/16)² + 2 (1/16)² of a mark's variance.
    Track even;
    for (int i = 0; i < 6; ++i)
        even.add(0.01 * i, Pixel(i, 0.0));
    EXPECT_NEAR(even.at(0.025)->noise, std::sqrt(2.0 * (81.0 + 1.0)) / 16.0, 1e-9);
    EXPECT_EQ(track.at(0.004)->noise, 1.0);
    EXPECT_FALSE(track.at(0.05));
    EXPECT_FALSE(track.at(-0.01));
    // Between two marks alone nobody knows how the way bends: a quarter of it either way.
    Track two;
    two.add(0.0, Pixel(10.0, 5.0));
    two.add(0.01, Pixel(40.0, 45.0));
    EXPECT_NEAR(two.at(0.005)->bend_px, 12.5, 1e-9);
    EXPECT_NEAR((two.at(0.0025)->at - Pixel(17.5, 15.0)).norm(), 0.0, 1e-9);
    // With marks on one side alone a parabola, half of whose bend may be wrong: at half-way between
    // 0 and 10 it passes 3.75, the straight line 5 (Lagrange's weights 0.375, 0.75, -0.125).
    Track three;
    for (const double x : {0.0, 10.0, 30.0})
        three.add(x == 0.0 ? 0.0 : x == 10.0 ? 0.01 : 0.02, Pixel(x, 0.0));
    EXPECT_NEAR(three.at(0.005)->at.x(), 3.75, 1e-9);
    EXPECT_NEAR(three.at(0.005)->bend_px, 0.625, 1e-9);
    track.add(0.5, cubic(0.5));
    EXPECT_FALSE(track.at(0.25)) << "half a second between marks tells nothing";
}

// The search begins near its end: scales, clocks and places of the cameras within what a few steps
// mend, whatever was told of them. What is found in the end would hide a poor beginning.
TEST(FilmGuess, IsNearWhatIsThere) {
    struct Case {
        const char* what;
        std::function<void(Marks&)> change;
        double scale_within;
    };
    const auto drop = [](Marks& marks, std::initializer_list<Point> points) {
        for (View& view : marks.views)
            for (MarkedFrame& frame : view.frames)
                for (Point point : points)
                    frame[point].reset();
    };
    const std::vector<Case> cases{{"as it comes", [](Marks&) {}, 0.1},
                                  {"nothing told of the cameras",
                                   [](Marks& marks) {
                                       for (View& view : marks.views) {
                                           view.distance_m.reset();
                                           view.focal_px.reset();
                                           view.scale_px.reset();
                                           view.moments_s.clear();
                                       }
                                   },
                                   0.15},
                                  {"shoulders alone",
                                   [&](Marks& marks) {
                                       drop(marks, {Point::BeltLead, Point::BeltTrail});
                                   },
                                   0.15},
                                  {"a length beside the golfer",
                                   [](Marks& marks) {
                                       for (View& view : marks.views) {
                                           view.scale_px = Line{{100.0, 1500.0}, {520.0, 1500.0}};
                                           view.scale_m = 1.0;
                                       }
                                   },
                                   0.03}};
    for (const Case& one : cases) {
        Filmed film(simulate::typical_swing(ClubKind::Iron));
        one.change(film.marks);
        Bundle bundle(film.marks);
        const auto g = guess(bundle);
        ASSERT_TRUE(g) << one.what;
        for (std::size_t v = 0; v < 2; ++v) {
            const Camera camera = bundle.camera(*g, v);
            // The lens of these films shows 420 pixels a metre at the golfer.
            const double away_m = -camera.at_m.dot(camera.axes.row(2).transpose());
            EXPECT_NEAR(camera.focal_px / away_m / 420.0, 1.0, one.scale_within)
                << one.what << ", view " << v;
            // Counted from the belt's middle, which is in the picture's middle or near it.
            const Pixel belt = camera.see(Eigen::Vector3d::Zero());
            EXPECT_NEAR(belt.y() / film.marks.views[v].size_px.y(), 0.5, 0.12)
                << one.what << ", view " << v;
        }
        EXPECT_NEAR(bundle.offset_s(*g, 1), -0.0837, 0.004) << one.what;
        EXPECT_GT(bundle.frames().size(), 20U);
    }
}

// What all moments share stands in one row of numbers, each in a place of its own.
TEST(FilmBundle, EveryUnknownHasItsPlace) {
    const Filmed film(simulate::typical_swing(ClubKind::Iron));
    const Bundle bundle(film.marks);
    std::vector<Eigen::Index> places{bundle.offset_index(1), bundle.plane_index(Link::Arm),
                                     bundle.plane_index(Link::Club)};
    using Part = Bundle::Part;
    for (const std::size_t view : {0U, 1U})
        for (const Part part : {Part::Pitch, Part::Yaw, Part::Roll, Part::Right, Part::Up,
                                Part::LogDistance, Part::LogFocal})
            places.push_back(bundle.index(view, part));
    for (const Link link : kLinks)
        places.push_back(bundle.length_index(link));
    std::sort(places.begin(), places.end());
    ASSERT_EQ(static_cast<Eigen::Index>(places.size()), bundle.given().mean.size());
    for (std::size_t i = 0; i < places.size(); ++i)
        EXPECT_EQ(places[i], static_cast<Eigen::Index>(i));
    EXPECT_TRUE((bundle.given().sd.array() > 0.0).all());
}

TEST(FilmGuess, OfTooLittleIsNone) {
    Filmed film(simulate::typical_swing(ClubKind::Iron));
    for (View& view : film.marks.views)
        for (MarkedFrame& frame : view.frames)
            frame.at = {};
    Bundle bundle(film.marks);
    EXPECT_FALSE(guess(bundle));
}

// A stick that turns about the vertical at a known speed, seen exactly from the front and from
// behind: its direction by plain geometry.
TEST(FilmSolve, FindsTheDirectionOfATurningStick) {
    Marks marks;
    marks.mark_error_px = 0.5;
    marks.lengths_m.belt_stick = 1.0;
    marks.lengths_m.shoulder_stick = 0.8;
    const double focal_px = 1800.0;
    const double distance_m = 4.0;
    const auto turn_deg = [](double t) { return -50.0 + 110.0 * t / 0.3; };
    for (Side side : {Side::FaceOn, Side::DownTheLine}) {
        View view;
        view.side = side;
        view.size_px = {1080.0, 1920.0};
        view.capture_rate_hz = 240.0;
        view.distance_m = distance_m;
        view.focal_px = focal_px;
        view.offset_s = 0.0;
        for (int i = 0; i <= 72; ++i) {
            MarkedFrame frame;
            frame.t_s = i / 240.0;
            const auto put = [&](Point lead, Point trail, double by_deg, double half_m, double z) {
                const double angle = rad_from_deg(turn_deg(frame.t_s) + by_deg);
                for (double end : {1.0, -1.0}) {
                    const double x = end * half_m * std::cos(angle);
                    const double y = end * half_m * std::sin(angle);
                    // The pinhole, written out.
                    const double aside = side == Side::FaceOn ? x : -y;
                    const double away = distance_m + (side == Side::FaceOn ? y : x);
                    frame[end > 0.0 ? lead : trail] =
                        Pixel(540.0 + focal_px * aside / away, 960.0 - focal_px * z / away);
                }
            };
            put(Point::BeltLead, Point::BeltTrail, 0.0, 0.5, 0.0);
            put(Point::ShoulderLead, Point::ShoulderTrail, -30.0, 0.4, 0.45);
            view.frames.push_back(frame);
        }
        marks.views.push_back(view);
    }
    const Outcome<Solution> solved = solve(marks);
    ASSERT_TRUE(solved.ok());
    double worst_deg = 0.0;
    std::size_t told = 0;
    for (const SpaceFrame& frame : solved.value.frames) {
        // At the rim of a film only one view has a picture: then the side is not told.
        if (!std::isfinite(frame.direction_sd_rad[0]))
            continue;
        ++told;
        const Eigen::Vector3d belt = frame[Point::BeltLead] - frame[Point::BeltTrail];
        const Eigen::Vector3d chest = frame[Point::ShoulderLead] - frame[Point::ShoulderTrail];
        worst_deg =
            std::max({worst_deg,
                      std::abs(deg_from_rad(std::atan2(belt.y(), belt.x())) - turn_deg(frame.t_s)),
                      std::abs(deg_from_rad(std::atan2(chest.y(), chest.x())) + 30.0 -
                               turn_deg(frame.t_s))});
        EXPECT_NEAR(belt.norm(), 1.0, 0.02);
    }
    EXPECT_GE(told, 66U); // of 73
    EXPECT_LT(worst_deg, 0.3);
    EXPECT_FALSE(solved.value.worse_than_told);
}

TEST(Film, TwoViewsTellTurnSeparationAndTiming) {
    simulate::SwingParameters parameters = simulate::typical_swing(ClubKind::Iron);
    const Filmed film(parameters);
    const Analysis a = measured(film);
    EXPECT_EQ(a.source, Source::Film);
    expect_turns(film, a, 3.0);
    for (Segment segment : kSequence) {
        const SegmentSequence* part = a.sequence.find(segment);
        ASSERT_NE(part, nullptr);
        const double off_s =
            part->peak_t_s + film.start_s - film.truth.parts[index_of(segment)].peak_t_s;
        EXPECT_LT(std::abs(off_s), 3.0 * part->peak_t_u_s) << key_of(segment);
        EXPECT_LT(std::abs(off_s), 0.025) << key_of(segment);
    }
    EXPECT_NEAR(a.moments.time_s(Moment::Top) + film.start_s, film.truth.moments_s.at(Moment::Top),
                0.012);
}

// The picture picked for impact is up to half a picture (2 ms) off; the club head passing its place
// at address in two views tells more.
TEST(Film, ImpactIsFinerThanAPictureWithTwoViews) {
    for (std::uint32_t seed = 1; seed <= 2; ++seed) {
        simulate::SwingParameters parameters = simulate::typical_swing(ClubKind::Iron);
        parameters.lead_in_s += 0.0011 * seed; // impact anywhere between two pictures
        const Filmed film(parameters, {Side::FaceOn, Side::DownTheLine},
                          [seed](simulate::FilmSetup& setup) { setup.seed = seed; });
        const Analysis a = measured(film);
        EXPECT_EQ(a.moments.impact_source, ImpactSource::ClubHead);
        EXPECT_NEAR(1000.0 * (a.moments.time_s(Moment::Impact) + film.start_s),
                    1000.0 * film.model.impact_s(), 0.8);
    }
}

TEST(Film, MomentsMarkedInAnyViewCount) {
    Filmed film(simulate::typical_swing(ClubKind::Iron));
    const double top_s = film.marks.views[0].moments_s.at(Moment::Top);
    film.marks.views[0].moments_s.clear();
    const Outcome<Take> take = take_from_marks(film.marks);
    ASSERT_TRUE(take.ok());
    ASSERT_TRUE(take.value.contact_s);
    // Both cameras picked their nearest picture, 1/240 s wide.
    EXPECT_NEAR(take.value.told_s.at(Moment::Top), top_s, 0.006);
    EXPECT_NEAR(*take.value.contact_s + film.start_s, film.model.impact_s(), 0.004);
}

TEST(Film, TheDownswingAloneIsEnoughWhereTheTopWasMarked) {
    const auto change = [](simulate::FilmSetup& setup) { setup.downswing_alone = true; };
    const Filmed film(simulate::typical_swing(ClubKind::Iron), {Side::FaceOn, Side::DownTheLine},
                      change);
    std::vector<Finding> findings;
    const Analysis a = measured(film, &findings);
    expect_turns(film, a, 3.0);
    EXPECT_TRUE(has_code(findings, "late-start"));
    EXPECT_FALSE(a.moments[Moment::Address]);
}

TEST(Film, FindsTheClocksOffsetByItself) {
    const Filmed film(simulate::typical_swing(ClubKind::Driver), {Side::FaceOn, Side::DownTheLine},
                      [](simulate::FilmSetup& setup) {
                          setup.tells_impact = false;
                          setup.cameras[1].starts_s = 0.4112;
                      });
    const Outcome<Solution> solved = solve(film.marks);
    ASSERT_TRUE(solved.ok());
    EXPECT_NEAR(solved.value.offset_s[1], 0.4112, 0.002);
    EXPECT_LT(std::abs(solved.value.offset_s[1] - 0.4112), 3.0 * solved.value.offset_u_s[1] + 3e-4);
    EXPECT_EQ(solved.value.offset_s[0], 0.0);
}

// Marks whose times stand still make no film; marks that begin minutes into a film are counted from
// the first of them, and it is said.
TEST(Film, TimesThatMakeNoFilmAreNamedAndLateOnesCounted) {
    const Filmed film({});
    Marks still = film.marks;
    for (auto& view : still.views)
        for (auto& frame : view.frames)
            frame.t_s = 1.0;
    const auto none = take_from_marks(still);
    EXPECT_FALSE(none.ok());
    EXPECT_FALSE(none.findings.empty());
    Marks late = film.marks;
    for (auto& view : late.views) {
        for (auto& frame : view.frames)
            frame.t_s += 90.0;
        for (auto& [moment, t_s] : view.moments_s)
            t_s += 90.0;
    }
    const auto take = take_from_marks(late);
    ASSERT_TRUE(take.ok());
    EXPECT_TRUE(has_code(take.findings, "film-starts-late"));
    EXPECT_FALSE(has_code(take_from_marks(film.marks).findings, "film-starts-late"));
    const Analysis meant = measured(film);
    const auto result = analyse(take.value, {});
    ASSERT_TRUE(result.ok());
    for (Segment segment : kSequence)
        EXPECT_NEAR(result.value.sequence.find(segment)->before_impact_ms,
                    meant.sequence.find(segment)->before_impact_ms, 0.5)
            << key_of(segment);
}

// Mirroring is exact: the same swing left-handed gives the same numbers, told or not.
TEST(Film, LeftHandersAreTheMirrorImage) {
    simulate::SwingParameters right = simulate::typical_swing(ClubKind::Iron);
    simulate::SwingParameters left = right;
    left.handed = Handedness::Left;
    const Analysis a = measured(Filmed(right));
    Filmed other(left);
    const Analysis b = measured(other);
    EXPECT_EQ(b.handed, Handedness::Left);
    other.marks.handed.reset();
    const Analysis c = measured(other);
    EXPECT_EQ(c.handed, Handedness::Left);
    for (const char* key : {"pelvis_turn", "torso_turn"})
        for (Moment moment : {Moment::Top, Moment::Impact}) {
            const double is = at_moment(*find_quantity(key), a, moment).value;
            EXPECT_NEAR(at_moment(*find_quantity(key), b, moment).value, is, 0.05) << key;
            EXPECT_NEAR(at_moment(*find_quantity(key), c, moment).value, is, 0.05) << key;
        }
    other.marks.handed = Handedness::Right;
    EXPECT_TRUE(has_code(take_from_marks(other.marks).findings, "hand-contradicted"));
}

// A phone above may hang either way round, and looks at a left-hander from the other side.
TEST(Film, APictureFromAboveMayStandOnItsHead) {
    simulate::SwingParameters parameters = simulate::typical_swing(ClubKind::Iron);
    for (Handedness handed : {Handedness::Right, Handedness::Left}) {
        parameters.handed = handed;
        Filmed film(parameters, {Side::FaceOn, Side::Above});
        const Analysis upright = measured(film);
        turn_about(film.marks.views[1]);
        const Analysis turned = measured(film);
        // The hand shows from above too, whichever way round.
        Marks alone = film.marks;
        alone.handed.reset();
        alone.views.erase(alone.views.begin());
        EXPECT_EQ(take_from_marks(alone).value.handed, handed);
        turn_about(alone.views[0]);
        EXPECT_EQ(take_from_marks(alone).value.handed, handed);
        // Whichever moments were marked, else by the first picture.
        for (const bool with_impact : {false, true}) {
            Marks others = film.marks;
            auto& moments = others.views[1].moments_s;
            const double impact_s = moments.at(Moment::Impact);
            moments.clear();
            if (with_impact)
                moments[Moment::Impact] = impact_s;
            set_above_upright(others);
            EXPECT_NE(others.views[1].frames[0][Point::BeltLead]->x(),
                      film.marks.views[1].frames[0][Point::BeltLead]->x());
            const double now = others.views[1].frames[0][Point::BeltLead]->x();
            set_above_upright(others);
            EXPECT_EQ(others.views[1].frames[0][Point::BeltLead]->x(), now) << "once is enough";
        }
        for (const char* key : {"pelvis_turn", "torso_turn"}) {
            const double is = at_moment(*find_quantity(key), upright, Moment::Impact).value;
            EXPECT_NEAR(at_moment(*find_quantity(key), turned, Moment::Impact).value, is, 1e-6);
        }
        EXPECT_NEAR(at_moment(*find_quantity("pelvis_turn"), turned, Moment::Impact).value,
                    film.truth.pelvis.at(Moment::Impact).turn_deg, 4.0);
    }
}

TEST(Film, FaceOnAloneTellsTheBeltAndClaimsNoOrder) {
    for (std::uint32_t seed = 1; seed <= 2; ++seed) {
        const Filmed film(simulate::typical_swing(ClubKind::Iron), {Side::FaceOn},
                          [seed](simulate::FilmSetup& setup) { setup.seed = seed; });
        const Analysis a = measured(film);
        const Measured turn = at_moment(*find_quantity("pelvis_turn"), a, Moment::Impact);
        EXPECT_NEAR(turn.value, film.truth.pelvis.at(Moment::Impact).turn_deg, 6.0);
        EXPECT_GT(turn.u, 1.0) << "one view cannot be as sure as two";
        const bool certain = a.sequence.order.size() == 4 && a.sequence.tied.empty();
        EXPECT_FALSE(certain &&
                     a.sequence.order != std::vector<Segment>(kSequence.begin(), kSequence.end()));
    }
}

TEST(Film, MoreIsUnsureWhereLessWasTold) {
    const simulate::SwingParameters parameters = simulate::typical_swing(ClubKind::Iron);
    const auto u_of = [&](const std::function<void(simulate::FilmSetup&)>& change) {
        return at_moment(*find_quantity("pelvis_turn"),
                         measured(Filmed(parameters, {Side::FaceOn, Side::DownTheLine}, change)),
                         Moment::Impact)
            .u;
    };
    const double lines = u_of([](simulate::FilmSetup& setup) {
        for (auto& camera : setup.cameras)
            camera.tells_lines = true;
    });
    const double plain = u_of({});
    EXPECT_LT(lines, plain) << "a stick on the target line says where the cameras look";
    // What cameras and lengths may have been is part of every measure.
    const Analysis a = measured(Filmed(parameters));
    EXPECT_EQ(a.also.size(), static_cast<std::size_t>(kFilmDraws));
    const Measure& measure = *find_measure("separation.max_deg");
    EXPECT_GT(measure.of(a).u, measure.plain(a).u);
    Analysis without = a;
    without.also.clear();
    EXPECT_EQ(measure.of(without).u, measure.plain(without).u);
}

TEST(Film, MarksThatDoNotFitAreSaid) {
    const Filmed film(simulate::typical_swing(ClubKind::Iron), {Side::FaceOn, Side::DownTheLine},
                      [](simulate::FilmSetup& setup) { setup.mark_error_px = 8.0; });
    Filmed told = film;
    told.marks.mark_error_px = 1.0;
    std::vector<Finding> findings;
    measured(told, &findings);
    EXPECT_TRUE(has_code(findings, "film-marks-disagree"));
    findings.clear();
    measured(film, &findings);
    EXPECT_FALSE(has_code(findings, "film-marks-disagree"));
}

// One point clicked at the wrong place in a picture moves nothing by more than its noise.
TEST(Film, AWrongClickDoesNotPullTheRestAlong) {
    Filmed film(simulate::typical_swing(ClubKind::Iron));
    auto& frames = film.marks.views[0].frames;
    for (std::size_t i = 20; i < frames.size(); i += 25)
        if (frames[i][Point::ShoulderLead])
            frames[i][Point::ShoulderLead] = *frames[i][Point::ShoulderTrail];
    const Analysis a = measured(film);
    const Measured turn = at_moment(*find_quantity("pelvis_turn"), a, Moment::Impact);
    EXPECT_NEAR(turn.value, film.truth.pelvis.at(Moment::Impact).turn_deg, 3.0);
}

TEST(Film, TooLittleIsRefusedInWords) {
    Marks marks;
    EXPECT_EQ(take_from_marks(marks).findings.back().code, "film-no-marks");
    Filmed film(simulate::typical_swing(ClubKind::Iron));
    film.marks.views[0].frames.resize(5);
    const auto few = take_from_marks(film.marks);
    EXPECT_FALSE(few.ok());
    EXPECT_EQ(few.findings.back().code, "film-few-marks");
    EXPECT_FALSE(few.findings.back().mend.empty());
}

TEST(Film, WhatOneViewCannotTellIsSaid) {
    const Filmed film(simulate::typical_swing(ClubKind::Iron), {Side::DownTheLine});
    std::vector<Finding> findings;
    const Analysis a = measured(film, &findings);
    EXPECT_TRUE(has_code(findings, "film-cannot-tell"));
    EXPECT_EQ(a.sequence.order.size() == 4 && a.sequence.tied.empty(), false);
}

// Taken at 240 and read as if it had been taken at 120, or at 30.
TEST(Film, AWrongCaptureRateShowsInTheDownswing) {
    for (double slower : {2.5, 8.0}) {
        Filmed film(simulate::typical_swing(ClubKind::Iron));
        for (View& view : film.marks.views) {
            view.capture_rate_hz /= slower;
            for (auto& moment : view.moments_s)
                moment.second *= slower;
            for (MarkedFrame& frame : view.frames)
                frame.t_s *= slower;
        }
        const Outcome<Take> take = take_from_marks(film.marks);
        EXPECT_TRUE(has_code(analyse(take.value, {}).findings, "film-clock")) << slower;
    }
    std::vector<Finding> findings;
    measured(Filmed(simulate::typical_swing(ClubKind::Iron)), &findings);
    EXPECT_FALSE(has_code(findings, "film-clock"));
}

// A cubic in time through sparse samples is met exactly by a cubic through four of them; gaps
// longer than what is laid over stay open.
TEST(SparseGaps, AreLaidOverByACubicAsFarAsTheyMay) {
    const auto cubic = [](double t) { return 1.0 + t - 3.0 * t * t + 2.0 * t * t * t; };
    constexpr double kRate_hz = 100.0;
    FourSignals x(140, Eigen::Array4d::Constant(kMissing));
    Flags valid(x.size(), false);
    for (std::size_t i : {0U, 20U, 40U, 60U, 80U, 139U}) {
        x[i] = Eigen::Array4d::Constant(cubic(static_cast<double>(i) / kRate_hz));
        valid[i] = true;
    }
    const auto seen = bridge_gaps(x, valid, kRate_hz, 0.25);
    for (std::size_t i = 21; i < 60; ++i)
        EXPECT_NEAR(x[i](0), cubic(static_cast<double>(i) / kRate_hz), 1e-12) << i;
    EXPECT_EQ(seen[30], Seen::Bridged);
    EXPECT_EQ(seen[100], Seen::Unseen);
    EXPECT_FALSE(valid[100]);
}

// By hand: values 3 and 5 about 4 have an RMS distance of 1; one of three that gives nothing leaves
// two, two of three leave too few.
TEST(Also, ItsSpreadIsAboutTheValueHereAndUnknownWhereMostGiveNone) {
    const auto with = [](std::initializer_list<double> values) {
        Analysis a;
        a.duration_s = 4.0;
        for (double value : values) {
            auto other = std::make_shared<Analysis>();
            other->duration_s = value;
            a.also.push_back(other);
        }
        return a.spread([](const Analysis& one) { return one.duration_s; });
    };
    EXPECT_EQ(with({}), 0.0);
    EXPECT_DOUBLE_EQ(with({3.0, 5.0}), 1.0);
    EXPECT_DOUBLE_EQ(with({3.0, 5.0, kMissing}), 1.0);
    EXPECT_TRUE(std::isnan(with({3.0, kMissing, kMissing})));
}

// An uncertainty that nobody knows is not made known by one that is.
TEST(Also, WhatIsNotKnownStaysSo) {
    Analysis a;
    a.also.push_back(std::make_shared<Analysis>());
    Measure measure = *find_measure("tempo.ratio");
    measure.plain = [](const Analysis&) { return Measured{2.0, kMissing}; };
    EXPECT_TRUE(std::isnan(measure.of(a).u));
    measure.plain = [](const Analysis&) { return Measured{2.0, 0.5}; };
    EXPECT_DOUBLE_EQ(measure.of(a).u, 0.5);
}

TEST(Film, TheTrailShinIsSeenFromTheFront) {
    for (const auto& sides : {std::vector{Side::FaceOn}, {Side::FaceOn, Side::DownTheLine}}) {
        SCOPED_TRACE(sides.size());
        const Filmed film(simulate::typical_swing(ClubKind::Iron), sides,
                          [](simulate::FilmSetup& setup) { setup.marks_legs = true; });
        const Analysis analysis = measured(film);
        const double impact_s = film.model.impact_s();
        const Eigen::Vector3d shank =
            film.model.knee_m(false, impact_s) - film.model.ankle_m(false, impact_s);
        const double true_deg = deg_from_rad(std::atan2(shank.z(), shank.x()));
        EXPECT_NEAR(analysis.legs.trail_shin_deg.at(impact_s - film.start_s), true_deg, 3.0);
    }
    // From behind alone nothing is known of it.
    const Filmed behind(simulate::typical_swing(ClubKind::Iron), {Side::DownTheLine},
                        [](simulate::FilmSetup& setup) { setup.marks_legs = true; });
    EXPECT_TRUE(measured(behind).legs.trail_shin_deg.empty());
}
