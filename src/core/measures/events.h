#pragma once

#include "core/base/findings.h"
#include "core/base/names.h"
#include "core/measures/kinematics.h"
#include "core/measures/options.h"
#include "core/measures/swing_plane.h"
#include "core/measures/swings.h"
#include "core/motion/take.h"

#include <array>
#include <limits>
#include <optional>
#include <vector>

namespace kite {

/// A moment of the swing in seconds from the file's first frame.
struct MomentTime {
    double t_s = std::numeric_limits<double>::quiet_NaN();
    double u_s = std::numeric_limits<double>::quiet_NaN(); ///< standard uncertainty; NaN: not known
    bool moved = false;                                    ///< by hand
};

using Moments = std::array<std::optional<MomentTime>, kAllMoments.size()>;

/// Where impact came from, best first. Arm: there is no club, the lead arm passed its address
/// direction. Hand: moved by the user.
enum class ImpactSource { Contact, ClubHead, Shaft, Arm, Peak, Hand };
std::string_view key_of(ImpactSource source);

/// Where the club suddenly loses speed after its fastest moment near a time, from its rate as
/// measured: the largest loss from one frame to the next, if it is over 5 % of the peak and stands
/// out from the frames about it four times. Half-way between the two frames. Empty where none does.
std::optional<double> find_blow_s(const std::vector<double>& raw_club_deg_s, double rate_hz,
                                  double near_s);

struct SwingMoments {
    Moments at;
    ImpactSource impact_source = ImpactSource::Peak;
    bool impact_by_blow = false; ///< assumed where the club suddenly loses speed
    TimeRange address_window;    ///< the calmest 0.1 s: means at address are taken here
    std::optional<SwingPlane> plane;
    /// Peaks are looked for up to here: 0.05 s after impact; where impact is unknown, 0.15 s after
    /// the fastest moment.
    double window_end_s = 0.0;
    /// Where the club head passed its place at address, told apart from a contact mark.
    std::optional<MomentTime> head_passing;
    double fastest_s = 0.0; ///< the leader's fastest moment: stands in for impact in pictures

    /// Impact, or what stands in for it.
    double reference_s() const;

    const std::optional<MomentTime>& operator[](Moment moment) const {
        return at[static_cast<std::size_t>(moment)];
    }
    std::optional<MomentTime>& operator[](Moment moment) {
        return at[static_cast<std::size_t>(moment)];
    }
    /// Time of a moment, NaN if it was not found.
    double time_s(Moment moment) const;
};

/// Finds the moments (docs/measures.md, "Moments"). The definitions lean on each other, so three
/// rounds are gone: the first from the leader's fastest moment as a provisional impact, the others
/// with arm and club filtered separately before and after the impact found last. Moments in
/// `options.moved_s` are taken as they are. Without a club the lead arm or the trunk serves, as far
/// as it goes, and a warning says so.
/// Errors: nothing to find moments from, no swing, half a swing; each says what is there instead.
Outcome<SwingMoments> find_moments(SmoothedParts& parts, const Take& take,
                                   const AnalysisOptions& options,
                                   const std::optional<Swings>& swings);

/// Where the golfer stands at address, roughly: one round is enough to build poses by. Empty if
/// there is no swing.
std::optional<TimeRange> find_address(const Take& take);

} // namespace kite
