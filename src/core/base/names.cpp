#include "core/base/names.h"

namespace kite {

std::string_view key_of(Segment segment) {
    switch (segment) {
    case Segment::Pelvis:
        return "pelvis";
    case Segment::Torso:
        return "torso";
    case Segment::LeadArm:
        return "lead_arm";
    case Segment::Club:
        return "club";
    case Segment::LeadForearm:
        return "lead_forearm";
    case Segment::Head:
        return "head";
    case Segment::TrailArm:
        return "trail_arm";
    }
    return "";
}

std::string_view key_of(BodyPoint point) {
    switch (point) {
    case BodyPoint::LeadAnkle:
        return "lead_ankle";
    case BodyPoint::TrailAnkle:
        return "trail_ankle";
    case BodyPoint::LeadKnee:
        return "lead_knee";
    case BodyPoint::TrailKnee:
        return "trail_knee";
    case BodyPoint::LeadWrist:
        return "lead_wrist";
    case BodyPoint::ClubHead:
        return "club_head";
    case BodyPoint::Head:
        return "head_centre";
    }
    return "";
}

std::string_view key_of(Moment moment) {
    switch (moment) {
    case Moment::Address:
        return "address";
    case Moment::Takeaway:
        return "takeaway";
    case Moment::ShaftLevelBack:
        return "shaft_level_back";
    case Moment::LeadArmLevelBack:
        return "lead_arm_level_back";
    case Moment::Top:
        return "top";
    case Moment::LeadArmLevelDown:
        return "lead_arm_level_down";
    case Moment::ShaftLevelDown:
        return "shaft_level_down";
    case Moment::Impact:
        return "impact";
    case Moment::ShaftLevelThrough:
        return "shaft_level_through";
    case Moment::TrailArmLevelThrough:
        return "trail_arm_level_through";
    case Moment::Finish:
        return "finish";
    }
    return "";
}

std::string_view key_of(Handedness handed) {
    return handed == Handedness::Left ? "left" : "right";
}

std::string_view key_of(ClubKind club) {
    switch (club) {
    case ClubKind::Driver:
        return "driver";
    case ClubKind::Wood:
        return "wood";
    case ClubKind::Iron:
        return "iron";
    case ClubKind::Wedge:
        return "wedge";
    }
    return "";
}

std::string_view name_of(Segment segment) {
    switch (segment) {
    case Segment::Pelvis:
        return KITE_TR("pelvis");
    case Segment::Torso:
        return KITE_TR("torso");
    case Segment::LeadArm:
        return KITE_TR("lead arm");
    case Segment::Club:
        return KITE_TR("club");
    case Segment::LeadForearm:
        return KITE_TR("lead forearm");
    case Segment::Head:
        return KITE_TR("head");
    case Segment::TrailArm:
        return KITE_TR("trail arm");
    }
    return "";
}

std::string_view name_of(Moment moment) {
    switch (moment) {
    case Moment::Address:
        return KITE_TR("address");
    case Moment::Takeaway:
        return KITE_TR("takeaway");
    case Moment::ShaftLevelBack:
        return KITE_TR("shaft level back");
    case Moment::LeadArmLevelBack:
        return KITE_TR("lead arm level back");
    case Moment::Top:
        return KITE_TR("top");
    case Moment::LeadArmLevelDown:
        return KITE_TR("lead arm level down");
    case Moment::ShaftLevelDown:
        return KITE_TR("shaft level down");
    case Moment::Impact:
        return KITE_TR("impact");
    case Moment::ShaftLevelThrough:
        return KITE_TR("shaft level through");
    case Moment::TrailArmLevelThrough:
        return KITE_TR("trail arm level through");
    case Moment::Finish:
        return KITE_TR("finish");
    }
    return "";
}

std::optional<Handedness> find_handedness(std::string_view key) {
    if (key == "right")
        return Handedness::Right;
    if (key == "left")
        return Handedness::Left;
    return std::nullopt;
}

std::optional<ClubKind> find_club_kind(std::string_view key) {
    for (ClubKind club : {ClubKind::Driver, ClubKind::Wood, ClubKind::Iron, ClubKind::Wedge})
        if (key == key_of(club))
            return club;
    return std::nullopt;
}

} // namespace kite
