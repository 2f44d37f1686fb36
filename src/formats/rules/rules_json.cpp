#include "formats/rules/rules_json.h"

#include "formats/rules/rule_reader.h"
#include "formats/rules/shipped.h"
#include "formats/text/bytes.h"

#include <algorithm>
#include <cmath>

namespace kite::formats {

using Severity = Finding::Severity;

namespace {

using Node = StrictJson::Node;

void check_names(RuleReader& reader, const Node& root, const RuleBook& book,
                 const std::map<std::string, Limit>& own_limits,
                 const std::vector<FaultRule>& own_faults, const char* list) {
    for (const auto& [name, at] : reader.used_limits)
        if (book.limits.count(name) == 0 && own_limits.count(name) == 0)
            reader.fail(at, "There is no limit \"" + name + "\".", "Add it under limits.");
    const auto is_known = [&](const std::string& id) {
        return book.find(id) != nullptr ||
               std::any_of(own_faults.begin(), own_faults.end(),
                           [&](const FaultRule& fault) { return fault.id == id; });
    };
    const auto nodes = reader.list(root, list);
    for (std::size_t i = 0; i < own_faults.size() && i < nodes.size(); ++i) {
        for (const std::string& next : own_faults[i].leads_to)
            if (!is_known(next))
                reader.fail(*RuleReader::member(nodes[i], "leads_to"),
                            "There is no fault \"" + next + "\".", "Mend its spelling.");
        for (std::size_t k = 0; k < i; ++k)
            if (own_faults[k].id == own_faults[i].id)
                reader.fail(nodes[i], "The fault \"" + own_faults[i].id + "\" stands twice.",
                            "Take one out.");
    }
}

} // namespace

Outcome<RuleBook> parse_rule_book(std::string_view bytes) {
    Outcome<RuleBook> out;
    RuleReader reader(bytes);
    if (const auto root = reader.open("rules 1", "a file of rules")) {
        reader.only(*root, {"kite-hinge", "limits", "faults"});
        out.value.limits = reader.read_limits(*root);
        for (const Node& at : reader.list(*root, "faults"))
            out.value.faults.push_back(reader.read_fault(at));
        if (out.value.faults.empty())
            reader.fail(*root, "There are no faults in it.", "Add some, or restore the file.");
        check_names(reader, *root, out.value, {}, out.value.faults, "faults");
        if (const auto cycle = find_cycle(out.value); !cycle.empty()) {
            std::string way;
            for (const std::string& id : cycle)
                way += (way.empty() ? "" : " → ") + id;
            reader.fail(*root, "Causes go round in a circle: " + way + ".",
                        "Take one of these \"leads_to\" out.");
        }
    }
    out.findings = std::move(reader.findings);
    if (!out.ok())
        out.value = {};
    return out;
}

Outcome<School> parse_school(std::string_view bytes, const RuleBook& book) {
    Outcome<School> out;
    RuleReader reader(bytes);
    if (const auto root = reader.open("school 1", "a school")) {
        reader.only(*root, {"kite-hinge", "id", "name", "believes", "limits", "weights", "no_fault",
                            "not_judged", "adds", "own_baseline", "answers", "cues", "avoid",
                            "drills", "can_come_first"});
        School& school = out.value;
        school.id = reader.needed_text(*root, "id");
        school.name = reader.needed_text(*root, "name");
        school.believes = reader.text(*root, "believes");
        school.limits = reader.read_limits(*root);
        school.own_baseline = reader.flag(*root, "own_baseline");
        school.cues = reader.texts(*root, "cues");
        school.avoid = reader.texts(*root, "avoid");
        school.drills = reader.texts(*root, "drills");
        school.can_come_first = reader.texts(*root, "can_come_first");
        for (const Node& at : reader.list(*root, "adds"))
            school.adds.push_back(reader.read_fault(at));
        check_names(reader, *root, book, school.limits, school.adds, "adds");
        const auto is_fault = [&](const std::string& id) {
            return book.find(id) != nullptr ||
                   std::any_of(school.adds.begin(), school.adds.end(),
                               [&](const FaultRule& fault) { return fault.id == id; });
        };
        const auto known = [&](const std::string& id, const Node& at) {
            if (!is_fault(id))
                reader.fail(at, "There is no fault \"" + id + "\".", "Mend its spelling.");
        };
        reader.each(*root, "weights", [&](const std::string& id, const Node& at) {
            known(id, at);
            if (at.json->is_number() && at.json->get<double>() >= 0.0)
                school.weights[id] = at.json->get<double>();
            else
                reader.fail(at, "A weight is a number from nought up.", "Mend it.");
        });
        const auto read_reasons = [&](const char* key, bool of_faults,
                                      std::map<std::string, std::string>& into) {
            reader.each(*root, key, [&](const std::string& id, const Node& at) {
                if (of_faults)
                    known(id, at);
                if (at.json->is_string())
                    into[id] = at.json->get<std::string>();
                else
                    reader.fail(at, "This must say why, as a text.", "Mend it.");
            });
        };
        read_reasons("no_fault", true, school.no_fault);
        read_reasons("not_judged", true, school.not_judged);
        read_reasons("answers", false, school.answers);
        for (const std::string& id : school.can_come_first)
            known(id, *RuleReader::member(*root, "can_come_first"));
    }
    out.findings = std::move(reader.findings);
    if (!out.ok())
        out.value = {};
    return out;
}

namespace {

/// What ships with the program is tested before it is built; damage here is damage of the program.
template <class Value>
Value shipped(Outcome<Value> read) {
    if (!read.ok())
        throw std::logic_error("shipped rules: " + text_of(read.findings.front()));
    return std::move(read.value);
}

} // namespace

const RuleBook& shipped_rule_book() {
    static const RuleBook kBook = shipped(parse_rule_book(shipped_rules_bytes()));
    return kBook;
}

const std::vector<School>& shipped_schools() {
    static const std::vector<School> kSchools = [] {
        std::vector<School> out;
        for (std::string_view bytes : shipped_school_bytes())
            out.push_back(shipped(parse_school(bytes, shipped_rule_book())));
        return out;
    }();
    return kSchools;
}

const Rules& plain_rules() {
    static const Rules kRules{shipped_rule_book(), shipped_schools().front(), FaceHabit::Square,
                              Goal::NotSaid, "none"};
    return kRules;
}

Outcome<Rules> rules_with_school(const std::string& id_or_path) {
    Outcome<Rules> out;
    out.value = plain_rules();
    out.value.school_source = id_or_path;
    for (const School& school : shipped_schools())
        if (school.id == id_or_path) {
            out.value.school = school;
            return out;
        }
    const std::filesystem::path path(id_or_path);
    std::error_code ignored;
    if (!std::filesystem::exists(path, ignored)) {
        std::string names;
        for (const School& school : shipped_schools())
            names += (names.empty() ? "" : ", ") + school.id;
        out.add({Severity::Error, "no-school", "There is no school \"" + id_or_path + "\".", "",
                 "It is one of " + names + ", or the path of a file."});
        return out;
    }
    auto bytes = read_bytes(path);
    out.findings = std::move(bytes.findings);
    if (!out.ok())
        return out;
    auto school = parse_school(bytes.value, out.value.book);
    out.findings = std::move(school.findings);
    out.value.school = std::move(school.value);
    return out;
}

} // namespace kite::formats
