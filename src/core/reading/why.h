#pragma once

#include "core/base/language.h"
#include "core/reading/reading.h"

#include <string>
#include <vector>

namespace kite {

/// What a number would have to become for a verdict to change.
struct NeededChange {
    const Judged* judged = nullptr; ///< of the fault
    double to = kMissing;           ///< in the term's own unit
};

/// A verdict changes when all of these come about; empty: nothing that can be named would do.
using NeededChanges = std::vector<NeededChange>;

/// The least that takes the evidence across kEnoughEvidence: clears a fault that is present, brings
/// one that is not. Of several ways the one that asks for the smallest share of the spreads (width
/// of the limit joined with the uncertainty of the measure) is named.
NeededChanges changes_of(const Judged& judged);

/// One step from the measures up to a verdict.
struct WhyStep {
    int depth = 0; ///< 0: the verdict's own condition
    const Judged* judged = nullptr;
    double weight = kMissing; ///< in a group that goes by weight
    double t_s = kMissing;    ///< where to look
};

/// The chain of one fault. Points into the reading and its rules.
struct Why {
    const Fault* fault = nullptr;
    std::vector<WhyStep> steps; ///< from the verdict down
    NeededChanges changes;
    std::vector<const Fault*> explains; ///< present faults that it leads to
    std::vector<const Fault*> behind;   ///< present faults that lead to it
};
Why explain(const Fault& fault, const Reading& reading, const Analysis& analysis);

/// What is listed: the first fix, then the present faults that count by what they explain, then
/// those that the school does not count.
std::vector<const Fault*> listed_faults(const Reading& reading);

/// What a step looks at: "pelvis turn at top", or how a group goes together.
std::string what_of(const WhyStep& step, const Language& language = {});
/// Value with its 95 % interval against its limit; empty of a group.
std::string numbers_of(const WhyStep& step, const Language& language = {});
/// How strongly it speaks: "evidence 0.92", "not judged".
std::string evidence_of(const Evidence& evidence, const Language& language = {});
/// What would change the verdict.
std::string change_of(const Why& why, const Language& language = {});
/// Why the first fix comes first: what it explains, against the next candidate.
std::string first_of(const Reading& reading, const Language& language = {});

} // namespace kite
