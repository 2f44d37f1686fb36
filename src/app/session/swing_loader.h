#pragma once

#include "app/session/swing_marks.h"
#include "core/measures/analyse.h"
#include "core/reading/reading.h"
#include "core/reading/words.h"
#include "formats/format.h"
#include "report/pictures/measured_swing.h"

#include <QString>

#include <map>
#include <memory>
#include <string>
#include <vector>

namespace kite::app {

/// What the user said of a swing that its file does not say, or says wrongly.
struct SwingSaid {
    std::optional<Handedness> handed;
    std::optional<ClubKind> club;
    std::optional<std::size_t> number; ///< which swing of a take with several, from 1

    bool operator==(const SwingSaid& other) const {
        return handed == other.handed && club == other.club && number == other.number;
    }
};

/// Faults that the instructor sees otherwise, by id, with the reason.
using Overruled = std::map<std::string, std::string>;

/// A swing as the list holds it: what was asked for, and once it is loaded what came of it.
struct SwingRequest {
    QString path;
    QString golfer;
    QString note;
    AxisHints axes = {}; ///< of a marker file, as the user said; else found
    SwingSaid said = {};
    // Of a swing that comes from the record.
    std::shared_ptr<const std::string> capture = {}; ///< the file's bytes; null: read from `path`
    QString record_id = {};
    QString lesson_id = {}; ///< of the record
    SwingMarks marks = {};
    std::map<Moment, double> moved_s = {};
    std::optional<LaunchNumbers> launch = {};
    Overruled overruled = {};
};

/// The rules that a reading goes by: school and face habit. Readings point into them.
using RulesInUse = std::shared_ptr<const Rules>;
RulesInUse rules_without_school();

struct LoadedSwing {
    bool ok = false;
    RulesInUse rules = rules_without_school();
    std::shared_ptr<const Take> take;   ///< shared by every analysis of the same file
    std::vector<Finding> file_findings; ///< of reading alone
    Analysis analysis;
    Reading reading; ///< with what was overruled
    Overruled overruled;
    std::vector<Finding> findings; ///< of reading and analysis; holds the error if not ok
};

/// Nobody's: a stand-in sent it. It is never kept as somebody's.
bool is_made_up(const LoadedSwing& swing);

using LoadedSwings = std::vector<std::shared_ptr<const LoadedSwing>>;

/// As pictures need it, for as long as the swing lives.
inline report::MeasuredSwing measured(const LoadedSwing& swing) {
    return {*swing.take, swing.analysis};
}

/// Reads and analyses one file; runs on a worker thread and touches no interface.
std::shared_ptr<const LoadedSwing> load_swing(const SwingRequest& request,
                                              formats::ReadOptions read_options,
                                              const AnalysisOptions& options,
                                              const RulesInUse& rules);

/// What was read, measured.
std::shared_ptr<const LoadedSwing> swing_of(Outcome<Take> take, const AnalysisOptions& options,
                                            const RulesInUse& rules = rules_without_school(),
                                            const Overruled& overruled = {});
/// The same numbers, read with other verdicts overruled.
std::shared_ptr<const LoadedSwing> read_again(const LoadedSwing& swing, const Overruled& overruled);

/// The same file measured or read in another way, without opening it again; as load_swing.
std::shared_ptr<const LoadedSwing> analyse_again(const std::shared_ptr<const LoadedSwing>& swing,
                                                 const AnalysisOptions& options,
                                                 const RulesInUse& rules);

/// Files, folders and lesson lists opened by the user, as single swings in order. A lesson list
/// that cannot be read comes back as a request for the list itself, so that its error is shown.
std::vector<SwingRequest> expand_paths(const QStringList& paths, QString* lesson_name = nullptr);

/// Names of the files that can be swings, as *.csv and so on.
QStringList capture_patterns();

/// The demo lesson's list, in the source tree or beside the installed program; empty if not found.
QString find_demo_lesson();

} // namespace kite::app
