#include "store/work.h"

#include "store/packing.h"

namespace kite::store {

void Record::Work::need_writing() const {
    if (readable_only)
        fail("read-only", "The record " + connection->path().string() + " was opened for reading.",
             "Open it for writing.");
}

Row Record::Work::need(const Table& table, const std::string& id) {
    const std::size_t broken = rows.broken.size();
    if (auto row = rows.find(table, id))
        return *row;
    if (rows.broken.size() > broken)
        fail("damaged", "In the record, " + rows.broken.back() + ".", "Use a backup.");
    fail("no-such-row", "The record holds no " + table.name + " \"" + id + "\".",
         "Look at the list for what it holds.");
}

void Record::Work::change(const Table& table, const Row& row, const std::string& step) {
    // After something new nothing that was taken back is done again.
    if (has_undone)
        connection->run("UPDATE change SET undone = 2 WHERE session = ? AND undone = 1",
                        {text(session)});
    has_undone = false;
    const std::string key = row.at(table.key().name).get<std::string>();
    const auto before = rows.find(table, key);
    Row after = row;
    after["changed"] = now_utc();
    if (!after.contains("created") || after["created"].is_null())
        after["created"] = after["changed"];
    rows.put(table, after);
    after = *rows.find(table, key);
    connection->run("INSERT INTO change (number, step, session, entity, row_id, before, after, "
                    "undone, at) SELECT coalesce(max(number), 0) + 1, ?, ?, ?, ?, ?, ?, 0, ? "
                    "FROM change",
                    {text(step), text(session), text(table.name), text(key),
                     before ? QVariant(text(before->dump())) : QVariant(), text(after.dump()),
                     text(after["changed"].get<std::string>())});
    if (before)
        outdate(table, *before, after);
    if (table.name == "swing")
        index(after, before.has_value());
    else if (table.name == "golfer" || table.name == "lesson")
        index_all_of(table.name + "_id", key);
}

void Record::Work::outdate(const Table& table, const Row& before, const Row& after) const {
    if (table.name != "swing")
        return;
    bool differs = false;
    for (const char* column : {"sha256", "told", "moved", "launch"})
        differs = differs || before.at(column) != after.at(column);
    if (differs)
        connection->run("UPDATE result SET version = 0 WHERE swing_id = ?",
                        {text(after.at("id").get<std::string>())});
}

std::string text_in(const Row& row, const char* column) {
    const auto found = row.find(column);
    return found == row.end() || !found->is_string() ? std::string() : found->get<std::string>();
}

void Record::Work::index(const Row& swing, bool known) {
    std::string words;
    const auto add = [&](const std::string& word) { words += (words.empty() ? "" : " ") + word; };
    for (const char* column : {"file", "note", "tags", "mark", "club", "handed", "flight", "strike",
                               "first_fix", "first_fix_words", "guess_feel"})
        add(text_in(swing, column));
    for (const char* other : {"golfer", "lesson"})
        if (const std::string id = text_in(swing, (std::string(other) + "_id").c_str());
            !id.empty())
            if (const auto row = rows.find(table_of(other), id))
                for (const char* column : {"name", "day", "place"})
                    add(text_in(*row, column));
    search.put(text_in(swing, "id"), words, known);
}

void Record::Work::index_all_of(const std::string& column, const std::string& id) {
    for (const Row& swing : rows.all(table_of("swing"), column + " = ?", {text(id)}))
        index(swing, true);
}

void put_whole(const std::filesystem::path& part, const std::filesystem::path& path,
               formats::Old old) {
    auto findings = formats::put_in_place(part, path, old);
    if (findings.empty())
        return;
    findings.front().where = path.string();
    throw StoreError(findings.front());
}

void refuse_what_is_there(const std::filesystem::path& path) {
    std::error_code error;
    if (std::filesystem::exists(std::filesystem::symlink_status(path, error)))
        fail("file-exists", path.string() + " is there already; it was left as it is.",
             "Name a file that is not there yet.");
}

std::vector<Row> rows_called(Rows& rows, const Table& table, const std::string& name_or_id,
                             const std::string& golfer_id) {
    const std::string mine =
        golfer_id.empty() ? " AND deleted IS NULL" : " AND deleted IS NULL AND golfer_id = ?";
    const auto found = [&](const std::string& where, const QString& value) {
        QVariantList values{value};
        if (!golfer_id.empty())
            values.push_back(text(golfer_id));
        return rows.all(table, where + mine + " ORDER BY created, id", values);
    };
    auto out = found("name = ?", text(name_or_id).simplified());
    constexpr std::size_t kFewest = 4; // of an id, as for swings
    if (out.empty() && name_or_id.size() >= kFewest &&
        name_or_id.find_first_not_of("0123456789abcdef-") == std::string::npos)
        out = found("id LIKE ?", text(name_or_id + "%"));
    return out;
}

void fail_ambiguous(const Table& table, const std::string& name, const std::vector<Row>& rows) {
    std::string which;
    for (const Row& row : rows) {
        which += (which.empty() ? "" : "; ") + text_in(row, "id");
        for (const char* column : {"day", "handed"})
            if (const std::string said = text_in(row, column); !said.empty())
                which += ", " + said;
        which += ", since " + text_in(row, "created").substr(0, 10);
    }
    fail("ambiguous-name",
         std::to_string(rows.size()) + (table.name == "golfer" ? " golfers" : " lessons") +
             " are called \"" + name + "\": " + which + ".",
         "Give the id, or enough of its beginning, instead of the name.");
}

} // namespace kite::store
