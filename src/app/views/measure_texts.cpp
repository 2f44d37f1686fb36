#include "app/views/measure_texts.h"

#include <QtGlobal>

#include <array>

namespace kite::app {

namespace {

const char* const kBaker = QT_TRANSLATE_NOOP("measure", "Angle order after Baker 2001.");
const char* const kPractice = QT_TRANSLATE_NOOP("measure", "Common practice, no source.");
const char* const kDefinition = QT_TRANSLATE_NOOP("measure", "Definition.");

} // namespace

const std::vector<MeasureText>& all_measure_texts() {
    static const std::vector<MeasureText> kTexts{
        {"rate", QT_TRANSLATE_NOOP("measure", "Rotation speed"),
         QT_TRANSLATE_NOOP(
             "measure", "How fast a part turns. Pelvis and torso: about their own long axis. Lead "
                        "arm and club: how fast their direction changes, their roll left out. "
                        "Other ways are chosen under Rates."),
         QT_TRANSLATE_NOOP("measure", "Positive in the direction of the downswing, in °/s."),
         QT_TRANSLATE_NOOP("measure", "Angular velocity from rotation increments; low-pass after "
                                      "Winter 2009."),
         Sketch::Peaks},
        {"peak", QT_TRANSLATE_NOOP("measure", "Peak, and its time"),
         QT_TRANSLATE_NOOP(
             "measure", "The part's greatest rotation speed between the first reversal and 0.05 s "
                        "after impact. The width drawn about it holds the true time in 95 of 100 "
                        "swings."),
         QT_TRANSLATE_NOOP("measure", "Speed in °/s; time in ms, negative before impact."),
         QT_TRANSLATE_NOOP("measure", "Order of the peaks: Putnam 1993; Cheetham et al. 2008."),
         Sketch::Peaks},
        {"order", QT_TRANSLATE_NOOP("measure", "Order of the peaks"),
         QT_TRANSLATE_NOOP("measure",
                           "The parts by the time of their peaks; pelvis, torso, lead arm, club is "
                           "in order. Two peaks closer than twice their uncertainty are tied."),
         QT_TRANSLATE_NOOP("measure",
                           "The certainty is the chance that this order is the true one."),
         QT_TRANSLATE_NOOP("measure", "Putnam 1993; Cheetham et al. 2008; Neal et al. 2007."),
         Sketch::Peaks},
        {"reversal", QT_TRANSLATE_NOOP("measure", "Reversal"),
         QT_TRANSLATE_NOOP("measure",
                           "The last moment before its peak at which a part turns from back "
                           "to down. Pelvis first is usual, while the club still goes "
                           "back."),
         QT_TRANSLATE_NOOP("measure", "Time in ms, negative before impact."),
         QT_TRANSLATE_NOOP("measure", "Tinmark et al. 2010."), Sketch::Peaks},
        {"slow_down", QT_TRANSLATE_NOOP("measure", "Slow-down"),
         QT_TRANSLATE_NOOP("measure",
                           "What a part has given up of its peak speed when the club meets "
                           "the ball. Slowing down is not stopping."),
         QT_TRANSLATE_NOOP("measure", "In % of the peak; positive: slower at impact."), kDefinition,
         Sketch::Peaks},
        {"tempo", QT_TRANSLATE_NOOP("measure", "Tempo"),
         QT_TRANSLATE_NOOP("measure",
                           "Time from takeaway to the top, over the time from the top to "
                           "impact."),
         QT_TRANSLATE_NOOP("measure", "A ratio; about 3 to 1 is usual."),
         QT_TRANSLATE_NOOP("measure", "Grober & Cholewicki 2006."), Sketch::Moments},
        {"moment", QT_TRANSLATE_NOOP("measure", "Moment"),
         QT_TRANSLATE_NOOP("measure",
                           "A place in the swing that everybody knows: address, takeaway, "
                           "shaft or lead arm level, top, impact, finish. Found between "
                           "the frames; every one can be moved by hand."),
         QT_TRANSLATE_NOOP("measure", "ms from impact, negative before; known to ± one standard "
                                      "uncertainty."),
         kDefinition, Sketch::Moments},
        {"pelvis_turn", QT_TRANSLATE_NOOP("measure", "Pelvis turn"),
         QT_TRANSLATE_NOOP("measure",
                           "Direction of the hip line, seen from above, against the target "
                           "line."),
         QT_TRANSLATE_NOOP("measure", "Degrees; open to the target is positive, closed negative."),
         kBaker, Sketch::FromAbove},
        {"torso_turn", QT_TRANSLATE_NOOP("measure", "Torso turn"),
         QT_TRANSLATE_NOOP("measure",
                           "Direction of the chest's line from trail to lead side, seen from "
                           "above, against the target line."),
         QT_TRANSLATE_NOOP("measure", "Degrees; open to the target is positive, closed negative."),
         QT_TRANSLATE_NOOP("measure", "Baker 2001; axes of the thorax after Wu et al. 2005."),
         Sketch::FromAbove},
        {"separation", QT_TRANSLATE_NOOP("measure", "Separation and stretch"),
         QT_TRANSLATE_NOOP("measure",
                           "Pelvis turn minus torso turn, from above; or the turn between "
                           "them about the spine. Stretch is how much it grows after the "
                           "top. The two ways differ by some degrees when the body bends "
                           "sideways."),
         QT_TRANSLATE_NOOP("measure", "Degrees; positive while the torso is more closed."),
         QT_TRANSLATE_NOOP("measure", "Cheetham et al. 2001; Wheat et al. 2007."),
         Sketch::FromAbove},
        {"hinge_path", QT_TRANSLATE_NOOP("measure", "Hinge and its path"),
         QT_TRANSLATE_NOOP("measure",
                           "The point about which the pelvis pivots at this instant, seen "
                           "from above; only while it turns faster than 60 °/s."),
         QT_TRANSLATE_NOOP("measure",
                           "Along the hip line, −1 at the trail, +1 at the lead hip joint."),
         QT_TRANSLATE_NOOP("measure", "Instantaneous centre of rotation, textbook kinematics."),
         Sketch::FromAbove},
        {"pelvis_sway", QT_TRANSLATE_NOOP("measure", "Pelvis sway"),
         QT_TRANSLATE_NOOP("measure",
                           "How far the middle between the hip joints has moved along the "
                           "target line since address."),
         QT_TRANSLATE_NOOP("measure", "Positive: towards the target."), kPractice, Sketch::FaceOn},
        {"pelvis_depth", QT_TRANSLATE_NOOP("measure", "Pelvis depth"),
         QT_TRANSLATE_NOOP("measure",
                           "How far the middle between the hip joints has moved away from "
                           "the ball since address. Moving to the ball is early "
                           "extension."),
         QT_TRANSLATE_NOOP("measure", "Positive: away from the ball."), kPractice,
         Sketch::DownTheLine},
        {"pelvis_lift", QT_TRANSLATE_NOOP("measure", "Pelvis lift"),
         QT_TRANSLATE_NOOP("measure", "How far the middle between the hip joints has risen since "
                                      "address."),
         QT_TRANSLATE_NOOP("measure", "Positive: up."), kPractice, Sketch::FaceOn},
        {"pelvis_tilt", QT_TRANSLATE_NOOP("measure", "Pelvis side tilt"),
         QT_TRANSLATE_NOOP("measure", "Slope of the hip line."),
         QT_TRANSLATE_NOOP("measure", "Degrees; positive: lead side higher."), kBaker,
         Sketch::FaceOn},
        {"pelvis_bend", QT_TRANSLATE_NOOP("measure", "Pelvis forward bend"),
         QT_TRANSLATE_NOOP("measure", "Lean of the pelvis about the hip line."),
         QT_TRANSLATE_NOOP("measure", "Degrees; positive: towards the ball."), kBaker,
         Sketch::DownTheLine},
        {"torso_sway", QT_TRANSLATE_NOOP("measure", "Torso sway"),
         QT_TRANSLATE_NOOP("measure",
                           "How far the base of the neck has moved along the target line "
                           "since address."),
         QT_TRANSLATE_NOOP("measure", "Positive: towards the target."), kPractice, Sketch::FaceOn},
        {"torso_tilt", QT_TRANSLATE_NOOP("measure", "Torso side tilt"),
         QT_TRANSLATE_NOOP("measure", "Slope of the chest's line from trail to lead side."),
         QT_TRANSLATE_NOOP("measure", "Degrees; positive: lead side higher."), kBaker,
         Sketch::FaceOn},
        {"torso_bend", QT_TRANSLATE_NOOP("measure", "Torso forward bend"),
         QT_TRANSLATE_NOOP("measure", "Lean of the torso about its line from trail to lead side."),
         QT_TRANSLATE_NOOP("measure", "Degrees; positive: towards the ball."), kBaker,
         Sketch::DownTheLine},
        {"wrist_hinge", QT_TRANSLATE_NOOP("measure", "Wrist hinge"),
         QT_TRANSLATE_NOOP("measure",
                           "Angle between the lead forearm (the arm, where no forearm was "
                           "captured) and the shaft."),
         QT_TRANSLATE_NOOP("measure", "Degrees; 0° is one line, about 90° at the top is usual."),
         kPractice, Sketch::Wrist},
        {"lead_knee", QT_TRANSLATE_NOOP("measure", "Lead knee flex"),
         QT_TRANSLATE_NOOP("measure",
                           "Angle between the lines from hip joint to knee and from knee to "
                           "ankle."),
         QT_TRANSLATE_NOOP("measure", "Degrees; 0° is straight."), kPractice, Sketch::FaceOn},
        {"pressure", QT_TRANSLATE_NOOP("measure", "Lead pressure"),
         QT_TRANSLATE_NOOP("measure", "Share of the vertical force that the lead foot bears."),
         QT_TRANSLATE_NOOP("measure", "% of both feet together."),
         QT_TRANSLATE_NOOP("measure", "Ball & Best 2007."), Sketch::FaceOn},
        {"lead", QT_TRANSLATE_NOOP("measure", "Lead in transition"),
         QT_TRANSLATE_NOOP("measure",
                           "By how much a part turns back before the club does. The pelvis "
                           "leads while the club is still going back."),
         QT_TRANSLATE_NOOP("measure", "ms; positive: before the club."),
         QT_TRANSLATE_NOOP("measure", "Tinmark et al. 2010."), Sketch::Peaks},
        {"recentre", QT_TRANSLATE_NOOP("measure", "Re-centring"),
         QT_TRANSLATE_NOOP("measure",
                           "By how much the pelvis starts back towards the target before the "
                           "top is reached. A slow change of direction is badly determined "
                           "in time, and says so."),
         QT_TRANSLATE_NOOP("measure", "ms; positive: before the top."), kPractice, Sketch::FaceOn},
        {"hip_drop", QT_TRANSLATE_NOOP("measure", "Drop of lead hip and pelvis"),
         QT_TRANSLATE_NOOP("measure",
                           "How much lower the lead hip joint is than the trail one, at the "
                           "top and least until the lead arm is level; and how far the "
                           "pelvis sinks after the top."),
         QT_TRANSLATE_NOOP("measure",
                           "Lead hip: positive while it is lower. Pelvis: negative when it "
                           "sinks."),
         kPractice, Sketch::FaceOn},
        {"at_ball", QT_TRANSLATE_NOOP("measure", "Fastest at the ball"),
         QT_TRANSLATE_NOOP("measure", "When the club is fastest, against impact."),
         QT_TRANSLATE_NOOP("measure", "ms; negative: before the ball, 0 is at it."), kPractice,
         Sketch::Peaks},
        {"force", QT_TRANSLATE_NOOP("measure", "Greatest vertical force"),
         QT_TRANSLATE_NOOP("measure",
                           "What both feet together press on the ground at most, from the "
                           "top to impact."),
         QT_TRANSLATE_NOOP("measure", "In body weights."),
         QT_TRANSLATE_NOOP("measure", "Ball & Best 2007."), Sketch::FaceOn},
        {"wrist_kept", QT_TRANSLATE_NOOP("measure", "Wrist hinge kept"),
         QT_TRANSLATE_NOOP("measure",
                           "How much of the hinge at the top is left when the shaft comes "
                           "level; a cast has little left."),
         QT_TRANSLATE_NOOP("measure", "In % of the hinge at the top."), kPractice, Sketch::Wrist},
        {"club_head_speed", QT_TRANSLATE_NOOP("measure", "Club-head speed"),
         QT_TRANSLATE_NOOP("measure",
                           "Speed of the club head just before impact. Hand speed, at the "
                           "wrist, is about a fifth of it."),
         QT_TRANSLATE_NOOP("measure", "In the unit chosen under View."), kPractice, Sketch::Wrist},
    };
    return kTexts;
}

const MeasureText* find_measure_text(const QString& key) {
    for (const MeasureText& text : all_measure_texts())
        if (key == QLatin1String(text.key))
            return &text;
    // Parts of the keys of single measures, the more telling ones first.
    struct Part {
        const char* part;
        const char* text;
    };
    constexpr std::array kParts{Part{"tempo", "tempo"},
                                Part{"fastest_at_ball", "at_ball"},
                                Part{"slowdown", "slow_down"},
                                Part{"before_impact", "peak"},
                                Part{"peak_deg_s", "peak"},
                                Part{"recentre", "recentre"},
                                Part{"drop", "hip_drop"},
                                Part{"lead_ms", "lead"},
                                Part{"separation", "separation"},
                                Part{"pelvis_turn", "pelvis_turn"},
                                Part{"torso_turn", "torso_turn"},
                                Part{"pelvis_sway", "pelvis_sway"},
                                Part{"pelvis_depth", "pelvis_depth"},
                                Part{"pelvis_lift", "pelvis_lift"},
                                Part{"hinge_path", "hinge_path"},
                                Part{"kept", "wrist_kept"},
                                Part{"wrist", "wrist_hinge"},
                                Part{"peak_total", "force"},
                                Part{"pressure", "pressure"},
                                Part{"speed", "club_head_speed"}};
    for (const Part& part : kParts)
        if (key.contains(QLatin1String(part.part)))
            return find_measure_text(QString::fromLatin1(part.text));
    return nullptr;
}

} // namespace kite::app
