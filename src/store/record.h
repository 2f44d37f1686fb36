#pragma once

#include "core/base/findings.h"
#include "formats/text/bytes.h"

#include <nlohmann/json.hpp>

#include <filesystem>
#include <functional>
#include <map>
#include <memory>
#include <optional>
#include <string>
#include <vector>

namespace kite::store {

class Connection;

using Row = nlohmann::json;

/// The text in a column; empty where there is none.
std::string text_in(const Row& row, const char* column);

enum class Opening {
    Read, ///< nothing is written; a record that is not there is an empty one
    Write ///< made if it is not there
};

/// A measured swing that is to be kept. Texts are UTF-8; what is not known is empty.
struct NewSwing {
    std::string packed; ///< the capture, by pack()
    std::size_t size = 0;
    std::string sha256; ///< of the capture
    std::string file;
    std::string origin;    ///< whole path
    std::string file_time; ///< ISO 8601 in UTC
    std::string told;      ///< JSON of what was said of it
    std::string handed;    ///< only if it was said
    std::string club;
    std::string first_fix;       ///< id of a fault
    std::string first_fix_words; ///< what the fault is called
    std::string result;          ///< JSON as analyse gives it, packed
};

struct KeptSwing {
    std::string id;
    bool is_new = false;
    std::string lesson_id;     ///< it is in; empty: in none
    bool began_lesson = false; ///< which was made for it
};

/// Which swings are meant; empty: all.
struct Wanted {
    std::string golfer; ///< name or id; of several of one name it must be the id
    std::string lesson; ///< name or id; a name without a golfer means the lessons of all golfers
    std::string words;
    bool in_bin = false;
};

struct StoredResult {
    int version = 0;
    std::string json;
};

struct Check {
    std::size_t swings = 0;
    std::vector<std::string> problems;
};

/// The record in one file: golfers, lessons, swings with their captures and results, plans. Every
/// call that writes is safe on disk when it returns, or was not done at all. Nothing throws; the
/// findings hold what went wrong. Belongs to the thread that opened it; several programs may hold
/// one record open. See docs/record.md.
class Record {
public:
    static std::filesystem::path usual_place();
    /// Null with errors if it cannot be used; what is damaged is opened for reading, with a
    /// finding, and what can be saved is copied beside it.
    static Outcome<std::unique_ptr<Record>> open(const std::filesystem::path& path,
                                                 Opening opening);
    ~Record();
    Record(const Record&) = delete;
    Record& operator=(const Record&) = delete;

    const std::filesystem::path& path() const;

    /// The id of the one golfer of this name, or of this id or beginning of one. An error says
    /// which there are if there are several ("ambiguous-name"), or that there is none
    /// ("no-such-golfer").
    Outcome<std::string> golfer_called(const std::string& who);
    /// The same of a lesson ("no-such-lesson"), among those of a golfer by id; empty: of all.
    Outcome<std::string> lesson_called(const std::string& which, const std::string& golfer_id);

    /// Keeps swings as one, in their order. The same capture of the same golfer and lesson is kept
    /// once. Golfer and lesson by name or id, made if there is none of the name; of several of one
    /// name none is taken.
    Outcome<std::vector<KeptSwing>> add(const std::vector<NewSwing>& swings,
                                        const std::string& golfer, const std::string& lesson);

    /// One swing into a lesson, by the lesson's id; empty: into none.
    Outcome<KeptSwing> add_to_lesson(const NewSwing& swing, const std::string& lesson_id);

    /// One swing into the golfer's newest lesson of a day (ISO 8601); it is begun if there is none.
    Outcome<KeptSwing> add_to_day(const NewSwing& swing, const std::string& golfer_id,
                                  const std::string& day);

    /// The file of a kept swing was written again (marks of film were corrected): its capture and
    /// result are these from here on. What was said of the swing stays; one step of undo.
    std::vector<Finding> keep_anew(const std::string& swing_id, const NewSwing& swing);

    /// Rows of swings with "golfer" and "lesson" (names) and "results_version", in the order in
    /// which they came.
    Outcome<std::vector<Row>> swings(const Wanted& wanted);
    Outcome<std::vector<Row>> swings_of_lesson(const std::string& lesson_id);
    Outcome<std::vector<Row>> swings_of_golfer(const std::string& golfer_id);
    /// One swing by its id or by the beginning of it.
    Outcome<Row> swing(const std::string& id);
    /// The capture byte for byte, compared with its SHA-256.
    Outcome<std::string> capture(const std::string& sha256);
    Outcome<StoredResult> result(const std::string& swing_id);
    /// Faults of a swing that the instructor sees otherwise, with the reason.
    Outcome<std::map<std::string, std::string>> overruled(const std::string& swing_id);
    std::vector<Finding> put_result(const std::string& swing_id, const StoredResult& result,
                                    const std::string& first_fix,
                                    const std::string& first_fix_words);

    /// Rows of one kind ("golfer", "lesson", "swing", "verdict", "plan") that are not in the bin.
    Outcome<std::vector<Row>> rows(const std::string& kind);
    Outcome<Row> row(const std::string& kind, const std::string& id);
    /// Makes a row, or changes the columns that are given; one step of undo. Its key.
    Outcome<std::string> make(const std::string& kind, const Row& values);
    std::vector<Finding> change(const std::string& kind, const std::string& id, const Row& values);
    /// Into the bin, or out of it; golfers and lessons with what is theirs. Ids of any kind.
    std::vector<Finding> bin(const std::vector<std::string>& ids);
    std::vector<Finding> restore(const std::vector<std::string>& ids);
    /// What was put into the bin, newest first: rows of any kind with "kind" and the number of
    /// "swings" that came along; what lies there since its owner does is not named by itself.
    Outcome<std::vector<Row>> binned();
    /// Deletes what is in the bin for good, here and in the backups. How many swings.
    Outcome<std::size_t> empty_bin();

    /// The last step of this session, taken back or done again. False: there is none.
    Outcome<bool> undo();
    Outcome<bool> redo();

    Outcome<Check> check();
    /// A whole copy into a new file; what is there stays as it is.
    std::vector<Finding> back_up(const std::filesystem::path& path);
    /// Today's backup if there is none yet, and old ones pruned.
    std::vector<Finding> back_up_daily();

    /// Called between the pieces of long work; false: it is given up, and nothing was done.
    using Going = std::function<bool(std::size_t done, std::size_t of)>;
    /// One golfer's whole record into a ZIP, and such a ZIP into this record.
    std::vector<Finding> export_golfer(const std::string& who, const std::filesystem::path& path,
                                       const Going& going = {},
                                       formats::Old old = formats::Old::Stays);
    struct Imported {
        std::size_t rows = 0; ///< made or changed
        std::size_t swings = 0;
    };
    Outcome<Imported> import_golfers(const std::filesystem::path& path, const Going& going = {});

    class Work; ///< what the parts of the store share; for them alone

private:
    Record(std::unique_ptr<Connection> connection, bool readable_only);
    std::unique_ptr<Work> work_;
};

} // namespace kite::store
