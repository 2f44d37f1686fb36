#pragma once

#include "core/reading/rules.h"
#include "formats/json/strict_json.h"

#include <map>
#include <set>
#include <utility>

namespace kite::formats {

/// Reads what rule, school and drill files are made of; docs/rules.md describes them.
class RuleReader : public StrictJson {
public:
    using StrictJson::StrictJson;

    std::map<std::string, Limit> read_limits(const Node& root);
    FaultRule read_fault(const Node& at);
    Condition read_condition(const Node& at);
    Term read_term(const Node& at);

    /// Every limit that was named, with its place: they can only be looked up at the end.
    std::vector<std::pair<std::string, Node>> used_limits;

private:
    /// Groups and terms within each other; deeper ones are nobody's rule.
    static constexpr int kDeepest = 16;
    class Deeper;
    int depth_ = 0;
    static std::optional<Segment> find_part(const std::string& key);
    void read_clubs(const Node& at, const char* key, std::set<ClubKind>& out);
    void read_say(const Node& at, ReasonText& out);
    Instant read_instant(const Node& at, const char* key);
};

} // namespace kite::formats
