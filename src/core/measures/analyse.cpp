#include "core/measures/analyse.h"

#include "core/base/units.h"

#include <algorithm>
#include <cmath>

namespace kite {

using Severity = Finding::Severity;

namespace {

/// Arm and club change their motion within a millisecond at impact; the trunk does not.
bool feels_impact(Segment segment) {
    return segment == Segment::Club || segment == Segment::LeadArm ||
           segment == Segment::LeadForearm;
}

void name_missing_parts(const Take& take, std::vector<Finding>& findings) {
    std::string missing;
    for (Segment segment : kSequence) {
        if (take.find(segment) != nullptr)
            continue;
        const std::string name =
            segment == Segment::LeadArm ? "lead arm" : std::string(key_of(segment));
        missing += (missing.empty() ? "" : ", ") + name;
    }
    if (!missing.empty())
        findings.push_back({Severity::Warning, "parts-missing",
                            "This take has no " + missing +
                                "; what depends on it is not available from this source.",
                            "", "Record it too for the full sequence."});
}

} // namespace

TrunkPosition Analysis::position(Segment segment, Moment moment) const {
    const auto found = trunk.find(segment);
    const auto& at = moments[moment];
    if (found == trunk.end() || !at)
        return {};
    return position_at(found->second, at->t_s);
}

Outcome<Analysis> analyse(const Take& take, const AnalysisOptions& options) {
    Outcome<Analysis> out;
    Analysis& result = out.value;
    result.options = options;
    result.rate_hz = take.rate_hz;
    result.duration_s = take.duration_s();
    result.handed = take.handed;
    result.club = take.club;

    Outcome<SwingMoments> moments = find_moments(take, options);
    result.moments = moments.value;
    out.findings = moments.findings;
    const bool swing = moments.ok();
    const std::optional<double> impact_s =
        swing ? std::optional(result.moments.time_s(Moment::Impact)) : std::nullopt;

    for (const auto& [segment, series] : take.segments)
        result.motion[segment] = smooth(series, take.rate_hz, options.cutoff_of_hz(segment),
                                        feels_impact(segment) ? impact_s : std::nullopt);
    for (Segment segment : {Segment::Pelvis, Segment::Torso}) {
        const auto found = result.motion.find(segment);
        if (found != result.motion.end())
            result.trunk[segment] = calc_trunk_curves(found->second, result.moments);
    }
    const auto pelvis = result.motion.find(Segment::Pelvis);
    const auto torso = result.motion.find(Segment::Torso);
    if (pelvis != result.motion.end() && torso != result.motion.end())
        result.separation_deg =
            calc_separation_deg(pelvis->second, torso->second, options.separation);
    if (!swing)
        return out;

    name_missing_parts(take, out.findings);
    const Eigen::Vector3d normal = result.moments.plane->normal;
    SequenceInput input;
    input.rate_hz = take.rate_hz;
    for (Segment segment : kSequence) {
        const auto found = result.motion.find(segment);
        if (found == result.motion.end())
            continue;
        const SegmentMotion& motion = found->second;
        SequenceInput::Part part;
        part.rate_deg_s = calc_rate_deg_s(motion, segment, options.convention, normal);
        // The rate of arm and club jumps at the reversal: their part along the plane does not.
        part.reversing_deg_s =
            feels_impact(segment) ? calc_speed_along_deg_s(motion, normal) : part.rate_deg_s;
        part.angle_noise_rad = motion.angle_noise_rad;
        part.cutoff_hz = motion.cutoff_hz;
        result.rate_deg_s[index_of(segment)] = part.rate_deg_s;
        input.parts[index_of(segment)] = std::move(part);
    }
    result.sequence = calc_sequence(input, result.moments);
    const auto pelvis_curves = result.trunk.find(Segment::Pelvis);
    result.transition =
        calc_transition(result.sequence, result.moments,
                        pelvis_curves == result.trunk.end() ? nullptr : &pelvis_curves->second,
                        take.hip_joint_width_m);
    if (!result.separation_deg.empty())
        result.separation = calc_separation(result.separation_deg, result.moments);
    result.tempo = calc_tempo(result.moments);

    if (take.rate_hz < 100.0)
        out.add({Severity::Warning, "slow-frame-rate",
                 "At " + std::to_string(static_cast<int>(std::lround(take.rate_hz))) +
                     " frames a second peaks closer than about " +
                     std::to_string(static_cast<int>(std::lround(1000.0 / take.rate_hz))) +
                     " ms cannot be put in order.",
                 "", "Record at 120 frames a second or more."});
    return out;
}

Outcome<Take> take_from_markers(const MarkerTake& markers) {
    const Outcome<Take> rough = poses_from_markers(markers, {}, MarkerParts::ArmAndClub);
    FrameRange address = find_calmest_frames(markers);
    const Outcome<SwingMoments> moments = find_moments(rough.value, AnalysisOptions{});
    if (moments.ok() && moments.value[Moment::Address]) {
        const TimeRange window = moments.value.address_window;
        address = {static_cast<std::size_t>(std::lround(window.begin_s * markers.rate_hz)),
                   static_cast<std::size_t>(std::lround(window.end_s * markers.rate_hz)) + 1};
    }
    return poses_from_markers(markers, address, MarkerParts::All);
}

} // namespace kite
