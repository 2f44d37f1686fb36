#pragma once

#include "core/base/findings.h"
#include "core/base/names.h"
#include "core/measures/kinematics.h"
#include "core/measures/options.h"
#include "core/measures/swing_plane.h"
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

/// Where impact came from, best first.
enum class ImpactSource { Contact, ClubHead, Shaft, Peak };
std::string_view key_of(ImpactSource source);

struct SwingMoments {
    Moments at;
    ImpactSource impact_source = ImpactSource::Peak;
    TimeRange address_window; ///< the calmest 0.1 s: means at address are taken here
    std::optional<SwingPlane> plane;

    const std::optional<MomentTime>& operator[](Moment moment) const {
        return at[static_cast<std::size_t>(moment)];
    }
    std::optional<MomentTime>& operator[](Moment moment) {
        return at[static_cast<std::size_t>(moment)];
    }
    /// Time of a moment, NaN if it was not found.
    double time_s(Moment moment) const;
};

/// Finds the moments from club and lead arm (docs/measures.md, "Moments"). The definitions lean on
/// each other, so two rounds are gone: the first from the club's fastest moment as a provisional
/// impact, the second with arm and club filtered separately before and after impact.
/// Errors: no club, no swing, half a swing; each says what is there instead.
Outcome<SwingMoments> find_moments(const Take& take, const AnalysisOptions& options);

} // namespace kite
