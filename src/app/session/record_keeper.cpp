#include "app/session/record_keeper.h"

#include "formats/text/bytes.h"
#include "store/measured.h"

#include <algorithm>
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
        out["target_deg"] = std::to_string(*axes.target_deg);
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
    const Row told = Row::parse(utf8(text_in(swing, "told")), nullptr, false);
    if (told.is_object()) {
        out.said.handed = find_handedness(told.value("handed", std::string()));
        out.said.club = find_club_kind(told.value("club", std::string()));
        if (told.contains("swing") && told.at("swing").is_number_unsigned())
            out.said.number = told.at("swing").get<std::size_t>();
    }
    out.moved_s = store::moved_moments(store::text_in(swing, "moved"));
    return out;
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
                       const std::function<void()>& then) {
    begin_work();
    QMetaObject::invokeMethod(work_, [this, on_thread = work_, work, then, lesson = utf8(lesson_)] {
        if (!on_thread->record) {
            QMetaObject::invokeMethod(this, [this] {
                emit refused(tr("Nothing was kept. %1").arg(trouble_));
                end_work();
            });
            return;
        }
        Findings findings = work(*on_thread->record);
        RecordView view = read_view(*on_thread->record, lesson, on_thread->openings, findings);
        QMetaObject::invokeMethod(this, [this, view, findings, then] {
            show(view, findings);
            if (then)
                then();
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
    if (done_ == wanted_)
        done_ = wanted_ = 0;
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
    ask([](store::Record&) { return Findings(); });
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

void RecordKeeper::change(const QString& kind, const QString& id, const Row& values) {
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
            if (lesson.empty()) {
                const auto kept = record.add({made}, utf8(swing.golfer), collected);
                if (!kept.value.empty())
                    *kept_as = kept.value.front();
                return kept.findings;
            }
            const auto kept = record.add_to_lesson(made, lesson);
            *kept_as = kept.value;
            return kept.findings;
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
        [requests, then] { then(*requests); });
}

void RecordKeeper::when_done(const std::function<void()>& then) {
    QMetaObject::invokeMethod(work_, [this, then] { QMetaObject::invokeMethod(this, then); });
}

} // namespace kite::app
