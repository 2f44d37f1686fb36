#pragma once

#include "core/reading/rules.h"

#include <string>
#include <vector>

namespace kite {

/// One reason for a fault: a sentence template (docs/architecture.md, "Words"), the values that go
/// into its places {1}, {2} …, and the moment to which the reason leads.
struct Because {
    std::string text; ///< English template, translated when it is written out
    struct Value {
        double number = 0.0;
        int decimals = 0;
        std::string name; ///< a part's name to translate instead of a number
    };
    std::vector<Value> values;
    double t_s = kMissing;         ///< where to look
    std::vector<Segment> segments; ///< which curves to light up
    About about = About::Anything; ///< what of these parts it compares
};

/// A fault as it was judged on one swing.
struct Fault {
    std::string id;
    Phase phase = Phase::Downswing;
    Evidence evidence;            ///< empty: not judged
    std::vector<Because> because; ///< filled while the evidence is enough
    std::vector<std::string> leads_to;

    std::string title; ///< the rule's own words, English
    std::string why;
    std::string ball;
    std::vector<std::string> often_with; ///< flights and strikes, by key
    bool serves_goal = false;            ///< mending it serves what the golfer wants most
    double weight = 1.0;                 ///< in the choice of what to mend first
    std::string does_not_count;          ///< why the school does not count it; empty: it counts
    bool is_overruled = false;   ///< the instructor sees it otherwise: then too it does not count
    bool can_come_first = false; ///< out of turn, as the school has it
    bool applies = true;         ///< false: it says nothing with this club, or in this school
    Judged judged;               ///< from the measures to the evidence; lives as long as its rules

    bool is_present() const { return evidence && *evidence >= kEnoughEvidence; }
    bool counts() const { return does_not_count.empty(); }
};

/// Judges every rule, in the order of the book.
std::vector<Fault> judge_faults(const Analysis& analysis, const Rules& rules);

} // namespace kite
