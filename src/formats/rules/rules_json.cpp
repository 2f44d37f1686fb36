#include "formats/rules/rules_json.h"

#include "formats/json/json_lines.h"
#include "formats/rules/shipped.h"
#include "formats/text/bytes.h"

#include <nlohmann/json.hpp>

#include <algorithm>
#include <cmath>
#include <initializer_list>

namespace kite::formats {

using Json = nlohmann::ordered_json;
using Severity = Finding::Severity;

namespace {

/// A value of the file with its place.
struct Node {
    const Json* json = nullptr;
    std::string pointer;
};

/// Reads one file; the first things that are wrong are named, each with its line.
class RuleReader {
public:
    explicit RuleReader(std::string_view bytes) : bytes_(bytes) {}

    std::vector<Finding> findings;

    /// The whole file; empty: it is no JSON, or of another kind.
    std::optional<Node> open(const char* version, const char* kind) {
        try {
            root_ = Json::parse(bytes_);
        } catch (const Json::parse_error& error) {
            findings.push_back({Severity::Error, "bad-json", "This is not valid JSON.",
                                "line " + std::to_string(line_of_byte(bytes_, error.byte)),
                                "Mend or restore the file."});
            return std::nullopt;
        } catch (const Json::exception&) {
            findings.push_back({Severity::Error, "bad-json", "This JSON cannot be used.", "",
                                "Look for numbers beyond every range."});
            return std::nullopt;
        }
        const Node root{&root_, ""};
        if (!root_.is_object() || text(root, "kite-hinge") != version) {
            findings.push_back({Severity::Error, "not-rules",
                                std::string("This is not ") + kind + ".", "key kite-hinge",
                                std::string("It must say \"") + version + "\"."});
            return std::nullopt;
        }
        return root;
    }

    void fail(const Node& at, const std::string& what, const std::string& mend) {
        constexpr std::size_t kMost = 20;
        if (findings.size() < kMost)
            findings.push_back({Severity::Error, "bad-rule", what,
                                "line " + std::to_string(line_of(bytes_, at.pointer)) + ", " +
                                    (at.pointer.empty() ? "the file" : at.pointer),
                                mend});
    }

    static std::optional<Node> member(const Node& at, const char* key) {
        if (!at.json->is_object() || !at.json->contains(key))
            return std::nullopt;
        return Node{&(*at.json)[key], at.pointer + "/" + key};
    }
    std::string text(const Node& at, const char* key) {
        const auto found = member(at, key);
        if (!found)
            return {};
        if (!found->json->is_string()) {
            fail(*found, "This must be a text.", "Put it in quotes.");
            return {};
        }
        return found->json->get<std::string>();
    }
    std::string needed_text(const Node& at, const char* key) {
        std::string out = text(at, key);
        if (out.empty())
            fail(at, std::string("\"") + key + "\" is missing.", "Add it as a text.");
        return out;
    }
    double number(const Node& at, const char* key) {
        const auto found = member(at, key);
        if (!found || !found->json->is_number() || !std::isfinite(found->json->get<double>())) {
            fail(found.value_or(at), std::string("\"") + key + "\" must be a number.", "Mend it.");
            return kMissing;
        }
        return found->json->get<double>();
    }
    std::vector<Node> list(const Node& at, const char* key) {
        std::vector<Node> out;
        const auto found = member(at, key);
        if (!found)
            return out;
        if (!found->json->is_array()) {
            fail(*found, std::string("\"") + key + "\" must be a list.", "Put it in brackets.");
            return out;
        }
        for (std::size_t i = 0; i < found->json->size(); ++i)
            out.push_back({&(*found->json)[i], found->pointer + "/" + std::to_string(i)});
        return out;
    }
    std::vector<std::string> texts(const Node& at, const char* key) {
        std::vector<std::string> out;
        for (const Node& one : list(at, key)) {
            if (one.json->is_string())
                out.push_back(one.json->get<std::string>());
            else
                fail(one, "This must be a text.", "Put it in quotes.");
        }
        return out;
    }
    /// Calls use(name, node) for every member of an object.
    template <class Use>
    void each(const Node& at, const char* key, const Use& use) {
        const auto found = member(at, key);
        if (!found)
            return;
        if (!found->json->is_object()) {
            fail(*found, std::string("\"") + key + "\" must be an object.", "Put it in braces.");
            return;
        }
        for (const auto& entry : found->json->items())
            use(entry.key(), Node{&entry.value(), found->pointer + "/" + entry.key()});
    }
    /// A key that nobody reads is most likely a misspelt one.
    void only(const Node& at, std::initializer_list<std::string_view> known) {
        if (!at.json->is_object()) {
            fail(at, "This must be an object.", "Put it in braces.");
            return;
        }
        for (const auto& entry : at.json->items())
            if (std::find(known.begin(), known.end(), entry.key()) == known.end())
                fail({&entry.value(), at.pointer + "/" + entry.key()},
                     "Nothing here is called \"" + entry.key() + "\".",
                     "Mend its spelling, or take it out.");
    }

    std::map<std::string, Limit> read_limits(const Node& root) {
        std::map<std::string, Limit> out;
        each(root, "limits", [&](const std::string& name, const Node& at) {
            only(at, {"value", "width", "unit", "source", "club", "face"});
            Limit limit;
            limit.value = number(at, "value");
            limit.width = number(at, "width");
            if (std::isfinite(limit.width) && !(limit.width > 0.0))
                fail(at, "The width of a limit must be above nought.", "Say how soft it is.");
            limit.source = needed_text(at, "source");
            each(at, "club", [&](const std::string& club, const Node& value) {
                const auto kind = find_club_kind(club);
                if (!kind || !value.json->is_number())
                    fail(value, "This must be a number for driver, wood, iron or wedge.",
                         "Mend it.");
                else
                    limit.by_club[*kind] = value.json->get<double>();
            });
            each(at, "face", [&](const std::string& face, const Node& value) {
                const auto habit = find_face(face);
                if (!habit || !value.json->is_number())
                    fail(value, "This must be a number for square, shut or open.", "Mend it.");
                else
                    limit.by_face[*habit] = value.json->get<double>();
            });
            out[name] = std::move(limit);
        });
        return out;
    }

    FaultRule read_fault(const Node& at) {
        only(at, {"id", "phase", "title", "why", "ball", "when", "leads_to", "often_with",
                  "weight_by_club"});
        FaultRule out;
        out.id = needed_text(at, "id");
        out.title = needed_text(at, "title");
        out.why = needed_text(at, "why");
        out.ball = text(at, "ball");
        if (const auto phase = find_phase(needed_text(at, "phase")))
            out.phase = *phase;
        else
            fail(member(at, "phase").value_or(at), "There is no such phase.",
                 "It is backswing, transition, downswing or follow-through.");
        out.leads_to = texts(at, "leads_to");
        out.often_with = texts(at, "often_with");
        each(at, "weight_by_club", [&](const std::string& club, const Node& value) {
            const auto kind = find_club_kind(club);
            if (!kind || !value.json->is_number() || value.json->get<double>() < 0.0)
                fail(value, "This must be a weight for driver, wood, iron or wedge.", "Mend it.");
            else
                out.weight_by_club[*kind] = value.json->get<double>();
        });
        if (const auto when = member(at, "when"))
            out.when = read_condition(*when);
        else
            fail(at, "\"when\" is missing.", "Say on what it is judged.");
        return out;
    }

    Condition read_condition(const Node& at) {
        Condition out;
        for (const auto& [key, kind] :
             {std::pair("all", Condition::Kind::All), std::pair("any", Condition::Kind::Any),
              std::pair("weighted", Condition::Kind::Weighted)}) {
            if (!member(at, key))
                continue;
            only(at, {key, "say", "complete", "weight"});
            out.kind = kind;
            for (const Node& one : list(at, key)) {
                out.of.push_back(read_condition(one));
                if (kind == Condition::Kind::Weighted)
                    out.weights.push_back(number(one, "weight"));
            }
            if (out.of.empty())
                fail(at, "A group of conditions must hold some.", "Add one, or take it out.");
            out.say_strongest = text(at, "say") == "strongest";
            out.complete = flag(at, "complete");
            return out;
        }
        only(at, {"value", "above", "below", "say", "parts", "about", "beyond_u", "look",
                  "not_with", "only_with", "weight"});
        const auto value = member(at, "value");
        const bool up = member(at, "above").has_value();
        if (!value || up == member(at, "below").has_value()) {
            fail(at, "A condition needs a \"value\" and either \"above\" or \"below\".",
                 "Or a group: \"all\", \"any\", \"weighted\".");
            return out;
        }
        out.kind = up ? Condition::Kind::Above : Condition::Kind::Below;
        out.limit = text(at, up ? "above" : "below");
        used_limits.emplace_back(out.limit, *member(at, up ? "above" : "below"));
        out.term = read_term(*value);
        if (const auto look = member(at, "look"))
            out.look = read_term(*look);
        if (member(at, "beyond_u"))
            out.beyond_u = number(at, "beyond_u");
        read_say(at, out.because);
        for (const std::string& part : texts(at, "parts")) {
            if (const auto segment = find_part(part))
                out.parts.push_back(*segment);
            else
                fail(*member(at, "parts"), "There is no part \"" + part + "\".",
                     "It is pelvis, torso, lead_arm or club.");
        }
        const std::string about = text(at, "about");
        if (about == "peaks")
            out.about = About::Peaks;
        else if (about == "reversals")
            out.about = About::Reversals;
        else if (!about.empty())
            fail(*member(at, "about"), "A reason is about peaks or reversals.", "Or leave it out.");
        read_clubs(at, "not_with", out.not_with);
        read_clubs(at, "only_with", out.only_with);
        return out;
    }

    bool flag(const Node& at, const char* key) {
        const auto found = member(at, key);
        if (!found)
            return false;
        if (!found->json->is_boolean()) {
            fail(*found, std::string("\"") + key + "\" must be true or false.", "Mend it.");
            return false;
        }
        return found->json->get<bool>();
    }

    /// Every limit that was named, with its place: they can only be looked up at the end.
    std::vector<std::pair<std::string, Node>> used_limits;

private:
    static std::optional<Segment> find_part(const std::string& key) {
        for (Segment segment : kSequence)
            if (key == key_of(segment))
                return segment;
        return std::nullopt;
    }

    void read_clubs(const Node& at, const char* key, std::set<ClubKind>& out) {
        for (const std::string& club : texts(at, key)) {
            if (const auto kind = find_club_kind(club))
                out.insert(*kind);
            else
                fail(*member(at, key), "There is no club \"" + club + "\".",
                     "It is driver, wood, iron or wedge.");
        }
    }

    void read_say(const Node& at, ReasonText& out) {
        const auto say = member(at, "say");
        if (!say)
            return;
        if (say->json->is_string()) {
            out.plain = say->json->get<std::string>();
            return;
        }
        only(*say, {"text", "zero", "negative", "decimals"});
        out.plain = text(*say, "text");
        out.zero = text(*say, "zero");
        out.negative = text(*say, "negative");
        if (member(*say, "decimals"))
            out.decimals = static_cast<int>(std::clamp(number(*say, "decimals"), 0.0, 6.0));
    }

    /// "impact", "first_reversal", "impact - 20 ms".
    Instant read_instant(const Node& at, const char* key) {
        Instant out;
        const std::string words = needed_text(at, key);
        const auto space = std::min(words.find(' '), words.size());
        const std::string name = words.substr(0, space);
        bool known = name == "first_reversal";
        for (Moment moment : kAllMoments)
            if (name == key_of(moment)) {
                out.moment = moment;
                known = true;
            }
        double ms = 0.0;
        char sign = '+';
        if (space < words.size()) {
            int used = 0;
            known = known &&
                    std::sscanf(words.c_str() + space, " %c %lf ms%n", &sign, &ms, &used) == 2 &&
                    used > 0 && space + static_cast<std::size_t>(used) == words.size() &&
                    (sign == '+' || sign == '-');
        }
        out.plus_ms = sign == '-' ? -ms : ms;
        if (!known && !words.empty())
            fail(*member(at, key), "There is no moment \"" + words + "\".",
                 "Take one of the analysis, such as top, or \"impact - 20 ms\".");
        return out;
    }

    Term read_term(const Node& at) {
        Term out;
        const auto known = [&](std::initializer_list<std::string_view> keys) { only(at, keys); };
        if (member(at, "measure")) {
            known({"measure"});
            out.kind = Term::Kind::Measure;
            out.key = text(at, "measure");
        } else if (member(at, "quantity")) {
            known({"quantity", "at"});
            out.kind = Term::Kind::At;
            out.key = text(at, "quantity");
            out.from = read_instant(at, "at");
        } else if (member(at, "lowest") || member(at, "highest") || member(at, "growth")) {
            const char* key = member(at, "lowest")    ? "lowest"
                              : member(at, "highest") ? "highest"
                                                      : "growth";
            known({key, "from", "to"});
            out.kind = key == std::string_view("lowest")    ? Term::Kind::Lowest
                       : key == std::string_view("highest") ? Term::Kind::Highest
                                                            : Term::Kind::Growth;
            out.key = text(at, key);
            out.from = read_instant(at, "from");
            out.to = read_instant(at, "to");
        } else if (member(at, "reversal") || member(at, "peak")) {
            const char* key = member(at, "peak") ? "peak" : "reversal";
            known({key});
            out.kind = member(at, "peak") ? Term::Kind::Peak : Term::Kind::Reversal;
            if (const auto part = find_part(text(at, key)))
                out.part = *part;
            else
                fail(*member(at, key), "There is no such part.",
                     "It is pelvis, torso, lead_arm or club.");
        } else if (member(at, "time")) {
            known({"time"});
            out.kind = Term::Kind::Time;
            out.from = read_instant(at, "time");
        } else if (member(at, "difference") || member(at, "largest") || member(at, "smallest")) {
            const char* key = member(at, "difference") ? "difference"
                              : member(at, "largest")  ? "largest"
                                                       : "smallest";
            known({key});
            out.kind = key == std::string_view("difference") ? Term::Kind::Difference
                       : key == std::string_view("largest")  ? Term::Kind::Largest
                                                             : Term::Kind::Smallest;
            for (const Node& one : list(at, key))
                out.of.push_back(read_term(one));
            const bool enough =
                out.kind == Term::Kind::Difference ? out.of.size() == 2 : out.of.size() >= 2;
            if (!enough) {
                fail(at, "A difference is of two values, the largest of two or more.", "Mend it.");
                out = Term{};
            }
        } else {
            fail(at, "This is no value that a rule can ask for.",
                 "Take a measure, a quantity at a moment, lowest, highest, growth, reversal, peak, "
                 "time, difference, largest or smallest.");
        }
        if (const auto unknown = unknown_name(out); unknown && !out.key.empty())
            fail(at, "There is no measure or quantity \"" + *unknown + "\".",
                 "docs/catalogue.md lists them.");
        return out;
    }

    std::string_view bytes_;
    Json root_;
};

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
    static const Rules kRules{shipped_rule_book(), shipped_schools().front(), FaceHabit::Square};
    return kRules;
}

Outcome<Rules> rules_with_school(const std::string& id_or_path) {
    Outcome<Rules> out;
    out.value = plain_rules();
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
