#include "core/sets/swing_set.h"

#include "core/base/units.h"

#include <algorithm>
#include <array>
#include <cmath>

namespace kite {

std::array<PeakSummary, kSequence.size()>
summarise_peaks(const std::vector<const Analysis*>& swings) {
    std::array<PeakSummary, kSequence.size()> out;
    for (Segment segment : kSequence) {
        std::vector<double> from_impact_s;
        std::vector<double> peak_deg_s;
        for (const Analysis* swing : swings) {
            const SegmentSequence* part = swing->sequence.find(segment);
            if (part == nullptr || !std::isfinite(part->before_impact_ms))
                continue;
            from_impact_s.push_back(-part->before_impact_ms / 1000.0);
            peak_deg_s.push_back(part->peak_deg_s);
        }
        out[index_of(segment)] = {summarise(from_impact_s), summarise(peak_deg_s)};
    }
    return out;
}

Band calc_band(const std::vector<const Analysis*>& swings,
               const std::function<const Curve&(const Analysis&)>& curve_of) {
    constexpr std::array kKnots{Moment::Takeaway, Moment::Top, Moment::ShaftLevelDown,
                                Moment::Impact};
    constexpr int kSamplesAPiece = 60;
    constexpr double kAfter_s = 0.1;
    using Knots = std::array<double, kKnots.size() + 1>;
    std::vector<const Analysis*> used;
    std::vector<Knots> knots;
    Knots mean_knots{};
    for (const Analysis* swing : swings) {
        Knots at{};
        bool whole = !curve_of(*swing).empty();
        for (std::size_t k = 0; k < kKnots.size(); ++k) {
            at[k] = swing->moments.time_s(kKnots[k]);
            whole = whole && std::isfinite(at[k]);
        }
        if (!whole)
            continue;
        at.back() = at[kKnots.size() - 1] + kAfter_s;
        used.push_back(swing);
        knots.push_back(at);
    }
    Band out;
    if (used.size() < 2)
        return out;
    for (const Knots& at : knots)
        for (std::size_t k = 0; k < at.size(); ++k)
            mean_knots[k] += (at[k] - at[kKnots.size() - 1]) / static_cast<double>(knots.size());
    for (std::size_t piece = 0; piece + 1 < mean_knots.size(); ++piece) {
        const bool last = piece + 2 == mean_knots.size();
        for (int i = 0; i < kSamplesAPiece + (last ? 1 : 0); ++i) {
            const double share = static_cast<double>(i) / kSamplesAPiece;
            std::vector<double> values;
            for (std::size_t s = 0; s < used.size(); ++s) {
                const double t_s =
                    knots[s][piece] + share * (knots[s][piece + 1] - knots[s][piece]);
                values.push_back(
                    curve_of(*used[s]).at(t_s, last ? Curve::Side::After : Curve::Side::Before));
            }
            const Summary summary = summarise(values);
            out.t_s.push_back(mean_knots[piece] +
                              share * (mean_knots[piece + 1] - mean_knots[piece]));
            out.mean.push_back(summary.mean);
            out.sd.push_back(summary.sd);
        }
    }
    return out;
}

} // namespace kite
