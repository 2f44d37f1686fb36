#include "core/sets/history.h"

#include "core/base/normal.h"
#include "core/reading/baseline.h"

#include <algorithm>
#include <cmath>

namespace kite {

namespace {

/// Points by lesson of what `value_of` gives, which is missing where there is nothing.
template <class ValueOf>
std::vector<LessonPoint> points_of(const std::vector<KeptMeasures>& swings,
                                   const ValueOf& value_of) {
    std::vector<LessonPoint> out;
    for (const KeptMeasures& swing : swings) {
        const Measured value = value_of(swing);
        if (!std::isfinite(value.value))
            continue;
        const auto found = std::find_if(out.begin(), out.end(), [&](const LessonPoint& point) {
            return point.lesson == swing.lesson &&
                   (!swing.lesson.empty() || point.day == swing.day);
        });
        LessonPoint& point = found == out.end() ? out.emplace_back() : *found;
        if (point.swings.empty()) {
            point.lesson = swing.lesson;
            point.day = swing.day;
        }
        point.swings.push_back(value);
    }
    std::stable_sort(out.begin(), out.end(),
                     [](const LessonPoint& a, const LessonPoint& b) { return a.day < b.day; });
    for (LessonPoint& point : out) {
        std::vector<double> values;
        for (const Measured& value : point.swings)
            values.push_back(value.value);
        point.summary = summarise(values);
        if (point.summary.count < 2)
            continue;
        const auto count = static_cast<double>(point.summary.count);
        const double half =
            student_t_quantile(0.975, count - 1.0) * point.summary.sd / std::sqrt(count);
        point.low = point.summary.mean - half;
        point.high = point.summary.mean + half;
    }
    return out;
}

Measured value_in(const KeptMeasures& swing, const char* key) {
    const auto found = swing.values.find(key);
    return found == swing.values.end() ? Measured{} : found->second;
}

} // namespace

std::vector<MeasureHistory> histories(const std::vector<KeptMeasures>& swings,
                                      const std::vector<const Measure*>& measures) {
    std::vector<MeasureHistory> out;
    for (const Measure* measure : measures) {
        const auto value_of = [&](const KeptMeasures& swing) {
            return value_in(swing, measure->key);
        };
        MeasureHistory history;
        history.measure = measure;
        history.lessons = points_of(swings, value_of);
        std::vector<double> good;
        for (const KeptMeasures& swing : swings)
            if (swing.is_good && std::isfinite(value_of(swing).value))
                good.push_back(value_of(swing).value);
        history.from_good = good.size() >= kFewestForBaseline;
        if (history.from_good)
            history.baseline = summarise(good);
        else if (!history.lessons.empty())
            history.baseline = history.lessons.front().summary;
        // A set against itself is no change.
        if (history.lessons.size() > 1)
            history.since_baseline = calc_change(history.baseline, history.lessons.back().summary);
        out.push_back(std::move(history));
    }
    return out;
}

namespace {

/// The measures that a term is one of, or rests on.
void add_measures_of(const Term& term, std::vector<const Measure*>& out) {
    const auto add = [&](const std::string& key) {
        const Measure* found = find_measure(key);
        if (found != nullptr && std::find(out.begin(), out.end(), found) == out.end())
            out.push_back(found);
    };
    if (term.kind == Term::Kind::Measure)
        add(term.key);
    const Quantity* quantity = term.kind == Term::Kind::At ? find_quantity(term.key) : nullptr;
    if (quantity != nullptr && term.from.moment)
        add("positions." + std::string(key_of(*term.from.moment)) + "." + quantity->file_key);
    // When a part turns back or is fastest is told by its lead, or by its time before impact.
    const std::string part(key_of(term.part));
    if (term.kind == Term::Kind::Reversal)
        add("transition." + (term.part == Segment::LeadArm ? "arm" : part) + "_lead_ms");
    if (term.kind == Term::Kind::Peak)
        add("sequence.segments." + part + ".before_impact_ms");
    for (const Term& one : term.of)
        add_measures_of(one, out);
}

} // namespace

std::vector<const Measure*> measures_that_matter(const std::vector<std::string>& first_fixes,
                                                 const std::vector<Plan>& plans,
                                                 const DrillBook& drills, const RuleBook& rules,
                                                 std::size_t count) {
    std::vector<const Measure*> out;
    for (auto plan = plans.rbegin(); plan != plans.rend(); ++plan)
        if (const Drill* drill = main_drill_of(*plan, drills))
            add_measures_of(drill->measure, out);
    std::map<std::string, int> how_often;
    for (const std::string& fix : first_fixes)
        ++how_often[fix];
    std::vector<std::pair<int, std::string>> order;
    for (const auto& [fix, times] : how_often)
        order.emplace_back(-times, fix);
    std::sort(order.begin(), order.end());
    for (const auto& [times, fix] : order)
        if (const FaultRule* rule = rules.find(fix))
            for (const Condition* leaf : leaves_of(rule->when))
                add_measures_of(leaf->term, out);
    for (const Measure& measure : all_measures())
        if (measure.headline && std::find(out.begin(), out.end(), &measure) == out.end())
            out.push_back(&measure);
    if (out.size() > count)
        out.resize(count);
    return out;
}

std::vector<LessonPoint> guess_history(const std::vector<KeptMeasures>& swings) {
    return points_of(swings, [](const KeptMeasures& swing) {
        return Measured{swing.guess_error_deg, swing.guess_error_u_deg};
    });
}

std::vector<Best> bests(const std::vector<KeptMeasures>& swings) {
    std::vector<Best> out;
    for (const char* key : {"speed.club_head_m_s", "speed.hands_m_s"}) {
        const Measure* measure = find_measure(key);
        if (measure == nullptr)
            continue;
        Best best;
        best.measure = measure;
        for (const KeptMeasures& swing : swings)
            if (const Measured value = value_in(swing, key);
                std::isfinite(value.value) && !(value.value <= best.value.value)) {
                best.value = value;
                best.day = swing.day;
            }
        if (!std::isfinite(best.value.value))
            continue;
        best.shared = 0;
        for (const KeptMeasures& swing : swings) {
            const Measured value = value_in(swing, key);
            const double u = std::hypot(std::isfinite(value.u) ? value.u : 0.0,
                                        std::isfinite(best.value.u) ? best.value.u : 0.0);
            if (best.value.value - value.value <= kCover95 * u)
                ++best.shared;
        }
        out.push_back(best);
    }
    return out;
}

} // namespace kite
