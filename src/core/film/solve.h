#pragma once

#include "core/base/findings.h"
#include "core/film/camera.h"
#include "core/film/marks.h"

#include <array>
#include <vector>

namespace kite::film {

/// The marked points of one moment in space. What no picture shows is NaN.
struct SpaceFrame {
    double t_s = 0.0; ///< on the first view's clock
    std::array<Eigen::Vector3d, kPoints> at_m;
    /// Of the direction from one marked point to another, SD by the marks of this moment alone,
    /// rad; large where the pictures do not tell it. By `Link`.
    std::array<double, 4> direction_sd_rad{};
    /// What each of the things taken as given does to every point: a column a draw.
    std::array<Eigen::Matrix3Xd, kPoints> drawn_m;

    const Eigen::Vector3d& operator[](Point point) const {
        return at_m[static_cast<std::size_t>(point)];
    }
};

/// Pairs of points with a constant distance, from one to the other.
enum class Link { Belt, Shoulders, Arm, Club };
inline constexpr std::array kLinks{Link::Belt, Link::Shoulders, Link::Arm, Link::Club};
std::pair<Point, Point> ends_of(Link link);
inline bool is_trunk(Link link) {
    return link == Link::Belt || link == Link::Shoulders;
}

/// Cameras and points in space that explain the marks.
struct Solution {
    std::vector<Camera> cameras;      ///< by view
    std::vector<double> offset_s;     ///< by view; the first is 0
    std::vector<double> offset_u_s;   ///< standard uncertainty
    std::array<double, 4> length_m{}; ///< by `Link`
    double mark_error_px = 2.0;       ///< as told, or as the marks show where they are worse
    bool worse_than_told = false;     ///< the marks fit each other less well than told
    std::vector<SpaceFrame> frames;   ///< at the times of the first view's marks
};

/// How many draws of what is taken as given travel with every point.
inline constexpr int kFilmDraws = 16;

/// Cameras (direction, place, focal length), lengths and the clocks' offset are found together with
/// the points by least squares on all marks, with what is known of each beforehand as its own
/// observation (bundle adjustment, Triggs et al. 2000; the points of each moment are eliminated
/// first). Marks of right-handers. Errors: nothing to solve from.
Outcome<Solution> solve(const Marks& marks);

} // namespace kite::film
