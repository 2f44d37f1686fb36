#pragma once

#include "core/reading/evidence.h"
#include "core/reading/term.h"

#include <map>
#include <set>
#include <string>
#include <vector>

namespace kite {

/// Earlier phases come first: a fault is traced back to the earliest one. What is found of the
/// set-up is a note beside the faults, where they may begin; it is no fault of the swing.
enum class Phase { SetUp, Backswing, Transition, Downswing, FollowThrough };
std::string_view key_of(Phase phase);
std::optional<Phase> find_phase(std::string_view key);

/// How the golfer usually brings the club face to the ball.
enum class FaceHabit { Square, Shut, Open };
std::string_view key_of(FaceHabit face);
std::optional<FaceHabit> find_face(std::string_view key);

/// What the golfer wants most.
enum class Goal { NotSaid, Speed, Straight, Strike, Strain };
std::string_view key_of(Goal goal);
std::optional<Goal> find_goal(std::string_view key);

/// A limit that a condition compares with, by name, so that schools, clubs and face habits can
/// change it. `width` is how soft it is (a standard deviation), in the same unit.
struct Limit {
    double value = kMissing;
    double width = kMissing;
    std::string source;
    std::map<ClubKind, double> by_club;
    std::map<FaceHabit, double> by_face; ///< counts before the club
};

/// A sentence for a reason. {value} and {limit} stand for the numbers, without a sign. Where the
/// sign matters there is a text for each; empty ones fall back on the plain one.
struct ReasonText {
    std::string plain;
    std::string zero;     ///< the value rounds to nought
    std::string negative; ///< it is below
    int decimals = 0;
};

/// What parts a reason compares, for what is lit in the charts.
enum class About { Anything, Peaks, Reversals };

/// A condition on a swing: on one term, or on several conditions together.
struct Condition {
    enum class Kind {
        Above,   ///< the term is above the limit …
        Below,   ///< … or below it
        All,     ///< the weakest counts
        Any,     ///< the strongest counts
        Weighted ///< mean by weight of those that can be judged
    };
    Kind kind = Kind::Above;
    Term term;
    std::string limit;
    /// The limit is no nearer to nought than so many standard uncertainties of the term: what is
    /// tied is not exchanged.
    double beyond_u = 0.0;
    /// The limit is nearer to nought by so many standard uncertainties of the term: what may well
    /// lie beyond it is not held to lie within. Where nothing is left of the limit it is not
    /// judged.
    double short_of_u = 0.0;
    ReasonText because;
    std::vector<Segment> parts; ///< whose curves show it
    About about = About::Anything;
    std::optional<Term> look; ///< where it is looked at, if not where the term is

    std::vector<Condition> of;
    std::vector<double> weights;  ///< of Weighted, one each
    bool say_strongest = false;   ///< of Any: the strongest reason alone
    bool complete = false;        ///< of Any: only what was all judged can be said not to be there
    std::set<ClubKind> not_with;  ///< clubs with which it says nothing
    std::set<ClubKind> only_with; ///< clubs with which alone it says something; empty: all
};

/// The conditions on one number of which a condition is made, itself if it is one.
std::vector<const Condition*> leaves_of(const Condition& condition);

/// A fault as it stands in a file.
struct FaultRule {
    std::string id;
    std::string title;
    std::string why;  ///< what should happen instead
    std::string ball; ///< what goes with it, and how that should change
    Phase phase = Phase::Downswing;
    Condition when;
    std::vector<std::string> leads_to;
    std::vector<std::string> often_with; ///< ball flights and strikes, by key
    std::map<ClubKind, double> weight_by_club;
};

/// All rules that a reading goes by.
struct RuleBook {
    std::vector<FaultRule> faults;
    std::map<std::string, Limit> limits;

    const FaultRule* find(const std::string& id) const;
};

/// What a school changes. Measures never change with it.
struct School {
    std::string id = "none";
    std::string name;
    std::string believes;
    std::map<std::string, Limit> limits;         ///< in place of the book's
    std::map<std::string, double> weights;       ///< of faults; 1 where none is given
    std::map<std::string, std::string> no_fault; ///< id → why it does not count here
    std::map<std::string, std::string> not_judged;
    std::vector<FaultRule> adds;
    bool own_baseline = false; ///< no ranges of other people: the golfer's own, or none
    std::map<std::string, std::string> answers;
    std::vector<std::string> cues;
    std::vector<std::string> avoid;
    std::vector<std::string> drills;
    std::vector<std::string> can_come_first; ///< faults that may be the first fix out of turn
};

/// The rules and what is known beside the swing.
struct Rules {
    RuleBook book;
    School school;
    FaceHabit face = FaceHabit::Square;
    Goal goal = Goal::NotSaid;          ///< moves the choice among near-equals
    std::string school_source = "none"; ///< as it was asked for: an id, or a file

    /// The limit that holds for a club; nullopt: none of this name, or the school does not use it.
    std::optional<Limit> limit(const std::string& name, ClubKind club) const;
    /// Where a limit comes from; empty: there is none of this name.
    std::string source_of(const std::string& limit) const;
    double weight(const FaultRule& fault, ClubKind club) const;
    const FaultRule* find(const std::string& id) const; ///< of the book or added by the school
    std::vector<const FaultRule*> all_faults() const;
};

/// Does a fault go with what stands in the way of a goal?
bool serves(const FaultRule& fault, Goal goal);

/// A condition with what was found.
struct Judged {
    const Condition* condition = nullptr;
    Measured value;
    double limit = kMissing; ///< as it holds here, `beyond_u` included
    double width = kMissing;
    Evidence evidence;   ///< empty: not judged
    bool silent = false; ///< says nothing with this club, or in this school
    std::vector<Judged> of;

    /// By how much the term would have to change for this to speak no longer (evidence 0.5);
    /// missing of a group.
    double to_clear() const { return limit - value.value; }
};
Judged judge(const Condition& condition, const Rules& rules, const Analysis& analysis);

/// Two faults that lead to each other, by whatever way; empty: there is no such cycle.
std::vector<std::string> find_cycle(const RuleBook& book);

} // namespace kite
