#pragma once

#include "core/base/range.h"
#include "core/live/rest.h"

#include <optional>

namespace kite::live {

/// The part whose speed shows that something fast happens: the club, else the arm, torso, pelvis.
std::optional<Segment> leader_of(const Parts& parts);
/// Faster than this it may be a swing, °/s.
double least_speed_deg_s(Segment leader);

/// A swing as it was found.
struct Cut {
    TimeRange range;                ///< from stillness at address to what was heard after impact
    double fastest_s = 0.0;         ///< the leader's
    std::optional<double> impact_s; ///< by the blow in the accelerometers; empty: none was felt
    bool can_feel = true;           ///< a club or an arm was heard that could have felt a blow
    bool counter_clockwise = true;  ///< the downswing, from above: a right-hander's

    double reference_s() const { return impact_s.value_or(fastest_s); }
    /// Nothing was struck; where nobody could have felt it, that is not said.
    bool is_practice() const { return !impact_s && can_feel; }
};

/// Needed after impact for a reading, s.
inline constexpr double kNeededAfter_s = 0.3;

/// Is what was fastest at that time a swing? The body turns away and back, the leader is fast, and
/// the club (or the arm) feels a blow; without one it takes more of a swing, and it is a practice
/// swing. Waggles turn no body; walking and bending down do not turn it so far or so fast. How the
/// sensors are mounted does not matter: turning is about gravity at rest. `not_before_s`: where the
/// swing before was over.
std::optional<Cut> find_swing(const Parts& parts, double fastest_s, double not_before_s);

/// For a drill: the body turned away by itself and came back, at whatever speed, with holds and
/// steps, and the movement is over. Empty until then. With the hand not known, the larger way back
/// tells the side.
std::optional<Cut> find_movement(const Parts& parts, double not_before_s,
                                 std::optional<Handedness> handed);

/// The first sign of a blow in the accelerometers of club or arm near a time: the force leaves the
/// smooth course that it kept.
std::optional<double> find_struck_s(const Samples& samples, TimeRange range);

} // namespace kite::live
