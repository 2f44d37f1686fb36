#pragma once

#include "store/connection.h"
#include "store/schema.h"

#include <nlohmann/json.hpp>

#include <functional>
#include <optional>
#include <string>
#include <vector>

namespace kite::store {

/// A row as an object of its columns (without bytes): null, text, a number.
using Row = nlohmann::json;

/// Now, in UTC to the microsecond; later than any other that this process was given.
std::string now_utc();
std::string new_id();

/// Half a SHA-256 over the values of a row, the seal itself left out.
std::string seal_of(const Table& table, const Row& row);

/// Rows of sealed tables, read and written as one.
class Rows {
public:
    explicit Rows(Connection& connection) : connection_(connection) {}

    /// Empty: there is none, or its seal is broken (then `broken` names it).
    std::optional<Row> find(const Table& table, const std::string& id);
    /// Every row for which the condition ("golfer_id = ? ORDER BY created") holds. Those with
    /// broken seals are left out and named in `broken`.
    std::vector<Row> all(const Table& table, const std::string& where = "1 = 1",
                         const QVariantList& values = {});
    /// Writes a row, sealed, over one with its key. Columns that it lacks become null.
    void put(const Table& table, Row row);

    std::vector<std::string> broken;

private:
    std::optional<Row> read(const Table& table, const QSqlQuery& query);

    Connection& connection_;
};

/// "swing.id, swing.golfer_id, …"
std::string columns_of(const Table& table);

QString text(const std::string& utf8);
QVariant text_or_null(const std::string& utf8);

} // namespace kite::store
