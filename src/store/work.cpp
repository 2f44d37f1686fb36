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

} // namespace kite::store
