#include "store/search.h"
#include "store/work.h"

#include <map>

namespace kite::store {

namespace {

/// A swing with the names of its golfer and lesson and the version of its result.
class Completing {
public:
    explicit Completing(Record::Work& work) : work_(work) {}
    void operator()(Row& swing) {
        swing["golfer"] = name_of("golfer", text_in(swing, "golfer_id"));
        swing["lesson"] = name_of("lesson", text_in(swing, "lesson_id"));
        // A damaged result is made again when it is shown: no reason to lose the swing.
        swing["results_version"] = nullptr;
        try {
            const QVariant version = work_.connection->value(
                "SELECT version FROM result WHERE swing_id = ?", {text(text_in(swing, "id"))});
            if (version.isValid())
                swing["results_version"] = version.toInt();
        } catch (const StoreError&) { // stays unknown
        }
    }

private:
    Row name_of(const char* table, const std::string& id) {
        if (id.empty())
            return nullptr;
        const auto known = names_.find(id);
        if (known != names_.end())
            return known->second;
        const auto row = work_.rows.find(table_of(table), id);
        return names_[id] = row ? row->at("name") : Row();
    }
    Record::Work& work_;
    std::map<std::string, Row> names_;
};

/// What was skipped because its seal is broken is said.
void say_broken(Record::Work& work, std::vector<Finding>& findings) {
    for (const std::string& broken : work.rows.broken)
        findings.push_back({Finding::Severity::Error, "damaged-row",
                            "In the record, " + broken + ".", "",
                            "It is not shown. Use a backup for it."});
    work.rows.broken.clear();
}

/// Swings for which a condition holds, in the order in which they came, completed.
Outcome<std::vector<Row>> swings_where(Record::Work& work, const std::string& where,
                                       const QVariantList& values) {
    auto out = guarded<std::vector<Row>>([&] {
        auto rows = work.rows.all(table_of("swing"), where + " ORDER BY created, id", values);
        Completing complete(work);
        for (Row& row : rows)
            complete(row);
        return rows;
    });
    say_broken(work, out.findings);
    return out;
}

} // namespace

Outcome<std::vector<Row>> Record::swings(const Wanted& wanted) {
    std::string where = wanted.in_bin ? "deleted IS NOT NULL" : "deleted IS NULL";
    QVariantList values;
    Outcome<std::vector<Row>> refused;
    const auto only = [&](const char* kind, const std::string& called, bool may_be_several) {
        if (called.empty())
            return true;
        const auto rows = guarded<std::vector<Row>>([&] {
            auto found = rows_called(work_->rows, table_of(kind), called, {});
            // What is in the bin is asked for by the names of before.
            if (found.empty() && wanted.in_bin)
                found = work_->rows.all(table_of(kind), "name = ? OR id = ?",
                                        {text(called).simplified(), text(called)});
            if (found.size() > 1 && !may_be_several)
                fail_ambiguous(table_of(kind), called, found);
            return found;
        });
        if (!rows.ok()) {
            refused.findings = rows.findings;
            return false;
        }
        where += std::string(" AND ") + kind + "_id IN (''";
        for (const Row& row : rows.value) {
            where += ", ?";
            values.push_back(text(text_in(row, "id")));
        }
        where += ")";
        return true;
    };
    // A lesson's name may be that of several golfers' lessons: each swing says whose it is.
    if (!only("golfer", wanted.golfer, false) || !only("lesson", wanted.lesson, true))
        return refused;
    if (!wanted.words.empty()) {
        const auto condition = Search::condition(wanted.words);
        where += " AND " + condition.sql;
        values.push_back(condition.value);
    }
    return swings_where(*work_, where, values);
}

namespace {

/// The one that is called so.
std::string the_one_called(Rows& rows, const char* kind, const std::string& called,
                           const std::string& golfer_id) {
    const Table& table = table_of(kind);
    const auto found = rows_called(rows, table, called, golfer_id);
    if (found.size() > 1)
        fail_ambiguous(table, called, found);
    if (found.empty())
        fail("no-such-" + table.name, "The record holds no " + table.name + " \"" + called + "\".",
             "Look at the list for the names.");
    return text_in(found.front(), "id");
}

} // namespace

Outcome<std::string> Record::golfer_called(const std::string& who) {
    return guarded<std::string>([&] { return the_one_called(work_->rows, "golfer", who, {}); });
}

Outcome<std::string> Record::lesson_called(const std::string& which, const std::string& golfer_id) {
    return guarded<std::string>(
        [&] { return the_one_called(work_->rows, "lesson", which, golfer_id); });
}

Outcome<std::vector<Row>> Record::swings_of_lesson(const std::string& lesson_id) {
    return swings_where(*work_, "lesson_id = ? AND deleted IS NULL", {text(lesson_id)});
}

Outcome<std::vector<Row>> Record::swings_of_golfer(const std::string& golfer_id) {
    return swings_where(*work_, "golfer_id = ? AND deleted IS NULL", {text(golfer_id)});
}

Outcome<Row> Record::swing(const std::string& id) {
    return guarded<Row>([&] {
        const Table& table = table_of("swing");
        auto rows = work_->rows.all(table, "id = ?", {text(id)});
        constexpr std::size_t kFewest = 4;
        if (rows.empty() && work_->rows.broken.empty() && id.size() >= kFewest &&
            id.find_first_not_of("0123456789abcdef-") == std::string::npos)
            rows = work_->rows.all(table, "id LIKE ?", {text(id + "%")});
        if (!work_->rows.broken.empty()) {
            const std::string broken = work_->rows.broken.back();
            work_->rows.broken.clear();
            if (rows.empty())
                fail("damaged-row", "In the record, " + broken + ".", "Use a backup for it.");
        }
        if (rows.size() > 1)
            fail("several-swings", "Several swings begin with \"" + id + "\".", "Give more of it.");
        if (rows.empty())
            fail("no-such-row", "The record holds no swing \"" + id + "\".",
                 "Look at the list for what it holds.");
        Completing complete(*work_);
        complete(rows.front());
        return rows.front();
    });
}

Outcome<std::map<std::string, std::string>> Record::overruled(const std::string& swing_id) {
    return guarded<std::map<std::string, std::string>>([&] {
        std::map<std::string, std::string> out;
        for (const Row& row : work_->rows.all(table_of("verdict"),
                                              "swing_id = ? AND deleted IS NULL AND overruled <> 0",
                                              {text(swing_id)}))
            out[text_in(row, "fault")] = text_in(row, "reason");
        return out;
    });
}

Outcome<std::vector<Row>> Record::rows(const std::string& kind) {
    auto out = guarded<std::vector<Row>>(
        [&] { return work_->rows.all(table_of(kind), "deleted IS NULL ORDER BY created, id"); });
    say_broken(*work_, out.findings);
    return out;
}

Outcome<Row> Record::row(const std::string& kind, const std::string& id) {
    return guarded<Row>([&] { return work_->need(table_of(kind), id); });
}

Outcome<std::string> Record::make(const std::string& kind, const Row& values) {
    return guarded<std::string>([&] {
        work_->need_writing();
        Row row = values;
        if (!row.contains("id"))
            row["id"] = new_id();
        work_->connection->as_one([&] { work_->change(table_of(kind), row, new_id()); });
        return row.at("id").get<std::string>();
    });
}

std::vector<Finding> Record::change(const std::string& kind, const std::string& id,
                                    const Row& values) {
    return guarded([&] {
        work_->need_writing();
        work_->connection->as_one([&] {
            const Table& table = table_of(kind);
            Row row = work_->need(table, id);
            const Row before = row;
            for (const auto& entry : values.items()) {
                if (table.find(entry.key()) == nullptr)
                    fail("no-such-column", "A " + kind + " has no \"" + entry.key() + "\".", "");
                row[entry.key()] = entry.value();
            }
            if (row != before)
                work_->change(table, row, new_id());
        });
    });
}

namespace {

struct Step {
    std::string step;
    std::vector<Row> changes; ///< entity, row_id, before, after; the latest first
};

/// The last step of the session that is (or is not) undone.
std::optional<Step> last_step(Record::Work& work, bool undone) {
    // Undone steps lie behind those that are not: the first of them is done again first.
    const QVariant step = work.connection->value(
        std::string("SELECT step FROM change WHERE session = ? AND undone = ? ORDER BY number ") +
            (undone ? "" : "DESC ") + "LIMIT 1",
        {text(work.session), undone ? 1 : 0});
    if (!step.isValid())
        return std::nullopt;
    Step out{step.toString().toStdString(), {}};
    QSqlQuery query = work.connection->run(
        "SELECT entity, row_id, before, after FROM change WHERE step = ? ORDER BY number DESC",
        {step});
    while (query.next()) {
        const auto json = [&](int column) {
            return query.value(column).isNull()
                       ? Row()
                       : Row::parse(query.value(column).toString().toStdString());
        };
        out.changes.push_back({{"entity", query.value(0).toString().toStdString()},
                               {"row_id", query.value(1).toString().toStdString()},
                               {"before", json(2)},
                               {"after", json(3)}});
    }
    work.connection->need_end_of(query);
    return out;
}

/// Whether a row is still as the step left it, its times apart.
bool same_values(Row a, Row b) {
    for (Row* row : {&a, &b})
        for (const char* column : {"changed", "seal"})
            row->erase(column);
    return a == b;
}

bool step_back_or_on(Record::Work& work, bool back) {
    const auto step = last_step(work, !back);
    if (!step)
        return false;
    auto changes = step->changes;
    if (!back)
        std::reverse(changes.begin(), changes.end());
    for (const Row& change : changes) {
        const Table& table = table_of(change.at("entity").get<std::string>());
        const std::string id = change.at("row_id").get<std::string>();
        const Row now = work.need(table, id);
        // A row that the step made goes into the bin and comes out of it again.
        Row before = change.at("before");
        if (before.is_null()) {
            before = change.at("after");
            before["deleted"] = "undone";
        }
        Row to = back ? before : change.at("after");
        Row from = back ? change.at("after") : before;
        // What was measured since is nobody's step: it stays.
        if (table.name == "swing")
            for (const char* measured : {"first_fix", "first_fix_words"})
                to[measured] = from[measured] = now.at(measured);
        if (!same_values(now, from))
            fail("changed-since", "This was changed by another hand since: it is left as it is.",
                 "Change it by hand.");
        to["changed"] = now_utc();
        work.rows.put(table, to);
        work.outdate(table, now, to);
        if (table.name == "swing")
            work.index(to, true);
        else if (table.name == "golfer" || table.name == "lesson")
            work.index_all_of(table.name + "_id", id);
    }
    work.connection->run("UPDATE change SET undone = ? WHERE step = ?",
                         {back ? 1 : 0, text(step->step)});
    work.has_undone = true;
    return true;
}

} // namespace

Outcome<bool> Record::undo() {
    return guarded<bool>([&] {
        work_->need_writing();
        bool done = false;
        work_->connection->as_one([&] { done = step_back_or_on(*work_, true); });
        return done;
    });
}

Outcome<bool> Record::redo() {
    return guarded<bool>([&] {
        work_->need_writing();
        bool done = false;
        work_->connection->as_one([&] { done = step_back_or_on(*work_, false); });
        return done;
    });
}

} // namespace kite::store
