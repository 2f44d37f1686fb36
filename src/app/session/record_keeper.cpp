#include "app/session/record_keeper.h"

#include "core/base/number.h"
#include "core/base/results_version.h"
#include "formats/beside/launch_csv.h"
#include "formats/json/analysis_json.h"
#include "formats/practice/plan_json.h"
#include "formats/reader.h"
#include "formats/text/bytes.h"
#include "store/measured.h"
#include "store/packing.h"
#include "store/told.h"

#include <QDate>

#include <algorithm>
#include <cmath>
#include <map>
#include <type_traits>

namespace kite::app {

namespace {

std::string utf8(const QString& text) {
    return text.toStdString();
}

/// How open the pelvis is at impact, with its standard uncertainty, from the kept result.
Row open_at_impact(store::Record& record, const std::string& swing) {
    const auto result = record.result(swing);
    Row out{{"open_at_impact_deg", nullptr}, {"open_at_impact_u_deg", nullptr}};
    if (result.value.version != kResultsVersion)
        return out; // of before, or measured elsewhere
    const Row json = Row::parse(result.value.json, nullptr, false);
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
    out.in_bin = take(record.binned());
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

/// All on which the result of a swing that is to be kept hangs.
store::HowMeasured how_of(const ToKeep& swing) {
    store::HowMeasured out;
    out.read = swing.read_options;
    out.read.axes = swing.axes;
    if (swing.said.handed)
        out.read.handed = swing.said.handed;
    if (swing.said.club)
        out.read.club = swing.said.club;
    out.options = swing.options;
    out.rules = *swing.rules;
    return out;
}

SwingRequest request_of(const Row& swing, std::string bytes) {
    SwingRequest out;
    out.path = text_in(swing, "file");
    out.golfer = text_in(swing, "golfer");
    out.note = text_in(swing, "note");
    out.capture = std::make_shared<const std::string>(std::move(bytes));
    out.record_id = text_in(swing, "id");
    out.lesson_id = text_in(swing, "lesson_id");
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

/// As it is measured now, with all that was said of it. `AsAll`: rotation speed, separation, top
/// and cut-offs as usual, so that it can stand beside others.
enum class MeasuredAs { Told, All };
std::shared_ptr<const LoadedSwing> measured_now(store::Record& record, const Row& swing,
                                                std::string bytes, MeasuredAs as) {
    const store::HowMeasured how = store::how_measured(swing);
    SwingRequest request = request_of(swing, std::move(bytes));
    request.overruled = record.overruled(store::text_in(swing, "id")).value;
    return load_swing(request, how.read,
                      as == MeasuredAs::All ? store::usual_of(how.options) : how.options,
                      std::make_shared<const Rules>(how.rules));
}

/// Measures a kept swing again as it was told, and keeps that.
std::vector<Finding> measure_and_keep(store::Record& record, const Row& swing) {
    auto bytes = record.capture(store::text_in(swing, "sha256"));
    if (!bytes.ok())
        return bytes.findings;
    const auto measured = measured_now(record, swing, std::move(bytes.value), MeasuredAs::Told);
    return measured->ok
               ? put(record, store::text_in(swing, "id"), store::text_in(swing, "file"), *measured)
               : measured->findings;
}

/// Results of before, and those that came from elsewhere, made anew.
std::vector<Finding> bring_up_to_date(store::Record& record, const std::vector<Row>& swings,
                                      const store::Record::Going& going = {}) {
    std::vector<Finding> out;
    for (std::size_t i = 0; i < swings.size() && (!going || going(i, swings.size())); ++i)
        if (swings[i].at("results_version") != Row(kResultsVersion)) {
            auto findings = measure_and_keep(record, swings[i]);
            // A capture that cannot be measured is said where it is looked at.
            if (holds(findings, "damaged"))
                out.insert(out.end(), findings.begin(), findings.end());
        }
    return out;
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
        if (auto loaded = measured_now(record, swing, std::move(bytes.value), MeasuredAs::All);
            loaded->ok)
            out.push_back(std::move(loaded));
    }
}

/// The measures of a kept swing, measured again if its result is of before.
std::map<std::string, Measured> measures_of(store::Record& record, const Row& swing,
                                            std::vector<Finding>& findings) {
    const std::string id = swing.at("id").get<std::string>();
    const auto kept = record.result(id);
    const store::HowMeasured how = store::how_measured(swing);
    const AnalysisOptions usual = store::usual_of(how.options);
    // Numbers that were taken in another way stand beside none: they are taken in the usual one.
    const bool is_usual = store::measured_alike(how.options, usual);
    if (kept.value.version == kResultsVersion && is_usual)
        return store::measures_in(kept.value.json);
    // What this program measured under an earlier version; what came from elsewhere is not known.
    const auto before = [&] {
        return is_usual && kept.value.version > 0 ? store::measures_in(kept.value.json)
                                                  : std::map<std::string, Measured>();
    };
    auto bytes = record.capture(swing.at("sha256").get<std::string>());
    if (!bytes.ok()) {
        findings.insert(findings.end(), bytes.findings.begin(), bytes.findings.end());
        return before();
    }
    const auto again = load_swing(request_of(swing, std::move(bytes.value)), how.read, usual,
                                  std::make_shared<const Rules>(how.rules));
    if (!again->ok)
        return before();
    if (is_usual)
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
    out.club = find_club_kind(store::text_in(swing, "club")).value_or(ClubKind::Iron);
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
    view_ = {};
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
    choose({});
}

void RecordKeeper::ask(const std::function<Findings(store::Record&)>& work,
                       const std::function<void()>& then, Asks asks) {
    begin_work();
    QMetaObject::invokeMethod(
        work_, [this, on_thread = work_, work, then, asks, lesson = utf8(lesson_)] {
            if (!on_thread->record) {
                QMetaObject::invokeMethod(this, [this, then] {
                    emit refused(tr("Nothing was kept. %1").arg(trouble_));
                    if (then)
                        then();
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
    // A lesson or golfer that was taken back is no longer looked at.
    if (!lesson_.isEmpty() && lesson_row() == nullptr)
        lesson_.clear();
    if (!whose_.isEmpty() && golfer(whose_) == nullptr)
        choose({});
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
    ask(
        [id = utf8(lesson)](store::Record& record) {
            if (id.empty())
                return Findings();
            const auto swings = record.swings_of_lesson(id);
            return bring_up_to_date(record, swings.value);
        },
        {}, Asks::Reads);
}

void RecordKeeper::make(const QString& kind, const Row& values,
                        const std::function<void(const QString&)>& then,
                        const std::function<void()>& failed) {
    const auto id = std::make_shared<std::string>();
    ask(
        [kind, values, id](store::Record& record) {
            auto done = record.make(utf8(kind), values);
            *id = done.value;
            return done.findings;
        },
        [this, kind, id, then, failed] {
            if (id->empty()) {
                if (failed)
                    failed();
                return;
            }
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

namespace {

/// Read and measured once more where it is kept: what is kept and what is said of it belong
/// together.
std::vector<Finding> keep_now(store::Record& record, const ToKeep& swing, store::KeptSwing& out) {
    const std::string file = utf8(swing.path);
    auto bytes = formats::read_bytes(file);
    if (!bytes.ok())
        return bytes.findings;
    const store::HowMeasured how = how_of(swing);
    const auto measured =
        swing_of(formats::read_take(bytes.value, file, how.read), how.options, swing.rules);
    if (!measured->ok)
        return measured->findings;
    const auto made = store::new_swing(file, bytes.value, store::told_of(how), measured->analysis,
                                       measured->reading, *swing.rules, measured->findings);
    if (!swing.anew.isEmpty()) {
        out = {utf8(swing.anew), false, {}, false};
        return record.keep_anew(utf8(swing.anew), made);
    }
    const auto take = [&](auto kept) {
        if (!kept.ok())
            return std::move(kept.findings);
        if constexpr (std::is_same_v<decltype(kept.value), store::KeptSwing>)
            out = kept.value;
        else
            out = kept.value.front();
        return std::move(kept.findings);
    };
    const KeepIn& in = swing.in;
    if (!in.collected.isEmpty())
        return take(record.add({made}, utf8(swing.golfer), utf8(in.collected)));
    if (!in.lesson.isEmpty()) {
        auto kept = record.add_to_lesson(made, utf8(in.lesson));
        if (!holds(kept.findings, "in-the-bin"))
            return take(std::move(kept));
    }
    // The lesson was taken back meanwhile, or there is none yet.
    return take(record.add_to_day(made, utf8(in.golfer), utf8(in.day)));
}

} // namespace

std::optional<KeepIn> RecordKeeper::place_for_arrivals() const {
    KeepIn out;
    out.record = path_;
    out.day = QDate::currentDate().toString(Qt::ISODate);
    if (!collected_.isEmpty()) {
        out.collected = collected_;
        return out;
    }
    const Row* lesson = lesson_row();
    out.golfer = lesson != nullptr ? text_in(*lesson, "golfer_id") : whose_;
    if (golfer(out.golfer) == nullptr)
        return std::nullopt;
    if (lesson != nullptr && text_in(*lesson, "day") == out.day)
        out.lesson = lesson_;
    return out;
}

void RecordKeeper::keep(const ToKeep& swing) {
    const auto kept_as = std::make_shared<store::KeptSwing>();
    const auto why = std::make_shared<QString>();
    ask(
        [swing, kept_as, why](store::Record& record) -> Findings {
            Findings findings = keep_now(record, swing, *kept_as);
            if (!findings.empty())
                *why = QString::fromStdString(text_of(findings.front()));
            if (has_errors(findings)) {
                kept_as->id.clear();
                return {}; // not_kept says it
            }
            // What was said since is not said over.
            if (kept_as->id.empty() || swing.columns.empty() || !kept_as->is_new)
                return findings;
            findings = record.change("swing", kept_as->id, swing.columns);
            if (!swing.day.isEmpty() && !kept_as->lesson_id.empty())
                record.change("lesson", kept_as->lesson_id, {{"day", utf8(swing.day)}});
            return findings;
        },
        [this, swing, kept_as, why] {
            if (kept_as->id.empty()) {
                emit not_kept(swing.list_id, why->isEmpty() ? trouble_ : *why);
                return;
            }
            const QString lesson = QString::fromStdString(kept_as->lesson_id);
            emit kept(swing.list_id, QString::fromStdString(kept_as->id), kept_as->is_new);
            if (swing.in.collected.isEmpty() && swing.anew.isEmpty() && lesson != lesson_)
                emit kept_in_other_lesson(lesson, kept_as->began_lesson);
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

void RecordKeeper::measure_again(const QString& swing) {
    ask([id = utf8(swing)](store::Record& record) {
        const auto row = record.swing(id);
        if (!row.ok())
            return row.findings;
        return measure_and_keep(record, row.value);
    });
}

void RecordKeeper::say(const QString& swing, const SwingSaid& said, const AxisHints& axes) {
    ask([id = utf8(swing), said, axes](store::Record& record) {
        auto row = record.swing(id);
        if (!row.ok())
            return row.findings;
        store::HowMeasured how = store::how_measured(row.value);
        how.read.handed = said.handed;
        how.read.club = said.club;
        how.read.axes = axes;
        how.options.swing = said.number;
        const std::string told = store::told_of(how);
        Row columns{{"told", told.empty() ? Row() : Row(told)}};
        if (said.handed)
            columns["handed"] = std::string(key_of(*said.handed));
        if (said.club)
            columns["club"] = std::string(key_of(*said.club));
        auto findings = record.change("swing", id, columns);
        if (has_errors(findings))
            return findings;
        row = record.swing(id);
        return row.ok() ? measure_and_keep(record, row.value) : row.findings;
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

void RecordKeeper::find_kept(const QStringList& files,
                             const std::function<void(const QStringList&)>& then) {
    const auto kept = std::make_shared<QStringList>();
    ask(
        [files, kept](store::Record& record) {
            for (const QString& file : files)
                if (const auto bytes = formats::read_bytes(utf8(file));
                    bytes.ok() && record.capture(store::sha256_of(bytes.value)).ok())
                    *kept << file;
            return Findings();
        },
        [kept, then] { then(*kept); }, Asks::Reads);
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

void RecordKeeper::export_golfer(const QString& golfer_id, const QString& file) {
    const Row* row = golfer(golfer_id);
    const QString name = row == nullptr ? golfer_id : text_in(*row, "name");
    ask_long(tr("Exporting %1").arg(name),
             [golfer_id, name, file](store::Record& record, const auto& going, QString& done) {
                 auto findings = record.export_golfer(utf8(golfer_id), utf8(file), going,
                                                      formats::Old::Replaced);
                 if (!has_errors(findings))
                     done = tr("%1's whole record is in %2.").arg(name, file);
                 return findings;
             });
}

void RecordKeeper::import_golfers(const QString& file) {
    ask_long(tr("Importing"), [file](store::Record& record, const auto& going, QString& done) {
        auto imported = record.import_golfers(utf8(file), going);
        if (imported.ok() && imported.value.swings > 0)
            bring_up_to_date(record, record.swings({}).value, going);
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
