#include "cli/analysis_arguments.h"
#include "cli/commands.h"
#include "cli/outputs.h"
#include "cli/paper_module.h"
#include "cli/recorded.h"
#include "core/reading/set_reading.h"
#include "core/sets/history.h"
#include "formats/practice/drills_json.h"
#include "formats/practice/plan_json.h"
#include "formats/reader.h"
#include "formats/text/bytes.h"
#include "report/report.h"

#include <algorithm>
#include <iostream>
#include <memory>

namespace kite::cli {

namespace {

struct ReportArguments : AnalysisArguments {
    std::vector<std::string> files;
    std::vector<std::string> before;
    std::string before_lesson;
    std::string store;
    std::string golfer;
    std::string lesson;
    std::string out;
    std::string title;
    std::string colour;
    std::string plan;
    std::string one_thing;
    std::string homework;
    std::string note;
    Outputs outputs;
};

/// One swing, from a file or from the record.
struct Swing {
    Analysis analysis;
    Reading reading;
};

/// What the report is made of; what it points to is held here.
struct Gathered {
    Rules rules; ///< of files; those of the record hold their own
    std::vector<std::unique_ptr<const Again>> recorded;
    std::vector<Swing> swings;
    std::vector<Swing> before;
    Take example;
    bool all = true;
};

Outcome<Take> take_of(const std::string& file, const std::string* bytes,
                      const formats::ReadOptions& options) {
    return bytes == nullptr ? formats::read_take(std::filesystem::path(file), options)
                            : formats::read_take(*bytes, file, options);
}

void gather_files(const ReportArguments& arguments, Gathered& out) {
    const formats::ReadOptions read_options = arguments.read_options();
    const auto read = [&](const std::vector<std::string>& files, std::vector<Swing>& to) {
        out.all = analyse_files(files, read_options, arguments.analysis_options(), out.rules,
                                arguments.beside(files.size(), read_options),
                                [&](const AnalysedFile& file) {
                                    to.push_back({file.analysis, file.reading});
                                }) &&
                  out.all;
    };
    read(arguments.files, out.swings);
    read(arguments.before, out.before);
}

/// Swings of a lesson that count; of all lessons of the golfer if none is named.
std::vector<store::Row> rows_that_count(store::Record& record, const std::string& golfer_id,
                                        const std::string& lesson_id, Gathered& out) {
    auto rows =
        lesson_id.empty() ? record.swings_of_golfer(golfer_id) : record.swings_of_lesson(lesson_id);
    out.all = !say(rows.findings) && out.all;
    rows.value.erase(std::remove_if(rows.value.begin(), rows.value.end(),
                                    [](const store::Row& row) {
                                        return store::text_in(row, "mark") == "left out";
                                    }),
                     rows.value.end());
    return std::move(rows.value);
}

/// Both sets in one way, so that they can stand beside each other.
void gather_recorded(store::Record& record, const AnalysisArguments& arguments,
                     const std::vector<store::Row>& swings, const std::vector<store::Row>& before,
                     Gathered& out) {
    std::vector<store::Row> all = swings;
    all.insert(all.end(), before.begin(), before.end());
    auto how = measured_as_one(all, arguments);
    for (std::size_t i = 0; i < all.size(); ++i) {
        auto again = measure_again(record, all[i], std::move(how[i]));
        out.all = again != nullptr && out.all;
        if (!again)
            continue;
        (i < swings.size() ? out.swings : out.before)
            .push_back({again->measured.analysis, again->measured.reading});
        out.recorded.push_back(std::move(again));
    }
}

std::vector<const Analysis*> analyses_of(const std::vector<Swing>& swings) {
    std::vector<const Analysis*> out;
    out.reserve(swings.size());
    for (const Swing& swing : swings)
        out.push_back(&swing.analysis);
    return out;
}

std::string joined(const std::vector<std::string>& parts) {
    std::string out;
    for (const std::string& part : parts)
        if (!part.empty())
            out += (out.empty() ? "" : " · ") + part;
    return out;
}

/// False: there is nothing to report on.
bool gather(const ReportArguments& arguments, Gathered& out, report::Told& told) {
    std::string day;
    std::string golfer = arguments.golfer;
    std::string lesson = arguments.lesson;
    if (arguments.files.empty()) {
        int status = kDone;
        const auto record = open_for_reading({arguments.store, false}, status);
        out.all = status == kDone;
        if (!record)
            return false;
        // One golfer's, and one lesson's: names that several have are refused, not mixed.
        std::string golfer_id;
        std::string lesson_id;
        if (!arguments.golfer.empty()) {
            const auto found = record->golfer_called(arguments.golfer);
            if (say(found.findings))
                return false;
            golfer_id = found.value;
            if (const auto row = record->row("golfer", golfer_id); row.ok())
                golfer = store::text_in(row.value, "name");
        }
        if (!arguments.lesson.empty()) {
            const auto found = record->lesson_called(arguments.lesson, golfer_id);
            if (say(found.findings))
                return false;
            const auto row = record->row("lesson", found.value);
            if (say(row.findings))
                return false;
            lesson = store::text_in(row.value, "name");
            day = store::text_in(row.value, "day");
            told.one_thing = store::text_in(row.value, "one_thing");
            told.homework = store::text_in(row.value, "homework");
            if (golfer_id.empty())
                golfer_id = store::text_in(row.value, "golfer_id");
            lesson_id = found.value;
        }
        std::vector<store::Row> before;
        if (!arguments.before_lesson.empty()) {
            const auto found = record->lesson_called(arguments.before_lesson, golfer_id);
            if (say(found.findings))
                return false;
            before = rows_that_count(*record, golfer_id, found.value, out);
        }
        gather_recorded(*record, arguments, rows_that_count(*record, golfer_id, lesson_id, out),
                        before, out);
    } else {
        gather_files(arguments, out);
    }
    if (out.swings.empty()) {
        std::cerr << "kite-hinge-cli: there is no swing to report on.\n";
        return false;
    }
    told.subtitle = joined(
        {golfer, lesson, day == lesson ? "" : day,
         std::to_string(out.swings.size()) + (out.swings.size() == 1 ? " swing" : " swings")});
    return true;
}

/// Here too --force alone says that the old file may go; with a file it is what the feet pressed.
void take_bare_force(ReportArguments& arguments) {
    auto& forces = arguments.forces;
    const auto bare = std::remove(forces.begin(), forces.end(), std::string());
    arguments.outputs.replace = arguments.outputs.replace || bare != forces.end();
    forces.erase(bare, forces.end());
}

int run_report(const ReportArguments& arguments) {
    if (arguments.files.empty() && arguments.golfer.empty() && arguments.lesson.empty())
        throw CLI::ValidationError("report",
                                   "give swing files, or a golfer or lesson of the record");
    const bool is_pdf = std::filesystem::path(arguments.out).extension() == ".pdf";
    if (!is_pdf && std::filesystem::path(arguments.out).extension() != ".html")
        throw CLI::ValidationError("--out", "write a file that ends in .pdf or .html");
    std::vector<std::string> reads{arguments.plan, arguments.store, arguments.names,
                                   arguments.school, arguments.launch};
    for (const auto* files : {&arguments.files, &arguments.before, &arguments.forces})
        reads.insert(reads.end(), files->begin(), files->end());
    if (arguments.outputs.refuse(arguments.out, reads))
        return kSomeFailed;
    report::Told told;
    if (!arguments.colour.empty()) {
        const auto colour = report::paper_colour(arguments.colour);
        if (!colour.ok())
            throw CLI::ValidationError("--colour", text_of(colour.findings.front()));
        told.accent = colour.value;
    }
    const DrillBook& drills = formats::shipped_drills();
    told.drills = &drills;
    if (!arguments.plan.empty()) {
        auto plan = formats::read_plan(arguments.plan);
        if (say(plan.findings))
            return kSomeFailed;
        told.plan = std::move(plan.value);
    }
    Gathered gathered{arguments.rules(), {}, {}, {}, {}, true};
    if (!gather(arguments, gathered, told))
        return kSomeFailed;
    told.title = arguments.title;
    for (const auto& [said, to] :
         {std::pair(&arguments.one_thing, &told.one_thing),
          std::pair(&arguments.homework, &told.homework), std::pair(&arguments.note, &told.note)})
        if (!said->empty())
            *to = *said;
    told.swings = analyses_of(gathered.swings);
    std::vector<Reading> readings;
    for (const Swing& swing : gathered.swings) {
        told.readings.push_back(&swing.reading);
        readings.push_back(swing.reading);
    }
    told.school = gathered.recorded.empty() ? &gathered.rules.school
                                            : &gathered.recorded.front()->how.rules.school;
    told.before = analyses_of(gathered.before);
    told.before_name = arguments.before_lesson;
    std::vector<Reading> readings_before;
    for (const Swing& swing : gathered.before)
        readings_before.push_back(swing.reading);
    if (!readings_before.empty())
        told.comparing.question =
            usual_question(read_set(readings_before).reading.first_fix.value_or(""),
                           told.plan ? &*told.plan : nullptr, drills, gathered.rules.book);
    if (!arguments.before_lesson.empty())
        told.comparing.sessions = Sessions::Two;
    // Lengths and feet of the swing that is drawn: it alone is read once more.
    const std::size_t example = read_set(readings).example;
    if (arguments.files.empty()) {
        const Again& again = *gathered.recorded[example];
        gathered.example = take_of(again.measured.file, &again.bytes, again.how.read).value;
    } else if (gathered.swings.size() == arguments.files.size()) {
        gathered.example =
            take_of(arguments.files[example], nullptr, arguments.read_options()).value;
    }
    told.example_take = &gathered.example;
    const report::Report made = report::make_report(told);
    Outcome<std::string> bytes;
    if (is_pdf)
        bytes = pdf_of(made);
    else
        bytes.value = report::to_html(made);
    if (bytes.ok())
        bytes.findings = formats::write_bytes(arguments.out, bytes.value, arguments.outputs.old());
    for (const Finding& finding : bytes.findings)
        std::cerr << formats::text_of(arguments.out, finding) << "\n";
    if (!bytes.ok())
        return kSomeFailed;
    return gathered.all ? kDone : kSomeFailed;
}

} // namespace

void add_report(CLI::App& app, std::function<int()>& run) {
    const auto arguments = std::make_shared<ReportArguments>();
    CLI::App* command = app.add_subcommand(
        "report", "A report to hand out, as PDF or HTML: a page for the golfer, and the numbers");
    command->add_option("FILE", arguments->files,
                        "Swing files of one golfer; none: swings of the record");
    command->add_option("--out", arguments->out, "File to write, .pdf or .html")->required();
    command->add_option("--store", arguments->store, "The record's file; else the usual place");
    command->add_option("--golfer", arguments->golfer, "Whose swings; of the record, or to print");
    command->add_option("--lesson", arguments->lesson,
                        "Of which lesson; of the record, or to print");
    command->add_option("--before", arguments->before, "Earlier swings to compare with");
    command->add_option("--before-lesson", arguments->before_lesson,
                        "A lesson of the record to compare with");
    command->add_option("--title", arguments->title, "Its title, such as your own name");
    command->add_option("--colour", arguments->colour, "Its colour, such as #1f5f8b");
    command->add_option("--plan", arguments->plan, "A practice plan to print with it (JSON)");
    command->add_option("--one-thing", arguments->one_thing, "The one thing, in your own words");
    command->add_option("--homework", arguments->homework, "Homework, in your own words");
    command->add_option("--note", arguments->note, "A note under the numbers");
    arguments->add_to(*command);
    arguments->add_beside_to(*command);
    arguments->outputs.add_to(*command);
    command->get_option("--force")->expected(0, 1);
    command->callback([arguments, &run] {
        take_bare_force(*arguments);
        run = [arguments] { return run_report(*arguments); };
    });
}

} // namespace kite::cli
