#pragma once

#include "core/base/missing.h"
#include "core/base/names.h"
#include "core/measures/events.h"
#include "core/signal/curve.h"
#include "core/signal/place.h"

#include <array>
#include <limits>
#include <optional>
#include <utility>
#include <vector>

namespace kite {

/// One part of the kinematic sequence, looked at from the first reversal to 0.05 s after impact.
/// Rates in °/s, positive in the downswing direction; times in s from the first frame; NaN where
/// the take does not give the value.
struct SegmentSequence {
    double reversal_t_s = kMissing; ///< last change from back to down before the peak
    double reversal_u_s = kMissing;
    double peak_deg_s = kMissing;
    double peak_u_deg_s = kMissing; ///< standard uncertainty
    double peak_t_s = kMissing;
    double peak_t_u_s = kMissing;       ///< standard uncertainty
    double before_impact_ms = kMissing; ///< positive: the peak comes before impact
    double at_impact_deg_s = kMissing;
    double slowdown_pct = kMissing; ///< (peak - at impact) / peak · 100; also told where the peak
                                    ///< is so flat that its time is not
    double slowdown_u_pct = kMissing;
    double gain = kMissing; ///< peak over the previous part's peak; none for the pelvis
    double max_accel_deg_s2 = kMissing;
    double cutoff_hz = kMissing;
    double peak_unseen_s = 0.0;     ///< length of an unseen stretch at or beside the peak
    double reversal_unseen_s = 0.0; ///< the same at the reversal
};

struct Sequence {
    std::array<std::optional<SegmentSequence>, 4> parts; ///< pelvis, torso, lead arm, club
    std::vector<Segment> order;                          ///< by peak time
    std::vector<std::pair<Segment, Segment>>
        tied;                             ///< peaks within twice their combined uncertainty
    double order_certainty = kMissing;    ///< P(pelvis < torso < lead arm < club); needs all four
    double fastest_at_ball_ms = kMissing; ///< club's peak minus impact

    const SegmentSequence* find(Segment segment) const {
        const auto& part = parts[index_of(segment)];
        return part ? &*part : nullptr;
    }
    bool is_tied(Segment a, Segment b) const;
    /// Order, ties and certainty from the peaks and their uncertainties as they stand.
    void judge_order();
};

/// The parts that the take has, as they turn.
struct SequenceInput {
    struct Part {
        Curve rate_deg_s; ///< in the chosen convention
        Curve
            reversing_deg_s; ///< whose change of sign is the reversal (arm, club: along the plane)
        Samples turned;      ///< as measured, whose rate the first one is …
        Samples reversing;   ///< … and the second; empty: the same as `turned`
        double cutoff_hz = kMissing;       ///< of the two curves
        std::optional<double> smoothed_hz; ///< what the data chose for the spline about the peak
        bool tells_peak = true;            ///< false: its reversal alone can be told
        double wander_deg = 0.0;           ///< by which skin turns the part slowly

        const Samples& reversing_samples() const { return reversing.empty() ? turned : reversing; }
    };
    std::array<std::optional<Part>, 4> parts;
    double rate_hz = 0.0;
};

/// Peaks and reversals are placed by splines through the samples (core/signal/place.h). About its
/// peak each part's rate curve is laid anew along that spline, so that what is drawn is what was
/// read. A peak or reversal in or beside an unseen stretch carries the uncertainty that the stretch
/// allows, or is given up: `unseen` then says how long it was.
Sequence calc_sequence(SequenceInput& input, const SwingMoments& moments);

/// Where peaks are looked for: between takeaway and a little after impact.
TimeRange peak_window(const SwingMoments& moments);

/// The order of the peaks alone, by their places, without uncertainty.
std::vector<Segment> calc_peak_order(const SequenceInput& input, const SwingMoments& moments);

/// P(t1 < t2 < ... ) for independent normal times with these means and standard deviations.
double calc_order_certainty(const std::vector<double>& t_s, const std::vector<double>& u_s);

} // namespace kite
