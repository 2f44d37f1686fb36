#include "core/measures/analyse.h"

#include "core/base/units.h"
#include "core/measures/rate_moments.h"

#include <algorithm>
#include <cmath>
#include <iomanip>
#include <sstream>

namespace kite {

using Severity = Finding::Severity;

namespace {

void name_missing_parts(const Take& take, std::vector<Finding>& findings) {
    std::string missing;
    for (Segment segment : kSequence) {
        if (take.find(segment) != nullptr)
            continue;
        missing += (missing.empty() ? "" : ", ") + std::string(name_of(segment));
    }
    if (!missing.empty())
        findings.push_back({Severity::Warning, "parts-missing",
                            "This take has no " + missing +
                                "; what depends on it is not available from this source.",
                            "", "Record it too for the full sequence."});
}

} // namespace

const SegmentMotion* Analysis::find_motion(Segment segment) const {
    const auto found = motion.find(segment);
    return found == motion.end() ? nullptr : &found->second;
}

TrunkPosition Analysis::position(Segment segment, Moment moment) const {
    const auto found = trunk.find(segment);
    const auto& at = moments[moment];
    if (found == trunk.end() || !at)
        return {};
    return position_at(found->second, at->t_s);
}

bool Analysis::order_depends_on_convention() const {
    const auto& first = order_by_convention.front();
    return std::any_of(order_by_convention.begin(), order_by_convention.end(),
                       [&](const auto& order) { return order != first; });
}

double Analysis::at(const Curve& curve, Moment moment) const {
    return curve.at(moments.time_s(moment));
}

namespace {

/// White noise of the rate's angle: about the trunk's own axis, across arm and shaft.
CurveNoise rate_noise(const SegmentMotion& motion, Segment segment) {
    const double sd_rad =
        feels_impact(segment) ? motion.noise_across_rad() : motion.angle_noise_rad.z();
    return {deg_from_rad(sd_rad), motion.cutoff_hz, 1};
}

SequenceInput sequence_input(const Analysis& analysis, RateConvention convention) {
    SequenceInput input;
    input.rate_hz = analysis.rate_hz;
    const Eigen::Vector3d normal = analysis.moments.plane->normal;
    for (Segment segment : kSequence) {
        const SegmentMotion* motion = analysis.find_motion(segment);
        if (motion == nullptr)
            continue;
        SequenceInput::Part part;
        part.rate_deg_s = calc_rate_deg_s(*motion, segment, convention, normal);
        // The rate of arm and club jumps at the reversal: their part along the plane does not.
        part.reversing_deg_s =
            feels_impact(segment) ? calc_speed_along_deg_s(*motion, normal) : part.rate_deg_s;
        part.noise = rate_noise(*motion, segment);
        input.parts[index_of(segment)] = std::move(part);
    }
    return input;
}

/// The same input in another convention: only what the convention changes is computed.
void change_convention(const Analysis& analysis, RateConvention from, RateConvention to,
                       SequenceInput& input) {
    const Eigen::Vector3d normal = analysis.moments.plane->normal;
    for (Segment segment : kSequence) {
        auto& part = input.parts[index_of(segment)];
        // Arm and club turn as a whole as they turn about their own axis.
        const bool alike =
            !is_trunk(segment) && from != RateConvention::Plane && to != RateConvention::Plane;
        if (!part || from == to || alike)
            continue;
        part->rate_deg_s = calc_rate_deg_s(*analysis.find_motion(segment), segment, to, normal);
        if (!feels_impact(segment))
            part->reversing_deg_s = part->rate_deg_s;
    }
}

/// The order of the peaks in every convention: their places alone, without uncertainty.
void compare_conventions(Analysis& analysis, SequenceInput input, std::vector<Finding>& findings) {
    RateConvention now = analysis.options.convention;
    for (auto convention :
         {RateConvention::Axis, RateConvention::Resultant, RateConvention::Plane}) {
        change_convention(analysis, now, convention, input);
        now = convention;
        // All three alike, by the places alone: near a tie the uncertainties would only blur it.
        analysis.order_by_convention[static_cast<std::size_t>(convention)] =
            calc_peak_order(input, analysis.moments);
    }
    if (!analysis.order_depends_on_convention())
        return;
    std::string what = "The order of the peaks depends on which rotation speed is meant:";
    for (auto convention :
         {RateConvention::Axis, RateConvention::Resultant, RateConvention::Plane}) {
        what += (convention == RateConvention::Axis ? " " : "; ") +
                std::string(key_of(convention)) + ": ";
        const auto& order = analysis.order_by_convention[static_cast<std::size_t>(convention)];
        for (std::size_t i = 0; i < order.size(); ++i)
            what += (i == 0 ? "" : ", ") + std::string(name_of(order[i]));
    }
    findings.push_back({Severity::Warning, "order-depends", what + ".", "",
                        "Read the order with this in mind, and keep to one convention."});
}

void compare_separations(const Analysis& analysis, std::vector<Finding>& findings) {
    constexpr double kWorthSaying_deg = 5.0;
    const TimeRange swing{analysis.moments.time_s(Moment::Top),
                          analysis.moments.time_s(Moment::Impact)};
    double largest = 0.0;
    for (std::size_t i = 0; i < analysis.separation_deg.size(); ++i) {
        if (!swing.contains(analysis.separation_deg.time_of(i)))
            continue;
        const double difference =
            analysis.separation_deg.values()[i] - analysis.other_separation_deg.values()[i];
        if (std::abs(difference) > std::abs(largest))
            largest = difference;
    }
    if (std::abs(largest) > kWorthSaying_deg)
        findings.push_back(
            {Severity::Note, "separation-methods",
             "Between top and impact the two ways to take separation differ by up to " +
                 std::to_string(static_cast<int>(std::lround(std::abs(largest)))) + "°.",
             "", "Compare separations by one method only."});
}

void measure_curves(SmoothedParts& parts, const Take& take, const AnalysisOptions& options,
                    Analysis& result, std::optional<double> impact_s) {
    for (const auto& [segment, series] : take.segments)
        result.motion[segment] = parts.get(segment, options.cutoff_of_hz(segment), impact_s);
    for (Segment segment : {Segment::Pelvis, Segment::Torso})
        if (const SegmentMotion* motion = result.find_motion(segment))
            result.trunk[segment] = calc_trunk_curves(*motion, result.moments);
    const SegmentMotion* pelvis = result.find_motion(Segment::Pelvis);
    const SegmentMotion* torso = result.find_motion(Segment::Torso);
    if (pelvis != nullptr && torso != nullptr) {
        const SeparationMethod method = result.options.separation;
        const SeparationMethod other = method == SeparationMethod::Joint
                                           ? SeparationMethod::Projected
                                           : SeparationMethod::Joint;
        result.separation_deg = calc_separation_deg(*pelvis, *torso, method);
        result.other_separation_deg = calc_separation_deg(*pelvis, *torso, other);
    }
    const SegmentMotion* forearm = result.find_motion(Segment::LeadForearm);
    const SegmentMotion* arm = forearm != nullptr ? forearm : result.find_motion(Segment::LeadArm);
    const SegmentMotion* club = result.find_motion(Segment::Club);
    if (arm != nullptr && club != nullptr)
        result.wrist_hinge_deg = calc_wrist_hinge_deg(*arm, *club);
}

/// Path of the wrist centre in the lab, empty without positions: the grip, which is filtered less
/// than the arm; without a club the far end of the arm.
std::vector<Eigen::Vector3d> wrist_path(const Take& take, const Analysis& analysis) {
    const SegmentMotion* club = analysis.find_motion(Segment::Club);
    if (club != nullptr && !club->p_lab_m.empty())
        return club->p_lab_m;
    const SegmentMotion* arm = analysis.find_motion(Segment::LeadArm);
    if (arm == nullptr || arm->p_lab_m.empty() || !take.arm_length_m)
        return {};
    return calc_head_path(*arm, nullptr, std::nullopt, take.arm_length_m);
}

/// Path of the club head in the lab; empty without positions.
std::vector<Eigen::Vector3d> head_path(const Take& take, const Analysis& analysis) {
    const SegmentMotion* club = analysis.find_motion(Segment::Club);
    if (club == nullptr || club->p_lab_m.empty() || !take.club_length_m)
        return {};
    return calc_head_path(*club, nullptr, std::nullopt, take.club_length_m);
}

void measure_body(const Take& take, Analysis& result) {
    const SegmentSequence* part = result.sequence.find(Segment::Pelvis);
    const double pelvis_reversal_s = part == nullptr ? kMissing : part->reversal_t_s;
    const auto pelvis_curves = result.trunk.find(Segment::Pelvis);
    result.transition =
        calc_transition(result.sequence, result.moments,
                        pelvis_curves == result.trunk.end() ? nullptr : &pelvis_curves->second,
                        take.hip_joint_width_m);
    if (const SegmentMotion* pelvis = result.find_motion(Segment::Pelvis)) {
        result.hinge_path =
            calc_hinge_path(*pelvis, take.hip_joint_width_m, result.moments, pelvis_reversal_s);
        result.hips = calc_hips(*pelvis, take, result.moments);
        result.legs = calc_legs(*pelvis, take, result.moments, result.transition.first_reversal_s);
    }
    result.pressure = calc_pressure(take, result.moments);
    if (!result.wrist_hinge_deg.empty())
        result.wrist = calc_wrist(result.wrist_hinge_deg, result.moments);
    result.speed =
        calc_speed(wrist_path(take, result), head_path(take, result), take.rate_hz, result.moments);
    result.tempo = calc_tempo(result.moments);
}

/// A launch monitor sees the club head too: the two must agree, or one is wrong.
void compare_with_launch(const Analysis& analysis, std::vector<Finding>& findings) {
    constexpr double kWorthSaying = 0.10;
    if (!analysis.launch)
        return;
    const double launch_m_s = analysis.launch->club_speed_m_s;
    const double motion_m_s = analysis.speed.club_head_m_s;
    if (!(std::abs(motion_m_s - launch_m_s) > kWorthSaying * launch_m_s))
        return;
    std::ostringstream what;
    what.imbue(std::locale::classic());
    what << std::fixed << std::setprecision(1) << "The launch numbers give a club-head speed of "
         << launch_m_s << " m/s, the motion " << motion_m_s << " m/s.";
    findings.push_back({Severity::Warning, "launch-speed", what.str(), "",
                        "Check that the numbers belong to this swing, and the club's length."});
}

void name_slow_rate(double rate_hz, std::vector<Finding>& findings) {
    if (rate_hz >= 100.0)
        return;
    findings.push_back({Severity::Warning, "slow-frame-rate",
                        "At " + std::to_string(static_cast<int>(std::lround(rate_hz))) +
                            " frames a second peaks closer than about " +
                            std::to_string(static_cast<int>(std::lround(1000.0 / rate_hz))) +
                            " ms cannot be put in order.",
                        "", "Record at 120 frames a second or more."});
}

/// A source of rotation speeds alone gives the sequence and the moments of its fastest part.
Outcome<Analysis> analyse_rates(const Take& take, Analysis result) {
    Outcome<Analysis> out;
    SequenceInput input;
    input.rate_hz = take.rate_hz;
    std::optional<double> impact_s = take.contact_s;
    if (const auto club = take.rates_deg_s.find(Segment::Club);
        club != take.rates_deg_s.end() && !impact_s)
        impact_s = find_blow_s(club->second, take.rate_hz);
    for (const auto& [segment, raw] : take.rates_deg_s) {
        if (index_of(segment) >= kSequence.size())
            continue;
        SequenceInput::Part part =
            smooth_rate(raw, take.rate_hz, result.options.cutoff_of_hz(segment),
                        feels_impact(segment) ? impact_s : std::nullopt);
        result.rate_deg_s[index_of(segment)] = part.rate_deg_s;
        input.parts[index_of(segment)] = std::move(part);
    }
    Outcome<SwingMoments> moments = find_moments_from_rates(take, input);
    out.findings = std::move(moments.findings);
    result.moments = moments.value;
    if (moments.ok()) {
        result.sequence = calc_sequence(input, result.moments);
        result.transition = calc_transition(result.sequence, result.moments, nullptr, std::nullopt);
        result.tempo = calc_tempo(result.moments);
        out.add({Severity::Note, "rates-only",
                 "This source gives rotation speeds alone: angles, separation and positions are "
                 "not available from it.",
                 "", ""});
        name_slow_rate(take.rate_hz, out.findings);
    }
    out.value = std::move(result);
    return out;
}

} // namespace

Outcome<Analysis> analyse(const Take& take, const AnalysisOptions& chosen) {
    Outcome<Analysis> out;
    Analysis& result = out.value;
    result.options = chosen;
    result.rate_hz = take.rate_hz;
    result.duration_s = take.duration_s();
    result.handed = take.handed;
    result.club = take.club;
    result.launch = take.launch;
    if (take.segments.empty() && !take.rates_deg_s.empty())
        return analyse_rates(take, std::move(result));

    SmoothedParts parts(take);
    const auto swings = find_swings(parts, take, chosen);
    const AnalysisOptions options = with_cutoffs(take, chosen, swings);
    Outcome<SwingMoments> moments = find_moments(parts, take, options, swings);
    result.moments = moments.value;
    out.findings = moments.findings;
    const auto& impact = result.moments[Moment::Impact];
    measure_curves(parts, take, options, result,
                   moments.ok() && impact ? std::optional(impact->t_s) : std::nullopt);
    if (!moments.ok())
        return out;

    name_missing_parts(take, out.findings);
    SequenceInput input = sequence_input(result, chosen.convention);
    for (std::size_t i = 0; i < kSequence.size(); ++i)
        if (input.parts[i])
            result.rate_deg_s[i] = input.parts[i]->rate_deg_s;
    result.sequence = calc_sequence(input, result.moments);
    compare_conventions(result, std::move(input), out.findings);
    if (!result.separation_deg.empty()) {
        const CurveNoise noise{
            deg_from_rad(std::hypot(result.find_motion(Segment::Pelvis)->angle_noise_rad.z(),
                                    result.find_motion(Segment::Torso)->angle_noise_rad.z())),
            options.cutoff_of_hz(Segment::Torso), 0};
        result.separation = calc_separation(result.separation_deg, noise, result.moments);
        compare_separations(result, out.findings);
    }
    measure_body(take, result);
    compare_with_launch(result, out.findings);
    name_slow_rate(take.rate_hz, out.findings);
    return out;
}

Outcome<Take> take_from_markers(MarkerTake markers) {
    fill_and_mirror(markers);
    const Outcome<Take> rough = poses_from_markers(markers, {}, MarkerParts::ArmAndClub);
    if (const auto window = find_address(rough.value)) {
        const auto frame_at = [&](double t_s) {
            return static_cast<std::size_t>(std::lround(t_s * markers.rate_hz));
        };
        return poses_from_markers(markers, {frame_at(window->begin_s), frame_at(window->end_s) + 1},
                                  MarkerParts::All);
    }
    return poses_from_markers(markers, find_calmest_frames(markers), MarkerParts::All);
}

} // namespace kite
