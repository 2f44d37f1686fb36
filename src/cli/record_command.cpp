#include "cli/analysis_arguments.h"
#include "cli/commands.h"
#include "cli/in_order.h"
#include "cli/outputs.h"
#include "cli/recorded.h"
#include "core/base/results_version.h"
#include "core/live/swing_take.h"
#include "formats/json/analysis_json.h"
#include "formats/text/bytes.h"
#include "store/measured.h"
#include "store/record.h"

#include <algorithm>
#include <chrono>
#include <iostream>
#include <memory>

namespace kite::cli {

namespace {

using nlohmann::ordered_json;
using store::Opening;
using store::Record;
using store::Row;

std::string dumped(const ordered_json& json) {
    return json.dump(-1, ' ', false, ordered_json::error_handler_t::replace);
}

/// A line on standard output, out of our hands when this returns. False: nobody takes it.
bool print(const std::string& line) {
    std::cout << line << "\n" << std::flush;
    return static_cast<bool>(std::cout);
}

std::unique_ptr<Record> open_for_writing(const Place& place) {
    auto opened = Record::open(place.path(), Opening::Write);
    say(opened.findings);
    return std::move(opened.value);
}

// ---- add

struct AddArguments : AnalysisArguments {
    std::vector<std::string> files;
    std::string golfer;
    std::string lesson;
};

struct Prepared {
    AnalysedFile analysed;
    store::NewSwing swing;
};

/// Keeps what is ready in one commit and prints its lines after it.
class Adding {
public:
    Adding(Record& record, const AddArguments& arguments, bool json)
        : record_(record), arguments_(arguments), json_(json) {}

    /// False: nothing more can be kept.
    bool take(Prepared prepared) {
        waiting_.push_back(std::move(prepared.swing));
        files_.push_back(std::move(prepared.analysed.file));
        constexpr std::size_t kTogether = 16;
        constexpr std::chrono::milliseconds kLongest{200};
        if (waiting_.size() == 1)
            since_ = std::chrono::steady_clock::now();
        if (waiting_.size() < kTogether && std::chrono::steady_clock::now() - since_ < kLongest)
            return true;
        return keep();
    }
    bool keep() {
        if (waiting_.empty())
            return true;
        auto kept = record_.add(waiting_, arguments_.golfer, arguments_.lesson);
        // What does not fit together may fit in part.
        std::size_t done = waiting_.size();
        if (!kept.ok() && waiting_.size() > 1) {
            kept = {};
            for (done = 0; done < waiting_.size(); ++done) {
                auto one = record_.add({waiting_[done]}, arguments_.golfer, arguments_.lesson);
                if (!one.ok()) {
                    kept.findings = one.findings;
                    break;
                }
                kept.value.push_back(one.value.front());
            }
        } else if (!kept.ok()) {
            done = 0;
        }
        bool heard = true;
        for (std::size_t i = 0; i < done && heard; ++i) {
            const store::KeptSwing& swing = kept.value[i];
            heard = print(json_ ? dumped({{"id", swing.id},
                                          {"file", files_[i]},
                                          {"sha256", waiting_[i].sha256},
                                          {"new", swing.is_new}})
                                : swing.id + "  " + files_[i] +
                                      (swing.is_new ? "" : "  (kept before)"));
        }
        kept_ += done;
        if (done < waiting_.size()) {
            say(kept.findings);
            std::cerr << kept_ << " swings were kept; " << files_[done]
                      << " and what comes after it was not.\n";
            return false;
        }
        waiting_.clear();
        files_.clear();
        return heard;
    }

private:
    Record& record_;
    const AddArguments& arguments_;
    bool json_;
    std::vector<store::NewSwing> waiting_;
    std::vector<std::string> files_;
    std::size_t kept_ = 0;
    std::chrono::steady_clock::time_point since_;
};

int run_add(const Place& place, const AddArguments& arguments) {
    const formats::ReadOptions read_options = arguments.read_options();
    const AnalysisOptions options = arguments.measuring_options();
    const Rules rules = arguments.rules();
    const std::string told = told_of(arguments);
    const auto record = open_for_writing(place);
    if (!record)
        return kSomeFailed;
    say(record->back_up_daily());
    Adding adding(*record, arguments, place.json);
    bool all = true;
    bool going = true;
    const Progress progress(arguments.files.size());
    constexpr std::size_t kAhead = 16; // measuring goes on while the disk is waited for
    in_order<Prepared>(
        arguments.files.size(),
        [&](std::size_t i) {
            Prepared out;
            const std::string& file = arguments.files[i];
            auto bytes = formats::read_bytes(file);
            if (!bytes.ok()) {
                out.analysed.file = file;
                out.analysed.findings = std::move(bytes.findings);
                return out;
            }
            out.analysed =
                analyse_file(file, &bytes.value, read_options, options, rules, nullptr, nullptr);
            if (out.analysed.ok && holds(out.analysed.findings, live::kMadeUp) &&
                !arguments.golfer.empty()) {
                out.analysed.ok = false;
                out.analysed.findings.push_back(
                    {Finding::Severity::Error, "nobodys",
                     "This swing was made up by the stand-in; it is never kept as somebody's.", "",
                     "Add it without --golfer."});
            }
            if (out.analysed.ok)
                out.swing = store::new_swing(file, bytes.value, told, out.analysed.analysis,
                                             out.analysed.reading, rules, out.analysed.findings);
            return out;
        },
        [&](std::size_t i, Prepared prepared) {
            say_errors(prepared.analysed);
            if (!prepared.analysed.ok)
                all = false;
            else
                going = adding.take(std::move(prepared));
            progress.done(i + 1);
            return going;
        },
        kAhead);
    going = going && adding.keep();
    // What was ready before the end is kept.
    return all && going ? kDone : kSomeFailed;
}

// ---- list, show, get

int run_list(const Place& place, const store::Wanted& wanted) {
    int status = kDone;
    const auto record = open_for_reading(place, status);
    if (!record)
        return status;
    const auto swings = record->swings(wanted);
    if (say(swings.findings))
        status = kSomeFailed;
    for (const Row& swing : swings.value) {
        const auto text = [&](const char* key) {
            const Row& value = swing.at(key);
            return value.is_string() ? value.get<std::string>() : std::string("-");
        };
        bool heard = true;
        if (place.json) {
            ordered_json line{{"id", swing.at("id")},
                              {"golfer", swing.at("golfer")},
                              {"lesson", swing.at("lesson")},
                              {"when", swing.at("created")},
                              {"file", swing.at("file")},
                              {"sha256", swing.at("sha256")},
                              {"first_fix", swing.at("first_fix")}};
            for (const char* key :
                 {"golfer_id", "lesson_id", "results_version", "handed", "club", "mark", "tags",
                  "note", "flight", "strike", "origin", "file_time"})
                line[key] = swing.at(key);
            heard = print(dumped(line));
        } else {
            heard =
                print(text("id") + "  " + text("created").substr(0, 16) + "  " + text("golfer") +
                      "  " + text("lesson") + "  " + text("file") + "  " + text("first_fix"));
        }
        if (!heard)
            return kSomeFailed;
    }
    return status;
}

std::string json_of(const Again& again) {
    return formats::to_json(again.measured.file, again.measured.analysis, again.measured.reading,
                            again.measured.findings);
}

std::vector<Finding> put_measured(Record& record, const Row& swing, const Again& again) {
    return record.put_result(swing.at("id").get<std::string>(), {kResultsVersion, json_of(again)},
                             again.measured.reading.first_fix.value_or(""), again.title);
}

int run_show(const Place& place, const std::string& id) {
    int status = kDone;
    const auto record = open_for_reading(place, status);
    if (!record)
        return kSomeFailed;
    const auto swing = record->swing(id);
    if (say(swing.findings))
        return kSomeFailed;
    const std::string key = swing.value.at("id").get<std::string>();
    const auto kept = record->result(key);
    if (say(kept.findings))
        return kSomeFailed;
    if (kept.value.version == kResultsVersion)
        return print(kept.value.json) ? status : kSomeFailed;
    const auto again = measure_again(*record, swing.value);
    if (!again) {
        if (kept.value.json.empty())
            return kSomeFailed;
        std::cerr << "The result shown was given under version " << kept.value.version << ".\n";
        print(kept.value.json);
        return kSomeFailed;
    }
    // Kept for the next time, where that can be; shown in any case.
    if (auto writing = Record::open(place.path(), Opening::Write); writing.value)
        put_measured(*writing.value, swing.value, *again);
    return print(json_of(*again)) ? status : kSomeFailed;
}

int run_get(const Place& place, const std::string& id, const std::string& out,
            const Outputs& outputs) {
    if (outputs.refuse(out, {place.path().string()}))
        return kSomeFailed;
    int status = kDone;
    const auto record = open_for_reading(place, status);
    if (!record)
        return kSomeFailed;
    const auto swing = record->swing(id);
    if (say(swing.findings))
        return kSomeFailed;
    const auto bytes = record->capture(swing.value.at("sha256").get<std::string>());
    if (say(bytes.findings))
        return kSomeFailed;
    return say(formats::write_bytes(out, bytes.value, outputs.old())) ? kSomeFailed : status;
}

// ---- keeping

int run_export(const Place& place, const std::string& golfer, const std::string& out,
               const Outputs& outputs) {
    if (outputs.refuse(out, {place.path().string()}))
        return kSomeFailed;
    int status = kDone;
    const auto record = open_for_reading(place, status);
    if (!record)
        return kSomeFailed;
    return say(record->export_golfer(golfer, out, {}, outputs.old())) ? kSomeFailed : status;
}

int run_import(const Place& place, const std::string& zip) {
    const auto record = open_for_writing(place);
    if (!record)
        return kSomeFailed;
    const auto imported = record->import_golfers(zip);
    if (say(imported.findings))
        return kSomeFailed;
    // What was measured elsewhere is measured here.
    bool all = true;
    for (const Row& swing : record->swings({}).value)
        if (swing.at("results_version") != Row(kResultsVersion))
            if (const auto again = measure_again(*record, swing))
                all = !say(put_measured(*record, swing, *again)) && all;
    print(place.json ? dumped({{"rows", imported.value.rows}, {"swings", imported.value.swings}})
                     : std::to_string(imported.value.swings) + " swings taken in");
    return all ? kDone : kSomeFailed;
}

int run_backup(const Place& place, const std::string& out) {
    int status = kDone;
    const auto record = open_for_reading(place, status);
    if (!record)
        return kSomeFailed;
    return say(record->back_up(out)) ? kSomeFailed : status;
}

int run_delete(const Place& place, const std::vector<std::string>& ids, bool back) {
    const auto record = open_for_writing(place);
    if (!record)
        return kSomeFailed;
    return say(back ? record->restore(ids) : record->bin(ids)) ? kSomeFailed : kDone;
}

int run_empty_bin(const Place& place) {
    const auto record = open_for_writing(place);
    if (!record)
        return kSomeFailed;
    const auto emptied = record->empty_bin();
    if (say(emptied.findings))
        return kSomeFailed;
    print(place.json ? dumped({{"swings", emptied.value}})
                     : std::to_string(emptied.value) + " swings deleted for good");
    return kDone;
}

int run_check(const Place& place) {
    auto opened = Record::open(place.path(), Opening::Read);
    store::Check check;
    for (const Finding& finding : opened.findings)
        if (finding.severity != Finding::Severity::Note)
            check.problems.push_back(text_of(finding));
    if (opened.value) {
        auto found = opened.value->check();
        check.swings = found.value.swings;
        for (std::string& problem : found.value.problems)
            check.problems.push_back(std::move(problem));
        for (const Finding& finding : found.findings)
            check.problems.push_back(text_of(finding));
    }
    const bool ok = check.problems.empty();
    if (place.json) {
        print(dumped({{"ok", ok}, {"swings", check.swings}, {"problems", check.problems}}));
    } else {
        for (const std::string& problem : check.problems)
            print(problem);
        print(std::to_string(check.swings) + (ok ? " swings, all sound" : " swings"));
    }
    return ok ? kDone : kSomeFailed;
}

} // namespace

void add_record(CLI::App& app, std::function<int()>& run) {
    CLI::App* record = app.add_subcommand("record", "Keep swings, golfers and lessons");
    record->require_subcommand(1);
    const auto place = std::make_shared<Place>();
    record->add_option("--store", place->store, "The record's file; else the usual place");
    record->add_flag("--json", place->json, "One JSON object a line");
    const auto command = [&](const char* name, const char* what) {
        CLI::App* out = record->add_subcommand(name, what);
        out->fallthrough(); // --store and --json may stand behind
        return out;
    };

    const auto adding = std::make_shared<AddArguments>();
    CLI::App* add = command("add", "Keep swing files; a line is printed when its swing is safe");
    add->add_option("FILE", adding->files, "Swing files, of any known format")->required();
    add->add_option("--golfer", adding->golfer, "Whose swings they are");
    add->add_option("--lesson", adding->lesson, "The lesson they belong to");
    adding->add_to(*add);
    add->callback([=, &run] { run = [=] { return run_add(*place, *adding); }; });

    const auto wanted = std::make_shared<store::Wanted>();
    CLI::App* list = command("list", "The swings, in the order in which they came");
    list->add_option("--golfer", wanted->golfer, "Of this golfer alone");
    list->add_option("--lesson", wanted->lesson, "Of this lesson alone");
    list->add_option("--find", wanted->words, "With all of these words, or words that begin so");
    list->add_flag("--bin", wanted->in_bin, "What is in the bin instead");
    list->callback([=, &run] { run = [=] { return run_list(*place, *wanted); }; });

    const auto id = std::make_shared<std::string>();
    const auto out = std::make_shared<std::string>();
    const auto outputs = std::make_shared<Outputs>();
    const auto golfer = std::make_shared<std::string>();
    const auto ids = std::make_shared<std::vector<std::string>>();
    CLI::App* show = command("show", "A swing's result, as analyse --json gives it");
    show->add_option("ID", *id, "The swing, or the beginning of its id")->required();
    show->callback([=, &run] { run = [=] { return run_show(*place, *id); }; });
    CLI::App* get = command("get", "A swing's capture, byte for byte");
    get->add_option("ID", *id, "The swing, or the beginning of its id")->required();
    get->add_option("OUT", *out, "File to write")->required();
    outputs->add_to(*get);
    get->callback([=, &run] { run = [=] { return run_get(*place, *id, *out, *outputs); }; });
    CLI::App* exported = command("export", "A golfer's whole record as a ZIP");
    exported->add_option("--golfer", *golfer, "Whose")->required();
    exported->add_option("OUT", *out, "ZIP file to write")->required();
    outputs->add_to(*exported);
    exported->callback(
        [=, &run] { run = [=] { return run_export(*place, *golfer, *out, *outputs); }; });
    CLI::App* imported = command("import", "Such a ZIP into this record; twice changes nothing");
    imported->add_option("IN", *out, "ZIP file")->required();
    imported->callback([=, &run] { run = [=] { return run_import(*place, *out); }; });
    CLI::App* backup = command("backup", "A whole copy of the record");
    backup->add_option("OUT", *out, "File to write; it must not be there yet")->required();
    backup->callback([=, &run] { run = [=] { return run_backup(*place, *out); }; });
    CLI::App* deleted = command("delete", "Put swings, lessons or golfers into the bin");
    deleted->add_option("ID", *ids, "Their ids")->required();
    deleted->callback([=, &run] { run = [=] { return run_delete(*place, *ids, false); }; });
    CLI::App* restored = command("restore", "Take them out of the bin again");
    restored->add_option("ID", *ids, "Their ids")->required();
    restored->callback([=, &run] { run = [=] { return run_delete(*place, *ids, true); }; });
    CLI::App* empty = command("empty-bin", "Delete for good what is in the bin");
    empty->callback([=, &run] { run = [=] { return run_empty_bin(*place); }; });
    CLI::App* check = command("check", "Look whether the record is sound");
    check->callback([=, &run] { run = [=] { return run_check(*place); }; });
}

} // namespace kite::cli
