#include "core/sets/swing_set.h"

#include "core/base/units.h"

#include <algorithm>
#include <array>
#include <cmath>

namespace kite {

const char* word_of(Verdict verdict) {
    switch (verdict) {
    case Verdict::Real:
        return "real";
    case Verdict::NotShown:
        return "not shown";
    case Verdict::TooFew:
        return "too few swings";
    case Verdict::NotMeasured:
        break;
    }
    return "not measured";
}

namespace {

/// Swings in each set until the half-width of the 95 % interval is the change worth having.
double swings_needed(double sd, double worthwhile) {
    constexpr int kMost = 1000;
    for (int n = 3; n < kMost; ++n)
        if (student_t_quantile(0.975, 2.0 * n - 2.0) * sd * std::sqrt(2.0 / n) <= worthwhile)
            return n;
    return kMost;
}

} // namespace

std::vector<MeasureChange> compare_sets(const std::vector<Analysis>& before,
                                        const std::vector<Analysis>& after) {
    const auto pointers = [](const std::vector<Analysis>& swings) {
        std::vector<const Analysis*> out;
        out.reserve(swings.size());
        for (const Analysis& swing : swings)
            out.push_back(&swing);
        return out;
    };
    return compare_sets(pointers(before), pointers(after));
}

std::vector<MeasureChange> most_changed_first(std::vector<MeasureChange> changes) {
    changes.erase(std::remove_if(changes.begin(), changes.end(),
                                 [](const MeasureChange& change) {
                                     return change.verdict == Verdict::NotMeasured;
                                 }),
                  changes.end());
    const auto rank = [](Verdict verdict) {
        return verdict == Verdict::Real ? 0 : verdict == Verdict::TooFew ? 1 : 2;
    };
    const auto size = [](const MeasureChange& change) {
        const double out = std::abs(change.change.difference) / change.measure->worthwhile;
        return std::isfinite(out) ? out : 0.0;
    };
    std::stable_sort(
        changes.begin(), changes.end(), [&](const MeasureChange& a, const MeasureChange& b) {
            return rank(a.verdict) != rank(b.verdict) ? rank(a.verdict) < rank(b.verdict)
                                                      : size(a) > size(b);
        });
    return changes;
}

ShownChange as_shown(const MeasureChange& change, double factor) {
    const double scale = std::pow(10.0, change.measure->decimals);
    const auto rounded = [&](double value) { return std::round(value * factor * scale) / scale; };
    ShownChange out{rounded(change.before.mean), rounded(change.after.mean), 0.0};
    out.difference = out.after - out.before;
    return out;
}

std::vector<MeasureChange> compare_sets(const std::vector<const Analysis*>& before,
                                        const std::vector<const Analysis*>& after) {
    std::vector<MeasureChange> out;
    std::vector<double> p;
    const auto values_of = [](const std::vector<const Analysis*>& swings, const Measure& measure) {
        std::vector<double> values;
        values.reserve(swings.size());
        for (const Analysis* swing : swings)
            values.push_back(measure.of(*swing).value);
        return values;
    };
    for (const Measure& measure : all_measures()) {
        MeasureChange change;
        change.measure = &measure;
        change.before_values = values_of(before, measure);
        change.after_values = values_of(after, measure);
        change.before = summarise(change.before_values);
        change.after = summarise(change.after_values);
        change.change = calc_change(change.before, change.after);
        p.push_back(change.change.p);
        out.push_back(change);
    }
    const std::vector<bool> real = control_false_discoveries(p, 0.05);
    for (std::size_t i = 0; i < out.size(); ++i) {
        MeasureChange& change = out[i];
        if (change.before.count == 0 || change.after.count == 0)
            continue;
        const double half = 0.5 * (change.change.high - change.change.low);
        if (real[i]) {
            change.verdict = Verdict::Real;
        } else if (half <= change.measure->worthwhile) {
            change.verdict = Verdict::NotShown;
        } else {
            change.verdict = Verdict::TooFew;
            const double sd = std::hypot(change.before.sd, change.after.sd) / std::sqrt(2.0);
            if (std::isfinite(sd)) {
                const auto have =
                    static_cast<double>(std::min(change.before.count, change.after.count));
                change.further_swings =
                    std::max(1.0, swings_needed(sd, change.measure->worthwhile) - have);
            }
        }
    }
    return out;
}

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
