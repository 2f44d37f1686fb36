#pragma once

#include "core/base/findings.h"
#include "core/base/missing.h"

#include <nlohmann/json.hpp>

#include <initializer_list>
#include <optional>
#include <string>
#include <string_view>
#include <vector>

namespace kite::formats {

/// Reads one JSON file that a person may have written: what is not known is an error. The first
/// things that are wrong are named, each with its line, its place and how to mend it.
class StrictJson {
public:
    using Json = nlohmann::ordered_json;
    /// A value of the file with its place.
    struct Node {
        const Json* json = nullptr;
        std::string pointer; ///< RFC 6901
    };

    explicit StrictJson(std::string_view bytes) : bytes_(bytes) {}

    std::vector<Finding> findings;

    /// The whole file; empty: it is no JSON, or of another kind. `version` is what "kite-hinge"
    /// must say, `kind` what the file should be, in words.
    std::optional<Node> open(const char* version, const char* kind);

    void fail(const Node& at, const std::string& what, const std::string& mend);

    static std::optional<Node> member(const Node& at, const char* key);
    /// What is missing is empty, false, or no list; what is there must be of its kind.
    std::string text(const Node& at, const char* key);
    std::vector<std::string> texts(const Node& at, const char* key);
    std::vector<Node> list(const Node& at, const char* key);
    bool flag(const Node& at, const char* key);
    /// What is missing is an error too.
    std::string needed_text(const Node& at, const char* key);
    double number(const Node& at, const char* key);
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
    void only(const Node& at, std::initializer_list<std::string_view> known);

private:
    std::string_view bytes_;
    Json root_;
};

} // namespace kite::formats
