#include "core/practice/plan.h"

#include "core/base/units.h"

#include <algorithm>
#include <boost/date_time/gregorian/formatters.hpp>
#include <boost/date_time/gregorian/gregorian_types.hpp>
#include <cmath>
#include <cstdio>
#include <map>

namespace kite {

namespace {

using boost::gregorian::days;

constexpr int kUsualDays = 14;
constexpr int kMostDays = 120;
constexpr int kMostInARow = 6; ///< days of practice without a rest

constexpr std::array<std::pair<PlanTempo, std::string_view>, 3> kTempi{
    {{PlanTempo::Slow, "slow"}, {PlanTempo::Fluid, "fluid"}, {PlanTempo::Ball, "ball"}}};
constexpr std::array<std::pair<PlanDayKind, std::string_view>, 4> kKinds{
    {{PlanDayKind::Practice, "practice"},
     {PlanDayKind::Rest, "rest"},
     {PlanDayKind::Measure, "measure"},
     {PlanDayKind::Lesson, "lesson"}}};

template <class Table>
auto find_in(const Table& table, std::string_view wanted) {
    std::optional<typename Table::value_type::first_type> out;
    for (const auto& [value, key] : table)
        if (key == wanted)
            out = value;
    return out;
}

double total_s(const std::vector<PlanItem>& items) {
    double sum = 0.0;
    for (const PlanItem& item : items)
        sum += duration_s(item);
    return sum;
}

/// Three sets of twelve slow, two of eight fluid, ten balls with a rehearsal each; cut from the end
/// of what is worth least until it fits.
std::vector<PlanItem> session(const Plan& plan, const DrillBook& book) {
    const Drill* main = main_drill_of(plan, book);
    std::vector<PlanItem> out{{plan.main_drill, PlanTempo::Slow, 3, 12},
                              {plan.main_drill, PlanTempo::Fluid, 2, 8}};
    constexpr int kFirstRungWithBall = 3;
    if (plan.wish.place == PracticePlace::Range && main != nullptr &&
        main->last_rung >= kFirstRungWithBall)
        out.push_back({plan.main_drill, PlanTempo::Ball, 1, 10});
    if (!plan.helper.empty())
        out.push_back({plan.helper, PlanTempo::Slow, 1, 8});
    for (const std::string& drill : plan.upkeep)
        out.push_back({drill, PlanTempo::Fluid, 1, 4});
    const double most_s = 60.0 * plan.wish.minutes;
    const auto cut = [&](const auto& shorten) {
        for (std::size_t i = out.size(); total_s(out) > most_s && i-- > 0;)
            shorten(out[i]);
    };
    cut([](PlanItem& item) { item.sets = std::max(1, item.sets - 1); });
    cut([](PlanItem& item) { item.sets = std::max(1, item.sets - 1); });
    cut([](PlanItem& item) { item.repetitions = std::max(5, item.repetitions / 2); });
    while (out.size() > 1 && total_s(out) > most_s)
        out.pop_back();
    return out;
}

bool practises(const PlanWish& wish, const Date& day) {
    // Boost counts from Sunday, the wish from Monday.
    return wish.practises.at((day.day_of_week().as_number() + 6U) % 7U);
}

std::string tempo_words(PlanTempo tempo) {
    switch (tempo) {
    case PlanTempo::Slow:
        return KITE_TR("{1} × {2} slow");
    case PlanTempo::Fluid:
        return KITE_TR("{1} × {2} fluid");
    case PlanTempo::Ball:
        return KITE_TR("{2} balls, a rehearsal before each");
    }
    return {};
}

} // namespace

std::optional<Date> find_date(std::string_view text) {
    int year = 0;
    int month = 0;
    int day = 0;
    int used = 0;
    const std::string copy(text);
    if (text.size() != 10 ||
        std::sscanf(copy.c_str(), "%4d-%2d-%2d%n", &year, &month, &day, &used) != 3 || used != 10 ||
        year < 1900 || year > 2200 || month < 1 || month > 12 || day < 1 ||
        day > boost::gregorian::gregorian_calendar::end_of_month_day(
                  static_cast<unsigned short>(year), static_cast<unsigned short>(month)))
        return std::nullopt;
    return Date(static_cast<unsigned short>(year), static_cast<unsigned short>(month),
                static_cast<unsigned short>(day));
}

std::string text_of(const Date& date) {
    return date.is_not_a_date() ? std::string() : boost::gregorian::to_iso_extended_string(date);
}

std::string_view key_of(PlanTempo tempo) {
    return kTempi.at(static_cast<std::size_t>(tempo)).second;
}
std::optional<PlanTempo> find_plan_tempo(std::string_view key) {
    return find_in(kTempi, key);
}
std::string_view key_of(PlanDayKind kind) {
    return kKinds.at(static_cast<std::size_t>(kind)).second;
}
std::optional<PlanDayKind> find_plan_day_kind(std::string_view key) {
    return find_in(kKinds, key);
}

double duration_s(const PlanItem& item) {
    constexpr double kPause_s = 30.0;
    const double each_s = item.tempo == PlanTempo::Slow    ? 10.0
                          : item.tempo == PlanTempo::Fluid ? 7.0
                                                           : 30.0;
    return item.sets * (item.repetitions * each_s + kPause_s);
}

Outcome<Plan> make_plan(const Reading& reading, const DrillBook& book,
                        const std::vector<std::string>& preferred, const PlanWish& wish) {
    Outcome<Plan> out;
    using Severity = Finding::Severity;
    if (!reading.first_fix) {
        out.add({Severity::Error, "nothing-to-mend", "Nothing to mend was found in these swings.",
                 "", "Keep what is good; a plan needs a first fix."});
        return out;
    }
    const Fault& fault = *reading.find(*reading.first_fix);
    DrillWish asked;
    asked.fault = fault.id;
    asked.place = wish.place;
    asked.limits = wish.limits;
    asked.preferred = preferred;
    const std::vector<const Drill*> candidates = find_drills(book, asked);
    if (candidates.empty()) {
        out.add({Severity::Error, "no-drill",
                 "No drill for \"" + fault.title + "\" is left for this place and these limits.",
                 "", "Choose another place, or ask the golfer about the limit."});
        return out;
    }
    Plan& plan = out.value;
    plan.fault = fault.id;
    plan.title = fault.title;
    plan.why = fault.why;
    plan.main_drill = candidates.front()->id;
    plan.wish = wish;
    // One helper at most, where there is time for it.
    constexpr int kMinutesForTwo = 15;
    if (candidates.size() > 1 && wish.minutes >= kMinutesForTwo)
        plan.helper = candidates[1]->id;
    plan_days(plan, book);
    return out;
}

void plan_days(Plan& plan, const DrillBook& book) {
    const std::vector<PlanItem> items = session(plan, book);
    std::map<Date, PlanDay> before;
    for (const PlanDay& day : plan.days)
        before[day.date] = day;
    plan.days.clear();
    const Date last = plan.wish.next_lesson
                          ? std::min(*plan.wish.next_lesson, plan.wish.first_day + days(kMostDays))
                          : plan.wish.first_day + days(kUsualDays);
    int in_a_row = 0;
    for (Date date = plan.wish.first_day; date <= last; date += days(1)) {
        PlanDay day;
        day.date = date;
        if (plan.wish.next_lesson == date)
            day.kind = PlanDayKind::Lesson;
        else if (!practises(plan.wish, date) || in_a_row >= kMostInARow)
            day.kind = PlanDayKind::Rest;
        in_a_row = day.kind == PlanDayKind::Practice ? in_a_row + 1 : 0;
        if (day.kind == PlanDayKind::Practice)
            day.items = items;
        plan.days.push_back(std::move(day));
    }
    // The last day of practice measures what is left of it in the full swing.
    for (std::size_t i = plan.days.size(); i-- > 0;)
        if (plan.days[i].kind == PlanDayKind::Practice) {
            plan.days[i].kind = PlanDayKind::Measure;
            break;
        }
    for (PlanDay& day : plan.days)
        if (const auto was = before.find(day.date);
            was != before.end() && (was->second.done || !was->second.note.empty()))
            day = was->second;
    // What was done or noted on a day that is no longer planned is not lost.
    for (const auto& [date, day] : before)
        if ((day.done || !day.note.empty()) && (date < plan.wish.first_day || date > last))
            plan.days.push_back(day);
    std::sort(plan.days.begin(), plan.days.end(),
              [](const PlanDay& a, const PlanDay& b) { return a.date < b.date; });
}

bool passes(const Plan& plan, const PlanCount& count) {
    return count.swings >= plan.pass_swings &&
           100 * count.passed >= plan.pass_share_pct * count.swings;
}

namespace {

RungState rung_after(const Plan& plan, const Drill& drill, const Date& day, bool with_the_day) {
    RungState out{drill.first_rung, false};
    Date session;
    int passed_last = 0;
    bool passed_in_this = false;
    const auto next_session = [&](const Date& date) {
        if (!session.is_not_a_date() && date != session) {
            out.rung = std::max(drill.first_rung, out.rung - 1);
            passed_in_this = false;
        }
        session = date;
    };
    for (const PlanCount& count : plan.counts) {
        if (count.drill != drill.id || count.date > day || (count.date == day && !with_the_day))
            continue;
        next_session(count.date);
        out.rung = std::clamp(count.rung, drill.first_rung, drill.last_rung);
        if (passes(plan, count)) {
            if (out.rung == drill.last_rung && !passed_in_this) {
                ++passed_last;
                passed_in_this = true;
            }
            out.rung = std::min(drill.last_rung, out.rung + 1);
        } else if (count.swings >= plan.pass_swings && 2 * count.passed < count.swings) {
            out.rung = std::max(drill.first_rung, out.rung - 1);
        }
    }
    if (!session.is_not_a_date())
        next_session(day);
    out.learned = passed_last >= 2;
    return out;
}

} // namespace

RungState rung_on(const Plan& plan, const Drill& drill, const Date& day) {
    return rung_after(plan, drill, day, true);
}

RungState rung_before(const Plan& plan, const Drill& drill, const Date& day) {
    return rung_after(plan, drill, day, false);
}

const Drill* main_drill_of(const Plan& plan, const DrillBook& book) {
    return book.find(plan.main_drill, plan.fault);
}

bool counts_on(int rung, const PlanCheck& check) {
    constexpr int kWithBall = 3; // the first rung that has one
    return check.rehearsal || rung >= kWithBall;
}

PlanCheck check_swing(const Drill& drill, const Analysis& analysis, bool rehearsal,
                      const Reading* reading, const std::string& fault) {
    PlanCheck out;
    out.rehearsal = rehearsal;
    out.value = value_of(drill.measure, analysis);
    if (std::isfinite(out.value.value))
        out.passed = (rehearsal ? drill.rehearsal : drill.swing).holds(out.value.value);
    const Fault* shown = reading == nullptr || rehearsal ? nullptr : reading->find(fault);
    if (out.passed && shown != nullptr && shown->is_present() && !shown->is_overruled)
        out.passed = false;
    return out;
}

PlanCount count_swings(const Plan& plan, const Drill& drill, const std::vector<PlanCheck>& checks,
                       const Date& day) {
    PlanCount out;
    out.date = day;
    out.drill = drill.id;
    out.rung = rung_on(plan, drill, day).rung;
    out.measured = true;
    double sum = 0.0;
    for (const PlanCheck& check : checks)
        if (check.passed && counts_on(out.rung, check)) {
            ++out.swings;
            out.passed += *check.passed ? 1 : 0;
            sum += check.value.value;
        }
    if (out.swings > 0)
        out.mean = sum / out.swings;
    return out;
}

std::string text_of(const DrillBand& band, const Term& measure, const Language& language) {
    const std::string_view unit = unit_of(measure);
    const auto number = [&](double value) {
        const int decimals = std::abs(value - std::round(value)) > 1e-9 ? 1 : 0;
        return written(value, decimals, language) + (unit.empty() || unit == "°" ? "" : " ") +
               std::string(unit);
    };
    if (std::isfinite(band.from) && std::isfinite(band.to))
        return filled(KITE_TR("from {1} to {2}"), {number(band.from), number(band.to)}, language);
    if (std::isfinite(band.from))
        return filled(KITE_TR("{1} or more"), {number(band.from)}, language);
    if (std::isfinite(band.to))
        return filled(KITE_TR("{1} or less"), {number(band.to)}, language);
    return language.translate(KITE_TR("no band"));
}

std::vector<std::string> lines_of_day(const Plan& plan, const PlanDay& day, const DrillBook& book,
                                      const Language& language) {
    if (day.kind == PlanDayKind::Rest)
        return {language.translate(KITE_TR("Rest."))};
    if (day.kind == PlanDayKind::Lesson)
        return {language.translate(KITE_TR("Lesson."))};
    std::vector<std::string> out;
    std::map<std::string, std::string> by_drill;
    std::vector<std::string> order;
    for (const PlanItem& item : day.items) {
        std::string& line = by_drill[item.drill];
        if (line.empty())
            order.push_back(item.drill);
        line += (line.empty() ? "" : ", ") +
                filled(tempo_words(item.tempo),
                       {std::to_string(item.sets), std::to_string(item.repetitions)}, language);
    }
    for (const std::string& id : order) {
        const Drill* drill = book.find(id);
        const int rung = drill == nullptr ? kFirstRung : rung_before(plan, *drill, day.date).rung;
        out.push_back(
            filled(KITE_TR("{1}: {2}. Start on rung {3}, {4}."),
                   {drill == nullptr ? id : language.translate(drill->title), by_drill[id],
                    std::to_string(rung), language.translate(name_of_rung(rung))},
                   language));
    }
    if (day.kind == PlanDayKind::Measure)
        out.push_back(filled(KITE_TR("Then measure: {1} full swings, captured."),
                             {std::to_string(plan.pass_swings)}, language));
    return out;
}

namespace {

void add_drill(const Drill& drill, const Language& language, std::vector<std::string>& out) {
    const auto say = [&](const char* head, const std::string& text) {
        if (!text.empty())
            out.push_back("  " + language.translate(head) + " " + language.translate(text));
    };
    out.push_back(language.translate(drill.title));
    say(KITE_TR("For:"), drill.purpose);
    std::string needs;
    for (const std::string& one : drill.needs)
        needs += (needs.empty() ? "" : ", ") + language.translate(one);
    say(KITE_TR("Needed:"), needs.empty() ? KITE_TR("nothing") : needs);
    say(KITE_TR("Set-up:"), drill.set_up);
    for (std::size_t i = 0; i < drill.steps.size(); ++i)
        out.push_back("  " + std::to_string(i + 1) + ". " + language.translate(drill.steps[i]));
    say(KITE_TR("To feel:"), drill.feel);
    say(KITE_TR("It is right when:"), drill.check);
    say(KITE_TR("Sides:"), drill.sides);
    say(KITE_TR("Short swings:"), drill.part_swing);
    out.push_back("  " + filled(KITE_TR("Measured: {1}; in the rehearsal {2}, in the swing {3}."),
                                {name_of(drill.measure, language),
                                 text_of(drill.rehearsal, drill.measure, language),
                                 text_of(drill.swing, drill.measure, language)},
                                language));
}

} // namespace

std::vector<std::string> lines_of(const Plan& plan, const DrillBook& book, const Date& today,
                                  const Language& language) {
    std::vector<std::string> out;
    out.push_back(language.translate(plan.title));
    if (!plan.golfer.empty())
        out.push_back(plan.golfer);
    out.push_back(language.translate(plan.why));
    std::vector<std::string> cautions;
    std::vector<std::string> ids{plan.main_drill, plan.helper};
    ids.insert(ids.end(), plan.upkeep.begin(), plan.upkeep.end());
    for (const std::string& id : ids) {
        const Drill* drill = book.find(id);
        if (drill == nullptr) {
            if (!id.empty())
                out.push_back(
                    filled(KITE_TR("The drill \u201c{1}\u201d is not among the drills here."), {id},
                           language));
            continue;
        }
        out.emplace_back();
        add_drill(*drill, language, out);
        const RungState state = rung_on(plan, *drill, today);
        out.push_back(
            "  " +
            (state.learned
                 ? language.translate(
                       KITE_TR("Learned: keep it with a few repetitions, then let it go."))
                 : filled(KITE_TR("Now on rung {1}, {2}. Passed with {3} % of {4} counted "
                                  "swings or more."),
                          {std::to_string(state.rung), language.translate(name_of_rung(state.rung)),
                           std::to_string(plan.pass_share_pct), std::to_string(plan.pass_swings)},
                          language)));
        for (const std::string& one : cautions_of(book, *drill))
            if (std::find(cautions.begin(), cautions.end(), one) == cautions.end())
                cautions.push_back(one);
    }
    out.emplace_back();
    for (const PlanDay& day : plan.days) {
        std::string head = text_of(day.date);
        if (day.done)
            head += " " + language.translate(KITE_TR("(done)"));
        for (const std::string& line : lines_of_day(plan, day, book, language)) {
            out.push_back(head + "  " + line);
            head = std::string(10, ' ');
        }
        if (!day.note.empty())
            out.push_back(std::string(12, ' ') + day.note);
    }
    if (!plan.counts.empty())
        out.emplace_back();
    for (const PlanCount& count : plan.counts) {
        const Drill* drill = book.find(count.drill);
        out.push_back(filled(
            count.measured ? KITE_TR("{1}  {2}, rung {3}: {4} of {5} passed (measured).")
                           : KITE_TR("{1}  {2}, rung {3}: {4} of {5} passed (counted)."),
            {text_of(count.date), drill == nullptr ? count.drill : language.translate(drill->title),
             std::to_string(count.rung), std::to_string(count.passed),
             std::to_string(count.swings)},
            language));
    }
    out.emplace_back();
    out.push_back(language.translate(KITE_TR("Cautions")));
    for (const std::string& one : cautions)
        out.push_back("  " + language.translate(one));
    return out;
}

} // namespace kite
