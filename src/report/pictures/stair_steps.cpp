#include "report/pictures/stair_steps.h"

#include "core/base/units.h"

#include <cmath>

namespace kite::report {

namespace {

template <class Time, class Uncertainty>
std::vector<StairStep> stair_of(const Sequence& sequence, const Reading& reading, About about,
                                Time time_of, Uncertainty uncertainty_of) {
    std::vector<StairStep> out;
    for (Segment segment : kSequence) {
        const SegmentSequence* part = sequence.find(segment);
        if (part == nullptr || !std::isfinite(time_of(*part)))
            continue;
        StairStep step;
        step.segment = segment;
        step.t_s = time_of(*part);
        step.u_s = uncertainty_of(*part);
        if (!out.empty()) {
            const StairStep& below = out.back();
            step.after_below_ms = ms_from_s(step.t_s - below.t_s);
            step.is_tied = std::abs(step.t_s - below.t_s) < 2.0 * std::hypot(step.u_s, below.u_s);
            step.is_named = reading.names(about, below.segment, segment);
        }
        out.push_back(step);
    }
    return out;
}

} // namespace

std::vector<StairStep> stair_of_peaks(const Sequence& sequence, const Reading& reading) {
    return stair_of(
        sequence, reading, About::Peaks, [](const SegmentSequence& part) { return part.peak_t_s; },
        [](const SegmentSequence& part) { return part.peak_t_u_s; });
}

double landing_deg_s(const Analysis& analysis, Segment segment) {
    const SegmentSequence* part = analysis.sequence.find(segment);
    if (part == nullptr)
        return 0.0;
    if (std::isfinite(part->peak_deg_s))
        return part->peak_deg_s;
    const double there = analysis.rate_deg_s[index_of(segment)].at(part->peak_t_s);
    return std::isfinite(there) ? there : 0.0;
}

std::vector<StairStep> stair_of_reversals(const Sequence& sequence, const Reading& reading) {
    return stair_of(
        sequence, reading, About::Reversals,
        [](const SegmentSequence& part) { return part.reversal_t_s; },
        [](const SegmentSequence& part) { return part.reversal_u_s; });
}

} // namespace kite::report
