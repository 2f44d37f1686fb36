#include "core/measures/analyse.h"

#include "core/base/units.h"
#include "core/measures/analyse_rates.h"
#include "core/measures/said.h"
#include "core/measures/turned.h"
#include "core/motion/rotation.h"
#include "core/signal/noise.h"

#include <algorithm>
#include <cmath>

namespace kite {

using Severity = Finding::Severity;

namespace {

/// 1 / (1 + (f / f0)^8) = 1 / √2 at f = f0 (√2 - 1)^(1/8): where the two passes have theirs.
constexpr double kSplineFactor = 1.1165;

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
    if (sequence.order.size() < 2)
        return false; // there is no order to begin with
    return std::any_of(order_by_convention.begin(), order_by_convention.end(),
                       [&](const auto& order) { return order != first; });
}

double Analysis::at(const Curve& curve, Moment moment) const {
    return curve.at(moments.time_s(moment));
}

namespace {

/// Where the peaks and reversals of a swing can lie.
TimeRange sequence_stretch(const Analysis& analysis) {
    constexpr double kBefore_s = 0.2;
    const double takeaway_s = analysis.moments.time_s(Moment::Takeaway);
    const double top_s = analysis.moments.time_s(Moment::Top);
    const double begin_s = std::max(std::isfinite(takeaway_s) ? takeaway_s : 0.0,
                                    std::isfinite(top_s) ? top_s - 0.8 : 0.0);
    return {begin_s - kBefore_s, analysis.moments.window_end_s + kPlaceReach_s};
}

/// How fast a part turns in a convention.
Curve rate_in(const Analysis& analysis, Segment segment, RateConvention convention) {
    return calc_rate_deg_s(*analysis.find_motion(segment), segment, convention,
                           analysis.moments.plane->normal);
}

/// How far it has turned, as measured.
Samples turned_in(const Take& take, const Analysis& analysis, Segment segment,
                  RateConvention convention, TimeRange stretch) {
    return calc_turned_deg(*take.find(segment), *analysis.find_motion(segment), segment, convention,
                           analysis.moments.plane->normal, Turning::Rate, stretch);
}

/// One part in one convention. `chosen`: what the user fixed.
SequenceInput::Part sequence_part(const Take& take, const Analysis& analysis, Segment segment,
                                  RateConvention convention, const AnalysisOptions& chosen) {
    const SegmentMotion& motion = *analysis.find_motion(segment);
    const PoseSeries& raw = *take.find(segment);
    const Eigen::Vector3d normal = analysis.moments.plane->normal;
    SequenceInput::Part part;
    part.cutoff_hz = motion.cutoff_hz;
    part.wander_deg = deg_from_rad(raw.wander_rad);
    part.tells_peak = raw.tells_peak;
    part.rate_deg_s = rate_in(analysis, segment, convention);
    part.turned = turned_in(take, analysis, segment, convention, sequence_stretch(analysis));
    // The rate of arm and club jumps at the reversal: their part along the plane does not.
    if (feels_impact(segment)) {
        part.reversing_deg_s = calc_speed_along_deg_s(motion, normal);
        part.reversing = calc_turned_deg(raw, motion, segment, convention, normal,
                                         Turning::Reversing, sequence_stretch(analysis));
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

/// The same input in another convention, for its peaks: only what the convention changes there is
/// computed.
void change_convention(const Take& take, const Analysis& analysis, RateConvention from,
                       RateConvention to, SequenceInput& input) {
    for (Segment segment : kSequence) {
        auto& part = input.parts[index_of(segment)];
        // Arm and club turn as a whole as they turn about their own axis.
        const bool alike =
            !is_trunk(segment) && from != RateConvention::Plane && to != RateConvention::Plane;
        if (!part || from == to || alike)
            continue;
        const auto fixed_hz = part->turned.cutoff_hz;
        part->rate_deg_s = rate_in(analysis, segment, to);
        // Of what was measured only what lies within reach of the peak tells where it is.
        const auto rough = part->rate_deg_s.find_max(peak_window(analysis.moments));
        const double reach_s = kPlaceReach_s + 2.0 / analysis.rate_hz;
        part->turned = turned_in(take, analysis, segment, to,
                                 rough ? TimeRange{rough->t_s - reach_s, rough->t_s + reach_s}
                                       : sequence_stretch(analysis));
        // The same noise, the same smoothing.
        part->turned.cutoff_hz = fixed_hz ? fixed_hz : part->smoothed_hz;
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

/// The separation as measured, frame by frame, where the sequence is looked for.
Samples measured_separation(const Take& take, const Analysis& analysis) {
    const auto& pelvis = take.find(Segment::Pelvis)->q_lab_segment;
    const auto& torso = take.find(Segment::Torso)->q_lab_segment;
    Samples out;
    out.rate_hz = take.rate_hz;
    out.smoothness = smoothness_of(Segment::Torso);
    out.x.assign(pelvis.size(), kMissing);
    const TimeRange stretch = sequence_stretch(analysis);
    for (std::size_t i = 0; i < out.x.size(); ++i)
        if (stretch.contains(out.time_of(i)) && is_finite(pelvis[i]) && is_finite(torso[i]))
            out.x[i] = separation_of_deg(pelvis[i], torso[i], analysis.options.separation);
    unwrap_deg(out.x);
    return out;
}

/// All that a measure may be read from, with room for what looks beside a frame; all of the take
/// where it does not show a whole swing.
FrameRange frames_of_swing(const Take& take, const SwingMoments& moments) {
    constexpr double kRoom_s = 0.1;
    if (!moments[Moment::Address] || !moments[Moment::Finish])
        return {0, take.frames};
    double begin_s = moments.address_window.begin_s;
    double end_s = moments.window_end_s;
    for (Moment moment : kAllMoments)
        if (const auto& at = moments[moment]) {
            begin_s = std::min(begin_s, at->t_s);
            end_s = std::max(end_s, at->t_s);
        }
    const auto frame_at = [&](double t_s) {
        const auto last = static_cast<double>(take.frames);
        return static_cast<std::size_t>(std::clamp(std::round(t_s * take.rate_hz), 0.0, last));
    };
    return {frame_at(begin_s - kRoom_s), frame_at(end_s + kRoom_s)};
}

void measure_curves(SmoothedParts& parts, const Take& take, const AnalysisOptions& options,
                    Analysis& result, std::optional<double> impact_s) {
    const FrameRange wanted = options.curves == CurvesOf::Swing
                                  ? frames_of_swing(take, result.moments)
                                  : FrameRange{0, take.frames};
    for (const auto& [segment, series] : take.segments) {
        SegmentMotion& motion = result.motion[segment];
        motion = parts.take(segment, options.cutoff_of_hz(segment), impact_s);
        motion.wanted = wanted;
    }
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

/// What the filter leaves of the noise of each part's rate.
std::array<double, kSequence.size()> rate_noise_deg_s(const Analysis& analysis) {
    std::array<double, kSequence.size()> out{};
    out.fill(kMissing);
    for (Segment segment : kSequence)
        if (const SegmentMotion* motion = analysis.find_motion(segment))
            out[index_of(segment)] =
                deg_from_rad(is_trunk(segment) ? motion->angle_noise_rad.z()
                                               : motion->noise_across_rad()) *
                calc_noise_gain(motion->cutoff_hz, motion->rate_hz).first_derivative;
    return out;
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
        const LegPaths legs = calc_leg_paths(*pelvis, take);
        result.hips = calc_hips(legs, result.moments);
        result.legs = calc_legs(legs, result.moments, result.transition.first_reversal_s);
    }
    result.pressure = calc_pressure(take, result.moments);
    if (!result.wrist_hinge_deg.empty())
        result.wrist = calc_wrist(result.wrist_hinge_deg, result.moments);
    const auto head_m = measured_path(take, BodyPoint::ClubHead, Segment::Club, take.club_length_m);
    Approach approach;
    if (const auto& impact = result.moments[Moment::Impact])
        approach = fit_approach(head_m, take.rate_hz, impact->t_s,
                                std::isfinite(impact->u_s) ? impact->u_s : 0.0);
    result.speed =
        calc_speed(wrist_path(take), head_m, approach, take.rate_hz, result.moments, findings);
    result.delivery = calc_delivery(result.find_motion(Segment::Club), approach, result.moments);
    result.arms =
        calc_arms({result.find_motion(Segment::Torso), result.find_motion(Segment::LeadArm),
                   result.find_motion(Segment::LeadForearm), result.find_motion(Segment::Club),
                   result.find_motion(Segment::Head)},
                  take, result.moments);
    result.setup = calc_setup(take, head_m, result.moments);
    result.takeaway = calc_takeaway(result.rate_deg_s, rate_noise_deg_s(result), result.moments);
    result.tempo = calc_tempo(result.moments);
}

/// What the alternatives differ by goes into how sure the places in time are. What most of them do
/// not give at all hangs on what was taken as given: it is not known.
void add_spread(Analysis& result) {
    const auto join = [](double& u, double spread) { u = std::hypot(u, spread); };
    for (Segment segment : kSequence) {
        auto& part = result.sequence.parts[index_of(segment)];
        if (!part)
            continue;
        const auto spread_of = [&](double SegmentSequence::*member) {
            return result.spread([&](const Analysis& a) {
                const SegmentSequence* found = a.sequence.find(segment);
                return found == nullptr ? kMissing : found->*member;
            });
        };
        join(part->peak_t_u_s, spread_of(&SegmentSequence::peak_t_s));
        join(part->peak_u_deg_s, spread_of(&SegmentSequence::peak_deg_s));
        join(part->reversal_u_s, spread_of(&SegmentSequence::reversal_t_s));
        if (!std::isfinite(part->peak_t_u_s))
            part->peak_t_s = part->before_impact_ms = kMissing;
        if (!std::isfinite(part->peak_u_deg_s))
            part->peak_deg_s = kMissing;
        join(part->slowdown_u_pct, spread_of(&SegmentSequence::slowdown_pct));
        if (!std::isfinite(part->slowdown_u_pct))
            part->slowdown_pct = kMissing;
        if (!std::isfinite(part->reversal_u_s))
            part->reversal_t_s = kMissing;
    }
    const SegmentSequence* club = result.sequence.find(Segment::Club);
    if (club != nullptr && !std::isfinite(club->peak_t_s))
        result.sequence.fastest_at_ball_ms = kMissing;
    for (Moment moment : kAllMoments)
        if (auto& at = result.moments[moment]; at && !at->moved)
            join(at->u_s,
                 result.spread([&](const Analysis& a) { return a.moments.time_s(moment); }));
    if (result.separation)
        join(result.separation->max_t_u_s, result.spread([](const Analysis& a) {
            return a.separation ? a.separation->max_t_s : kMissing;
        }));
    result.sequence.judge_order();
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
    if (!moments.ok()) {
        name_film_clock(take, result, out.findings);
        return out;
    }

    name_missing_parts(take, out.findings);
    SequenceInput input = sequence_input(take, result, chosen.convention);
    result.sequence = calc_sequence(input, result.moments);
    for (std::size_t i = 0; i < kSequence.size(); ++i)
        if (input.parts[i])
            result.rate_deg_s[i] = input.parts[i]->rate_deg_s;
    compare_conventions(take, result, std::move(input), out.findings);
    if (!result.separation_deg.empty()) {
        result.separation = calc_separation(result.separation_deg,
                                            measured_separation(take, result), result.moments);
        drop_impossible_separation(result, out.findings);
        compare_separations(result, out.findings);
    }
    measure_body(take, result, out.findings);
    name_unseen(take, result, out.findings);
    compare_with_launch(result, out.findings);
    name_film_clock(take, result, out.findings);
    for (const auto& other : take.also)
        if (Outcome<Analysis> again = analyse(*other, chosen); again.ok()) {
            again.value.motion.clear(); // the measures are enough
            result.also.push_back(std::make_shared<const Analysis>(std::move(again.value)));
        }
    if (!result.also.empty()) {
        auto alone = std::make_shared<Analysis>(result);
        alone->also.clear();
        result.alone = std::move(alone);
        add_spread(result);
    }
    name_odd_tempo(take, result, out.findings);
    name_slow_rate(take.rate_hz, out.findings);
    return out;
}

} // namespace kite
