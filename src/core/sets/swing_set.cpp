#include "core/sets/swing_set.h"

#include "core/base/units.h"

#include <algorithm>
#include <array>
#include <cmath>

namespace kite {

namespace {

template <Segment kSegment, double SegmentSequence::*kMember>
double of_part(const Analysis& a) {
    const SegmentSequence* part = a.sequence.find(kSegment);
    return part == nullptr ? kMissing : part->*kMember;
}
template <double Transition::*kMember>
double of_transition(const Analysis& a) {
    return a.transition.*kMember;
}
template <double Separation::*kMember>
double of_separation(const Analysis& a) {
    return a.separation ? (*a.separation).*kMember : kMissing;
}
template <Segment kSegment, Moment kMoment, double TrunkPosition::*kMember, int kFactor = 1>
double of_position(const Analysis& a) {
    return kFactor * (a.position(kSegment, kMoment).*kMember);
}

constexpr int kCm = 100; ///< metres to centimetres

} // namespace

const std::vector<Measure>& all_measures() {
    static const std::vector<Measure> measures{
        {"tempo.backswing_s", "backswing", "s", 0.03,
         [](const Analysis& a) { return a.tempo.backswing_s; }},
        {"tempo.downswing_s", "downswing", "s", 0.01,
         [](const Analysis& a) { return a.tempo.downswing_s; }},
        {"tempo.ratio", "tempo", "to 1", 0.2, [](const Analysis& a) { return a.tempo.ratio; }},
        {"sequence.pelvis.peak_deg_s", "pelvis peak", "°/s", 15.0,
         of_part<Segment::Pelvis, &SegmentSequence::peak_deg_s>},
        {"sequence.torso.peak_deg_s", "torso peak", "°/s", 20.0,
         of_part<Segment::Torso, &SegmentSequence::peak_deg_s>},
        {"sequence.lead_arm.peak_deg_s", "lead arm peak", "°/s", 30.0,
         of_part<Segment::LeadArm, &SegmentSequence::peak_deg_s>},
        {"sequence.club.peak_deg_s", "club peak", "°/s", 60.0,
         of_part<Segment::Club, &SegmentSequence::peak_deg_s>},
        {"sequence.pelvis.before_impact_ms", "pelvis peak before impact", "ms", 5.0,
         of_part<Segment::Pelvis, &SegmentSequence::before_impact_ms>},
        {"sequence.torso.before_impact_ms", "torso peak before impact", "ms", 5.0,
         of_part<Segment::Torso, &SegmentSequence::before_impact_ms>},
        {"sequence.lead_arm.before_impact_ms", "lead arm peak before impact", "ms", 5.0,
         of_part<Segment::LeadArm, &SegmentSequence::before_impact_ms>},
        {"sequence.fastest_at_ball_ms", "club peak after impact", "ms", 3.0,
         [](const Analysis& a) { return a.sequence.fastest_at_ball_ms; }},
        {"sequence.pelvis.slowdown_pct", "pelvis slow-down", "%", 5.0,
         of_part<Segment::Pelvis, &SegmentSequence::slowdown_pct>},
        {"sequence.torso.slowdown_pct", "torso slow-down", "%", 5.0,
         of_part<Segment::Torso, &SegmentSequence::slowdown_pct>},
        {"sequence.lead_arm.slowdown_pct", "lead arm slow-down", "%", 5.0,
         of_part<Segment::LeadArm, &SegmentSequence::slowdown_pct>},
        {"transition.pelvis_lead_ms", "pelvis lead", "ms", 8.0,
         of_transition<&Transition::pelvis_lead_ms>},
        {"transition.torso_lead_ms", "torso lead", "ms", 8.0,
         of_transition<&Transition::torso_lead_ms>},
        {"transition.arm_lead_ms", "arm lead", "ms", 8.0, of_transition<&Transition::arm_lead_ms>},
        {"transition.recentre_lead_ms", "re-centring lead", "ms", 15.0,
         of_transition<&Transition::recentre_lead_ms>},
        {"transition.lead_hip_drop_top_cm", "lead hip drop at the top", "cm", 0.5,
         of_transition<&Transition::lead_hip_drop_top_cm>},
        {"transition.pelvis_drop_cm", "pelvis drop", "cm", 0.5,
         of_transition<&Transition::pelvis_drop_cm>},
        {"separation.at_top_deg", "separation at the top", "°", 2.0,
         of_separation<&Separation::at_top_deg>},
        {"separation.max_deg", "greatest separation", "°", 2.0,
         of_separation<&Separation::max_deg>},
        {"separation.stretch_deg", "stretch", "°", 1.0, of_separation<&Separation::stretch_deg>},
        {"separation.at_impact_deg", "separation at impact", "°", 3.0,
         of_separation<&Separation::at_impact_deg>},
        {"positions.top.pelvis_turn_deg", "pelvis turn at the top", "°", 3.0,
         of_position<Segment::Pelvis, Moment::Top, &TrunkPosition::turn_deg>},
        {"positions.top.torso_turn_deg", "torso turn at the top", "°", 3.0,
         of_position<Segment::Torso, Moment::Top, &TrunkPosition::turn_deg>},
        {"positions.top.pelvis_sway_cm", "pelvis sway at the top", "cm", 1.0,
         of_position<Segment::Pelvis, Moment::Top, &TrunkPosition::sway_m, kCm>},
        {"positions.impact.pelvis_turn_deg", "pelvis turn at impact", "°", 3.0,
         of_position<Segment::Pelvis, Moment::Impact, &TrunkPosition::turn_deg>},
        {"positions.impact.torso_turn_deg", "torso turn at impact", "°", 3.0,
         of_position<Segment::Torso, Moment::Impact, &TrunkPosition::turn_deg>},
        {"positions.impact.pelvis_sway_cm", "pelvis sway at impact", "cm", 1.0,
         of_position<Segment::Pelvis, Moment::Impact, &TrunkPosition::sway_m, kCm>},
        {"positions.impact.pelvis_depth_cm", "pelvis depth at impact", "cm", 1.0,
         of_position<Segment::Pelvis, Moment::Impact, &TrunkPosition::depth_m, kCm>},
        {"positions.impact.pelvis_lift_cm", "pelvis lift at impact", "cm", 1.0,
         of_position<Segment::Pelvis, Moment::Impact, &TrunkPosition::lift_m, kCm>},
        {"hinge_path.downswing.along", "hinge in the downswing", "half hip widths", 0.1,
         [](const Analysis& a) { return a.hinge_path.downswing.along; }},
        {"wrist.top_deg", "wrist hinge at the top", "°", 3.0,
         [](const Analysis& a) { return a.wrist.top_deg; }},
        {"wrist.kept_pct", "wrist hinge kept", "%", 4.0,
         [](const Analysis& a) { return a.wrist.kept_pct; }},
        {"pressure.lead_min_pct", "lowest lead pressure", "%", 3.0,
         [](const Analysis& a) { return a.pressure.lead_min_pct; }},
        {"pressure.peak_total_bw", "greatest vertical force", "body weights", 0.05,
         [](const Analysis& a) { return a.pressure.peak_total_bw; }},
        {"speed.hands_m_s", "hand speed", "m/s", 0.2,
         [](const Analysis& a) { return a.speed.hands_m_s; }},
        {"speed.club_head_m_s", "club-head speed", "m/s", 0.5,
         [](const Analysis& a) { return a.speed.club_head_m_s; }},
    };
    return measures;
}

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
    std::vector<MeasureChange> out;
    std::vector<double> p;
    const auto values_of = [](const std::vector<Analysis>& swings, const Measure& measure) {
        std::vector<double> values;
        values.reserve(swings.size());
        for (const Analysis& swing : swings)
            values.push_back(measure.of(swing));
        return summarise(values);
    };
    for (const Measure& measure : all_measures()) {
        MeasureChange change;
        change.measure = &measure;
        change.before = values_of(before, measure);
        change.after = values_of(after, measure);
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
