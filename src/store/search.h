#pragma once

#include "store/connection.h"

#include <string>

namespace kite::store {

/// Full-text search over the words of every swing. With another engine this file changes.
class Search {
public:
    explicit Search(Connection& connection) : connection_(connection) {}
    static std::string create_statement();
    /// `known`: the swing may have words already.
    void put(const std::string& swing_id, const std::string& words, bool known);
    void remove(const std::string& swing_id);
    /// What is left of removed words goes too.
    void forget_removed();
    /// A condition on swing.id with its value: every word must stand there or begin one.
    struct Condition {
        std::string sql;
        QVariant value;
    };
    static Condition condition(const std::string& words);

private:
    Connection& connection_;
};

} // namespace kite::store
