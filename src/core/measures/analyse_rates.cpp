#include "core/measures/analyse_rates.h"

#include "core/measures/rate_moments.h"
#include "core/measures/said.h"
#include "core/measures/turned.h"

namespace kite {

using Severity = Finding::Severity;

void count_swings(const std::optional<Swings>& swings, Analysis& result) {
    if (!swings || swings->fastest_s.empty())
        return;
    result.swings_in_take = static_cast<int>(swings->fastest_s.size());
    result.swing_number = static_cast<int>(swings->index) + 1;
}

Outcome<Analysis> analyse_rates(const Take& as_read, Analysis result) {
    Outcome<Analysis> out;
    Take take = as_read;
    mend_rates(take, out.findings);
    const AnalysisOptions& options = result.options;
    const auto swings = find_rate_swings(take, options);
    count_swings(swings, result);
    if (!swings) {
        out.add({Severity::Error, "no-parts", "There are no rotation speeds in this take.", "",
                 "Give at least one of pelvis, torso, lead arm and club."});
        return out;
    }
    std::optional<double> impact_s = take.contact_s;
    if (const auto moved = options.moved_s.find(Moment::Impact); moved != options.moved_s.end())
        impact_s = moved->second;
    if (const auto club = take.rates_deg_s.find(Segment::Club);
        club != take.rates_deg_s.end() && !impact_s && !swings->fastest_s.empty())
        impact_s = find_blow_s(club->second, take.rate_hz, swings->chosen_s());
    SequenceInput input;
    input.rate_hz = take.rate_hz;
    for (const auto& [segment, raw] : take.rates_deg_s) {
        if (index_of(segment) >= kSequence.size())
            continue;
        SequenceInput::Part part = smooth_rate(raw, take.rate_hz, options.cutoff_of_hz(segment),
                                               feels_impact(segment) ? impact_s : std::nullopt);
        part.turned.smoothness = smoothness_of(segment);
        result.rate_deg_s[index_of(segment)] = part.rate_deg_s;
        input.parts[index_of(segment)] = std::move(part);
    }
    Outcome<SwingMoments> moments = find_moments_from_rates(take, input, *swings, options);
    out.findings.insert(out.findings.end(), moments.findings.begin(), moments.findings.end());
    result.moments = moments.value;
    if (moments.ok()) {
        if (swings->fastest_s.size() > 1)
            out.add(several_swings(*swings));
        result.sequence = calc_sequence(input, result.moments);
        for (std::size_t i = 0; i < kSequence.size(); ++i)
            if (input.parts[i])
                result.rate_deg_s[i] = input.parts[i]->rate_deg_s;
        result.transition = calc_transition(result.sequence, result.moments, nullptr, std::nullopt);
        result.tempo = calc_tempo(result.moments);
        name_unseen(take, result, out.findings);
        out.add({Severity::Note, "rates-only",
                 "This source gives rotation speeds alone: angles, separation and positions are "
                 "not available from it.",
                 "", ""});
        name_odd_tempo(take, result, out.findings);
        name_slow_rate(take.rate_hz, out.findings);
    }
    out.value = std::move(result);
    return out;
}

} // namespace kite
