#pragma once

#include "core/measures/events.h"
#include "core/measures/sequence.h"
#include "core/motion/take.h"

#include <array>
#include <vector>

namespace kite {

/// How the golfer stands at address.
struct Setup {
    double stance_cm = kMissing; ///< between the ankle centres, seen from above
    double stance_u_cm = kMissing;
    /// Club head along the stance: 0 in its middle, 1 at the lead ankle, -1 at the trail one.
    double ball_place = kMissing;
    double ball_place_u = kMissing;
};
/// `head_m`: the club head's path as measured; empty: there is none.
Setup calc_setup(const Take& take, const std::vector<Eigen::Vector3d>& head_m,
                 const SwingMoments& moments);

/// In which order the parts start back.
struct Takeaway {
    struct Part {
        double start_s = kMissing; ///< going back from its fastest moment: first below 5 % of that
        double start_u_s = kMissing;
    };
    std::array<Part, kSequence.size()> parts; ///< pelvis, torso, lead arm, club
    std::vector<Segment> order;               ///< by start
    /// How much earlier than the club a part starts, ms; positive: before it.
    double start_ms(Segment segment) const;
    double start_u_ms(Segment segment) const;
};
/// `rates_deg_s` positive in the downswing direction; `noise_deg_s` of each after the filter.
Takeaway calc_takeaway(const std::array<Curve, kSequence.size()>& rates_deg_s,
                       const std::array<double, kSequence.size()>& noise_deg_s,
                       const SwingMoments& moments);

} // namespace kite
