#include "core/reading/faults.h"

#include <algorithm>
#include <cmath>

namespace kite {

namespace {

/// The leaf's own sentence; nothing where it has none for this sign.
std::optional<Because> reason_of(const Judged& leaf, const Analysis& analysis) {
    const ReasonText& texts = leaf.condition->because;
    const double scale = std::pow(10.0, texts.decimals);
    const bool is_zero = std::round(leaf.value.value * scale) == 0.0;
    const std::string& text = is_zero && !texts.zero.empty() ? texts.zero
                              : leaf.value.value < 0.0 && !is_zero && !texts.negative.empty()
                                  ? texts.negative
                                  : texts.plain;
    if (text.empty())
        return std::nullopt;
    Because out;
    out.text = text;
    out.values = {{std::abs(leaf.value.value), texts.decimals, {}},
                  {std::abs(leaf.limit), texts.decimals, {}}};
    out.t_s = place_of(leaf.condition->look.value_or(leaf.condition->term), analysis);
    out.segments = leaf.condition->parts;
    out.about = leaf.condition->about;
    return out;
}

void add_reasons(const Judged& judged, const Analysis& analysis, std::vector<Because>& out) {
    if (!judged.evidence || *judged.evidence < kEnoughEvidence)
        return;
    if (judged.of.empty()) {
        if (auto reason = reason_of(judged, analysis))
            out.push_back(std::move(*reason));
        return;
    }
    if (judged.condition->say_strongest) {
        const auto strongest = std::max_element(
            judged.of.begin(), judged.of.end(), [](const Judged& a, const Judged& b) {
                return a.evidence.value_or(0.0) < b.evidence.value_or(0.0) ||
                       (a.evidence == b.evidence && a.value.value < b.value.value);
            });
        add_reasons(*strongest, analysis, out);
        return;
    }
    for (const Judged& one : judged.of)
        add_reasons(one, analysis, out);
}

} // namespace

std::vector<Fault> judge_faults(const Analysis& analysis, const Rules& rules) {
    std::vector<Fault> out;
    for (const FaultRule* rule : rules.all_faults()) {
        Fault fault;
        fault.id = rule->id;
        fault.phase = rule->phase;
        fault.leads_to = rule->leads_to;
        fault.title = rule->title;
        fault.why = rule->why;
        fault.ball = rule->ball;
        fault.often_with = rule->often_with;
        fault.serves_goal = serves(*rule, rules.goal);
        fault.weight = rules.weight(*rule, analysis.club);
        const School& school = rules.school;
        if (const auto found = school.no_fault.find(rule->id); found != school.no_fault.end())
            fault.does_not_count = found->second;
        fault.can_come_first = std::find(school.can_come_first.begin(), school.can_come_first.end(),
                                         rule->id) != school.can_come_first.end();
        fault.judged = judge(rule->when, rules, analysis);
        // What weighs nothing with this club says nothing about it.
        const bool silent = school.not_judged.count(rule->id) > 0 || !(fault.weight > 0.0);
        fault.applies = !silent && !fault.judged.silent;
        fault.evidence = silent ? Evidence{} : fault.judged.evidence;
        if (fault.is_present())
            add_reasons(fault.judged, analysis, fault.because);
        out.push_back(std::move(fault));
    }
    return out;
}

} // namespace kite
