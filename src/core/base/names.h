#pragma once

#include <array>
#include <optional>
#include <string>
#include <string_view>

/// Marks a text for translation; the translation itself happens in the application.
#define KITE_TR(text) text

namespace kite {

/// Body segments and the club. Their frames are described in docs/frames.md.
enum class Segment { Pelvis, Torso, LeadArm, Club, LeadForearm, Head, TrailArm };

inline constexpr std::array kAllSegments{Segment::Pelvis,  Segment::Torso,       Segment::LeadArm,
                                         Segment::Club,    Segment::LeadForearm, Segment::Head,
                                         Segment::TrailArm};

/// The four parts of the kinematic sequence, from the ground up.
inline constexpr std::array kSequence{Segment::Pelvis, Segment::Torso, Segment::LeadArm,
                                      Segment::Club};

/// Index of a sequence segment in arrays of four.
constexpr std::size_t index_of(Segment segment) {
    return static_cast<std::size_t>(segment);
}

/// Single points that a take may carry beside the segments.
enum class BodyPoint { LeadAnkle, TrailAnkle, LeadKnee, TrailKnee, LeadWrist, ClubHead, Head };

inline constexpr std::array kAllPoints{
    BodyPoint::LeadAnkle, BodyPoint::TrailAnkle, BodyPoint::LeadKnee, BodyPoint::TrailKnee,
    BodyPoint::LeadWrist, BodyPoint::ClubHead,   BodyPoint::Head};

/// The moments of a swing, in the order in which they come.
enum class Moment {
    Address,
    Takeaway,
    ShaftLevelBack,
    LeadArmLevelBack,
    Top,
    LeadArmLevelDown,
    ShaftLevelDown,
    Impact,
    ShaftLevelThrough,
    TrailArmLevelThrough,
    Finish
};

inline constexpr std::array kAllMoments{Moment::Address,
                                        Moment::Takeaway,
                                        Moment::ShaftLevelBack,
                                        Moment::LeadArmLevelBack,
                                        Moment::Top,
                                        Moment::LeadArmLevelDown,
                                        Moment::ShaftLevelDown,
                                        Moment::Impact,
                                        Moment::ShaftLevelThrough,
                                        Moment::TrailArmLevelThrough,
                                        Moment::Finish};

enum class Handedness { Right, Left };
enum class ClubKind { Driver, Wood, Iron, Wedge };

/// Keys as they stand in files and on the command line ("lead_arm", "shaft_level_down", "iron").
std::string_view key_of(Segment segment);
std::string_view key_of(BodyPoint point);
std::string_view key_of(Moment moment);
std::string_view key_of(Handedness handed);
std::string_view key_of(ClubKind club);

/// "pelvis", "lead arm" …; untranslated.
std::string_view name_of(Segment segment);
/// "address", "lead arm level down" …; untranslated.
std::string_view name_of(Moment moment);

/// The reverse; empty for an unknown key. Case matters: keys are lower case.
std::optional<Handedness> find_handedness(std::string_view key);
std::optional<ClubKind> find_club_kind(std::string_view key);

} // namespace kite
