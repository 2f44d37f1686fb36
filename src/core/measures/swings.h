#pragma once

#include "core/base/findings.h"
#include "core/measures/kinematics.h"
#include "core/measures/options.h"
#include "core/measures/smoothed_parts.h"
#include "core/motion/take.h"

#include <optional>
#include <vector>

namespace kite {

/// A swing is the fastest moment within this reach on either side.
inline constexpr double kSwingReach_s = 0.4;

/// Turning speed of the leader without sign, °/s: of arm and club without roll, of the trunk about
/// its own axis.
Curve calc_leader_speed(const SegmentMotion& motion, Segment leader);

/// Fastest moments of the swings in a take, ascending: greatest within kSwingReach_s on either side
/// and at least 40 % of the fastest of all (slower ones are waggles). `speed_deg_s` is the
/// leader's.
std::vector<double> find_swings_s(const Curve& speed_deg_s, Segment leader);

/// The swings of a take and the one that is meant.
struct Swings {
    /// The part whose turning tells the moments: the club; without it the lead arm, the torso, the
    /// pelvis, in this order.
    Segment leader = Segment::Club;
    std::vector<double> fastest_s; ///< the fastest moment of each; may be empty
    std::size_t index = 0;         ///< the one that is meant
    double fastest_deg_s = 0.0;    ///< of the whole take
    /// A part that would have led, but was hidden for `hidden_s` of the swing.
    std::optional<Segment> hidden_leader;
    double hidden_s = 0.0;

    double chosen_s() const { return fastest_s.at(index); }
    /// When the swing before the chosen one was over; 0 for the first.
    double previous_end_s() const {
        return index == 0 ? 0.0 : fastest_s.at(index - 1) + kSwingReach_s;
    }
};
/// Fills in which of the swings that were found is meant, and how fast the leader is at all.
void choose_among_swings(const Curve& speed_deg_s, const Take& take, const AnalysisOptions& options,
                         Swings& swings);

/// That a take holds several swings, and which one was analysed.
Finding several_swings(const Swings& swings);

/// Meant is the one the options number, else the one nearest the contact mark, else the fastest.
/// A part that was hidden for long about the swing does not lead if another was seen. Empty if the
/// take has no part to tell swings by.
std::optional<Swings> find_swings(SmoothedParts& parts, const Take& take,
                                  const AnalysisOptions& options);

/// Chooses by residual analysis the cut-offs that `options` leaves open, in the second around the
/// swing (arm and club: before impact only), and returns the options with all of them filled in.
AnalysisOptions with_cutoffs(const Take& take, const AnalysisOptions& options,
                             const std::optional<Swings>& swings);

} // namespace kite
