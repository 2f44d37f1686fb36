#include "formats/rules/rule_reader.h"

#include "formats/text/numbers.h"

#include <algorithm>
#include <cmath>
#include <cstdio>

namespace kite::formats {

/// One level down while it lives.
class RuleReader::Deeper {
public:
    explicit Deeper(int& depth) : depth_(depth) { ++depth_; }
    ~Deeper() { --depth_; }
    Deeper(const Deeper&) = delete;
    Deeper& operator=(const Deeper&) = delete;

private:
    int& depth_;
};

std::map<std::string, Limit> RuleReader::read_limits(const Node& root) {
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
                fail(value, "This must be a number for driver, wood, iron or wedge.", "Mend it.");
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

FaultRule RuleReader::read_fault(const Node& at) {
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
             "It is set-up, backswing, transition, downswing or follow-through.");
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

Condition RuleReader::read_condition(const Node& at) {
    Condition out;
    const Deeper deeper(depth_);
    if (depth_ > kDeepest) {
        fail(at, "This is nested too deeply.", "Say it with fewer groups.");
        return out;
    }
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
    only(at, {"value", "above", "below", "say", "parts", "about", "beyond_u", "short_of_u", "look",
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
    if (member(at, "short_of_u"))
        out.short_of_u = number(at, "short_of_u");
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

std::optional<Segment> RuleReader::find_part(const std::string& key) {
    for (Segment segment : kSequence)
        if (key == key_of(segment))
            return segment;
    return std::nullopt;
}

void RuleReader::read_clubs(const Node& at, const char* key, std::set<ClubKind>& out) {
    for (const std::string& club : texts(at, key)) {
        if (const auto kind = find_club_kind(club))
            out.insert(*kind);
        else
            fail(*member(at, key), "There is no club \"" + club + "\".",
                 "It is driver, wood, iron or wedge.");
    }
}

void RuleReader::read_say(const Node& at, ReasonText& out) {
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

Instant RuleReader::read_instant(const Node& at, const char* key) {
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
        // " - 12.5 ms": a point whatever the locale says.
        const std::string_view rest = std::string_view(words).substr(space);
        constexpr std::string_view kUnit = " ms";
        const bool whole = rest.size() > 3 + kUnit.size() && rest[2] == ' ' &&
                           (rest[1] == '+' || rest[1] == '-') &&
                           rest.substr(rest.size() - kUnit.size()) == kUnit;
        const auto value =
            whole ? parse_number(rest.substr(3, rest.size() - 3 - kUnit.size())) : std::nullopt;
        known = known && value && std::isfinite(*value) && *value >= 0.0;
        sign = whole ? rest[1] : '+';
        ms = value.value_or(0.0);
    }
    out.plus_ms = sign == '-' ? -ms : ms;
    if (!known && !words.empty())
        fail(*member(at, key), "There is no moment \"" + words + "\".",
             "Take one of the analysis, such as top, or \"impact - 20 ms\".");
    return out;
}

Term RuleReader::read_term(const Node& at) {
    Term out;
    const Deeper deeper(depth_);
    if (depth_ > kDeepest) {
        fail(at, "This is nested too deeply.", "Say it with fewer groups.");
        return out;
    }
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

} // namespace kite::formats
