#include "core/reading/reading.h"

#include "core/base/units.h"
#include "core/reading/words.h"

#include <algorithm>
#include <cmath>
#include <set>

namespace kite {

namespace {

const Fault* find_fault(const std::vector<Fault>& faults, const std::string& id) {
    const auto found = std::find_if(faults.begin(), faults.end(),
                                    [&](const Fault& fault) { return fault.id == id; });
    return found == faults.end() ? nullptr : &*found;
}

/// Present faults that can be reached along "leads to", the fault itself left out.
std::vector<std::string> reachable(const std::vector<Fault>& faults, const Fault& from) {
    std::set<std::string> seen{from.id};
    std::vector<std::string> open = from.leads_to;
    std::vector<std::string> out;
    while (!open.empty()) {
        const std::string id = open.back();
        open.pop_back();
        if (!seen.insert(id).second)
            continue;
        const Fault* fault = find_fault(faults, id);
        if (fault == nullptr)
            continue;
        if (fault->is_present() && fault->counts())
            out.push_back(id);
        open.insert(open.end(), fault->leads_to.begin(), fault->leads_to.end());
    }
    return out;
}

/// What is good, from the trade's own picture of a good swing (common practice, no source).
std::vector<Because> find_good(const Analysis& analysis) {
    std::vector<Because> good;
    const auto number = [](double value, int decimals = 0) {
        return Because::Value{value, decimals, {}};
    };
    const auto& all = kSequence;
    const Sequence& sequence = analysis.sequence;
    const Transition& transition = analysis.transition;
    const double impact = analysis.moments.time_s(Moment::Impact);

    if (transition.pelvis_lead_ms >= 20.0 && !transition.reversal_order.empty() &&
        transition.reversal_order.front() == Segment::Pelvis)
        good.push_back({KITE_TR("The pelvis starts down first, {1} ms before the club."),
                        {number(transition.pelvis_lead_ms)},
                        sequence.find(Segment::Pelvis)->reversal_t_s,
                        {Segment::Pelvis}});
    const bool in_order = sequence.order.size() == all.size() &&
                          std::equal(all.begin(), all.end(), sequence.order.begin()) &&
                          sequence.tied.empty();
    if (in_order)
        good.push_back({KITE_TR("The peaks come in order: pelvis, torso, lead arm, club."),
                        {},
                        sequence.find(Segment::Pelvis)->peak_t_s,
                        {all.begin(), all.end()}});
    bool faster = sequence.order.size() == all.size();
    for (Segment segment : {Segment::Torso, Segment::LeadArm, Segment::Club})
        faster = faster && sequence.find(segment)->gain > 1.0;
    if (faster)
        good.push_back({KITE_TR("Each part turns faster than the one before, up to {1} °/s."),
                        {number(sequence.find(Segment::Club)->peak_deg_s)},
                        sequence.find(Segment::Club)->peak_t_s,
                        {all.begin(), all.end()}});
    if (sequence.fastest_at_ball_ms >= -12.0 && sequence.fastest_at_ball_ms <= 5.0)
        good.push_back({KITE_TR("The club is fastest at the ball."), {}, impact, {Segment::Club}});
    if (analysis.separation) {
        const Separation& separation = *analysis.separation;
        if (separation.stretch_deg >= 2.0)
            good.push_back({KITE_TR("The stretch grows by {1}° after the top."),
                            {number(separation.stretch_deg)},
                            separation.max_t_s,
                            {Segment::Pelvis, Segment::Torso}});
        if (separation.at_impact_deg >= 10.0)
            good.push_back({KITE_TR("At impact the pelvis is {1}° more open than the torso."),
                            {number(separation.at_impact_deg)},
                            impact,
                            {Segment::Pelvis, Segment::Torso}});
    }
    if (std::abs(analysis.tempo.ratio - 3.0) <= 0.5)
        good.push_back({KITE_TR("The tempo is {1} to 1."),
                        {number(analysis.tempo.ratio, 1)},
                        analysis.moments.time_s(Moment::Top),
                        {}});
    return good;
}

} // namespace

double explained_evidence(const std::vector<Fault>& faults, const Fault& fault) {
    double sum = fault.weight * *fault.evidence;
    for (const std::string& id : reachable(faults, fault)) {
        const Fault& other = *find_fault(faults, id);
        sum += other.weight * *other.evidence;
    }
    return sum;
}

const Fault* Reading::find(const std::string& id) const {
    const Fault* fault = find_fault(faults, id);
    return fault != nullptr ? fault : find_fault(set_up, id);
}

bool Reading::may_begin_with(const Fault& note) const {
    const std::vector<std::string> ways = reachable(faults, note);
    return first_fix && std::find(ways.begin(), ways.end(), *first_fix) != ways.end();
}

std::vector<const Fault*> Reading::noted() const {
    std::vector<const Fault*> out;
    for (const bool leading : {true, false})
        for (const Fault& note : set_up)
            if (note.is_present() && note.counts() && may_begin_with(note) == leading)
                out.push_back(&note);
    return out;
}

bool Reading::names(About about, Segment a, Segment b) const {
    if (!first_fix)
        return false;
    std::vector<std::string> ids = explained;
    ids.push_back(*first_fix);
    const auto compares = [&](const Because& because) {
        const auto has = [&](Segment segment) {
            return std::find(because.segments.begin(), because.segments.end(), segment) !=
                   because.segments.end();
        };
        return because.about == about && has(a) && has(b);
    };
    return std::any_of(ids.begin(), ids.end(), [&](const std::string& id) {
        const Fault* fault = find(id);
        return fault != nullptr &&
               std::any_of(fault->because.begin(), fault->because.end(), compares);
    });
}

namespace {

/// Candidates are those within `equal` of the largest sum, whatever the order of the list; among
/// them the earlier phase, then the stronger evidence, then the name. `serving`: of those that
/// serve the goal alone.
const Fault* choose_among(const std::vector<Fault>& faults, double equal, bool serving) {
    const auto is_candidate = [](const Fault& fault) {
        return fault.is_present() && fault.counts();
    };
    // As the school has it, some may come first out of turn.
    for (const Fault& fault : faults)
        if (is_candidate(fault) && fault.can_come_first)
            return &fault;
    double largest = 0.0;
    for (const Fault& fault : faults)
        if (is_candidate(fault))
            largest = std::max(largest, explained_evidence(faults, fault));
    const Fault* best = nullptr;
    const auto before = [](const Fault& a, const Fault& b) {
        if (a.phase != b.phase)
            return a.phase < b.phase;
        if (*a.evidence != *b.evidence)
            return *a.evidence > *b.evidence;
        return a.id < b.id;
    };
    for (const Fault& fault : faults)
        if (is_candidate(fault) && (fault.serves_goal || !serving) &&
            explained_evidence(faults, fault) >= largest - equal &&
            (best == nullptr || before(fault, *best)))
            best = &fault;
    return best;
}

constexpr double kEqual = 0.05;
/// So near to the largest the golfer's goal may decide.
constexpr double kNear = 0.35;

} // namespace

std::optional<std::string> choose_first_fix(const std::vector<Fault>& faults) {
    const Fault* best = choose_among(faults, kEqual, false);
    if (best == nullptr)
        return std::nullopt;
    if (!best->serves_goal && !best->can_come_first)
        if (const Fault* serving = choose_among(faults, kNear, true))
            return serving->id;
    return best->id;
}

void choose(Reading& reading) {
    reading.first_fix = choose_first_fix(reading.faults);
    const Fault* without = choose_among(reading.faults, kEqual, false);
    reading.goal_decided = reading.first_fix && without->id != *reading.first_fix;
    reading.explained.clear();
    if (reading.first_fix)
        reading.explained = reachable(reading.faults, *reading.find(*reading.first_fix));
}

void overrule(Reading& reading, const std::map<std::string, std::string>& reasons) {
    if (reasons.empty())
        return;
    for (auto* list : {&reading.faults, &reading.set_up})
        for (Fault& fault : *list)
            if (const auto found = reasons.find(fault.id); found != reasons.end()) {
                fault.is_overruled = true;
                fault.does_not_count = found->second.empty()
                                           ? KITE_TR("The instructor sees it otherwise.")
                                           : found->second;
            }
    choose(reading);
}

Reading read_swing(const Analysis& analysis, const Rules& rules) {
    Reading out;
    for (Fault& judged : judge_faults(analysis, rules))
        (judged.phase == Phase::SetUp ? out.set_up : out.faults).push_back(std::move(judged));
    choose(out);
    out.good = find_good(analysis);
    return out;
}

} // namespace kite
