#include "cli/analysis_arguments.h"
#include "cli/commands.h"
#include "cli/outputs.h"
#include "core/reading/set_reading.h"
#include "formats/practice/drills_json.h"
#include "formats/practice/plan_calendar.h"
#include "formats/practice/plan_json.h"
#include "formats/text/bytes.h"

#include <algorithm>
#include <boost/date_time/gregorian/gregorian_types.hpp>
#include <iostream>
#include <memory>

namespace kite::cli {

namespace {

struct PlanArguments : AnalysisArguments {
    std::vector<std::string> files;
    std::string open;
    std::string out;
    std::string calendar;
    std::string golfer;
    std::string from;
    std::string lesson;
    std::vector<std::string> days;
    int minutes = 20;
    std::string place = "indoors";
    std::vector<std::string> limits;
    std::string done;
    std::string on;
    bool rehearsal = false;
    Outputs outputs;
};

Date date_of(const std::string& text, const char* option) {
    if (text.empty())
        return boost::gregorian::day_clock::local_day();
    if (const auto date = find_date(text))
        return *date;
    throw CLI::ValidationError(option, "\"" + text + "\" is no date; write it as 2026-11-27");
}

PlanWish wish_of(const PlanArguments& arguments) {
    static const std::vector<std::string> kDays{"mon", "tue", "wed", "thu", "fri", "sat", "sun"};
    PlanWish wish;
    wish.first_day = date_of(arguments.from, "--from");
    if (!arguments.lesson.empty())
        wish.next_lesson = date_of(arguments.lesson, "--lesson");
    if (wish.next_lesson && *wish.next_lesson < wish.first_day)
        throw CLI::ValidationError("--lesson", "the next lesson is before the first day");
    if (!arguments.days.empty())
        wish.practises.fill(false);
    for (const std::string& day : arguments.days) {
        const auto found = std::find(kDays.begin(), kDays.end(), day);
        if (found == kDays.end())
            throw CLI::ValidationError("--days", "\"" + day + "\" is none of mon, tue, … sun");
        wish.practises.at(static_cast<std::size_t>(found - kDays.begin())) = true;
    }
    wish.minutes = arguments.minutes;
    wish.place = *find_practice_place(arguments.place);
    for (const std::string& limit : arguments.limits)
        if (formats::shipped_drills().limits.count(limit) == 0)
            throw CLI::ValidationError("--limit", "there is no limit \"" + limit + "\"");
    wish.limits = arguments.limits;
    return wish;
}

bool say_of(const std::vector<Finding>& findings, const std::string& file) {
    for (const Finding& finding : findings)
        std::cerr << (file.empty() ? "" : file + ": ") << text_of(finding) << "\n";
    return has_errors(findings);
}

/// What was read of the swings that could be.
struct Swings {
    std::vector<Analysis> analyses;
    std::vector<Reading> readings;
    bool all = true;
};
Swings read_swings(const PlanArguments& arguments, const Rules& rules) {
    Swings out;
    out.all =
        analyse_files(arguments.files, arguments.read_options(), arguments.measuring_options(),
                      rules, {}, [&](const AnalysedFile& file) {
                          if (!file.ok)
                              return;
                          out.analyses.push_back(file.analysis);
                          out.readings.push_back(file.reading);
                      });
    return out;
}

/// Each swing against the drill, and what of it counts.
void count(const PlanArguments& arguments, const Swings& swings, const DrillBook& book,
           Plan& plan) {
    const Drill* drill = main_drill_of(plan, book);
    if (drill == nullptr) {
        std::cerr << "The drill \"" << plan.main_drill << "\" is not among the drills here.\n";
        return;
    }
    const DrillBand& band = arguments.rehearsal ? drill->rehearsal : drill->swing;
    std::cout << name_of(drill->measure) << ": " << text_of(band, drill->measure) << "\n";
    std::vector<PlanCheck> checks;
    for (std::size_t i = 0; i < swings.analyses.size(); ++i) {
        checks.push_back(check_swing(*drill, swings.analyses[i], arguments.rehearsal,
                                     &swings.readings[i], plan.fault));
        const PlanCheck& check = checks.back();
        std::cout << "  " << i + 1 << "  "
                  << (check.passed ? written(check.value.value, 1, {}) +
                                         (*check.passed ? "  passed" : "  not passed")
                                   : "not measured, not counted")
                  << "\n";
    }
    const Date day = date_of(arguments.on, "--on");
    if (const int rung = rung_on(plan, *drill, day).rung;
        !checks.empty() && !counts_on(rung, checks.front()))
        std::cout << "Full swings do not count on rung " << rung << " (" << name_of_rung(rung)
                  << "). Give --rehearsal for slow ones without a ball.\n";
    PlanCount counted = count_swings(plan, *drill, checks, day);
    if (counted.swings == 0)
        return;
    plan.counts.push_back(counted);
    std::cout << counted.passed << " of " << counted.swings << " passed on rung " << counted.rung
              << (passes(plan, counted)               ? ": the rung is passed."
                  : counted.swings < plan.pass_swings ? ": too few swings to pass a rung."
                                                      : ".")
              << "\n\n";
}

int run_plan(const PlanArguments& arguments) {
    const DrillBook& book = formats::shipped_drills();
    const Rules rules = arguments.rules();
    if (arguments.files.empty() && arguments.open.empty())
        throw CLI::ValidationError("plan", "give swings to plan for, or a plan with --open");
    // What is opened is written back; a plan elsewhere is a new file.
    const bool goes_on = arguments.out.empty() || arguments.out == arguments.open;
    std::vector<std::string> reads = arguments.files;
    reads.insert(reads.end(), {arguments.names, arguments.school});
    if (!goes_on && arguments.outputs.refuse(arguments.out, reads))
        return kSomeFailed;
    reads.push_back(arguments.open);
    if (arguments.outputs.refuse(arguments.calendar, reads))
        return kSomeFailed;
    const Swings swings = read_swings(arguments, rules);
    Plan plan;
    if (arguments.open.empty()) {
        if (swings.readings.empty())
            return kSomeFailed;
        auto made = make_plan(read_set(swings.readings).reading, book, rules.school.drills,
                              wish_of(arguments));
        if (say_of(made.findings, {}))
            return kSomeFailed;
        plan = std::move(made.value);
        plan.golfer = arguments.golfer;
    } else {
        auto read = formats::read_plan(arguments.open);
        if (say_of(read.findings, arguments.open))
            return kSomeFailed;
        plan = std::move(read.value);
        if (!swings.analyses.empty())
            count(arguments, swings, book, plan);
    }
    if (!arguments.done.empty()) {
        const Date day = date_of(arguments.done, "--done");
        const auto found = std::find_if(plan.days.begin(), plan.days.end(),
                                        [&](const PlanDay& one) { return one.date == day; });
        if (found == plan.days.end())
            throw CLI::ValidationError("--done", "the plan has no day " + arguments.done);
        found->done = true;
    }
    // Kept before it is shown: nobody need read it to its end.
    const std::string& to = goes_on ? arguments.open : arguments.out;
    if (!to.empty() &&
        say_of(formats::write_plan(to, plan,
                                   goes_on ? formats::Old::Replaced : arguments.outputs.old()),
               to))
        return kSomeFailed;
    if (!arguments.calendar.empty() &&
        say_of(formats::write_bytes(arguments.calendar,
                                    formats::to_calendar(plan, book, formats::utc_stamp()),
                                    arguments.outputs.old()),
               arguments.calendar))
        return kSomeFailed;
    for (const std::string& line : lines_of(plan, book, date_of(arguments.on, "--on")))
        std::cout << line << "\n";
    return swings.all ? kDone : kSomeFailed;
}

} // namespace

void add_plan(CLI::App& app, std::function<int()>& run) {
    const auto arguments = std::make_shared<PlanArguments>();
    CLI::App* command = app.add_subcommand(
        "plan", "A practice plan for the first fix, or swings counted against one");
    command->add_option("FILE", arguments->files, "Swing files of one golfer");
    command->add_option("--open", arguments->open,
                        "A plan: the swings are counted against its drill and it is kept");
    command->add_option("--out", arguments->out, "Where the plan is written (JSON)");
    command->add_option("--calendar", arguments->calendar, "Writes its days (iCalendar)");
    command->add_option("--golfer", arguments->golfer, "Whose plan it is");
    command->add_option("--from", arguments->from, "First day, such as 2026-11-27; else today");
    command->add_option("--lesson", arguments->lesson, "The next lesson; else two weeks");
    command->add_option("--days", arguments->days, "Days of practice, such as mon,wed,fri")
        ->delimiter(',');
    command->add_option("--minutes", arguments->minutes, "Minutes a day")
        ->check(CLI::Range(5, 240));
    command->add_option("--place", arguments->place, "indoors or range")
        ->check(CLI::IsMember({"indoors", "range"}));
    command->add_option("--limit", arguments->limits,
                        "What the golfer must spare, such as low-back; may be repeated");
    command->add_option("--done", arguments->done, "Ticks a day off");
    command->add_option("--on", arguments->on, "The day on which swings are counted; else today");
    command->add_flag("--rehearsal", arguments->rehearsal,
                      "Count against the band of the slow rehearsal");
    arguments->outputs.add_to(*command);
    arguments->add_to(*command);
    command->callback([arguments, &run] { run = [arguments] { return run_plan(*arguments); }; });
}

} // namespace kite::cli
