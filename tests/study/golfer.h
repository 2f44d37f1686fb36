#pragma once

#include "core/base/names.h"
#include "core/motion/markers.h"
#include "core/motion/take.h"

#include <Eigen/Geometry>

#include <array>
#include <map>
#include <random>
#include <vector>

/// A second swing generator, written apart from src/simulate and by other means: speed curves are
/// sums of bumps of many shapes, the body is not planar, the arm's length breathes, the club's head
/// stands off the shaft, skin moves. What the shipped simulator and the analysis might believe in
/// common, this one need not share. Inside evidence all the same.
namespace kite::study {

/// Shapes of a burst of speed; widths are given separately.
enum class Shape { Bell, SkewEarly, SkewLate, FlatTop, TwoHumps, Sharp };
inline constexpr std::array kShapes{Shape::Bell,    Shape::SkewEarly, Shape::SkewLate,
                                    Shape::FlatTop, Shape::TwoHumps,  Shape::Sharp};
const char* name_of(Shape shape);

/// A curve of angle and speed over time, as a table fine enough to be exact for our purposes.
class Turning {
public:
    struct Plan {
        Shape shape = Shape::Bell;
        double peak_before_ms = 80.0; ///< of the burst, against impact
        double peak_deg_s = 450.0;
        double width_s = 0.11;       ///< half-height half-width of the burst
        double back_centre_s = 0.75; ///< before impact
        double back_width_s = 0.24;  ///< of the backswing's lobe
        double impact_deg = 40.0;    ///< angle at impact
        double loss = 0.0;           ///< share of the speed that the ball takes
        double rises_after_ms = 0.0; ///< moves the burst after impact (a late club)
        double follow_deg = 60.0;    ///< how far it goes on after impact, roughly
    };
    Turning() = default;
    Turning(const Plan& plan, double takeaway_s, double impact_s, double end_s);
    double angle_deg(double t_s) const;
    double rate_deg_s(double t_s) const; ///< just before the ball at impact itself

private:
    double step_s_ = 0.0005;
    double impact_s_ = 0.0;
    double kept_ = 1.0;
    std::vector<double> rate_;
    std::vector<double> angle_;
};

struct Body {
    double height_m = 1.78;
    double pelvis_width_m = 0.25; ///< between the ASIS
    double pelvis_depth_m = 0.15;
    double arm_m = 0.62;
    double club_m = 0.95;
    double pelvis_bend_deg = 20.0;
    double torso_bend_deg = 38.0;
    double stance_m = 0.45;
    double head_off_shaft_m = 0.03; ///< how far the head marker stands off the shaft's line
};

struct Golfer {
    Handedness handed = Handedness::Right;
    ClubKind club = ClubKind::Iron;
    Body body;
    double still_s = 0.9; ///< before the takeaway
    double swing_s = 1.1; ///< takeaway to impact, nominal
    double follow_s = 0.9;
    std::array<Turning::Plan, 4> plans;
    std::array<double, 3> open_at_address_deg{}; ///< pelvis, torso, feet
    double sway_back_m = -0.02;
    double sway_top_m = -0.005;
    double sway_impact_m = 0.11;
    double depth_impact_m = 0.02;
    double drop_m = -0.02;
    double lift_impact_m = 0.02;
    double side_tilt_impact_deg = -14.0;
    double plane_shift_deg = 5.0;
    double plane_turn_deg = 0.0; ///< the swing plane's line against the target line
    double elbow_share = 0.02;   ///< the arm shortens by this much at the top
    double skin_mm = 0.0;        ///< slow movement of skin over bone, at most
    std::uint32_t seed = 1;
};

/// Any golfer: size, club, tempo, speeds, shapes, alignment. `apart`: how far the peaks stand apart
/// on average, ms; negative values come out of order now and then.
Golfer draw_golfer(std::mt19937& random, double apart_ms = 22.0);

/// Exact poses at any time, right-handed lab.
class Motion {
public:
    explicit Motion(const Golfer& golfer);

    struct Pose {
        Eigen::Quaterniond q = Eigen::Quaterniond::Identity();
        Eigen::Vector3d p = Eigen::Vector3d::Zero();
    };
    Pose pelvis(double t_s) const;
    Pose torso(double t_s) const;
    Pose arm(double t_s) const;
    Pose club(double t_s) const;
    Pose pose(Segment segment, double t_s) const;
    Eigen::Vector3d wrist(double t_s) const;
    Eigen::Vector3d head(double t_s) const; ///< where its marker is
    Eigen::Vector3d ankle(bool lead, double t_s) const;
    Eigen::Vector3d knee(bool lead, double t_s) const;
    Eigen::Vector3d hip(bool lead, double t_s) const;
    double arm_length_m(double t_s) const;

    const Golfer& golfer() const { return golfer_; }
    double takeaway_s() const { return golfer_.still_s; }
    double impact_s() const { return impact_s_; }
    double end_s() const { return golfer_.still_s + golfer_.swing_s + golfer_.follow_s; }

private:
    Golfer golfer_;
    double impact_s_ = 0.0;
    std::array<Turning, 4> turning_;
    double hip_height_m_ = 0.9;
};

/// Captures of a motion.
MarkerTake capture_markers(const Motion& motion, double rate_hz, double noise_mm,
                           std::uint32_t seed);
/// Poses as they stand after reading (right-handed); angle noise in degrees, position noise in mm.
Take capture_poses(const Motion& motion, double rate_hz, double noise_deg, double noise_mm,
                   std::uint32_t seed);

/// What a perfect measurement would say.
struct MotionTruth {
    struct Part {
        double reversal_s = 0.0;
        double peak_s = 0.0;
        double peak_deg_s = 0.0;
        double at_impact_deg_s = 0.0; ///< just before it
    };
    std::array<Part, 4> parts;
    std::map<Moment, double> moments_s; ///< takeaway, top, level ones, impact
    double takeaway_s = 0.0;
    double hands_m_s = 0.0;
    double head_m_s = 0.0;
    double separation_top_deg = 0.0;
    double separation_impact_deg = 0.0;
    double pelvis_turn_impact_deg = 0.0;
    double torso_turn_top_deg = 0.0;
    double pelvis_sway_impact_m = 0.0;
    std::vector<Segment> order() const;
};
MotionTruth truth_of(const Motion& motion);

} // namespace kite::study
