#include "core/reading/rules.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <functional>

namespace kite {

namespace {

constexpr std::array<std::pair<Phase, std::string_view>, 5> kPhases{
    {{Phase::SetUp, "set-up"},
     {Phase::Backswing, "backswing"},
     {Phase::Transition, "transition"},
     {Phase::Downswing, "downswing"},
     {Phase::FollowThrough, "follow-through"}}};
constexpr std::array<std::pair<FaceHabit, std::string_view>, 3> kFaces{
    {{FaceHabit::Square, "square"}, {FaceHabit::Shut, "shut"}, {FaceHabit::Open, "open"}}};

constexpr std::array<std::pair<Goal, std::string_view>, 5> kGoals{{{Goal::NotSaid, "none"},
                                                                   {Goal::Speed, "speed"},
                                                                   {Goal::Straight, "straight"},
                                                                   {Goal::Strike, "strike"},
                                                                   {Goal::Strain, "strain"}}};

template <class Table, class Key>
std::string_view key_in(const Table& table, Key wanted) {
    for (const auto& [value, key] : table)
        if (value == wanted)
            return key;
    return "";
}
template <class Value, std::size_t N>
std::optional<Value> find_in(const std::array<std::pair<Value, std::string_view>, N>& table,
                             std::string_view wanted) {
    for (const auto& [value, key] : table)
        if (key == wanted)
            return value;
    return std::nullopt;
}

} // namespace

std::string_view key_of(Phase phase) {
    return key_in(kPhases, phase);
}
std::optional<Phase> find_phase(std::string_view key) {
    return find_in(kPhases, key);
}
std::string_view key_of(FaceHabit face) {
    return key_in(kFaces, face);
}
std::optional<FaceHabit> find_face(std::string_view key) {
    return find_in(kFaces, key);
}

std::string_view key_of(Goal goal) {
    return key_in(kGoals, goal);
}
std::optional<Goal> find_goal(std::string_view key) {
    return find_in(kGoals, key);
}

bool serves(const FaultRule& fault, Goal goal) {
    // What is complained of, by the keys that the rules use.
    static const std::map<Goal, std::set<std::string>> kInTheWay{
        {Goal::Speed, {"weak"}},
        {Goal::Straight, {"slice", "hook", "push", "pull", "block", "erratic"}},
        {Goal::Strike, {"fat", "thin", "top", "shank"}},
        {Goal::Strain, {"low back"}}};
    const auto keys = kInTheWay.find(goal);
    return keys != kInTheWay.end() &&
           std::any_of(fault.often_with.begin(), fault.often_with.end(),
                       [&](const std::string& key) { return keys->second.count(key) > 0; });
}

std::vector<const Condition*> leaves_of(const Condition& condition) {
    if (condition.of.empty())
        return {&condition};
    std::vector<const Condition*> out;
    for (const Condition& one : condition.of) {
        const auto more = leaves_of(one);
        out.insert(out.end(), more.begin(), more.end());
    }
    return out;
}

const FaultRule* RuleBook::find(const std::string& id) const {
    const auto found = std::find_if(faults.begin(), faults.end(),
                                    [&](const FaultRule& fault) { return fault.id == id; });
    return found == faults.end() ? nullptr : &*found;
}

const FaultRule* Rules::find(const std::string& id) const {
    if (const FaultRule* own = book.find(id))
        return own;
    const auto added = std::find_if(school.adds.begin(), school.adds.end(),
                                    [&](const FaultRule& fault) { return fault.id == id; });
    return added == school.adds.end() ? nullptr : &*added;
}

std::vector<const FaultRule*> Rules::all_faults() const {
    std::vector<const FaultRule*> out;
    for (const FaultRule& fault : book.faults)
        out.push_back(&fault);
    for (const FaultRule& fault : school.adds)
        out.push_back(&fault);
    return out;
}

std::optional<Limit> Rules::limit(const std::string& name, ClubKind club) const {
    const auto own = school.limits.find(name);
    const auto usual = book.limits.find(name);
    if (own == school.limits.end() && usual == book.limits.end())
        return std::nullopt;
    if (own == school.limits.end() && school.own_baseline)
        return std::nullopt; // other people's ranges say nothing here
    Limit out = own != school.limits.end() ? own->second : usual->second;
    if (const auto by_face = out.by_face.find(face); by_face != out.by_face.end())
        out.value = by_face->second;
    else if (const auto by_club = out.by_club.find(club); by_club != out.by_club.end())
        out.value = by_club->second;
    return out;
}

std::string Rules::source_of(const std::string& limit) const {
    if (const auto own = school.limits.find(limit); own != school.limits.end())
        return own->second.source;
    const auto usual = book.limits.find(limit);
    return usual == book.limits.end() ? std::string() : usual->second.source;
}

double Rules::weight(const FaultRule& fault, ClubKind club) const {
    const auto of_school = school.weights.find(fault.id);
    const auto of_club = fault.weight_by_club.find(club);
    return (of_school == school.weights.end() ? 1.0 : of_school->second) *
           (of_club == fault.weight_by_club.end() ? 1.0 : of_club->second);
}

namespace {

Judged judge_term(const Condition& condition, const Rules& rules, const Analysis& analysis) {
    Judged out;
    out.condition = &condition;
    out.value = value_of(condition.term, analysis);
    const auto limit = rules.limit(condition.limit, analysis.club);
    const bool silent =
        condition.not_with.count(analysis.club) > 0 ||
        (!condition.only_with.empty() && condition.only_with.count(analysis.club) == 0);
    out.silent = !limit || silent;
    if (out.silent)
        return out;
    out.limit = limit->value;
    out.width = limit->width;
    if (condition.beyond_u > 0.0) {
        if (!std::isfinite(out.value.u))
            return out;
        const double least = condition.beyond_u * out.value.u;
        out.limit = std::copysign(std::max(std::abs(out.limit), least), out.limit);
        // Where the limit itself follows the uncertainty, that is in it already.
        out.width = std::max(out.width, 0.25 * least);
        out.evidence = condition.kind == Condition::Kind::Above
                           ? above(out.value.value, out.limit, out.width)
                           : below(out.value.value, out.limit, out.width);
        return out;
    }
    const auto evidence = [&](double u) {
        return condition.kind == Condition::Kind::Above
                   ? above(out.value.value, out.limit, out.width, u)
                   : below(out.value.value, out.limit, out.width, u);
    };
    out.evidence = evidence(out.value.u);
    if (condition.short_of_u > 0.0 && out.evidence) {
        constexpr double kRuledOut = 0.05;
        const double less = condition.short_of_u * out.value.u;
        if (less < std::abs(out.limit)) {
            out.limit = std::copysign(std::abs(out.limit) - less, out.limit);
            out.evidence = evidence(0.0);
        } else if (*out.evidence >= kRuledOut) {
            out.evidence.reset(); // doubt is no evidence
        }
    }
    return out;
}

/// Mean by weight of what can be judged; not judged where that is less than half of the weight.
Evidence weighted(const Condition& condition, const std::vector<Judged>& of) {
    double sum = 0.0;
    double judged = 0.0;
    double all = 0.0;
    for (std::size_t i = 0; i < of.size(); ++i) {
        all += condition.weights[i];
        if (!of[i].evidence)
            continue;
        judged += condition.weights[i];
        sum += condition.weights[i] * *of[i].evidence;
    }
    return judged >= 0.5 * all && judged > 0.0 ? Evidence(sum / judged) : Evidence();
}

} // namespace

Judged judge(const Condition& condition, const Rules& rules, const Analysis& analysis) {
    if (condition.kind == Condition::Kind::Above || condition.kind == Condition::Kind::Below)
        return judge_term(condition, rules, analysis);
    Judged out;
    out.condition = &condition;
    std::vector<Evidence> evidence;
    for (const Condition& one : condition.of) {
        out.of.push_back(judge(one, rules, analysis));
        evidence.push_back(out.of.back().evidence);
    }
    const auto is_silent = [](const Judged& one) { return one.silent; };
    out.silent = condition.kind == Condition::Kind::All
                     ? std::any_of(out.of.begin(), out.of.end(), is_silent)
                     : std::all_of(out.of.begin(), out.of.end(), is_silent);
    if (condition.kind == Condition::Kind::Weighted)
        out.evidence = weighted(condition, out.of);
    else
        out.evidence = condition.kind == Condition::Kind::All ? all_of(evidence) : any_of(evidence);
    const bool gaps =
        std::any_of(evidence.begin(), evidence.end(), [](const Evidence& one) { return !one; });
    if (condition.complete && gaps && out.evidence && *out.evidence < kEnoughEvidence)
        out.evidence.reset();
    return out;
}

std::vector<std::string> find_cycle(const RuleBook& book) {
    std::map<std::string, int> state; // 1: on the way, 2: done
    std::vector<std::string> way;
    const std::function<bool(const std::string&)> visit = [&](const std::string& id) {
        state[id] = 1;
        way.push_back(id);
        if (const FaultRule* fault = book.find(id))
            for (const std::string& next : fault->leads_to) {
                if (state[next] == 1) {
                    way.push_back(next);
                    return true;
                }
                if (state[next] == 0 && visit(next))
                    return true;
            }
        state[id] = 2;
        way.pop_back();
        return false;
    };
    for (const FaultRule& fault : book.faults)
        if (state[fault.id] == 0 && visit(fault.id)) {
            way.erase(way.begin(), std::find(way.begin(), way.end(), way.back()));
            return way;
        }
    return {};
}

} // namespace kite
