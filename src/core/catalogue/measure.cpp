#include "core/catalogue/measure.h"

#include "core/base/units.h"

#include <algorithm>
#include <cmath>

namespace kite {

namespace {

double u_of(const std::optional<MomentTime>& moment) {
    return moment ? moment->u_s : kMissing;
}

template <Segment segment>
Measured peak_of(const Analysis& a) {
    const SegmentSequence* part = a.sequence.find(segment);
    return part == nullptr ? Measured{} : Measured{part->peak_deg_s, part->peak_u_deg_s};
}

template <Segment segment>
Measured before_impact_of(const Analysis& a) {
    const SegmentSequence* part = a.sequence.find(segment);
    if (part == nullptr)
        return {};
    return {part->before_impact_ms,
            ms_from_s(std::hypot(part->peak_t_u_s, u_of(a.moments[Moment::Impact])))};
}

template <Segment segment>
Measured slowdown_of(const Analysis& a) {
    const SegmentSequence* part = a.sequence.find(segment);
    return part == nullptr ? Measured{} : Measured{part->slowdown_pct, part->slowdown_u_pct};
}

/// How much earlier than the club a part turns back.
template <Segment segment, double Transition::*member>
Measured lead_of(const Analysis& a) {
    const SegmentSequence* part = a.sequence.find(segment);
    const SegmentSequence* club = a.sequence.find(Segment::Club);
    const double u_s = part == nullptr || club == nullptr
                           ? kMissing
                           : std::hypot(part->reversal_u_s, club->reversal_u_s);
    return {a.transition.*member, ms_from_s(u_s)};
}

template <double Separation::*member>
Measured separation_of(const Analysis& a) {
    if (!a.separation)
        return {};
    return {(*a.separation).*member, find_quantity("separation")->own_u(a)};
}

/// Of two moments of the same curve.
Measured stretch_of(const Analysis& a) {
    const Measured one = separation_of<&Separation::stretch_deg>(a);
    return {one.value, std::sqrt(2.0) * one.u};
}

template <Moment moment>
Measured separation_at(const Analysis& a) {
    if (!a.separation)
        return {};
    Measured out = own_at_moment(*find_quantity("separation"), a, moment);
    out.value = moment == Moment::Top ? a.separation->at_top_deg : a.separation->at_impact_deg;
    return out;
}

/// A quantity at a moment, in the unit of files.
template <const char* const& key, Moment moment>
Measured position_of(const Analysis& a) {
    static const Quantity& quantity = *find_quantity(key);
    const Measured at = own_at_moment(quantity, a, moment);
    return {at.value * quantity.per_file_unit, at.u * quantity.per_file_unit};
}
constexpr const char* kPelvisTurn = "pelvis_turn";
constexpr const char* kTorsoTurn = "torso_turn";
constexpr const char* kSway = "pelvis_sway";
constexpr const char* kDepth = "pelvis_depth";
constexpr const char* kLift = "pelvis_lift";
constexpr const char* kWrist = "wrist_hinge";

/// Both are differences of heights that skin and noise reach alike.
template <double Transition::*member>
Measured transition_of(const Analysis& a) {
    constexpr double kPlace_u_cm = 0.4;
    return {a.transition.*member, std::isfinite(a.transition.*member) ? kPlace_u_cm : kMissing};
}

template <Segment segment>
Measured start_of(const Analysis& a) {
    return {a.takeaway.start_ms(segment), a.takeaway.start_u_ms(segment)};
}

Measured tempo_ratio_of(const Analysis& a) {
    const double takeaway_u_s = u_of(a.moments[Moment::Takeaway]);
    const double top_u_s = u_of(a.moments[Moment::Top]);
    const double impact_u_s = u_of(a.moments[Moment::Impact]);
    // The top counts in both, one way up and the other down.
    const double u = std::hypot(takeaway_u_s / a.tempo.backswing_s,
                                top_u_s * (1.0 / a.tempo.backswing_s + 1.0 / a.tempo.downswing_s),
                                impact_u_s / a.tempo.downswing_s);
    return {a.tempo.ratio, a.tempo.ratio * u};
}

/// A centimetre of a hip joint width of seventeen, doubled by the turn (common practice, no
/// source).
constexpr double kHinge_u = 0.12;

constexpr bool kHeadline = true;
constexpr bool kOther = false;

std::vector<Measure>& catalogue() {
    static std::vector<Measure> kMeasures{
        {"tempo.backswing_s", KITE_TR("Backswing"), KITE_TR("Backswing"), "s", 2, 0.03, "tempo",
         kOther,
         [](const Analysis& a) {
             return Measured{a.tempo.backswing_s, std::hypot(u_of(a.moments[Moment::Takeaway]),
                                                             u_of(a.moments[Moment::Top]))};
         }},
        {"tempo.downswing_s", KITE_TR("Downswing"), KITE_TR("Downswing"), "s", 3, 0.01, "tempo",
         kOther,
         [](const Analysis& a) {
             return Measured{a.tempo.downswing_s, std::hypot(u_of(a.moments[Moment::Top]),
                                                             u_of(a.moments[Moment::Impact]))};
         }},
        {"tempo.ratio", KITE_TR("Tempo"), KITE_TR("Tempo"), "to 1", 1, 0.2, "tempo", kHeadline,
         tempo_ratio_of},
        {"sequence.segments.pelvis.peak_deg_s", KITE_TR("Pelvis peak"), KITE_TR("Pelvis speed"),
         "°/s", 0, 15.0, "peak", kHeadline, peak_of<Segment::Pelvis>},
        {"sequence.segments.torso.peak_deg_s", KITE_TR("Torso peak"), KITE_TR("Torso speed"), "°/s",
         0, 20.0, "peak", kHeadline, peak_of<Segment::Torso>},
        {"sequence.segments.lead_arm.peak_deg_s", KITE_TR("Lead arm peak"),
         KITE_TR("Lead arm speed"), "°/s", 0, 30.0, "peak", kOther, peak_of<Segment::LeadArm>},
        {"sequence.segments.club.peak_deg_s", KITE_TR("Club peak"), KITE_TR("Club speed"), "°/s", 0,
         60.0, "peak", kHeadline, peak_of<Segment::Club>},
        {"sequence.segments.pelvis.before_impact_ms", KITE_TR("Pelvis peak before impact"),
         KITE_TR("Pelvis peak"), "ms", 0, 5.0, "peak", kHeadline,
         before_impact_of<Segment::Pelvis>},
        {"sequence.segments.torso.before_impact_ms", KITE_TR("Torso peak before impact"),
         KITE_TR("Torso peak"), "ms", 0, 5.0, "peak", kHeadline, before_impact_of<Segment::Torso>},
        {"sequence.segments.lead_arm.before_impact_ms", KITE_TR("Lead arm peak before impact"),
         KITE_TR("Lead arm peak"), "ms", 0, 5.0, "peak", kHeadline,
         before_impact_of<Segment::LeadArm>},
        {"sequence.fastest_at_ball_ms", KITE_TR("Club peak after impact"), KITE_TR("Club peak"),
         "ms", 0, 3.0, "at_ball", kHeadline,
         [](const Analysis& a) {
             return Measured{a.sequence.fastest_at_ball_ms, before_impact_of<Segment::Club>(a).u};
         }},
        {"sequence.segments.pelvis.slowdown_pct", KITE_TR("Pelvis slow-down"),
         KITE_TR("Pelvis slow-down"), "%", 0, 5.0, "slow_down", kOther,
         slowdown_of<Segment::Pelvis>},
        {"sequence.segments.torso.slowdown_pct", KITE_TR("Torso slow-down"),
         KITE_TR("Torso slow-down"), "%", 0, 5.0, "slow_down", kOther, slowdown_of<Segment::Torso>},
        {"sequence.segments.lead_arm.slowdown_pct", KITE_TR("Lead arm slow-down"),
         KITE_TR("Lead arm slow-down"), "%", 0, 5.0, "slow_down", kOther,
         slowdown_of<Segment::LeadArm>},
        {"transition.pelvis_lead_ms", KITE_TR("Pelvis lead"), KITE_TR("Pelvis before club"), "ms",
         0, 8.0, "lead", kHeadline, lead_of<Segment::Pelvis, &Transition::pelvis_lead_ms>},
        {"transition.torso_lead_ms", KITE_TR("Torso lead"), KITE_TR("Torso lead"), "ms", 0, 8.0,
         "lead", kOther, lead_of<Segment::Torso, &Transition::torso_lead_ms>},
        {"transition.arm_lead_ms", KITE_TR("Arm lead"), KITE_TR("Arm lead"), "ms", 0, 8.0, "lead",
         kOther, lead_of<Segment::LeadArm, &Transition::arm_lead_ms>},
        {"transition.recentre_lead_ms", KITE_TR("Re-centring lead"), KITE_TR("Re-centring lead"),
         "ms", 0, 15.0, "recentre", kOther,
         [](const Analysis& a) {
             return Measured{a.transition.recentre_lead_ms, a.transition.recentre_u_ms};
         }},
        {"transition.lead_hip_drop_top_cm", KITE_TR("Lead hip drop at the top"),
         KITE_TR("Lead hip drop at the top"), "cm", 1, 0.5, "hip_drop", kOther,
         transition_of<&Transition::lead_hip_drop_top_cm>},
        {"transition.pelvis_drop_cm", KITE_TR("Pelvis drop"), KITE_TR("Pelvis drop"), "cm", 1, 0.5,
         "hip_drop", kOther, transition_of<&Transition::pelvis_drop_cm>},
        {"separation.at_top_deg", KITE_TR("Separation at the top"), KITE_TR("Separation, top"), "°",
         0, 2.0, "separation", kHeadline, separation_at<Moment::Top>},
        {"separation.max_deg", KITE_TR("Greatest separation"), KITE_TR("Greatest separation"), "°",
         0, 2.0, "separation", kOther, separation_of<&Separation::max_deg>},
        {"separation.stretch_deg", KITE_TR("Stretch"), KITE_TR("Stretch"), "°", 1, 1.0,
         "separation", kHeadline, stretch_of},
        {"separation.at_impact_deg", KITE_TR("Separation at impact"),
         KITE_TR("Separation at impact"), "°", 0, 3.0, "separation", kOther,
         separation_at<Moment::Impact>},
        {"positions.top.pelvis_turn_deg", KITE_TR("Pelvis turn at the top"),
         KITE_TR("Pelvis turn at the top"), "°", 0, 3.0, "pelvis_turn", kOther,
         position_of<kPelvisTurn, Moment::Top>},
        {"positions.top.torso_turn_deg", KITE_TR("Torso turn at the top"),
         KITE_TR("Torso turn at the top"), "°", 0, 3.0, "torso_turn", kOther,
         position_of<kTorsoTurn, Moment::Top>},
        {"positions.top.pelvis_sway_cm", KITE_TR("Pelvis sway at the top"),
         KITE_TR("Pelvis sway at the top"), "cm", 1, 1.0, "pelvis_sway", kOther,
         position_of<kSway, Moment::Top>},
        {"positions.impact.pelvis_turn_deg", KITE_TR("Pelvis turn at impact"),
         KITE_TR("Pelvis turn at impact"), "°", 0, 3.0, "pelvis_turn", kOther,
         position_of<kPelvisTurn, Moment::Impact>},
        {"positions.impact.torso_turn_deg", KITE_TR("Torso turn at impact"),
         KITE_TR("Torso turn at impact"), "°", 0, 3.0, "torso_turn", kOther,
         position_of<kTorsoTurn, Moment::Impact>},
        {"positions.impact.pelvis_sway_cm", KITE_TR("Pelvis sway at impact"),
         KITE_TR("Sway, impact"), "cm", 1, 1.0, "pelvis_sway", kHeadline,
         position_of<kSway, Moment::Impact>},
        {"positions.impact.pelvis_depth_cm", KITE_TR("Pelvis depth at impact"),
         KITE_TR("Pelvis depth at impact"), "cm", 1, 1.0, "pelvis_depth", kOther,
         position_of<kDepth, Moment::Impact>},
        {"positions.impact.pelvis_lift_cm", KITE_TR("Pelvis lift at impact"),
         KITE_TR("Pelvis lift at impact"), "cm", 1, 1.0, "pelvis_lift", kOther,
         position_of<kLift, Moment::Impact>},
        {"hinge_path.backswing.along", KITE_TR("Hinge in the backswing"),
         KITE_TR("Hinge in the backswing"), "half hip widths", 2, 0.1, "hinge_path", kOther,
         [](const Analysis& a) {
             return Measured{a.hinge_path.backswing.along, kHinge_u};
         }},
        {"hinge_path.downswing.along", KITE_TR("Hinge in the downswing"),
         KITE_TR("Hinge in the downswing"), "half hip widths", 2, 0.1, "hinge_path", kOther,
         [](const Analysis& a) {
             return Measured{a.hinge_path.downswing.along, kHinge_u};
         }},
        {"wrist.top_deg", KITE_TR("Wrist hinge at the top"), KITE_TR("Wrist hinge at the top"), "°",
         0, 3.0, "wrist_hinge", kOther,
         [](const Analysis& a) {
             return Measured{a.wrist.top_deg, position_of<kWrist, Moment::Top>(a).u};
         }},
        {"wrist.release_after_arm_level_ms", KITE_TR("Wrists let go after lead arm level"),
         KITE_TR("Release"), "ms", 0, 8.0, "wrist_kept", kOther,
         [](const Analysis& a) {
             // The hinge falls 15° within some milliseconds: its noise moves that little.
             constexpr double kRelease_u_ms = 3.0;
             const auto& level = a.moments[Moment::LeadArmLevelDown];
             return level ? Measured{ms_from_s(a.wrist.release_t_s - level->t_s),
                                     std::hypot(kRelease_u_ms, ms_from_s(level->u_s))}
                          : Measured{};
         }},
        {"wrist.kept_pct", KITE_TR("Wrist hinge kept"), KITE_TR("Wrist hinge kept"), "%", 0, 4.0,
         "wrist_kept", kOther,
         [](const Analysis& a) {
             // Both hinges are off by as much, and the later one by its time.
             const Measured top = position_of<kWrist, Moment::Top>(a);
             const Measured down = position_of<kWrist, Moment::ShaftLevelDown>(a);
             return Measured{a.wrist.kept_pct, 100.0 * std::hypot(down.u, top.u) / top.value};
         }},
        {"pressure.lead_min_pct", KITE_TR("Lowest lead pressure"), KITE_TR("Lowest lead pressure"),
         "%", 0, 3.0, "pressure", kOther,
         [](const Analysis& a) {
             return Measured{a.pressure.lead_min_pct, kMissing};
         }},
        {"pressure.peak_total_bw", KITE_TR("Greatest vertical force"),
         KITE_TR("Greatest vertical force"), "body weights", 2, 0.05, "force", kOther,
         [](const Analysis& a) {
             return Measured{a.pressure.peak_total_bw, kMissing};
         }},
        {"sequence.segments.club.slowdown_pct", KITE_TR("Club slow-down"),
         KITE_TR("Club slow-down"), "%", 1, 1.0, "slow_down", kOther, slowdown_of<Segment::Club>},
        {"delivery.shaft_lean_deg", KITE_TR("Shaft lean at impact"), KITE_TR("Shaft lean"), "°", 1,
         1.5, "shaft_lean", kOther,
         [](const Analysis& a) {
             return Measured{a.delivery.shaft_lean_deg, a.delivery.shaft_lean_u_deg};
         }},
        {"delivery.attack_deg", KITE_TR("Attack"), KITE_TR("Attack"), "°", 1, 1.0, "attack", kOther,
         [](const Analysis& a) {
             return Measured{a.speed.attack_deg, a.speed.attack_u_deg};
         }},
        {"delivery.path_deg", KITE_TR("Path"), KITE_TR("Path"), "°", 1, 1.0, "path", kOther,
         [](const Analysis& a) {
             return Measured{a.speed.club_head_direction_deg, a.speed.club_head_direction_u_deg};
         }},
        {"delivery.low_point_cm", KITE_TR("Low point"), KITE_TR("Low point"), "cm", 1, 1.5,
         "low_point", kOther,
         [](const Analysis& a) {
             return Measured{a.delivery.low_point_cm, a.delivery.low_point_u_cm};
         }},
        {"takeaway.pelvis_start_ms", KITE_TR("Pelvis starts back"), KITE_TR("Pelvis starts back"),
         "ms", 0, 20.0, "start_back", kOther, start_of<Segment::Pelvis>},
        {"takeaway.torso_start_ms", KITE_TR("Torso starts back"), KITE_TR("Torso starts back"),
         "ms", 0, 20.0, "start_back", kOther, start_of<Segment::Torso>},
        {"takeaway.lead_arm_start_ms", KITE_TR("Lead arm starts back"),
         KITE_TR("Lead arm starts back"), "ms", 0, 20.0, "start_back", kOther,
         start_of<Segment::LeadArm>},
        {"address.stance_cm", KITE_TR("Stance width"), KITE_TR("Stance"), "cm", 0, 2.0, "stance",
         kOther,
         [](const Analysis& a) {
             return Measured{a.setup.stance_cm, a.setup.stance_u_cm};
         }},
        {"address.ball_place", KITE_TR("Ball along the stance"), KITE_TR("Ball place"), "", 2, 0.1,
         "stance", kOther,
         [](const Analysis& a) {
             return Measured{a.setup.ball_place, a.setup.ball_place_u};
         }},
        {"speed.hands_m_s", KITE_TR("Hand speed"), KITE_TR("Hand speed"), "m/s", 1, 0.2,
         "club_head_speed", kOther,
         [](const Analysis& a) {
             return Measured{a.speed.hands_m_s, a.speed.hands_u_m_s};
         }},
        {"speed.club_head_m_s", KITE_TR("Club-head speed"), KITE_TR("Club head"), "m/s", 1, 0.5,
         "club_head_speed", kHeadline,
         [](const Analysis& a) {
             return Measured{a.speed.club_head_m_s, a.speed.club_head_u_m_s};
         }},
    };
    return kMeasures;
}

} // namespace

const std::vector<Measure>& all_measures() {
    return catalogue();
}

Measured Measure::of(const Analysis& analysis) const {
    return with_spread(analysis, plain);
}

ExtraMeasure::ExtraMeasure(const Measure& measure) {
    catalogue().push_back(measure);
}
ExtraMeasure::~ExtraMeasure() {
    catalogue().pop_back();
}

const Measure* find_measure(std::string_view key) {
    const auto& measures = all_measures();
    const auto found = std::find_if(measures.begin(), measures.end(),
                                    [&](const Measure& measure) { return key == measure.key; });
    return found == measures.end() ? nullptr : &*found;
}

const Topic* find_topic_for(std::string_view key) {
    if (const Measure* measure = find_measure(key))
        return find_topic(measure->topic);
    if (const Quantity* quantity = find_quantity(key))
        return find_topic(quantity->topic);
    return find_topic(key);
}

} // namespace kite
