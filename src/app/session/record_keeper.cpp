#include "app/session/record_keeper.h"

#include "core/base/number.h"
#include "core/base/results_version.h"
#include "formats/beside/launch_csv.h"
#include "formats/json/analysis_json.h"
#include "formats/practice/plan_json.h"
#include "formats/reader.h"
#include "formats/text/bytes.h"
#include "store/measured.h"
#include "store/told.h"

#include <algorithm>
#include <cmath>
#include <map>

namespace kite::app {

namespace {

std::string utf8(const QString& text) {
    return text.toStdString();
}

/// How open the pelvis is at impact, with its standard uncertainty, from the kept result.
Row open_at_impact(store::Record& record, const std::string& swing) {
    const auto result = record.result(swing);
    const Row json = Row::parse(result.value.json, nullptr, false);
    Row out{{"open_at_impact_deg", nullptr}, {"open_at_impact_u_deg", nullptr}};
    for (const auto& [column, key] : {std::pair{"open_at_impact_deg", "pelvis_turn_deg"},
                                      std::pair{"open_at_impact_u_deg", "pelvis_turn_u_deg"}}) {
        const Row::json_pointer place(std::string("/positions/impact/") + key);
        if (json.is_object() && json.contains(place))
            out[column] = json.at(place);
    }
    return out;
}

/// What was read of results, by swing and the version they were given under.
using Openings = std::map<std::pair<std::string, std::string>, Row>;

RecordView read_view(store::Record& record, const std::string& lesson, Openings& known,
                     std::vector<Finding>& findings) {
    RecordView out;
    const auto take = [&](auto outcome) {
        findings.insert(findings.end(), outcome.findings.begin(), outcome.findings.end());
        return std::move(outcome.value);
    };
    out.golfers = take(record.rows("golfer"));
    out.lessons = take(record.rows("lesson"));
    out.plans = take(record.rows("plan"));
    out.verdicts = take(record.rows("verdict"));
    out.in_bin = take(record.swings({{}, {}, {}, true})).size();
    if (!lesson.empty())
        out.swings = take(record.swings_of_lesson(lesson));
    for (Row& swing : out.swings) {
        const std::string id = swing.at("id").get<std::string>();
        const auto key = std::pair(id, swing.at("results_version").dump());
        if (known.count(key) == 0)
            known[key] = open_at_impact(record, id);
        swing.update(known[key]);
    }
    return out;
}

std::string told_of(const SwingSaid& said, const AxisHints& axes) {
    Row out = Row::object();
    if (said.handed)
        out["handed"] = std::string(key_of(*said.handed));
    if (said.club)
        out["club"] = std::string(key_of(*said.club));
    if (said.number)
        out["swing"] = static_cast<int>(*said.number);
    if (axes.target_deg)
        out["target_deg"] = fixed(*axes.target_deg, 6);
    return out.empty() ? std::string() : out.dump();
}

SwingRequest request_of(const Row& swing, std::string bytes) {
    SwingRequest out;
    out.path = text_in(swing, "file");
    out.golfer = text_in(swing, "golfer");
    out.note = text_in(swing, "note");
    out.capture = std::make_shared<const std::string>(std::move(bytes));
    out.record_id = text_in(swing, "id");
    out.marks.good = text_in(swing, "mark") == QLatin1String("good");
    out.marks.excluded = text_in(swing, "mark") == QLatin1String("left out");
    out.marks.note = out.note;
    const store::HowMeasured how = store::how_measured(swing);
    out.said = {how.read.handed, how.read.club, how.options.swing};
    out.axes = how.read.axes;
    out.moved_s = how.options.moved_s;
    out.launch = how.launch;
    return out;
}

/// As a kept result is written, and what the list says of it.
std::vector<Finding> put(store::Record& record, const std::string& id, const std::string& file,
                         const LoadedSwing& swing) {
    const std::string fix = swing.reading.first_fix.value_or("");
    return record.put_result(
        id,
        {kResultsVersion, formats::to_json(file, swing.analysis, swing.reading, swing.findings)},
        fix, store::title_of(fix, *swing.rules));
}

/// As it is measured now, with all that was said of it.
std::shared_ptr<const LoadedSwing> measured_now(const Row& swing, std::string bytes) {
    const store::HowMeasured how = store::how_measured(swing);
    return load_swing(request_of(swing, std::move(bytes)), how.read, how.options,
                      std::make_shared<const Rules>(how.rules));
}

Outcome<std::vector<Row>> swings_that_count(store::Record& record, const std::string& lesson) {
    auto out = record.swings_of_lesson(lesson);
    out.value.erase(std::remove_if(out.value.begin(), out.value.end(),
                                   [](const Row& swing) {
                                       return text_in(swing, "mark") == QLatin1String("left out");
                                   }),
                    out.value.end());
    return out;
}

/// Those that can be measured, in their order.
void measure_all(store::Record& record, const std::vector<Row>& swings, LoadedSwings& out,
                 std::vector<Finding>& findings) {
    for (const Row& swing : swings) {
        auto bytes = record.capture(swing.at("sha256").get<std::string>());
        findings.insert(findings.end(), bytes.findings.begin(), bytes.findings.end());
        if (!bytes.ok())
            continue;
        if (auto loaded = measured_now(swing, std::move(bytes.value)); loaded->ok)
            out.push_back(std::move(loaded));
    }
}

/// The measures of a kept swing, measured again if its result is of before.
std::map<std::string, Measured> measures_of(store::Record& record, const Row& swing,
                                            std::vector<Finding>& findings) {
    const std::string id = swing.at("id").get<std::string>();
    const auto kept = record.result(id);
    if (kept.value.version == kResultsVersion)
        return store::measures_in(kept.value.json);
    auto bytes = record.capture(swing.at("sha256").get<std::string>());
    if (!bytes.ok()) {
        findings.insert(findings.end(), bytes.findings.begin(), bytes.findings.end());
        return store::measures_in(kept.value.json);
    }
    const store::HowMeasured how = store::how_measured(swing);
    const auto again = load_swing(request_of(swing, std::move(bytes.value)), how.read, how.options,
                                  std::make_shared<const Rules>(how.rules));
    if (!again->ok)
        return store::measures_in(kept.value.json);
    put(record, id, store::text_in(swing, "file"), *again);
    std::map<std::string, Measured> out;
    for (const Measure& measure : all_measures())
        if (const Measured value = measure.of(again->analysis); std::isfinite(value.value))
            out[measure.key] = value;
    return out;
}

KeptMeasures kept_measures(store::Record& record, const Row& swing, const Date& day,
                           std::vector<Finding>& findings) {
    KeptMeasures out;
    out.lesson = store::text_in(swing, "lesson_id");
    out.day = day;
    out.is_good = text_in(swing, "mark") == QLatin1String("good");
    out.values = measures_of(record, swing, findings);
    const auto open = out.values.find("positions.impact.pelvis_turn_deg");
    if (swing.at("guess_open_deg").is_number() && open != out.values.end()) {
        out.guess_error_deg = swing.at("guess_open_deg").get<double>() - open->second.value;
        out.guess_error_u_deg = open->second.u;
    }
    return out;
}

Date day_of(const std::string& text) {
    return find_date(std::string_view(text).substr(0, 10)).value_or(Date(1970, 1, 1));
}

} // namespace

/// Its record belongs to the thread it lives on.
struct RecordKeeper::Work : QObject {
    std::unique_ptr<store::Record> record;
    Openings openings;
};

RecordKeeper::RecordKeeper(QObject* parent) : QObject(parent), work_(new Work) {
    work_->moveToThread(&thread_);
    thread_.start();
}

RecordKeeper::~RecordKeeper() {
    // Last in the queue: the thread ends when all that was asked for is done.
    QMetaObject::invokeMethod(work_, [work = work_] {
        work->record.reset();
        work->deleteLater();
        QThread::currentThread()->quit();
    });
    thread_.wait();
}

void RecordKeeper::open(const QString& path) {
    path_ = path;
    lesson_.clear();
    collected_.clear();
    begin_work();
    QMetaObject::invokeMethod(work_, [this, work = work_, path] {
        work->record.reset();
        auto found = store::Record::open(path.toStdString(), store::Opening::Write);
        Findings findings = found.findings;
        RecordView view;
        work->record = std::move(found.value);
        if (work->record)
            view = read_view(*work->record, {}, work->openings, findings);
        QMetaObject::invokeMethod(this, [this, view, findings, ok = work->record != nullptr] {
            trouble_ = ok || findings.empty() ? QString()
                                              : QString::fromStdString(text_of(findings.front()));
            show(view, findings);
            if (ok) {
                emit opened();
                // A large one takes its time: what is there is seen meanwhile.
                ask([](store::Record& record) { return record.back_up_daily(); });
            }
            end_work();
        });
    });
}

void RecordKeeper::ask(const std::function<Findings(store::Record&)>& work,
                       const std::function<void()>& then, Asks asks) {
    begin_work();
    QMetaObject::invokeMethod(
        work_, [this, on_thread = work_, work, then, asks, lesson = utf8(lesson_)] {
            if (!on_thread->record) {
                QMetaObject::invokeMethod(this, [this] {
                    emit refused(tr("Nothing was kept. %1").arg(trouble_));
                    end_work();
                });
                return;
            }
            Findings findings = work(*on_thread->record);
            RecordView view = read_view(*on_thread->record, lesson, on_thread->openings, findings);
            QMetaObject::invokeMethod(this, [this, view, findings, then, asks] {
                show(view, findings);
                if (then)
                    then();
                if (asks == Asks::Writes)
                    emit written();
                end_work();
            });
        });
}

void RecordKeeper::begin_work() {
    ++wanted_;
    emit progress_changed(done_, wanted_);
}

void RecordKeeper::end_work() {
    ++done_;
    emit progress_changed(done_, wanted_);
    if (done_ == wanted_) {
        done_ = wanted_ = 0;
        asked_.clear();
    }
}

void RecordKeeper::show(RecordView view, const Findings& findings) {
    view_ = std::move(view);
    emit changed();
    for (const Finding& finding : findings)
        if (finding.severity != Finding::Severity::Note) {
            emit refused(QString::fromStdString(text_of(finding)));
            break;
        }
}

const Row* RecordKeeper::golfer(const QString& id) const {
    for (const Row& row : view_.golfers)
        if (text_in(row, "id") == id)
            return &row;
    return nullptr;
}

std::vector<const Row*> RecordKeeper::lessons_of(const QString& golfer) const {
    std::vector<const Row*> out;
    for (const Row& row : view_.lessons)
        if (text_in(row, "golfer_id") == golfer)
            out.push_back(&row);
    std::sort(out.begin(), out.end(), [](const Row* a, const Row* b) {
        return std::pair(text_in(*a, "day"), text_in(*a, "created")) >
               std::pair(text_in(*b, "day"), text_in(*b, "created"));
    });
    return out;
}

const Row* RecordKeeper::lesson_row() const {
    for (const Row& row : view_.lessons)
        if (text_in(row, "id") == lesson_)
            return &row;
    return nullptr;
}

void RecordKeeper::go_on_with(const QString& lesson) {
    lesson_ = lesson;
    ask([](store::Record&) { return Findings(); }, {}, Asks::Reads);
}

void RecordKeeper::make(const QString& kind, const Row& values,
                        const std::function<void(const QString&)>& then) {
    const auto id = std::make_shared<std::string>();
    ask(
        [kind, values, id](store::Record& record) {
            auto done = record.make(utf8(kind), values);
            *id = done.value;
            return done.findings;
        },
        [this, kind, id, then] {
            if (id->empty())
                return;
            emit made(kind, QString::fromStdString(*id));
            if (then)
                then(QString::fromStdString(*id));
        });
}

Row RecordKeeper::as_asked(const Row& row) const {
    Row out = row;
    if (const auto asked = asked_.find(store::text_in(row, "id")); asked != asked_.end())
        out.update(asked->second);
    return out;
}

void RecordKeeper::change(const QString& kind, const QString& id, const Row& values) {
    asked_.try_emplace(utf8(id), Row::object()).first->second.update(values);
    ask([kind, id, values](store::Record& record) {
        return record.change(utf8(kind), utf8(id), values);
    });
}

void RecordKeeper::bin(const QStringList& ids) {
    std::vector<std::string> all;
    for (const QString& id : ids)
        all.push_back(utf8(id));
    ask([all](store::Record& record) { return record.bin(all); });
}

void RecordKeeper::restore(const QStringList& ids) {
    std::vector<std::string> all;
    for (const QString& id : ids)
        all.push_back(utf8(id));
    ask([all](store::Record& record) { return record.restore(all); });
}

void RecordKeeper::keep(const ToKeep& swing) {
    const auto kept_as = std::make_shared<store::KeptSwing>();
    ask(
        [swing, kept_as, lesson = utf8(lesson_),
         collected = utf8(collected_)](store::Record& record) -> Findings {
            // Read and measured here once more: what is kept and what is said of it belong
            // together.
            const std::string file = utf8(swing.path);
            auto bytes = formats::read_bytes(file);
            if (!bytes.ok())
                return bytes.findings;
            formats::ReadOptions read_options = swing.read_options;
            read_options.axes = swing.axes;
            if (swing.said.handed)
                read_options.handed = swing.said.handed;
            if (swing.said.club)
                read_options.club = swing.said.club;
            const auto measured = swing_of(formats::read_take(bytes.value, file, read_options),
                                           swing.options, swing.rules);
            if (!measured->ok)
                return {};
            const auto made = store::new_swing(file, bytes.value, told_of(swing.said, swing.axes),
                                               measured->analysis, measured->reading, *swing.rules,
                                               measured->findings);
            Findings findings;
            if (!swing.anew.isEmpty()) {
                findings = record.keep_anew(utf8(swing.anew), made);
                if (!has_errors(findings))
                    *kept_as = {utf8(swing.anew), false};
            } else if (lesson.empty() || !swing.day.isEmpty()) {
                const auto kept = record.add({made}, utf8(swing.golfer),
                                             swing.day.isEmpty() ? collected : utf8(swing.day));
                if (!kept.value.empty())
                    *kept_as = kept.value.front();
                findings = kept.findings;
            } else {
                const auto kept = record.add_to_lesson(made, lesson);
                *kept_as = kept.value;
                findings = kept.findings;
            }
            // What was said since is not said over.
            if (has_errors(findings) || swing.columns.empty() || !kept_as->is_new)
                return findings;
            findings = record.change("swing", kept_as->id, swing.columns);
            const auto row = record.row("swing", kept_as->id);
            if (!swing.day.isEmpty() && row.ok() && row.value.at("lesson_id").is_string())
                record.change("lesson", row.value.at("lesson_id").get<std::string>(),
                              {{"day", utf8(swing.day)}});
            return findings;
        },
        [this, id = swing.list_id, kept_as] {
            if (!kept_as->id.empty())
                emit kept(id, QString::fromStdString(kept_as->id), kept_as->is_new);
        });
}

void RecordKeeper::fetch(const std::vector<Row>& swings,
                         const std::function<void(const std::vector<SwingRequest>&)>& then) {
    const auto requests = std::make_shared<std::vector<SwingRequest>>();
    ask(
        [swings, requests](store::Record& record) {
            Findings findings;
            for (const Row& swing : swings) {
                auto bytes = record.capture(swing.at("sha256").get<std::string>());
                findings.insert(findings.end(), bytes.findings.begin(), bytes.findings.end());
                if (bytes.ok())
                    requests->push_back(request_of(swing, std::move(bytes.value)));
            }
            return findings;
        },
        [requests, then] { then(*requests); }, Asks::Reads);
}

void RecordKeeper::choose(const QString& golfer) {
    if (golfer == whose_)
        return;
    whose_ = golfer;
    emit whose_changed();
}

void RecordKeeper::put_result(const QString& swing,
                              const std::shared_ptr<const LoadedSwing>& measured) {
    ask([id = utf8(swing), measured](store::Record& record) {
        const auto row = record.swing(id);
        return row.ok() ? put(record, id, store::text_in(row.value, "file"), *measured)
                        : row.findings;
    });
}

void RecordKeeper::look_back(const QString& golfer,
                             const std::function<void(const GolferHistory&)>& then) {
    const auto out = std::make_shared<GolferHistory>();
    ask(
        [id = utf8(golfer), out](store::Record& record) {
            Findings findings;
            const auto take = [&](auto outcome) {
                findings.insert(findings.end(), outcome.findings.begin(), outcome.findings.end());
                return std::move(outcome.value);
            };
            std::map<std::string, Date> days;
            for (Row& lesson : take(record.rows("lesson")))
                if (store::text_in(lesson, "golfer_id") == id) {
                    days[lesson.at("id").get<std::string>()] =
                        day_of(store::text_in(lesson, "day"));
                    out->lessons.push_back(std::move(lesson));
                }
            for (Row& swing : take(record.swings_of_golfer(id))) {
                if (text_in(swing, "mark") == QLatin1String("left out"))
                    continue;
                const auto lesson = days.find(store::text_in(swing, "lesson_id"));
                out->measures.push_back(
                    kept_measures(record, swing,
                                  lesson != days.end() ? lesson->second
                                                       : day_of(store::text_in(swing, "created")),
                                  findings));
                out->launch.push_back(formats::launch_of_json(store::text_in(swing, "launch")));
                out->swings.push_back(std::move(swing));
            }
            for (const Row& row : take(record.rows("plan")))
                if (store::text_in(row, "golfer_id") == id)
                    if (auto plan = formats::parse_plan(store::text_in(row, "plan")); plan.ok())
                        out->plans.push_back(std::move(plan.value));
            const auto by_day = [](const Row& a, const Row& b) {
                return text_in(a, "day") < text_in(b, "day");
            };
            std::stable_sort(out->lessons.begin(), out->lessons.end(), by_day);
            std::stable_sort(
                out->plans.begin(), out->plans.end(),
                [](const Plan& a, const Plan& b) { return a.wish.first_day < b.wish.first_day; });
            return findings;
        },
        [out, then] { then(*out); }, Asks::Reads);
}

void RecordKeeper::measure(const QString& lesson,
                           const std::function<void(const LoadedSwings&)>& then) {
    const auto out = std::make_shared<LoadedSwings>();
    ask(
        [id = utf8(lesson), out](store::Record& record) {
            auto rows = swings_that_count(record, id);
            measure_all(record, rows.value, *out, rows.findings);
            return rows.findings;
        },
        [out, then] { then(*out); }, Asks::Reads);
}

void RecordKeeper::measure(const std::vector<Row>& swings,
                           const std::function<void(const LoadedSwings&)>& then) {
    const auto out = std::make_shared<LoadedSwings>();
    ask(
        [swings, out](store::Record& record) {
            Findings findings;
            measure_all(record, swings, *out, findings);
            return findings;
        },
        [out, then] { then(*out); }, Asks::Reads);
}

void RecordKeeper::fetch_lesson(const QString& lesson,
                                const std::function<void(const std::vector<SwingRequest>&)>& then) {
    const auto rows = std::make_shared<std::vector<Row>>();
    ask(
        [id = utf8(lesson), rows](store::Record& record) {
            auto found = swings_that_count(record, id);
            *rows = std::move(found.value);
            return found.findings;
        },
        [this, rows, then] { fetch(*rows, then); }, Asks::Reads);
}

void RecordKeeper::find(const QString& words,
                        const std::function<void(const std::vector<Row>&)>& then) {
    const auto rows = std::make_shared<std::vector<Row>>();
    ask(
        [words = utf8(words), rows](store::Record& record) {
            auto found = record.swings({{}, {}, words, false});
            *rows = std::move(found.value);
            for (Row& swing : *rows)
                swing.update(open_at_impact(record, swing.at("id").get<std::string>()));
            return found.findings;
        },
        [rows, then] { then(*rows); }, Asks::Reads);
}

void RecordKeeper::ask_long(
    const QString& words,
    const std::function<Findings(store::Record&, const store::Record::Going&, QString& done)>&
        work) {
    *going_on_ = true;
    emit long_work(words, 0, 0);
    const auto done_words = std::make_shared<QString>();
    ask(
        [this, words, work, done_words, going_on = going_on_](store::Record& record) {
            const auto going = [&](std::size_t done, std::size_t of) {
                // A step that is seen, not every swing of ten thousand.
                constexpr std::size_t kSteps = 100;
                if (done % std::max<std::size_t>(1, of / kSteps) == 0)
                    QMetaObject::invokeMethod(this, [this, words, done, of] {
                        emit long_work(words, static_cast<int>(done), static_cast<int>(of));
                    });
                return going_on->load();
            };
            return work(record, going, *done_words);
        },
        [this, done_words] { emit finished(*done_words); });
}

void RecordKeeper::export_golfer(const QString& name, const QString& file) {
    ask_long(tr("Exporting %1").arg(name),
             [name, file](store::Record& record, const auto& going, QString& done) {
                 auto findings = record.export_golfer(utf8(name), utf8(file), going);
                 if (!has_errors(findings))
                     done = tr("%1's whole record is in %2.").arg(name, file);
                 return findings;
             });
}

void RecordKeeper::import_golfers(const QString& file) {
    ask_long(tr("Importing"), [file](store::Record& record, const auto& going, QString& done) {
        auto imported = record.import_golfers(utf8(file), going);
        if (imported.ok())
            done = imported.value.rows == 0 ? tr("All of it was in the record already.")
                                            : tr("%n swing(s) taken in.", nullptr,
                                                 static_cast<int>(imported.value.swings));
        return imported.findings;
    });
}

void RecordKeeper::back_up(const QString& file) {
    ask_long(tr("Backing up"), [file](store::Record& record, const auto& /*going*/, QString& done) {
        auto findings = record.back_up(utf8(file));
        if (!has_errors(findings))
            done = tr("A whole copy of the record is in %1.").arg(file);
        return findings;
    });
}

void RecordKeeper::empty_bin() {
    ask_long(tr("Emptying the bin"),
             [](store::Record& record, const auto& /*going*/, QString& done) {
                 auto emptied = record.empty_bin();
                 if (emptied.ok())
                     done = tr("%n swing(s) deleted for good, in the backups too.", nullptr,
                               static_cast<int>(emptied.value));
                 return emptied.findings;
             });
}

void RecordKeeper::when_done(const std::function<void()>& then) {
    QMetaObject::invokeMethod(work_, [this, then] { QMetaObject::invokeMethod(this, then); });
}

} // namespace kite::app
