#include "cli/analysis_arguments.h"
#include "cli/commands.h"
#include "cli/paper_module.h"
#include "cli/recorded.h"
#include "core/reading/set_reading.h"
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

/// Swings of a lesson that count.
void gather_recorded(store::Record& record, const std::string& golfer, const std::string& lesson,
                     Gathered& out, std::vector<Swing>& to) {
    const auto rows = record.swings({golfer, lesson, {}, false});
    out.all = !say(rows.findings) && out.all;
    for (const store::Row& row : rows.value) {
        if (store::text_in(row, "mark") == "left out")
            continue;
        auto again = measure_again(record, row);
        out.all = again != nullptr && out.all;
        if (!again)
            continue;
        to.push_back({again->measured.analysis, again->measured.reading});
        out.recorded.push_back(std::move(again));
    }
}

/// The one row of a kind with this name; nullptr: none.
store::Row row_named(store::Record& record, const char* kind, const std::string& name) {
    const auto rows = record.rows(kind);
    say(rows.findings);
    for (const store::Row& row : rows.value)
        if (store::text_in(row, "name") == name)
            return row;
    return nullptr;
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
    if (arguments.files.empty()) {
        int status = kDone;
        const auto record = open_for_reading({arguments.store, false}, status);
        out.all = status == kDone;
        if (!record)
            return false;
        gather_recorded(*record, arguments.golfer, arguments.lesson, out, out.swings);
        if (!arguments.before_lesson.empty())
            gather_recorded(*record, arguments.golfer, arguments.before_lesson, out, out.before);
        if (const auto lesson = row_named(*record, "lesson", arguments.lesson);
            !arguments.lesson.empty() && lesson.is_object()) {
            day = store::text_in(lesson, "day");
            told.one_thing = store::text_in(lesson, "one_thing");
            told.homework = store::text_in(lesson, "homework");
        }
    } else {
        gather_files(arguments, out);
    }
    if (out.swings.empty()) {
        std::cerr << "kite-hinge-cli: there is no swing to report on.\n";
        return false;
    }
    told.subtitle = joined(
        {arguments.golfer, arguments.lesson, day == arguments.lesson ? "" : day,
         std::to_string(out.swings.size()) + (out.swings.size() == 1 ? " swing" : " swings")});
    return true;
}

int run_report(const ReportArguments& arguments) {
    if (arguments.files.empty() && arguments.golfer.empty() && arguments.lesson.empty())
        throw CLI::ValidationError("report",
                                   "give swing files, or a golfer or lesson of the record");
    const bool is_pdf = std::filesystem::path(arguments.out).extension() == ".pdf";
    if (!is_pdf && std::filesystem::path(arguments.out).extension() != ".html")
        throw CLI::ValidationError("--out", "write a file that ends in .pdf or .html");
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
        bytes.findings = formats::write_bytes(arguments.out, bytes.value);
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
    command->callback([arguments, &run] { run = [arguments] { return run_report(*arguments); }; });
}

} // namespace kite::cli
