#include "core/catalogue/topic.h"

#include "core/base/names.h"

#include <algorithm>

namespace kite {

namespace {

const char* const kBaker = KITE_TR("Angle order after Baker 2001.");
const char* const kPractice = KITE_TR("Common practice, no source.");
const char* const kDefinition = KITE_TR("Definition.");

} // namespace

const std::vector<Topic>& all_topics() {
    static const std::vector<Topic> kTopics{
        {"rate", KITE_TR("Rotation speed"),
         KITE_TR("How fast a part turns. Pelvis and torso: about their own long axis. Lead "
                 "arm and club: how fast their direction changes, their roll left out. "
                 "Other ways are chosen under Rates."),
         KITE_TR("Positive in the direction of the downswing, in °/s."),
         KITE_TR("Angular velocity from rotation increments; low-pass after "
                 "Winter 2009."),
         Picture::Peaks},
        {"peak", KITE_TR("Peak, and its time"),
         KITE_TR("The part's greatest rotation speed between the first reversal and 0.05 s "
                 "after impact. The width drawn about it holds the true time in 95 of 100 "
                 "swings."),
         KITE_TR("Speed in °/s; time in ms, negative before impact."),
         KITE_TR("Order of the peaks: Putnam 1993; Cheetham et al. 2008."), Picture::Peaks},
        {"order", KITE_TR("Order of the peaks"),
         KITE_TR("The parts by the time of their peaks; pelvis, torso, lead arm, club is "
                 "in order. Two peaks closer than twice their uncertainty are tied."),
         KITE_TR("The certainty is the chance that this order is the true one."),
         KITE_TR("Putnam 1993; Cheetham et al. 2008; Neal et al. 2007."), Picture::Peaks},
        {"reversal", KITE_TR("Reversal"),
         KITE_TR("The last moment before its peak at which a part turns from back "
                 "to down. Pelvis first is usual, while the club still goes "
                 "back."),
         KITE_TR("Time in ms, negative before impact."), KITE_TR("Tinmark et al. 2010."),
         Picture::Peaks},
        {"slow_down", KITE_TR("Slow-down"),
         KITE_TR("What a part has given up of its peak speed when the club meets "
                 "the ball. Slowing down is not stopping."),
         KITE_TR("In % of the peak; positive: slower at impact."), kDefinition, Picture::Peaks},
        {"tempo", KITE_TR("Tempo"),
         KITE_TR("Time from takeaway to the top, over the time from the top to "
                 "impact."),
         KITE_TR("A ratio; about 3 to 1 is usual."), KITE_TR("Grober & Cholewicki 2006."),
         Picture::Phases},
        {"moment", KITE_TR("Moment"),
         KITE_TR("A place in the swing that everybody knows: address, takeaway, "
                 "shaft or lead arm level, top, impact, finish. Found between "
                 "the frames; every one can be moved by hand."),
         KITE_TR("ms from impact, negative before; known to ± one standard "
                 "uncertainty."),
         kDefinition, Picture::Phases},
        {"pelvis_turn", KITE_TR("Pelvis turn"),
         KITE_TR("Direction of the hip line, seen from above, against the target "
                 "line."),
         KITE_TR("Degrees; open to the target is positive, closed negative."), kBaker,
         Picture::FromAbove},
        {"torso_turn", KITE_TR("Torso turn"),
         KITE_TR("Direction of the chest's line from trail to lead side, seen from "
                 "above, against the target line."),
         KITE_TR("Degrees; open to the target is positive, closed negative."),
         KITE_TR("Baker 2001; axes of the thorax after Wu et al. 2005."), Picture::FromAbove},
        {"separation", KITE_TR("Separation and stretch"),
         KITE_TR("Pelvis turn minus torso turn, from above; or the turn between "
                 "them about the spine. Stretch is how much it grows after the "
                 "top. The two ways differ by some degrees when the body bends "
                 "sideways."),
         KITE_TR("Degrees; positive while the torso is more closed."),
         KITE_TR("Cheetham et al. 2001; Wheat et al. 2007."), Picture::FromAbove},
        {"hinge_path", KITE_TR("Hinge and its path"),
         KITE_TR("The point about which the pelvis pivots at this instant, seen "
                 "from above; only while it turns faster than 60 °/s."),
         KITE_TR("Along the hip line, −1 at the trail, +1 at the lead hip joint."),
         KITE_TR("Instantaneous centre of rotation, textbook kinematics."), Picture::FromAbove},
        {"pelvis_sway", KITE_TR("Pelvis sway"),
         KITE_TR("How far the middle between the hip joints has moved along the "
                 "target line since address."),
         KITE_TR("Positive: towards the target."), kPractice, Picture::FaceOn},
        {"pelvis_depth", KITE_TR("Pelvis depth"),
         KITE_TR("How far the middle between the hip joints has moved away from "
                 "the ball since address. Moving to the ball is early "
                 "extension."),
         KITE_TR("Positive: away from the ball."), kPractice, Picture::DownTheLine},
        {"pelvis_lift", KITE_TR("Pelvis lift"),
         KITE_TR("How far the middle between the hip joints has risen since "
                 "address."),
         KITE_TR("Positive: up."), kPractice, Picture::FaceOn},
        {"pelvis_tilt", KITE_TR("Pelvis side tilt"), KITE_TR("Slope of the hip line."),
         KITE_TR("Degrees; positive: lead side higher."), kBaker, Picture::FaceOn},
        {"pelvis_bend", KITE_TR("Pelvis forward bend"),
         KITE_TR("Lean of the pelvis about the hip line."),
         KITE_TR("Degrees; positive: towards the ball."), kBaker, Picture::DownTheLine},
        {"torso_sway", KITE_TR("Torso sway"),
         KITE_TR("How far the base of the neck has moved along the target line "
                 "since address."),
         KITE_TR("Positive: towards the target."), kPractice, Picture::FaceOn},
        {"torso_depth", KITE_TR("Torso depth"),
         KITE_TR("How far the base of the neck has moved away from the ball since address."),
         KITE_TR("Positive: away from the ball."), kPractice, Picture::DownTheLine},
        {"torso_lift", KITE_TR("Torso lift"),
         KITE_TR("How far the base of the neck has risen since address."), KITE_TR("Positive: up."),
         kPractice, Picture::FaceOn},
        {"torso_tilt", KITE_TR("Torso side tilt"),
         KITE_TR("Slope of the chest's line from trail to lead side."),
         KITE_TR("Degrees; positive: lead side higher."), kBaker, Picture::FaceOn},
        {"torso_bend", KITE_TR("Torso forward bend"),
         KITE_TR("Lean of the torso about its line from trail to lead side."),
         KITE_TR("Degrees; positive: towards the ball."), kBaker, Picture::DownTheLine},
        {"wrist_hinge", KITE_TR("Wrist hinge"),
         KITE_TR("Angle between the lead forearm (the arm, where no forearm was "
                 "captured) and the shaft."),
         KITE_TR("Degrees; 0° is one line, about 90° at the top is usual."), kPractice,
         Picture::Wrist},
        {"lead_knee", KITE_TR("Lead knee flex"),
         KITE_TR("Angle between the lines from hip joint to knee and from knee to "
                 "ankle."),
         KITE_TR("Degrees; 0° is straight."), kPractice, Picture::FaceOn},
        {"pressure", KITE_TR("Lead pressure"),
         KITE_TR("Share of the vertical force that the lead foot bears."),
         KITE_TR("% of both feet together."), KITE_TR("Ball & Best 2007."), Picture::FaceOn},
        {"lead", KITE_TR("Lead in transition"),
         KITE_TR("By how much a part turns back before the club does. The pelvis "
                 "leads while the club is still going back."),
         KITE_TR("ms; positive: before the club."), KITE_TR("Tinmark et al. 2010."),
         Picture::Peaks},
        {"recentre", KITE_TR("Re-centring"),
         KITE_TR("By how much the pelvis starts back towards the target before the "
                 "top is reached. A slow change of direction is badly determined "
                 "in time, and says so."),
         KITE_TR("ms; positive: before the top."), kPractice, Picture::FaceOn},
        {"hip_drop", KITE_TR("Drop of lead hip and pelvis"),
         KITE_TR("How much lower the lead hip joint is than the trail one, at the "
                 "top and least until the lead arm is level; and how far the "
                 "pelvis sinks after the top."),
         KITE_TR("Lead hip: positive while it is lower. Pelvis: negative when it "
                 "sinks."),
         kPractice, Picture::FaceOn},
        {"at_ball", KITE_TR("Fastest at the ball"),
         KITE_TR("When the club is fastest, against impact."),
         KITE_TR("ms; negative: before the ball, 0 is at it."), kPractice, Picture::Peaks},
        {"force", KITE_TR("Greatest vertical force"),
         KITE_TR("What both feet together press on the ground at most, from the "
                 "top to impact."),
         KITE_TR("In body weights."), KITE_TR("Ball & Best 2007."), Picture::FaceOn},
        {"wrist_kept", KITE_TR("Wrist hinge kept"),
         KITE_TR("How much of the hinge at the top is left when the shaft comes "
                 "level; a cast has little left."),
         KITE_TR("In % of the hinge at the top."), kPractice, Picture::Wrist},
        {"club_head_speed", KITE_TR("Club-head speed"),
         KITE_TR("Speed of the club head just before impact. Hand speed, at the "
                 "wrist, is about a fifth of it."),
         KITE_TR("In the unit chosen under View."), kPractice, Picture::Wrist},
        {"trail_knee", KITE_TR("Trail knee flex"),
         KITE_TR("Angle between the lines from hip joint to knee and from knee to ankle, on the "
                 "trail side."),
         KITE_TR("Degrees; 0° is straight."), kPractice, Picture::FaceOn},
        {"trail_shin", KITE_TR("Trail shin"),
         KITE_TR(
             "Angle of the trail shin to the ground as seen from the front, ankle to knee: 90° is "
             "upright, less is a knee that has gone to the target."),
         KITE_TR("Degrees; about 60 to 65° at impact is usual, about 80° goes with hanging back."),
         kPractice, Picture::FaceOn},
        {"arm_across", KITE_TR("Lead arm across the chest"),
         KITE_TR("Direction from the lead shoulder to the wrist as the torso sees it from its own "
                 "top: from straight ahead towards the trail side."),
         KITE_TR("Degrees; 0° straight ahead, positive across the chest."), kPractice,
         Picture::FromAbove},
        {"lead_elbow", KITE_TR("Lead elbow flex"),
         KITE_TR("Angle between upper arm and forearm of the lead side."),
         KITE_TR("Degrees; 0° is straight."), kPractice, Picture::FaceOn},
        {"hand_height", KITE_TR("Hand height"),
         KITE_TR("How far the wrist centre is above the base of the neck."),
         KITE_TR("Positive: above."), kPractice, Picture::FaceOn},
        {"head", KITE_TR("Head"),
         KITE_TR("How far the middle of the head has moved along the target line, and risen, since "
                 "address."),
         KITE_TR("Positive: towards the target; up."), kPractice, Picture::FaceOn},
        {"pelvis_lean", KITE_TR("Pelvis from the vertical"),
         KITE_TR("Angle of the pelvis' own long axis from the vertical, whichever way it leans."),
         KITE_TR("Degrees; 0° is upright."), kPractice, Picture::DownTheLine},
        {"spine_lean", KITE_TR("Spine lean"),
         KITE_TR("Lean of the torso's long axis in the picture face-on."),
         KITE_TR("Degrees; positive: towards the target."), kPractice, Picture::FaceOn},
        {"hip_places", KITE_TR("Hip joints"),
         KITE_TR("How far a hip joint has moved back from the ball or up since address, and how "
                 "far it is outside its ankle along the target line."),
         KITE_TR("Positive: back; up; outside the ankle."), kPractice, Picture::FromAbove},
        {"shaft_lean", KITE_TR("Shaft lean"),
         KITE_TR("Slope of the shaft just before impact, seen face-on."),
         KITE_TR("Degrees; positive: the grip is ahead of the head."), kPractice, Picture::FaceOn},
        {"attack", KITE_TR("Attack"), KITE_TR("Slope of the club head's way just before impact."),
         KITE_TR("Degrees; positive: upwards."), kPractice, Picture::FaceOn},
        {"path", KITE_TR("Path"),
         KITE_TR("Direction of the club head's way just before impact, from above."),
         KITE_TR("Degrees; positive: from inside to outside."), kPractice, Picture::FromAbove},
        {"low_point", KITE_TR("Low point"),
         KITE_TR("Where the club head's arc is lowest, from its last 0.03 s before impact, against "
                 "the head at impact."),
         KITE_TR("cm; positive: ahead of the ball."), kPractice, Picture::FaceOn},
        {"stance", KITE_TR("Stance"),
         KITE_TR("Distance of the ankles at address; and where along it the club head stands."),
         KITE_TR("Ball: 0 in the middle, 1 at the lead ankle, \u22121 at the trail one."),
         kPractice, Picture::FaceOn},
        {"start_back", KITE_TR("Start of the backswing"),
         KITE_TR("By how much a part begins to turn back before the club does: going back from its "
                 "fastest moment, where it first falls below a twentieth of that."),
         KITE_TR("ms; positive: before the club."), kPractice, Picture::Peaks},
    };
    return kTopics;
}

const Topic* find_topic(std::string_view key) {
    const auto& topics = all_topics();
    const auto found = std::find_if(topics.begin(), topics.end(),
                                    [&](const Topic& topic) { return key == topic.key; });
    return found == topics.end() ? nullptr : &*found;
}

} // namespace kite
