#pragma once

#include <string>
#include <string_view>
#include <vector>

namespace kite::store {

/// What a column holds. Text is UTF-8; times are ISO 8601 in UTC; yes and no are 1 and 0.
enum class Kind { Text, Number, Whole, Bytes };

struct Column {
    std::string name;
    Kind kind = Kind::Text;
    bool needed = false;
    std::string refers; ///< table whose key it holds; empty: none
};

/// A table as it is now. The first column is its key.
struct Table {
    std::string name;
    std::vector<Column> columns;
    /// People's rows have changed, deleted and seal at their end; what is big and never edited has
    /// not.
    bool sealed = false;
    std::vector<std::string> indexes; ///< columns that are looked up

    const Column& key() const { return columns.front(); }
    const Column* find(std::string_view name) const;
};

/// Parents before children.
const std::vector<Table>& all_tables();
const Table& table_of(std::string_view name);

/// The version of the schema that this program writes.
constexpr int kSchemaVersion = 1;

/// Statements that lead from one version to the next, for versions 0 (nothing) to
/// kSchemaVersion - 1.
std::vector<std::string> migration_from(int version);

} // namespace kite::store
