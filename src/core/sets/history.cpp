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

std::vector<KeptMeasures> of_club(const std::vector<KeptMeasures>& swings, ClubKind club) {
    std::vector<KeptMeasures> out;
    std::copy_if(swings.begin(), swings.end(), std::back_inserter(out),
                 [&](const KeptMeasures& swing) { return swing.club == club; });
    return out;
}

std::map<std::string, SessionScatter> session_scatter(const std::vector<KeptMeasures>& swings) {
    constexpr std::size_t kFewest = 3;
    std::map<std::string, SessionScatter> out;
    for (const Measure& measure : all_measures()) {
        std::vector<Summary> lessons;
        for (const LessonPoint& point : points_of(
                 swings, [&](const KeptMeasures& swing) { return value_in(swing, measure.key); }))
            if (point.summary.count >= 2)
                lessons.push_back(point.summary);
        if (lessons.size() < kFewest)
            continue;
        // By the steps from lesson to lesson about their mean: what the golfer learns on the way is
        // no scatter between sessions.
        std::vector<double> means;
        double of_swings = 0.0;
        for (const Summary& lesson : lessons) {
            means.push_back(lesson.mean);
            of_swings += lesson.sd * lesson.sd / static_cast<double>(lesson.count);
        }
        const double steps = summarise(means).typical_error;
        of_swings /= static_cast<double>(lessons.size());
        out[measure.key] = {std::sqrt(std::max(0.0, steps * steps - of_swings)),
                            static_cast<double>(lessons.size() - 2)};
    }
    return out;
}

std::vector<MeasureHistory> histories(const std::vector<KeptMeasures>& swings,
                                      const std::vector<const Measure*>& measures) {
    constexpr std::size_t kMostBaselineLessons = 3;
    CompareOptions options;
    options.sessions = Sessions::Two;
    options.own = session_scatter(swings);
    std::vector<MeasureHistory> out;
    for (const Measure* measure : measures) {
        const auto value_of = [&](const KeptMeasures& swing) {
            return value_in(swing, measure->key);
        };
        MeasureHistory history;
        history.measure = measure;
        history.lessons = points_of(swings, value_of);
        std::vector<Measured> baseline;
        for (const KeptMeasures& swing : swings)
            if (swing.is_good && std::isfinite(value_of(swing).value))
                baseline.push_back(value_of(swing));
        history.from_good = baseline.size() >= kFewestForBaseline;
        if (!history.from_good && !history.lessons.empty()) {
            history.baseline_lessons = static_cast<int>(
                std::clamp<std::size_t>(history.lessons.size() / 3, 1, kMostBaselineLessons));
            baseline.clear();
            for (int i = 0; i < history.baseline_lessons; ++i) {
                const auto& first = history.lessons[static_cast<std::size_t>(i)].swings;
                baseline.insert(baseline.end(), first.begin(), first.end());
            }
        }
        // A set against itself is no change.
        const MeasureChange change = change_of(
            *measure, baseline,
            history.lessons.empty() ? std::vector<Measured>() : history.lessons.back().swings,
            options, Source::Poses);
        history.baseline = change.before;
        if (history.lessons.size() > 1)
            history.since_baseline = change.change;
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

/// What decides it first, then whatever else speaks for it.
void add_measures_of_fault(const std::string& fault, const DrillBook& drills, const RuleBook& rules,
                           std::vector<const Measure*>& out) {
    if (const auto decides = drills.counts.find(fault); decides != drills.counts.end())
        add_measures_of(decides->second.measure, out);
    if (const FaultRule* rule = rules.find(fault))
        for (const Condition* leaf : leaves_of(rule->when))
            add_measures_of(leaf->term, out);
}

} // namespace

std::string usual_question(const std::string& first_fix, const Plan* plan, const DrillBook& drills,
                           const RuleBook& rules) {
    std::vector<const Measure*> out;
    if (const Drill* drill = plan == nullptr ? nullptr : main_drill_of(*plan, drills))
        add_measures_of(drill->measure, out);
    if (!first_fix.empty())
        add_measures_of_fault(first_fix, drills, rules, out);
    return out.empty() ? std::string() : out.front()->key;
}

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
        add_measures_of_fault(fix, drills, rules, out);
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
        std::vector<double> all;
        for (const KeptMeasures& swing : swings) {
            const Measured value = value_in(swing, key);
            if (!std::isfinite(value.value) || !std::isfinite(value.u))
                continue;
            all.push_back(value.value);
            if (!(value.value <= best.measured.value)) {
                best.measured = value;
                best.day = swing.day;
            }
        }
        if (all.empty())
            continue;
        best.value = best.measured;
        const Summary summary = summarise(all);
        const double own = best.measured.u * best.measured.u;
        if (const double scatter = summary.sd * summary.sd; all.size() > 2 && scatter > 0.0) {
            const double kept = std::clamp(1.0 - own / scatter, 0.0, 1.0);
            best.value.value = summary.mean + kept * (best.measured.value - summary.mean);
            // What is left of it, with that of the mean it is drawn to.
            best.value.u = std::sqrt(kept * own + (1.0 - kept) * (1.0 - kept) * scatter /
                                                      static_cast<double>(all.size()));
        }
        best.shared = 0;
        for (const KeptMeasures& swing : swings) {
            const Measured value = value_in(swing, key);
            if (std::isfinite(value.u) && best.measured.value - value.value <=
                                              kCover95 * std::hypot(value.u, best.measured.u))
                ++best.shared;
        }
        out.push_back(best);
    }
    return out;
}

} // namespace kite
