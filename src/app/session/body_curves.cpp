#include "app/session/body_curves.h"

#include <QCoreApplication>

namespace kite::app {

namespace {

template <Segment segment, Curve TrunkCurves::*curve>
const Curve& trunk_curve(const Analysis& analysis) {
    static const Curve kNone;
    const auto found = analysis.trunk.find(segment);
    return found == analysis.trunk.end() ? kNone : found->second.*curve;
}

template <Segment segment, Curve TrunkAngles::*curve>
const Curve& trunk_angle(const Analysis& analysis) {
    static const Curve kNone;
    const auto found = analysis.trunk.find(segment);
    return found == analysis.trunk.end() ? kNone : found->second.angles.*curve;
}

} // namespace

const std::vector<BodyCurve>& all_body_curves() {
    static const std::vector<BodyCurve> kCurves{
        {"pelvis_sway", QT_TRANSLATE_NOOP("curve", "Pelvis sway"), "m",
         trunk_curve<Segment::Pelvis, &TrunkCurves::sway_m>,
         QT_TRANSLATE_NOOP("curve", "to target"), QT_TRANSLATE_NOOP("curve", "away")},
        {"pelvis_depth", QT_TRANSLATE_NOOP("curve", "Pelvis depth"), "m",
         trunk_curve<Segment::Pelvis, &TrunkCurves::depth_m>, QT_TRANSLATE_NOOP("curve", "back"),
         QT_TRANSLATE_NOOP("curve", "to the ball")},
        {"pelvis_lift", QT_TRANSLATE_NOOP("curve", "Pelvis lift"), "m",
         trunk_curve<Segment::Pelvis, &TrunkCurves::lift_m>, QT_TRANSLATE_NOOP("curve", "up"),
         QT_TRANSLATE_NOOP("curve", "down")},
        {"pelvis_tilt", QT_TRANSLATE_NOOP("curve", "Pelvis tilt"), "°",
         trunk_angle<Segment::Pelvis, &TrunkAngles::side_tilt_deg>,
         QT_TRANSLATE_NOOP("curve", "lead side high"), QT_TRANSLATE_NOOP("curve", "lead side low")},
        {"pelvis_bend", QT_TRANSLATE_NOOP("curve", "Pelvis bend"), "°",
         trunk_angle<Segment::Pelvis, &TrunkAngles::forward_bend_deg>,
         QT_TRANSLATE_NOOP("curve", "forward"), QT_TRANSLATE_NOOP("curve", "backward")},
        {"torso_sway", QT_TRANSLATE_NOOP("curve", "Torso sway"), "m",
         trunk_curve<Segment::Torso, &TrunkCurves::sway_m>, QT_TRANSLATE_NOOP("curve", "to target"),
         QT_TRANSLATE_NOOP("curve", "away")},
        {"torso_tilt", QT_TRANSLATE_NOOP("curve", "Torso tilt"), "°",
         trunk_angle<Segment::Torso, &TrunkAngles::side_tilt_deg>,
         QT_TRANSLATE_NOOP("curve", "lead side high"), QT_TRANSLATE_NOOP("curve", "lead side low")},
        {"torso_bend", QT_TRANSLATE_NOOP("curve", "Torso bend"), "°",
         trunk_angle<Segment::Torso, &TrunkAngles::forward_bend_deg>,
         QT_TRANSLATE_NOOP("curve", "forward"), QT_TRANSLATE_NOOP("curve", "backward")},
        {"wrist_hinge", QT_TRANSLATE_NOOP("curve", "Wrist hinge"), "°",
         [](const Analysis& a) -> const Curve& { return a.wrist_hinge_deg; },
         QT_TRANSLATE_NOOP("curve", "hinged"), ""},
        {"lead_knee", QT_TRANSLATE_NOOP("curve", "Lead knee"), "°",
         [](const Analysis& a) -> const Curve& { return a.legs.lead_knee_flex_deg; },
         QT_TRANSLATE_NOOP("curve", "flexed"), ""},
        {"pressure", QT_TRANSLATE_NOOP("curve", "Lead pressure"), "%",
         [](const Analysis& a) -> const Curve& { return a.pressure.lead_pct; },
         QT_TRANSLATE_NOOP("curve", "lead foot"), ""},
    };
    return kCurves;
}

} // namespace kite::app
