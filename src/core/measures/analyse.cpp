#include "core/measures/analyse.h"

#include "core/base/units.h"
#include "core/measures/rate_moments.h"
#include "core/measures/turned.h"
#include "core/motion/marker_mend.h"
#include "core/motion/orientation.h"
#include "core/motion/plausible.h"

#include <algorithm>
#include <cmath>
#include <iomanip>
#include <sstream>

namespace kite {

using Severity = Finding::Severity;

namespace {

/// 1 / (1 + (f / f0)^8) = 1 / √2 at f = f0 (√2 - 1)^(1/8): where the two passes have theirs.
constexpr double kSplineFactor = 1.1165;

/// "1.98 s", with a full stop whatever the locale.
std::string seconds_text(double t_s) {
    std::ostringstream out;
    out.imbue(std::locale::classic());
    out << std::fixed << std::setprecision(2) << t_s << " s";
    return out.str();
}

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

void count_swings(const std::optional<Swings>& swings, Analysis& result) {
    if (!swings || swings->fastest_s.empty())
        return;
    result.swings_in_take = static_cast<int>(swings->fastest_s.size());
    result.swing_number = static_cast<int>(swings->index) + 1;
}

/// Where the peaks and reversals of a swing can lie.
TimeRange sequence_stretch(const Analysis& analysis) {
    constexpr double kBefore_s = 0.2;
    const double takeaway_s = analysis.moments.time_s(Moment::Takeaway);
    const double top_s = analysis.moments.time_s(Moment::Top);
    const double begin_s = std::max(std::isfinite(takeaway_s) ? takeaway_s : 0.0,
                                    std::isfinite(top_s) ? top_s - 0.8 : 0.0);
    return {begin_s - kBefore_s, analysis.moments.window_end_s + kPlaceReach_s};
}

/// One part in one convention. `chosen`: what the user fixed.
SequenceInput::Part sequence_part(const Take& take, const Analysis& analysis, Segment segment,
                                  RateConvention convention, const AnalysisOptions& chosen) {
    const SegmentMotion& motion = *analysis.find_motion(segment);
    const PoseSeries& raw = *take.find(segment);
    const Eigen::Vector3d normal = analysis.moments.plane->normal;
    const TimeRange stretch = sequence_stretch(analysis);
    SequenceInput::Part part;
    part.cutoff_hz = motion.cutoff_hz;
    part.wander_deg = deg_from_rad(raw.wander_rad);
    part.rate_deg_s = calc_rate_deg_s(motion, segment, convention, normal);
    part.turned = calc_turned_deg(raw, motion, segment, convention, normal, Turning::Rate, stretch);
    // The rate of arm and club jumps at the reversal: their part along the plane does not.
    if (feels_impact(segment)) {
        part.reversing_deg_s = calc_speed_along_deg_s(motion, normal);
        part.reversing =
            calc_turned_deg(raw, motion, segment, convention, normal, Turning::Reversing, stretch);
    } else {
        part.reversing_deg_s = part.rate_deg_s;
    }
    if (const auto fixed = chosen.cutoff_hz.find(segment); fixed != chosen.cutoff_hz.end()) {
        // The spline that passes as much at the cut-off as the two passes of the filter do.
        part.turned.cutoff_hz = kSplineFactor * fixed->second;
        part.reversing.cutoff_hz = part.turned.cutoff_hz;
    }
    return part;
}

SequenceInput sequence_input(const Take& take, const Analysis& analysis,
                             RateConvention convention) {
    SequenceInput input;
    input.rate_hz = analysis.rate_hz;
    for (Segment segment : kSequence)
        if (analysis.find_motion(segment) != nullptr)
            input.parts[index_of(segment)] =
                sequence_part(take, analysis, segment, convention, analysis.options);
    return input;
}

/// The same input in another convention: only what the convention changes is computed.
void change_convention(const Take& take, const Analysis& analysis, RateConvention from,
                       RateConvention to, SequenceInput& input) {
    for (Segment segment : kSequence) {
        auto& part = input.parts[index_of(segment)];
        // Arm and club turn as a whole as they turn about their own axis.
        const bool alike =
            !is_trunk(segment) && from != RateConvention::Plane && to != RateConvention::Plane;
        if (!part || from == to || alike)
            continue;
        const auto smoothed_hz = part->smoothed_hz;
        part = sequence_part(take, analysis, segment, to, analysis.options);
        if (!part->turned.cutoff_hz)
            part->turned.cutoff_hz = smoothed_hz; // the same noise, the same smoothing
        part->smoothed_hz = smoothed_hz;
    }
}

/// The order of the peaks in every convention: their places alone, without uncertainty.
void compare_conventions(const Take& take, Analysis& analysis, SequenceInput input,
                         std::vector<Finding>& findings) {
    RateConvention now = analysis.options.convention;
    for (auto convention :
         {RateConvention::Axis, RateConvention::Resultant, RateConvention::Plane}) {
        // The chosen one has been measured.
        if (convention == analysis.options.convention) {
            analysis.order_by_convention[static_cast<std::size_t>(convention)] =
                analysis.sequence.order;
            continue;
        }
        change_convention(take, analysis, now, convention, input);
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

/// A trunk that is twisted further than a spine can be was put together from wrong markers.
void drop_impossible_separation(Analysis& analysis, std::vector<Finding>& findings) {
    const Separation& found = *analysis.separation;
    double most_deg = 0.0;
    for (double value : {found.at_top_deg, found.max_deg, found.at_impact_deg})
        if (std::isfinite(value) && std::abs(value) > std::abs(most_deg))
            most_deg = value;
    if (std::abs(most_deg) <= plausible::kMostSeparation_deg)
        return;
    findings.push_back({Severity::Warning, "separation-impossible",
                        "The separation comes out at " + std::to_string(std::lround(most_deg)) +
                            "\xC2\xB0, which no body can do. It is not given; the turns of pelvis "
                            "and torso are in doubt too.",
                        "",
                        "Check the labels of the pelvis' and torso's markers, or which way round "
                        "the sensors sit."});
    analysis.separation.reset();
    analysis.separation_deg = {};
    analysis.other_separation_deg = {};
}

/// The separation as measured, frame by frame.
Samples measured_separation(const Take& take, const AnalysisOptions& chosen) {
    SegmentMotion pelvis;
    SegmentMotion torso;
    pelvis.rate_hz = torso.rate_hz = take.rate_hz;
    pelvis.q_lab_segment = take.find(Segment::Pelvis)->q_lab_segment;
    torso.q_lab_segment = take.find(Segment::Torso)->q_lab_segment;
    Samples out;
    out.rate_hz = take.rate_hz;
    out.smoothness = smoothness_of(Segment::Torso);
    out.x = calc_separation_deg(pelvis, torso, chosen.separation).values();
    return out;
}

void measure_curves(SmoothedParts& parts, const Take& take, const AnalysisOptions& options,
                    Analysis& result, std::optional<double> impact_s) {
    for (const auto& [segment, series] : take.segments)
        result.motion[segment] = parts.get(segment, options.cutoff_of_hz(segment), impact_s);
    for (Segment segment : {Segment::Pelvis, Segment::Torso})
        if (const SegmentMotion* motion = result.find_motion(segment))
            result.trunk[segment] = calc_trunk_curves(*take.find(segment), *motion, result.moments);
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

/// Places as measured of a point that the take has, else of the far end of a part.
std::vector<Eigen::Vector3d> measured_path(const Take& take, BodyPoint point, Segment segment,
                                           std::optional<double> length_m) {
    if (const auto found = take.points_lab_m.find(point); found != take.points_lab_m.end())
        return found->second;
    const PoseSeries* part = take.find(segment);
    if (part == nullptr || !part->has_positions() || !length_m)
        return {};
    std::vector<Eigen::Vector3d> out(part->p_lab_m.size());
    for (std::size_t i = 0; i < out.size(); ++i)
        out[i] = part->p_lab_m[i] - *length_m * (part->q_lab_segment[i] * Eigen::Vector3d::UnitZ());
    return out;
}

/// The wrist centre: its own place, else the grip, else the far end of the arm.
std::vector<Eigen::Vector3d> wrist_path(const Take& take) {
    const PoseSeries* club = take.find(Segment::Club);
    if (take.points_lab_m.count(BodyPoint::LeadWrist) == 0 && club != nullptr &&
        club->has_positions())
        return club->p_lab_m;
    return measured_path(take, BodyPoint::LeadWrist, Segment::LeadArm, take.arm_length_m);
}

void measure_body(const Take& take, Analysis& result, std::vector<Finding>& findings) {
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
        calc_speed(wrist_path(take),
                   measured_path(take, BodyPoint::ClubHead, Segment::Club, take.club_length_m),
                   take.rate_hz, result.moments, findings);
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

/// Unseen stretches of each part within the swing: what falls into them is missing or less sure.
void name_unseen(const Take& take, const Analysis& analysis, std::vector<Finding>& findings) {
    const double takeaway_s = analysis.moments.time_s(Moment::Takeaway);
    const double top_s = analysis.moments.time_s(Moment::Top);
    const double begin_s = std::isfinite(takeaway_s) ? takeaway_s : top_s - 0.8;
    const double end_s = analysis.moments.window_end_s + kPlaceReach_s;
    for (Segment segment : kSequence) {
        const SegmentMotion* motion = analysis.find_motion(segment);
        if (motion == nullptr)
            continue;
        std::string stretches;
        std::string address;
        for (const TimeRange& stretch : unseen_stretches(*motion)) {
            if (stretch.end_s < begin_s || stretch.begin_s > end_s)
                continue;
            stretches += (stretches.empty() ? "from " : ", from ") + seconds_text(stretch.begin_s) +
                         " to " + seconds_text(stretch.end_s);
        }
        if (!stretches.empty())
            findings.push_back(
                {Severity::Warning, "part-unseen",
                 "The " + std::string(name_of(segment)) + " was not seen " + stretches +
                     "; what lies there is missing, what lies beside it less sure.",
                 std::string(key_of(segment)), "Check whether it was hidden from the cameras."});
    }
    std::string peaks;
    std::string reversals;
    for (Segment segment : kSequence) {
        const SegmentSequence* part = analysis.sequence.find(segment);
        if (part == nullptr)
            continue;
        const std::string name(name_of(segment));
        if (!std::isfinite(part->peak_t_s) || !std::isfinite(part->peak_deg_s))
            peaks += (peaks.empty() ? "" : ", ") + name;
        if (!std::isfinite(part->reversal_t_s))
            reversals += (reversals.empty() ? "" : ", ") + name;
    }
    if (!peaks.empty())
        findings.push_back({Severity::Warning, "peak-untold",
                            "The peak cannot be told, or not its speed: " + peaks +
                                " (hidden, too flat, or still rising where it was last seen).",
                            "", ""});
    if (!reversals.empty())
        findings.push_back({Severity::Warning, "reversal-untold",
                            "The reversal cannot be told: " + reversals +
                                " (hidden, too slow, or before the take begins).",
                            "", ""});
    for (Segment segment : {Segment::Pelvis, Segment::Torso}) {
        const auto curves = analysis.trunk.find(segment);
        const PoseSeries* raw = take.find(segment);
        if (curves == analysis.trunk.end() || raw == nullptr || !raw->has_positions() ||
            !analysis.moments[Moment::Address])
            continue;
        if (!std::isfinite(curves->second.rest_m.sum()))
            findings.push_back(
                {Severity::Warning, "address-unseen",
                 "The " + std::string(name_of(segment)) +
                     " was not seen at address, so its sway, depth and lift cannot be "
                     "told.",
                 std::string(key_of(segment)), "Check that the cameras see it at address."});
    }
}

/// A source of rotation speeds alone gives the sequence and the moments of its fastest part.
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
    result.handed_said = take.handed_said;
    result.club = take.club;
    result.club_said = take.club_said;
    result.source = take.source;
    result.launch = take.launch;
    if (take.segments.empty() && !take.rates_deg_s.empty())
        return analyse_rates(take, std::move(result));

    SmoothedParts parts(take);
    const auto swings = find_swings(parts, take, chosen);
    count_swings(swings, result);
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
    SequenceInput input = sequence_input(take, result, chosen.convention);
    result.sequence = calc_sequence(input, result.moments);
    for (std::size_t i = 0; i < kSequence.size(); ++i)
        if (input.parts[i])
            result.rate_deg_s[i] = input.parts[i]->rate_deg_s;
    compare_conventions(take, result, std::move(input), out.findings);
    if (!result.separation_deg.empty()) {
        result.separation = calc_separation(result.separation_deg,
                                            measured_separation(take, chosen), result.moments);
        drop_impossible_separation(result, out.findings);
        compare_separations(result, out.findings);
    }
    measure_body(take, result, out.findings);
    name_unseen(take, result, out.findings);
    compare_with_launch(result, out.findings);
    name_slow_rate(take.rate_hz, out.findings);
    return out;
}

Outcome<Take> take_from_file_markers(MarkerTake markers, const AxisHints& hints) {
    Outcome<Take> out;
    check_unit(markers, out.findings);
    if (has_errors(out.findings))
        return out;
    mend_markers(markers, out.findings);
    const Outcome<Setting> setting = find_setting(markers, hints);
    out.findings.insert(out.findings.end(), setting.findings.begin(), setting.findings.end());
    if (!setting.ok())
        return out;
    markers.handed = setting.value.handed;
    rotate_to_lab(markers, setting.value.axes);
    Outcome<Take> take = take_from_markers(std::move(markers));
    out.value = std::move(take.value);
    out.value.file_axes = setting.value.axes;
    out.findings.insert(out.findings.end(), take.findings.begin(), take.findings.end());
    return out;
}

Outcome<Take> take_from_markers(MarkerTake markers) {
    mirror_markers(markers);
    Outcome<Take> arms = arms_from_markers(markers);
    const auto frame_at = [&](double t_s) {
        return static_cast<std::size_t>(std::lround(t_s * markers.rate_hz));
    };
    const auto window = find_address(arms.value);
    const FrameRange address =
        window ? FrameRange{frame_at(window->begin_s), frame_at(window->end_s) + 1}
               : find_calm_before_swing(markers);
    return add_trunk_from_markers(markers, address, std::move(arms));
}

} // namespace kite
