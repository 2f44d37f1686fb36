#include "store/schema.h"

#include <algorithm>
#include <stdexcept>

namespace kite::store {

namespace {

Table sealed(std::string name, std::vector<Column> columns, std::vector<std::string> indexes) {
    columns.push_back({"created", Kind::Text, true, ""});
    columns.push_back({"changed", Kind::Text, true, ""});
    columns.push_back({"deleted", Kind::Text, false, ""}); ///< when it went into the bin
    columns.push_back({"seal", Kind::Text, true, ""});
    return {std::move(name), std::move(columns), true, std::move(indexes)};
}

std::vector<Table> make_tables() {
    return {
        {"meta", {{"key", Kind::Text, true, ""}, {"value", Kind::Text, true, ""}}, false, {}},
        {"capture",
         {{"sha256", Kind::Text, true, ""},
          {"size", Kind::Whole, true, ""},
          {"packing", Kind::Text, true, ""},
          {"data", Kind::Bytes, true, ""}},
         false,
         {}},
        sealed("golfer",
               {{"id", Kind::Text, true, ""},
                {"name", Kind::Text, true, ""},
                {"handed", Kind::Text, false, ""},
                {"height_m", Kind::Number, false, ""},
                {"mass_kg", Kind::Number, false, ""},
                {"clubs", Kind::Text, false, ""}, ///< JSON: a list of kind, name, length_m
                {"face", Kind::Text, false, ""},
                {"goal", Kind::Text, false, ""},
                {"limits", Kind::Text, false, ""}, ///< JSON: a list of keys
                {"injuries", Kind::Text, false, ""},
                {"note", Kind::Text, false, ""},
                {"film_consent", Kind::Whole, false, ""}},
               {"name"}),
        sealed("lesson",
               {{"id", Kind::Text, true, ""},
                {"golfer_id", Kind::Text, false, "golfer"},
                {"name", Kind::Text, true, ""},
                {"day", Kind::Text, true, ""},
                {"place", Kind::Text, false, ""},
                {"set_up", Kind::Text, false, ""},
                {"one_thing", Kind::Text, false, ""},
                {"homework", Kind::Text, false, ""},
                {"note", Kind::Text, false, ""}},
               {"golfer_id"}),
        sealed(
            "swing",
            {{"id", Kind::Text, true, ""},
             {"golfer_id", Kind::Text, false, "golfer"},
             {"lesson_id", Kind::Text, false, "lesson"},
             {"sha256", Kind::Text, true, "capture"},
             {"file", Kind::Text, true, ""},
             {"origin", Kind::Text, false, ""},
             {"file_time", Kind::Text, false, ""},
             {"told", Kind::Text, false, ""},  ///< JSON: what was said of the file when reading it
             {"moved", Kind::Text, false, ""}, ///< JSON: moments moved by hand
             {"handed", Kind::Text, false, ""},
             {"club", Kind::Text, false, ""},
             {"mark", Kind::Text, false, ""},
             {"tags", Kind::Text, false, ""},
             {"note", Kind::Text, false, ""},
             {"flight", Kind::Text, false, ""},
             {"strike", Kind::Text, false, ""},
             {"launch", Kind::Text, false, ""}, ///< JSON
             {"guess_open_deg", Kind::Number, false, ""},
             {"guess_first", Kind::Text, false, ""},
             {"guess_feel", Kind::Text, false, ""},
             {"first_fix", Kind::Text, false, ""},
             {"first_fix_words", Kind::Text, false, ""}}, ///< what it was called then
            {"golfer_id", "lesson_id", "sha256", "created"}),
        sealed("verdict",
               {{"id", Kind::Text, true, ""},
                {"swing_id", Kind::Text, true, "swing"},
                {"fault", Kind::Text, true, ""},
                {"evidence", Kind::Number, false, ""},
                {"school", Kind::Text, false, ""},
                {"overruled", Kind::Whole, true, ""},
                {"reason", Kind::Text, false, ""}},
               {"swing_id"}),
        sealed("plan",
               {{"id", Kind::Text, true, ""},
                {"golfer_id", Kind::Text, true, "golfer"},
                {"lesson_id", Kind::Text, false, "lesson"},
                {"plan", Kind::Text, true, ""}}, ///< JSON of a plan file, practice done included
               {"golfer_id"}),
        {"result",
         {{"swing_id", Kind::Text, true, "swing"},
          {"version", Kind::Whole, true, ""},
          {"packing", Kind::Text, true, ""},
          {"data", Kind::Bytes, true, ""}},
         false,
         {}},
        // Undo: one row a row changed; steps of one hand in one session in order.
        {"change",
         {{"number", Kind::Whole, true, ""},
          {"step", Kind::Text, true, ""},
          {"session", Kind::Text, true, ""},
          {"entity", Kind::Text, true, ""},
          {"row_id", Kind::Text, true, ""},
          {"before", Kind::Text, false, ""}, ///< JSON; null: there was none
          {"after", Kind::Text, true, ""},
          {"undone", Kind::Whole, true, ""},
          {"at", Kind::Text, true, ""}},
         false,
         {"row_id"}},
    };
}

std::string type_of(Kind kind) {
    switch (kind) {
    case Kind::Number:
        return "DOUBLE PRECISION";
    case Kind::Whole:
        return "BIGINT";
    case Kind::Bytes:
        return "BLOB"; // BYTEA elsewhere
    case Kind::Text:
        break;
    }
    return "TEXT";
}

std::vector<std::string> create_statements(const Table& table) {
    std::string sql = "CREATE TABLE " + table.name + " (";
    for (const Column& column : table.columns) {
        sql += (&column == &table.columns.front() ? "" : ", ") + column.name + " " +
               type_of(column.kind);
        if (&column == &table.columns.front())
            sql += " PRIMARY KEY";
        if (column.needed)
            sql += " NOT NULL";
        if (!column.refers.empty())
            sql += " REFERENCES " + column.refers;
    }
    std::vector<std::string> out{sql + ")"};
    for (const std::string& column : table.indexes)
        out.push_back("CREATE INDEX " + table.name + "_by_" + column + " ON " + table.name + " (" +
                      column + ")");
    return out;
}

} // namespace

const Column* Table::find(std::string_view wanted) const {
    const auto found = std::find_if(columns.begin(), columns.end(),
                                    [&](const Column& column) { return column.name == wanted; });
    return found == columns.end() ? nullptr : &*found;
}

const std::vector<Table>& all_tables() {
    static const std::vector<Table> kTables = make_tables();
    return kTables;
}

const Table& table_of(std::string_view name) {
    for (const Table& table : all_tables())
        if (table.name == name)
            return table;
    throw std::logic_error("no table " + std::string(name));
}

std::vector<std::string> migration_from(int version) {
    if (version != 0)
        throw std::logic_error("no migration from this version");
    std::vector<std::string> out;
    for (const Table& table : all_tables())
        for (std::string& statement : create_statements(table))
            out.push_back(std::move(statement));
    return out;
}

} // namespace kite::store
