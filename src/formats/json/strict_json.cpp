#include "formats/json/strict_json.h"

#include "formats/json/json_lines.h"

#include <algorithm>
#include <cmath>

namespace kite::formats {

using Node = StrictJson::Node;
using Severity = Finding::Severity;

std::optional<Node> StrictJson::open(const char* version, const char* kind) {
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
        findings.push_back({Severity::Error, "not-rules", std::string("This is not ") + kind + ".",
                            "key kite-hinge", std::string("It must say \"") + version + "\"."});
        return std::nullopt;
    }
    return root;
}

void StrictJson::fail(const Node& at, const std::string& what, const std::string& mend) {
    constexpr std::size_t kMost = 20;
    if (findings.size() < kMost)
        findings.push_back({Severity::Error, "bad-rule", what,
                            "line " + std::to_string(line_of(bytes_, at.pointer)) + ", " +
                                (at.pointer.empty() ? "the file" : at.pointer),
                            mend});
}

std::optional<Node> StrictJson::member(const Node& at, const char* key) {
    if (!at.json->is_object() || !at.json->contains(key))
        return std::nullopt;
    return Node{&(*at.json)[key], at.pointer + "/" + key};
}
std::string StrictJson::text(const Node& at, const char* key) {
    const auto found = member(at, key);
    if (!found)
        return {};
    if (!found->json->is_string()) {
        fail(*found, "This must be a text.", "Put it in quotes.");
        return {};
    }
    return found->json->get<std::string>();
}
std::string StrictJson::needed_text(const Node& at, const char* key) {
    std::string out = text(at, key);
    if (out.empty())
        fail(at, std::string("\"") + key + "\" is missing.", "Add it as a text.");
    return out;
}
double StrictJson::number(const Node& at, const char* key) {
    const auto found = member(at, key);
    if (!found || !found->json->is_number() || !std::isfinite(found->json->get<double>())) {
        fail(found.value_or(at), std::string("\"") + key + "\" must be a number.", "Mend it.");
        return kMissing;
    }
    return found->json->get<double>();
}
std::vector<Node> StrictJson::list(const Node& at, const char* key) {
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
std::vector<std::string> StrictJson::texts(const Node& at, const char* key) {
    std::vector<std::string> out;
    for (const Node& one : list(at, key)) {
        if (one.json->is_string())
            out.push_back(one.json->get<std::string>());
        else
            fail(one, "This must be a text.", "Put it in quotes.");
    }
    return out;
}
void StrictJson::only(const Node& at, std::initializer_list<std::string_view> known) {
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

bool StrictJson::flag(const Node& at, const char* key) {
    const auto found = member(at, key);
    if (!found)
        return false;
    if (!found->json->is_boolean()) {
        fail(*found, std::string("\"") + key + "\" must be true or false.", "Mend it.");
        return false;
    }
    return found->json->get<bool>();
}

} // namespace kite::formats
