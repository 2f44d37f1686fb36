#pragma once

#include "core/base/findings.h"
#include "core/measures/arms.h"
#include "core/measures/delivery.h"
#include "core/measures/events.h"
#include "core/measures/hinge_path.h"
#include "core/measures/legs.h"
#include "core/measures/options.h"
#include "core/measures/positions.h"
#include "core/measures/pressure.h"
#include "core/measures/separation.h"
#include "core/measures/sequence.h"
#include "core/measures/setup.h"
#include "core/measures/speed.h"
#include "core/measures/tempo.h"
#include "core/measures/transition.h"
#include "core/measures/wrist.h"
#include "core/motion/take.h"

#include <array>
#include <cmath>
#include <map>
#include <memory>
#include <optional>
#include <vector>

namespace kite {

/// Everything that was computed of one swing. What the source cannot give is empty or NaN.
struct Analysis {
    AnalysisOptions options;
    double rate_hz = 0.0;
    double duration_s = 0.0;
    Handedness handed = Handedness::Right;
    bool handed_said = false; ///< by file or user; else taken from the motion
    ClubKind club = ClubKind::Iron;
    bool club_said = false; ///< else nobody said it, and an iron stands in
    Source source = Source::Poses;
    int swings_in_take = 1;
    int swing_number = 1; ///< the one analysed, from 1

    SwingMoments moments;
    Sequence sequence;
    Transition transition;
    std::optional<Separation> separation;
    HingePath hinge_path;
    Hips hips;
    Legs legs;
    Pressure pressure;
    Wrist wrist;
    Speed speed;
    Delivery delivery;
    Arms arms;
    Setup setup;
    Takeaway takeaway;
    std::optional<LaunchNumbers> launch; ///< measured beside the motion
    Tempo tempo;
    /// Order of the peaks in each rate convention, by index of the enum; empty where not available.
    std::array<std::vector<Segment>, 3> order_by_convention;
    bool order_depends_on_convention() const;

    /// For the charts, at the take's frames.
    std::map<Segment, SegmentMotion> motion;
    std::map<Segment, TrunkCurves> trunk; ///< pelvis and torso
    std::array<Curve, 4> rate_deg_s;      ///< in the chosen convention; empty where missing
    Curve separation_deg;
    Curve other_separation_deg; ///< by the method that was not chosen
    Curve wrist_hinge_deg;

    /// The same swing as it may also have been (Take::also), for who needs to know how much a value
    /// hangs on what was taken as given. Without alternatives of their own.
    std::vector<std::shared_ptr<const Analysis>> also;

    /// This swing with its own uncertainties alone, before those of `also` were joined to times and
    /// peaks: what is made of several of them must not count the alternatives several times. Null
    /// without alternatives.
    std::shared_ptr<const Analysis> alone;

    /// SD of something over `also` about its value here; 0 where there are none, NaN where fewer
    /// than half of them give it.
    template <class Of>
    double spread(const Of& of) const {
        if (also.empty())
            return 0.0;
        const double here = of(*this);
        double sum = 0.0;
        std::size_t count = 0;
        for (const auto& other : also)
            if (const double off = of(*other) - here; std::isfinite(off)) {
                sum += off * off;
                ++count;
            }
        return 2 * count < also.size() ? kMissing : std::sqrt(sum / static_cast<double>(count));
    }

    const SegmentMotion* find_motion(Segment segment) const; ///< nullptr: not in this take
    TrunkPosition position(Segment segment, Moment moment) const;
    /// Value of a curve at a moment; NaN without either.
    double at(const Curve& curve, Moment moment) const;
};

/// From a take to the result. Without errors in the findings the result holds a swing; with errors
/// it holds what could still be computed (curves without moments, say).
Outcome<Analysis> analyse(const Take& take, const AnalysisOptions& options);

} // namespace kite
