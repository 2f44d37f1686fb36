#pragma once

#include "app/session/swing_loader.h"
#include "core/practice/plan.h"
#include "core/sets/history.h"
#include "store/record.h"

#include <QObject>
#include <QString>
#include <QStringList>
#include <QThread>

#include <atomic>
#include <functional>
#include <map>
#include <memory>
#include <optional>
#include <vector>

namespace kite::app {

using store::Row;

/// The text in a column of a row; empty where there is none.
inline QString text_in(const Row& row, const char* column) {
    return QString::fromStdString(store::text_in(row, column));
}

/// What of the record is on screen. Rows are those of the store; of swings with "golfer", "lesson",
/// "results_version", "open_at_impact_deg" and "open_at_impact_u_deg" (null: not measured).
struct RecordView {
    std::vector<Row> golfers;
    std::vector<Row> lessons;
    std::vector<Row> plans;
    std::vector<Row> verdicts; ///< that were overruled
    std::vector<Row> swings;   ///< of the lesson under way
    std::vector<Row> in_bin;   ///< as Record::binned() has them
};

/// One golfer over time; swings in the order in which they came, without those left out.
struct GolferHistory {
    std::vector<Row> swings;
    std::vector<KeptMeasures> measures; ///< one a swing
    std::vector<std::optional<LaunchNumbers>> launch;
    std::vector<Row> lessons; ///< by day
    std::vector<Plan> plans;  ///< by first day
};

/// Where a swing that has arrived is kept, settled when it arrives: whatever is looked at later
/// does not move it.
struct KeepIn {
    QString record;    ///< the record's file
    QString golfer;    ///< id; their lesson of `day`, begun if there is none
    QString day;       ///< ISO 8601
    QString lesson;    ///< id of the lesson of that day that is looked at; empty: the newest one
    QString collected; ///< name of a lesson of whoever the swing says it is of; empty: as above
};

/// A swing that is to be kept: its file as it was opened, and what was said of it.
struct ToKeep {
    int list_id = 0; ///< comes back with `kept`
    QString path;
    QString golfer; ///< by name, where swings are collected
    KeepIn in;
    SwingSaid said;
    AxisHints axes;
    formats::ReadOptions read_options;
    AnalysisOptions options;
    RulesInUse rules;
    QString day;                 ///< its lesson was on; empty: of the lesson as it is
    Row columns = Row::object(); ///< that are known from the start
    QString anew;                ///< the kept swing whose file was written again; empty: a new one
};

/// The record for the window: all of its work is done on a thread of its own, in the order in which
/// it was asked for. What is shown is read back from the record after every change, so that nothing
/// is shown as kept that is not.
class RecordKeeper : public QObject {
    Q_OBJECT
public:
    explicit RecordKeeper(QObject* parent = nullptr);
    ~RecordKeeper() override; ///< what was asked for is still done

    /// Goes on with the record in this file; made if it is not there.
    void open(const QString& path);
    const QString& path() const { return path_; }
    const RecordView& view() const { return view_; }
    /// Why the record cannot be used; empty: it can.
    const QString& trouble() const { return trouble_; }
    const Row* golfer(const QString& id) const;
    /// Newest first.
    std::vector<const Row*> lessons_of(const QString& golfer) const;

    /// The lesson looked at; empty: none. What arrives goes where place_for_arrivals says.
    const QString& lesson() const { return lesson_; }
    const Row* lesson_row() const;
    void go_on_with(const QString& lesson);
    /// Whose lessons and history are looked at, by id; empty: nobody's.
    const QString& whose() const { return whose_; }
    void choose(const QString& golfer);
    /// From here on swings that say their golfer go into a lesson of this name of his; empty: no
    /// more.
    void collect_into(const QString& lesson_name) { collected_ = lesson_name; }
    /// Where a swing goes that arrives now: into the chosen golfer's lesson of today, whichever
    /// lesson is looked at. Nothing: nobody is chosen.
    std::optional<KeepIn> place_for_arrivals() const;

    void keep(const ToKeep& swing);
    /// Its id comes with `made`, and to `then`.
    void make(const QString& kind, const Row& values,
              const std::function<void(const QString&)>& then = {},
              const std::function<void()>& failed = {});
    void change(const QString& kind, const QString& id, const Row& values);
    /// A row as it will be when all that was asked for is done: what is changed quickly twice is
    /// taken back to what it was between.
    Row as_asked(const Row& row) const;
    void bin(const QStringList& ids);
    void restore(const QStringList& ids);
    /// Captures of swings of the lesson under way, to be looked at.
    void fetch(const std::vector<Row>& swings,
               const std::function<void(const std::vector<SwingRequest>&)>& then);
    /// What is kept of a golfer, read on the record's thread. What was measured by an earlier
    /// version, or before its moments were moved, is measured again first.
    void look_back(const QString& golfer, const std::function<void(const GolferHistory&)>& then);
    /// Measures a kept swing again as the record has it told: what is kept hangs on nothing that is
    /// chosen for looking.
    void measure_again(const QString& swing);
    /// Hand, club, number and axes of a kept swing were said anew: it is measured so, and how else
    /// it was measured stays.
    void say(const QString& swing, const SwingSaid& said, const AxisHints& axes);
    /// Captures of all swings of a lesson that count.
    void fetch_lesson(const QString& lesson,
                      const std::function<void(const std::vector<SwingRequest>&)>& then);
    /// Which of these files the record holds byte for byte.
    void find_kept(const QStringList& files, const std::function<void(const QStringList&)>& then);
    /// Swings of the whole record with all of these words.
    void find(const QString& words, const std::function<void(const std::vector<Row>&)>& then);
    /// Swings of a lesson that count, or these, measured, in the order in which they came.
    void measure(const QString& lesson, const std::function<void(const LoadedSwings&)>& then);
    void measure(const std::vector<Row>& swings,
                 const std::function<void(const LoadedSwings&)>& then);

    /// Long work; `long_work` tells how far it is, `finished` what came of it.
    void export_golfer(const QString& golfer, const QString& file);
    void import_golfers(const QString& file);
    void back_up(const QString& file);
    void empty_bin();
    /// Gives up the long work that is going on.
    void give_up() { *going_on_ = false; }

    /// Calls when all that was asked for so far is done.
    void when_done(const std::function<void()>& then);

signals:
    void opened();
    void changed();
    /// Something was written, of whichever golfer.
    void written();
    void made(const QString& kind, const QString& id);
    void whose_changed();
    void kept(int list_id, const QString& swing, bool is_new);
    /// It is not in the record: why.
    void not_kept(int list_id, const QString& why);
    /// A swing went into another lesson than the one looked at.
    void kept_in_other_lesson(const QString& lesson, bool began_it);
    /// Of what was asked for since nothing was left to do.
    void progress_changed(int done, int wanted);
    void long_work(const QString& words, int done, int of);
    void finished(const QString& words);
    /// Something was not done: a sentence, and what mends it.
    void refused(const QString& what);

private:
    struct Work; ///< what lives on the thread
    using Findings = std::vector<Finding>;
    /// Does the work there; then shows what the record holds now.
    enum class Asks { Writes, Reads };
    void ask(const std::function<Findings(store::Record&)>& work,
             const std::function<void()>& then = {}, Asks asks = Asks::Writes);
    void show(RecordView view, const Findings& findings);
    void begin_work();
    void end_work();

    /// Long work, with what is said when it is done.
    void ask_long(const QString& words,
                  const std::function<Findings(store::Record&, const store::Record::Going&,
                                               QString& done)>& work);

    QThread thread_;
    std::shared_ptr<std::atomic<bool>> going_on_ = std::make_shared<std::atomic<bool>>(true);
    Work* work_;
    QString path_;
    QString lesson_;
    QString collected_;
    QString whose_;
    QString trouble_;
    RecordView view_;
    std::map<std::string, Row> asked_; ///< columns on their way, by id
    int done_ = 0;
    int wanted_ = 0;
};

} // namespace kite::app
