#pragma once

#include "core/base/findings.h"
#include "core/reading/term.h"

#include <array>
#include <map>
#include <optional>
#include <string>
#include <vector>

namespace kite {

enum class PracticePlace { Indoors, Range };
std::string_view key_of(PracticePlace place);
std::optional<PracticePlace> find_practice_place(std::string_view key);

/// From here on, up to there, in the unit of the drill's measure; a missing end is open.
struct DrillBand {
    double from = kMissing;
    double to = kMissing;

    bool holds(double value) const;
};

/// A body in a few numbers, for a line drawing. Degrees and cm; turns as in the measures (open is
/// positive), arms and hinge forward in the swing are positive.
struct DrillPose {
    double pelvis_turn_deg = 0.0;
    double torso_turn_deg = 0.0;
    double forward_bend_deg = 30.0;
    double side_tilt_deg = 0.0;
    double sway_cm = 0.0;
    double depth_cm = 0.0; ///< away from the ball
    double lift_cm = 0.0;
    double lead_foot_cm = 22.0; ///< along the target line
    double trail_foot_cm = -22.0;
    bool arms_crossed = false;
    double arms_deg = 0.0;           ///< from hanging down, in the plane of the chest
    std::optional<double> hinge_deg; ///< of the club against the arms; empty: no club
};

struct DrillProp {
    enum class Shape { Line, Block, Ball };
    Shape shape = Shape::Line;
    std::array<double, 3> at_cm{};
    std::array<double, 3> to_cm{}; ///< of a ball: its place again
};

struct DrillFigure {
    enum class View { FaceOn, DownTheLine };
    View view = View::FaceOn;
    std::vector<DrillPose> poses; ///< one to three, in time
    std::vector<DrillProp> props;
};

inline constexpr int kFirstRung = 1;
inline constexpr int kLastRung = 6;

/// An exercise, complete enough to be done alone. All texts English.
struct Drill {
    std::string id;
    std::string title;
    std::string purpose;
    std::vector<std::string> faults; ///< ids
    std::vector<std::string> needs;
    std::vector<PracticePlace> places;
    std::string set_up;
    std::vector<std::string> steps;
    std::string feel;
    std::string check; ///< what the golfer alone can see, touch or hear when it is right
    std::string sides; ///< with lead and trail side
    std::string part_swing;
    Term measure;
    DrillBand rehearsal; ///< exaggerated and slow
    DrillBand swing;     ///< what should be left of it in the real swing
    int first_rung = kFirstRung;
    int last_rung = kLastRung;
    std::vector<std::string> cautions; ///< keys of the book
    std::vector<std::string> not_for;  ///< limits of a golfer that rule it out, keys of the book
    DrillFigure figure;

    bool is_for(const std::string& fault) const;
    bool can_be_done(PracticePlace place) const;
};

struct DrillBook {
    std::vector<Drill> drills;
    std::map<std::string, std::string> cautions; ///< key → sentence; "always" and "coach" with all
    std::map<std::string, std::string> limits;   ///< key → name

    /// What decides a fault, by its id: what swings are counted by where a drill is done against
    /// it, whatever the drill would be judged by otherwise. A fault must not pass its own drill.
    struct Deciding {
        Term measure;
        DrillBand rehearsal;
        DrillBand swing;
    };
    std::map<std::string, Deciding> counts;
    /// Drills with the measure of a fault in the place of their own, by fault and drill; made by
    /// settle().
    std::map<std::pair<std::string, std::string>, Drill> counted;

    const Drill* find(const std::string& id) const;
    /// As it is counted against a fault; empty or unknown: by its own measure.
    const Drill* find(const std::string& id, const std::string& fault) const;
    /// Once, when all of it is read.
    void settle();
};

/// What is looked for; empty members ask for nothing.
struct DrillWish {
    std::string words; ///< in title, purpose, needs and texts, all of them, whatever the case
    std::string fault;
    std::optional<PracticePlace> place;
    std::string needs;                  ///< a word of what is needed; "nothing": what needs nothing
    std::string caution;                ///< a key: only drills with it
    std::vector<std::string> limits;    ///< drills against one of these are left out
    std::vector<std::string> preferred; ///< ids; these come first, in this order
};
std::vector<const Drill*> find_drills(const DrillBook& book, const DrillWish& wish);

/// The cautions shown with a drill: those that hold always first, its own next.
std::vector<std::string> cautions_of(const DrillBook& book, const Drill& drill);

/// "1, no club" … "6, full swing".
std::string name_of_rung(int rung);

} // namespace kite
