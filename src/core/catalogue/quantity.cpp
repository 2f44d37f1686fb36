#include "core/catalogue/quantity.h"

#include "core/base/units.h"
#include "core/signal/noise.h"

#include <algorithm>
#include <array>
#include <cmath>

namespace kite {

namespace {

using Shown = Quantity::Shown;

const Curve& no_curve() {
    static const Curve kNone;
    return kNone;
}

template <Segment segment, Curve TrunkCurves::*curve>
const Curve& place_of(const Analysis& analysis) {
    const auto found = analysis.trunk.find(segment);
    return found == analysis.trunk.end() ? no_curve() : found->second.*curve;
}

template <Segment segment, Curve TrunkAngles::*curve>
const Curve& angle_of(const Analysis& analysis) {
    const auto found = analysis.trunk.find(segment);
    return found == analysis.trunk.end() ? no_curve() : found->second.angles.*curve;
}

template <Segment segment>
const Curve& rate_of(const Analysis& analysis) {
    return analysis.rate_deg_s[index_of(segment)];
}

double not_known(const Analysis& /*analysis*/) {
    return kMissing;
}

/// What is left of the noise about one of the part's axes (0 bend, 1 tilt, 2 turn) after the
/// filter, and the slow slide of skin.
template <Segment segment, int axis>
double angle_u_deg(const Analysis& analysis) {
    const SegmentMotion* motion = analysis.find_motion(segment);
    if (motion == nullptr)
        return kMissing;
    const double left =
        motion->angle_noise_rad(axis) * calc_noise_gain(motion->cutoff_hz, motion->rate_hz).value;
    return deg_from_rad(std::hypot(left, motion->wander_rad));
}

double separation_u_deg(const Analysis& analysis) {
    return std::hypot(angle_u_deg<Segment::Pelvis, 2>(analysis),
                      angle_u_deg<Segment::Torso, 2>(analysis));
}

constexpr double kCm = 100.0;

/// Of a place against address: skin slides over bone by some millimetres, the same whoever looks
/// (common practice, no source); the filter leaves little noise beside it.
double place_u_m(const Analysis& /*analysis*/) {
    return 0.004;
}

/// What is left of the noise of arm and shaft.
double hinge_u_deg(const Analysis& analysis) {
    double squares = 0.0;
    for (Segment segment : {Segment::LeadArm, Segment::Club})
        if (const SegmentMotion* motion = analysis.find_motion(segment))
            squares += std::pow(deg_from_rad(motion->noise_across_rad()) *
                                    calc_noise_gain(motion->cutoff_hz, motion->rate_hz).value,
                                2.0);
    return std::sqrt(squares);
}

/// Joint centres are off by a centimetre from the next, over segments of less than half a metre
/// (common practice, no source).
double knee_u_deg(const Analysis& /*analysis*/) {
    return 2.0;
}

double pressure_u_pct(const Analysis& /*analysis*/) {
    return 2.0; // of a plate's vertical force (common practice, no source)
}

} // namespace

const std::vector<Quantity>& all_quantities() {
    static const std::vector<Quantity> kQuantities{
        {"pelvis_rate", "pelvis_rate_deg_s", KITE_TR("Pelvis speed"), KITE_TR("Pelvis speed"),
         "°/s", 1.0, 0, "", "", "rate", Shown::FilesOnly, rate_of<Segment::Pelvis>, not_known},
        {"torso_rate", "torso_rate_deg_s", KITE_TR("Torso speed"), KITE_TR("Torso speed"), "°/s",
         1.0, 0, "", "", "rate", Shown::FilesOnly, rate_of<Segment::Torso>, not_known},
        {"lead_arm_rate", "lead_arm_rate_deg_s", KITE_TR("Lead arm speed"),
         KITE_TR("Lead arm speed"), "°/s", 1.0, 0, "", "", "rate", Shown::FilesOnly,
         rate_of<Segment::LeadArm>, not_known},
        {"club_rate", "club_rate_deg_s", KITE_TR("Club speed"), KITE_TR("Club speed"), "°/s", 1.0,
         0, "", "", "rate", Shown::FilesOnly, rate_of<Segment::Club>, not_known},
        {"pelvis_turn", "pelvis_turn_deg", KITE_TR("Pelvis turn"), KITE_TR("Pelvis turn"), "°", 1.0,
         0, KITE_TR("open"), KITE_TR("closed"), "pelvis_turn", Shown::OwnChart,
         angle_of<Segment::Pelvis, &TrunkAngles::turn_deg>, angle_u_deg<Segment::Pelvis, 2>},
        {"torso_turn", "torso_turn_deg", KITE_TR("Torso turn"), KITE_TR("Torso turn"), "°", 1.0, 0,
         KITE_TR("open"), KITE_TR("closed"), "torso_turn", Shown::OwnChart,
         angle_of<Segment::Torso, &TrunkAngles::turn_deg>, angle_u_deg<Segment::Torso, 2>},
        {"separation", "separation_deg", KITE_TR("Separation"), KITE_TR("Separation"), "°", 1.0, 0,
         KITE_TR("torso closed"), "", "separation", Shown::OwnChart,
         [](const Analysis& a) -> const Curve& { return a.separation_deg; }, separation_u_deg},
        {"pelvis_sway", "pelvis_sway_cm", KITE_TR("Pelvis sway"), KITE_TR("Sway"), "m", kCm, 1,
         KITE_TR("to target"), KITE_TR("away"), "pelvis_sway", Shown::Everywhere,
         place_of<Segment::Pelvis, &TrunkCurves::sway_m>, place_u_m},
        {"pelvis_depth", "pelvis_depth_cm", KITE_TR("Pelvis depth"), KITE_TR("Depth"), "m", kCm, 1,
         KITE_TR("back"), KITE_TR("to the ball"), "pelvis_depth", Shown::Everywhere,
         place_of<Segment::Pelvis, &TrunkCurves::depth_m>, place_u_m},
        {"pelvis_lift", "pelvis_lift_cm", KITE_TR("Pelvis lift"), KITE_TR("Lift"), "m", kCm, 1,
         KITE_TR("up"), KITE_TR("down"), "pelvis_lift", Shown::Everywhere,
         place_of<Segment::Pelvis, &TrunkCurves::lift_m>, place_u_m},
        {"pelvis_tilt", "pelvis_side_tilt_deg", KITE_TR("Pelvis tilt"), KITE_TR("Pelvis tilt"), "°",
         1.0, 0, KITE_TR("lead side high"), KITE_TR("lead side low"), "pelvis_tilt",
         Shown::Everywhere, angle_of<Segment::Pelvis, &TrunkAngles::side_tilt_deg>,
         angle_u_deg<Segment::Pelvis, 1>},
        {"pelvis_bend", "pelvis_forward_bend_deg", KITE_TR("Pelvis bend"), KITE_TR("Pelvis bend"),
         "°", 1.0, 0, KITE_TR("forward"), KITE_TR("backward"), "pelvis_bend", Shown::Everywhere,
         angle_of<Segment::Pelvis, &TrunkAngles::forward_bend_deg>,
         angle_u_deg<Segment::Pelvis, 0>},
        {"torso_sway", "torso_sway_cm", KITE_TR("Torso sway"), KITE_TR("Torso sway"), "m", kCm, 1,
         KITE_TR("to target"), KITE_TR("away"), "torso_sway", Shown::Everywhere,
         place_of<Segment::Torso, &TrunkCurves::sway_m>, place_u_m},
        {"torso_depth", "torso_depth_cm", KITE_TR("Torso depth"), KITE_TR("Torso depth"), "m", kCm,
         1, KITE_TR("back"), KITE_TR("to the ball"), "torso_depth", Shown::FilesOnly,
         place_of<Segment::Torso, &TrunkCurves::depth_m>, place_u_m},
        {"torso_lift", "torso_lift_cm", KITE_TR("Torso lift"), KITE_TR("Torso lift"), "m", kCm, 1,
         KITE_TR("up"), KITE_TR("down"), "torso_lift", Shown::FilesOnly,
         place_of<Segment::Torso, &TrunkCurves::lift_m>, place_u_m},
        {"torso_tilt", "torso_side_tilt_deg", KITE_TR("Torso tilt"), KITE_TR("Torso tilt"), "°",
         1.0, 0, KITE_TR("lead side high"), KITE_TR("lead side low"), "torso_tilt",
         Shown::Everywhere, angle_of<Segment::Torso, &TrunkAngles::side_tilt_deg>,
         angle_u_deg<Segment::Torso, 1>},
        {"torso_bend", "torso_forward_bend_deg", KITE_TR("Torso bend"), KITE_TR("Torso bend"), "°",
         1.0, 0, KITE_TR("forward"), KITE_TR("backward"), "torso_bend", Shown::Everywhere,
         angle_of<Segment::Torso, &TrunkAngles::forward_bend_deg>, angle_u_deg<Segment::Torso, 0>},
        {"wrist_hinge", "hinge_deg", KITE_TR("Wrist hinge"), KITE_TR("Wrist hinge"), "°", 1.0, 0,
         KITE_TR("hinged"), "", "wrist_hinge", Shown::Everywhere,
         [](const Analysis& a) -> const Curve& { return a.wrist_hinge_deg; }, hinge_u_deg},
        {"lead_knee", "lead_knee_flex_deg", KITE_TR("Lead knee"), KITE_TR("Lead knee"), "°", 1.0, 0,
         KITE_TR("flexed"), "", "lead_knee", Shown::Everywhere,
         [](const Analysis& a) -> const Curve& { return a.legs.lead_knee_flex_deg; }, knee_u_deg},
        {"trail_knee", "trail_knee_flex_deg", KITE_TR("Trail knee"), KITE_TR("Trail knee"), "°",
         1.0, 0, KITE_TR("flexed"), "", "trail_knee", Shown::FilesOnly,
         [](const Analysis& a) -> const Curve& { return a.legs.trail_knee_flex_deg; }, knee_u_deg},
        {"trail_shin", "trail_shin_deg", KITE_TR("Trail shin"), KITE_TR("Trail shin"), "°", 1.0, 0,
         "", "", "trail_shin", Shown::FilesOnly,
         [](const Analysis& a) -> const Curve& { return a.legs.trail_shin_deg; }, knee_u_deg},
        {"arm_across", "arm_across_deg", KITE_TR("Lead arm across the chest"),
         KITE_TR("Arm across"), "°", 1.0, 0, KITE_TR("across"), "", "arm_across", Shown::FilesOnly,
         [](const Analysis& a) -> const Curve& { return a.arms.across_deg; },
         [](const Analysis& a) {
             const SegmentMotion* arm = a.find_motion(Segment::LeadArm);
             if (arm == nullptr)
                 return kMissing;
             return std::hypot(angle_u_deg<Segment::Torso, 2>(a),
                               deg_from_rad(arm->noise_across_rad() *
                                            calc_noise_gain(arm->cutoff_hz, arm->rate_hz).value));
         }},
        {"lead_elbow", "lead_elbow_flex_deg", KITE_TR("Lead elbow"), KITE_TR("Lead elbow"), "°",
         1.0, 0, KITE_TR("flexed"), "", "lead_elbow", Shown::FilesOnly,
         [](const Analysis& a) -> const Curve& { return a.arms.lead_elbow_flex_deg; }, knee_u_deg},
        {"hand_height", "hand_height_cm", KITE_TR("Hand height"), KITE_TR("Hand height"), "m", kCm,
         1, KITE_TR("above the chest"), KITE_TR("below"), "hand_height", Shown::FilesOnly,
         [](const Analysis& a) -> const Curve& { return a.arms.hand_height_m; }, place_u_m},
        {"head_sway", "head_sway_cm", KITE_TR("Head sway"), KITE_TR("Head sway"), "m", kCm, 1,
         KITE_TR("to target"), KITE_TR("away"), "head", Shown::FilesOnly,
         [](const Analysis& a) -> const Curve& { return a.arms.head_sway_m; }, place_u_m},
        {"head_lift", "head_lift_cm", KITE_TR("Head lift"), KITE_TR("Head lift"), "m", kCm, 1,
         KITE_TR("up"), KITE_TR("down"), "head", Shown::FilesOnly,
         [](const Analysis& a) -> const Curve& { return a.arms.head_lift_m; }, place_u_m},
        {"pelvis_lean", "pelvis_lean_deg", KITE_TR("Pelvis from the vertical"),
         KITE_TR("Pelvis lean"), "°", 1.0, 0, "", "", "pelvis_lean", Shown::FilesOnly,
         [](const Analysis& a) -> const Curve& {
             const auto found = a.trunk.find(Segment::Pelvis);
             return found == a.trunk.end() ? no_curve() : found->second.lean_deg;
         },
         angle_u_deg<Segment::Pelvis, 0>},
        {"spine_lean", "spine_lean_deg", KITE_TR("Spine lean face-on"), KITE_TR("Spine lean"), "°",
         1.0, 0, KITE_TR("to target"), KITE_TR("away"), "spine_lean", Shown::FilesOnly,
         [](const Analysis& a) -> const Curve& {
             const auto found = a.trunk.find(Segment::Torso);
             return found == a.trunk.end() ? no_curve() : found->second.face_on_lean_deg;
         },
         angle_u_deg<Segment::Torso, 1>},
        {"lead_hip_depth", "lead_hip_depth_cm", KITE_TR("Lead hip depth"), KITE_TR("Lead hip"), "m",
         kCm, 1, KITE_TR("back"), KITE_TR("to the ball"), "hip_places", Shown::FilesOnly,
         [](const Analysis& a) -> const Curve& { return a.hips.lead.depth_m; }, place_u_m},
        {"trail_hip_depth", "trail_hip_depth_cm", KITE_TR("Trail hip depth"), KITE_TR("Trail hip"),
         "m", kCm, 1, KITE_TR("back"), KITE_TR("to the ball"), "hip_places", Shown::FilesOnly,
         [](const Analysis& a) -> const Curve& { return a.hips.trail.depth_m; }, place_u_m},
        {"lead_hip_lift", "lead_hip_lift_cm", KITE_TR("Lead hip lift"), KITE_TR("Lead hip lift"),
         "m", kCm, 1, KITE_TR("up"), KITE_TR("down"), "hip_places", Shown::FilesOnly,
         [](const Analysis& a) -> const Curve& { return a.hips.lead.lift_m; }, place_u_m},
        {"lead_hip_beyond_ankle", "lead_hip_beyond_ankle_cm", KITE_TR("Lead hip beyond its ankle"),
         KITE_TR("Lead hip out"), "m", kCm, 1, KITE_TR("beyond"), KITE_TR("inside"), "hip_places",
         Shown::FilesOnly,
         [](const Analysis& a) -> const Curve& { return a.hips.lead.beyond_ankle_m; }, place_u_m},
        {"trail_hip_beyond_ankle", "trail_hip_beyond_ankle_cm",
         KITE_TR("Trail hip beyond its ankle"), KITE_TR("Trail hip out"), "m", kCm, 1,
         KITE_TR("beyond"), KITE_TR("inside"), "hip_places", Shown::FilesOnly,
         [](const Analysis& a) -> const Curve& { return a.hips.trail.beyond_ankle_m; }, place_u_m},
        {"pressure", "lead_pressure_pct", KITE_TR("Lead pressure"), KITE_TR("Lead pressure"), "%",
         1.0, 0, KITE_TR("lead foot"), "", "pressure", Shown::Everywhere,
         [](const Analysis& a) -> const Curve& { return a.pressure.lead_pct; }, pressure_u_pct},
        {"hinge_along", "hinge_along", KITE_TR("Hinge along the hip line"), KITE_TR("Hinge"), "",
         1.0, 2, KITE_TR("lead"), KITE_TR("trail"), "hinge_path", Shown::FilesOnly,
         [](const Analysis& a) -> const Curve& { return a.hinge_path.along; }, not_known},
        {"hinge_behind", "hinge_behind_cm", KITE_TR("Hinge behind the hip line"),
         KITE_TR("Hinge behind"), "m", kCm, 1, KITE_TR("behind"), KITE_TR("before"), "hinge_path",
         Shown::FilesOnly, [](const Analysis& a) -> const Curve& { return a.hinge_path.behind_m; },
         not_known},
    };
    return kQuantities;
}

const Quantity* find_quantity(std::string_view key) {
    const auto& quantities = all_quantities();
    const auto found = std::find_if(quantities.begin(), quantities.end(),
                                    [&](const Quantity& quantity) { return key == quantity.key; });
    return found == quantities.end() ? nullptr : &*found;
}

namespace {

/// SD of a quantity at a time over the ways in which the swing may also have been.
double spread_at(const Quantity& quantity, const Analysis& analysis, double t_s) {
    return analysis.spread([&](const Analysis& a) {
        const Curve& curve = quantity.curve(a);
        return curve.empty() ? kMissing : curve.at(t_s);
    });
}

} // namespace

double Quantity::u(const Analysis& analysis) const {
    double out = own_u(analysis);
    if (analysis.also.empty())
        return out;
    double spread = 0.0;
    for (Moment moment : {Moment::Top, Moment::Impact})
        if (const auto& at = analysis.moments[moment])
            spread = std::fmax(spread, spread_at(*this, analysis, at->t_s));
    return std::hypot(out, spread);
}

Measured own_at_moment(const Quantity& quantity, const Analysis& analysis, Moment moment) {
    const Curve& curve = quantity.curve(analysis);
    const auto& at = analysis.moments[moment];
    if (curve.empty() || !at)
        return {};
    return {curve.at(at->t_s),
            std::hypot(quantity.own_u(analysis), curve.slope_at(at->t_s) * at->u_s)};
}

Measured at_moment(const Quantity& quantity, const Analysis& analysis, Moment moment) {
    return with_spread(analysis,
                       [&](const Analysis& a) { return own_at_moment(quantity, a, moment); });
}

std::string uncertainty_key(std::string_view key) {
    // Longer ones first: "_deg_s" ends in "_s".
    constexpr std::array<std::string_view, 8> kUnits{"_deg_s", "_m_s", "_deg", "_pct",
                                                     "_cm",    "_ms",  "_bw",  "_s"};
    for (std::string_view unit : kUnits)
        if (key.size() > unit.size() && key.substr(key.size() - unit.size()) == unit)
            return std::string(key.substr(0, key.size() - unit.size())) + "_u" + std::string(unit);
    return std::string(key) + "_u";
}

} // namespace kite
