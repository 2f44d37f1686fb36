#pragma once

#include "core/film/marks.h"
#include "simulate/swing_model.h"

#include <cstdint>
#include <functional>
#include <random>

namespace kite::simulate {

/// A phone on a stand: where it is, where it looks, what it takes. The swing is that of a
/// right-hander in the lab frame of docs/frames.md; a left-hander's film is the mirror image.
struct FilmCamera {
    film::Side side = film::Side::FaceOn;
    Eigen::Vector2d size_px{1080.0, 1920.0}; ///< upright
    double rate_hz = 240.0;
    double focal_px = 1700.0;
    double distance_m = 4.2; ///< to the golfer's hips, along the floor (above: straight up)
    double height_m = 1.1;   ///< above the floor; not of the view from above
    /// By how much it stands beside the direction that its name says, looking at the golfer …
    double beside_deg = 0.0;
    /// … and how it is held: turned away from the golfer, nodding, leaning.
    double pan_deg = 0.0;
    double nod_deg = 0.0;
    double lean_deg = 0.0;
    double starts_s = 0.0; ///< of its first frame, on the swing's clock
    double blur_s = 0.0;   ///< time that the shutter is open: a mark lies anywhere along the streak
    bool tells_camera = true; ///< the file says distance, height and focal length
    bool tells_lines = false; ///< … and a plumb and a target line
};

struct FilmSetup {
    std::vector<FilmCamera> cameras;
    double mark_error_px = 2.0;
    bool tells_sticks = true; ///< lengths of belt and shoulder stick
    bool tells_arm_and_club = false;
    double belt_stick_m = 1.0;
    double shoulder_stick_m = 0.9;
    bool tells_impact = true;     ///< moments are marked, to the nearest frame
    bool marks_legs = false;      ///< knees and ankles too
    double skipped_share = 0.0;   ///< of the points that nobody marked
    bool downswing_alone = false; ///< nothing was marked before 0.15 s before the top
    double tells_nearer_m = 0.0;  ///< by so much less than true distances are told
    std::uint32_t seed = 1;
};

/// Phones that stand a little beside their directions and were not started together.
FilmSetup usual_phones(const std::vector<film::Side>& sides, double rate_hz);

/// Where a point is at a time, m.
using PlaceOf = std::function<Eigen::Vector3d(film::Point, double t_s)>;
/// When what happens, s.
struct FilmTimes {
    double takeaway_s = 0.0;
    double top_s = 0.0;
    double impact_s = 0.0;
    double end_s = 0.0;
};

/// Marks of a swing as an instructor has time for: a few pictures at address, some of the
/// backswing, every one from before the top to after impact.
film::Marks mark_film(const PlaceOf& place_of, const FilmTimes& times, Handedness handed,
                      ClubKind club, const FilmSetup& setup);

/// The model's own points: sticks in front of hips and chest.
PlaceOf points_of(const SwingModel& model, const FilmSetup& setup);
FilmTimes times_of(const SwingModel& model);
/// Both together.
film::Marks mark_film(const SwingModel& model, const FilmSetup& setup);

} // namespace kite::simulate
