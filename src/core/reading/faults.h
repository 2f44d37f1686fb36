#pragma once

#include "core/measures/analyse.h"
#include "core/reading/evidence.h"

#include <string>
#include <vector>

namespace kite {

/// Earlier phases come first: a fault is traced back to the earliest one.
enum class Phase { Backswing, Transition, Downswing, FollowThrough };
std::string_view key_of(Phase phase);

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
    enum class About { Anything, Peaks, Reversals };
    About about = About::Anything; ///< what of these parts it compares
};

struct Fault {
    std::string id;
    Phase phase = Phase::Downswing;
    Evidence evidence;            ///< empty: not judged
    std::vector<Because> because; ///< filled while the evidence is enough
    std::vector<std::string> leads_to;

    bool is_present() const { return evidence && *evidence >= kEnoughEvidence; }
};

/// Judges every rule that is built so far, in order of phase. Limits: common practice, no source.
std::vector<Fault> judge_faults(const Analysis& analysis);

} // namespace kite
