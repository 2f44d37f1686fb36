#pragma once

#include "core/base/names.h"

#include <Eigen/Core>

#include <array>
#include <initializer_list>
#include <map>
#include <optional>
#include <string>
#include <string_view>
#include <vector>

namespace kite::film {

/// What can be marked in a picture. Belt and shoulders: the ends of a stick or of the line that is
/// seen; both turn with pelvis and torso.
enum class Point {
    BeltLead,
    BeltTrail,
    ShoulderLead,
    ShoulderTrail,
    LeadShoulder,
    Wrist,
    Grip,
    ClubHead,
    LeadKnee,
    LeadAnkle,
    TrailKnee,
    TrailAnkle,
    Head
};
inline constexpr std::size_t kPoints = 13;

/// Keys as they stand in files ("belt_lead"), in the order of the enum.
const std::array<std::string_view, kPoints>& point_keys();

enum class Side { FaceOn, DownTheLine, Above };
std::string_view key_of(Side side); ///< "face-on"
std::optional<Side> find_side(std::string_view key);

using Pixel = Eigen::Vector2d; ///< right and down from the upper left corner of the upright picture

/// The points of one picture.
struct MarkedFrame {
    double t_s = 0.0; ///< real time from the view's first frame
    std::array<std::optional<Pixel>, kPoints> at;

    const std::optional<Pixel>& operator[](Point point) const {
        return at[static_cast<std::size_t>(point)];
    }
    std::optional<Pixel>& operator[](Point point) { return at[static_cast<std::size_t>(point)]; }
};

/// Two points of a picture and what is known of them.
struct Line {
    Pixel from = Pixel::Zero();
    Pixel to = Pixel::Zero();
};

/// What one camera saw. What was not told is empty.
struct View {
    Side side = Side::FaceOn;
    std::string film; ///< file or folder, as it was given; empty: none
    Pixel size_px = Pixel::Zero();
    double capture_rate_hz = 0.0;
    std::optional<double> offset_s; ///< added to this view's times gives the first view's
    std::optional<double> distance_m;
    std::optional<double> height_m; ///< above the ground
    std::optional<double> focal_px;
    std::optional<Line> plumb_px;
    std::optional<Line> target_line_px;
    std::optional<Line> scale_px;
    double scale_m = 0.0;
    std::map<Moment, double> moments_s; ///< marked by hand, on this view's clock
    std::vector<MarkedFrame> frames;    ///< in ascending order of time
};

/// Lengths that somebody measured, m.
struct Lengths {
    std::optional<double> belt_stick;
    std::optional<double> shoulder_stick;
    std::optional<double> arm;
    std::optional<double> club;
};

/// Everything that was marked in the film of one swing, as it was seen: a left-hander is not
/// mirrored yet.
struct Marks {
    std::optional<Handedness> handed;
    std::optional<ClubKind> club;
    Lengths lengths_m;
    std::optional<double> mark_error_px; ///< SD of a mark, a coordinate
    std::vector<View> views;
};

inline constexpr double kUsualMarkError_px = 2.0;

/// A left-hander's marks as a right-hander's: pictures exchanged left for right.
void mirror_in_place(Marks& marks);

/// How a point moves in the picture where it is fastest from one mark to the next.
struct FastestStep {
    double t_s = 0.0; ///< of the later mark, on the view's clock
    Pixel px_s = Pixel::Zero();
};
/// Of the first of the points that was marked twice; empty: none was.
std::optional<FastestStep> find_fastest_step(const View& view, std::initializer_list<Point> points);

/// A picture upside down, as of a phone that was hung the other way round.
void turn_about(View& view);

} // namespace kite::film
