#pragma once

#include "core/measures/analyse.h"
#include "core/reading/faults.h"

#include <map>
#include <optional>
#include <string>
#include <vector>

namespace kite {

/// What one swing says: the faults with their evidence, the one to mend first, and what is good.
struct Reading {
    std::vector<Fault> faults;
    std::vector<Fault> set_up;            ///< notes: where faults may begin, never the first fix
    std::optional<std::string> first_fix; ///< id; empty: no fault has enough evidence
    std::vector<std::string> explained;   ///< present faults that the first fix leads to
    bool goal_decided = false;            ///< another would be first without the golfer's goal
    std::vector<Because> good;

    const Fault* find(const std::string& id) const; ///< a fault or a note
    /// Notes with enough evidence; first those from which the first fix may come, by whatever way.
    std::vector<const Fault*> noted() const;
    bool may_begin_with(const Fault& note) const; ///< the first fix
    /// Do the first fix or what it leads to give a reason that compares these two parts so?
    bool names(About about, Segment a, Segment b) const;
};

/// The first fix is the present fault that explains most of the evidence at and after it, by the
/// weights of school and club; equal candidates: the earlier phase wins, then the stronger
/// evidence. The rules must outlive the reading.
Reading read_swing(const Analysis& analysis, const Rules& rules);

/// What the instructor sees otherwise does not count, and another may come first. `reasons`: by the
/// fault's id.
void overrule(Reading& reading, const std::map<std::string, std::string>& reasons);

/// By weight, the evidence of a present fault and of all present ones that it leads to by whatever
/// way: the largest comes first.
double explained_evidence(const std::vector<Fault>& faults, const Fault& fault);

/// Chooses the first fix among the faults of a reading, and what it explains.
void choose(Reading& reading);

/// Choosing alone, for any set of judged faults.
std::optional<std::string> choose_first_fix(const std::vector<Fault>& faults);

} // namespace kite
