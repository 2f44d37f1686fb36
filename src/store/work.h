#pragma once

#include "store/connection.h"
#include "store/record.h"
#include "store/rows.h"
#include "store/search.h"

#include <string>
#include <vector>

namespace kite::store {

/// What the parts of the store share. Its members throw StoreError.
class Record::Work {
public:
    explicit Work(std::unique_ptr<Connection> opened)
        : connection(std::move(opened)), rows(*connection), search(*connection) {}

    std::unique_ptr<Connection> connection;
    Rows rows;
    Search search;
    bool readable_only = false;
    bool has_undone = false; ///< steps that could be done again
    const std::string session = new_id();

    /// Throws if nothing may be written.
    void need_writing() const;
    /// Row of a table by its key; throws if it is not there.
    Row need(const Table& table, const std::string& id);
    /// Writes a person's row with its time of change, and keeps the step for undo.
    void change(const Table& table, const Row& row, const std::string& step);
    /// A swing whose capture, moments or launch numbers were changed has a result of before: it is
    /// measured again when it is asked for.
    void outdate(const Table& table, const Row& before, const Row& after) const;
    /// Words by which a swing is found, made anew.
    void index(const Row& swing, bool known);
    void index_all_of(const std::string& column, const std::string& id);

    /// Deletes rows and all that hangs on them for good.
    void purge(const std::vector<std::string>& swing_ids, const std::vector<std::string>& others);
};

/// Runs the work; what it throws becomes findings.
template <class T, class Function>
Outcome<T> guarded(Function work) {
    Outcome<T> out;
    try {
        out.value = work();
    } catch (const StoreError& error) {
        out.add(error.finding);
    } catch (const std::exception& error) {
        out.add({Finding::Severity::Error, "store-failed",
                 std::string("The record could not be used: ") + error.what() + ".", "",
                 "Please keep the file: it shows a mistake of this program."});
    }
    return out;
}
template <class Function>
std::vector<Finding> guarded(Function work) {
    return guarded<bool>([&] {
               work();
               return true;
           })
        .findings;
}

/// Puts a finished file into its place; throws if that failed, and the part is gone then.
void put_whole(const std::filesystem::path& part, const std::filesystem::path& path,
               formats::Old old);
/// Throws if there is something of this name.
void refuse_what_is_there(const std::filesystem::path& path);

/// Rows of a table with this name that are not in the bin, or, where there is none, the one with
/// this id or an id that begins so. `golfer_id`: of this golfer alone; empty: of all.
std::vector<Row> rows_called(Rows& rows, const Table& table, const std::string& name_or_id,
                             const std::string& golfer_id);
/// Throws that several are meant, and says which.
[[noreturn]] void fail_ambiguous(const Table& table, const std::string& name,
                                 const std::vector<Row>& rows);

/// Copies every row that can still be read and whose seal holds into a new record. How many swings
/// of how many.
struct Rescued {
    std::size_t swings = 0;
    std::size_t lost = 0; ///< rows and captures that could not be had
};
Rescued rescue(Connection& damaged, const std::filesystem::path& to);

/// Makes the tables of a new record, or leads an older one to the present schema.
void bring_up_to_date(Connection& connection);

} // namespace kite::store
