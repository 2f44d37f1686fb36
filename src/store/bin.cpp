#include "store/backups.h"
#include "store/film_beside.h"
#include "store/work.h"

#include <algorithm>
#include <functional>

namespace kite::store {

namespace {

/// What goes into the bin with a row: what belongs to it.
struct Belonging {
    const char* table;
    const char* column;
    const char* owner;
};
constexpr Belonging kBelongings[] = {{"lesson", "golfer_id", "golfer"},
                                     {"swing", "golfer_id", "golfer"},
                                     {"swing", "lesson_id", "lesson"},
                                     {"plan", "golfer_id", "golfer"},
                                     {"verdict", "swing_id", "swing"}};
constexpr const char* kOwners[] = {"swing", "lesson", "golfer", "plan", "verdict"};

void mark(Record::Work& work, const Table& table, Row row, const Row& when,
          const std::string& step) {
    const Row had = row.at("deleted");
    const std::string id = row.at("id").get<std::string>();
    if (had.is_null() != when.is_null()) {
        row["deleted"] = when;
        work.change(table, row, step);
    }
    for (const Belonging& belonging : kBelongings) {
        if (table.name != belonging.owner)
            continue;
        const Table& below = table_of(belonging.table);
        // Out of the bin comes what went into it together.
        for (Row& row_below :
             when.is_null()
                 ? work.rows.all(below, std::string(belonging.column) + " = ? AND deleted = ?",
                                 {text(id), had.is_null() ? QVariant()
                                                          : QVariant(text(had.get<std::string>()))})
                 : work.rows.all(below, std::string(belonging.column) + " = ? AND deleted IS NULL",
                                 {text(id)}))
            mark(work, below, std::move(row_below), when, step);
    }
}

void mark_all(Record::Work& work, const std::vector<std::string>& ids, bool deleted) {
    work.need_writing();
    work.connection->as_one([&] {
        const std::string step = new_id();
        const Row when = deleted ? Row(now_utc()) : Row();
        for (const std::string& id : ids) {
            bool found = false;
            for (const char* kind : kOwners) {
                const Table& table = table_of(kind);
                if (auto row = work.rows.find(table, id)) {
                    mark(work, table, std::move(*row), when, step);
                    found = true;
                    break;
                }
            }
            if (!found)
                fail("no-such-row",
                     "The record holds nothing with the id \"" + id + "\". Nothing was changed.",
                     "Look at the list for what it holds.");
        }
    });
}

/// Keys of a table for which a condition holds; damaged rows too.
std::vector<std::string> keys(Connection& connection, const std::string& table,
                              const std::string& where) {
    std::vector<std::string> out;
    QSqlQuery query = connection.run("SELECT id FROM " + table + " WHERE " + where);
    while (query.next())
        out.push_back(query.value(0).toString().toStdString());
    connection.need_end_of(query);
    return out;
}

/// What is to go for good, by table, children first.
struct Purge {
    std::string table;
    std::vector<std::string> ids;
};

/// `find`: what is to go, looked for while nobody else can write.
void purge_from(Connection& connection, const std::function<std::vector<Purge>()>& find) {
    connection.as_one([&] {
        const std::vector<Purge> purges = find();
        Search search(connection);
        for (const Purge& purge : purges)
            for (const std::string& id : purge.ids) {
                if (purge.table == "swing") {
                    search.remove(id);
                    connection.run("DELETE FROM result WHERE swing_id = ?", {text(id)});
                    connection.run("DELETE FROM verdict WHERE swing_id = ?", {text(id)});
                }
                // What is not in the bin stays, without its owner.
                for (const Table& table : all_tables())
                    for (const Column& column : table.columns)
                        if (column.refers == purge.table && !column.needed && table.sealed) {
                            Rows rows(connection);
                            for (Row& row : rows.all(table, column.name + " = ?", {text(id)})) {
                                row[column.name] = nullptr;
                                rows.put(table, row);
                            }
                        }
                connection.run("DELETE FROM " + purge.table + " WHERE id = ?", {text(id)});
            }
        // Steps of undo hold what rows were.
        for (const Purge& purge : purges)
            for (const std::string& id : purge.ids)
                connection.run("DELETE FROM change WHERE step IN (SELECT step FROM change WHERE "
                               "row_id = ?)",
                               {text(id)});
        // With the captures that corrected marks have replaced go the steps that lead back to them.
        QSqlQuery unused = connection.run(
            "SELECT sha256 FROM capture WHERE sha256 NOT IN (SELECT sha256 FROM swing)");
        std::vector<QString> gone;
        while (unused.next())
            gone.push_back(unused.value(0).toString());
        connection.need_end_of(unused);
        for (const QString& sha256 : gone) {
            connection.run("DELETE FROM change WHERE step IN (SELECT step FROM change WHERE "
                           "before LIKE ? OR after LIKE ?)",
                           {'%' + sha256 + '%', '%' + sha256 + '%'});
            connection.run("DELETE FROM capture WHERE sha256 = ?", {sha256});
        }
        search.forget_removed();
    });
    connection.forget_deleted();
}

} // namespace

std::vector<Finding> Record::bin(const std::vector<std::string>& ids) {
    return guarded([&] { mark_all(*work_, ids, true); });
}

std::vector<Finding> Record::restore(const std::vector<std::string>& ids) {
    return guarded([&] { mark_all(*work_, ids, false); });
}

Outcome<std::vector<Row>> Record::binned() {
    return guarded<std::vector<Row>>([&] {
        std::vector<Row> out;
        const auto went_with_owner = [&](const Table& table, const Row& row) {
            for (const Belonging& belonging : kBelongings) {
                if (table.name != belonging.table)
                    continue;
                const auto owner =
                    work_->rows.find(table_of(belonging.owner), text_in(row, belonging.column));
                if (owner && owner->at("deleted") == row.at("deleted"))
                    return true;
            }
            return false;
        };
        for (const char* kind : {"golfer", "lesson", "swing", "plan"}) {
            const Table& table = table_of(kind);
            for (Row& row : work_->rows.all(table, "deleted IS NOT NULL")) {
                if (went_with_owner(table, row))
                    continue;
                row["kind"] = kind;
                const std::string column = std::string(kind) + "_id";
                row["swings"] = table_of("swing").find(column) == nullptr
                                    ? 0
                                    : work_->connection
                                          ->value("SELECT count(*) FROM swing WHERE " + column +
                                                      " = ? AND deleted IS NOT NULL",
                                                  {text(text_in(row, "id"))})
                                          .toInt();
                if (const auto golfer =
                        work_->rows.find(table_of("golfer"), text_in(row, "golfer_id")))
                    row["golfer"] = golfer->at("name");
                out.push_back(std::move(row));
            }
        }
        std::stable_sort(out.begin(), out.end(), [](const Row& a, const Row& b) {
            return text_in(a, "deleted") > text_in(b, "deleted");
        });
        return out;
    });
}

Outcome<std::size_t> Record::empty_bin() {
    std::vector<Finding> left;
    auto out = guarded<std::size_t>([&] {
        work_->need_writing();
        std::vector<Purge> purges;
        purge_from(*work_->connection, [&] {
            for (const char* table : {"verdict", "plan", "swing", "lesson", "golfer"})
                purges.push_back({table, keys(*work_->connection, table, "deleted IS NOT NULL")});
            return purges;
        });
        for (const auto& backup : backups_of(path())) {
            try {
                Connection connection(backup, Access::Write);
                purge_from(connection, [&] { return purges; });
            } catch (const StoreError& error) {
                left.push_back({Finding::Severity::Warning, "backup-keeps",
                                "The backup " + backup.string() +
                                    " still holds what was deleted: " + error.finding.what,
                                "", "Delete that file if nothing of it may stay."});
            }
        }
        for (Finding& finding : forget_film(path(), purges[2].ids))
            left.push_back(std::move(finding));
        return purges[2].ids.size();
    });
    out.findings.insert(out.findings.end(), left.begin(), left.end());
    return out;
}

} // namespace kite::store
