#include "formats/practice/eye_json.h"

#include "formats/json/strict_json.h"
#include "formats/text/bytes.h"

#include <cmath>

namespace kite::formats {

namespace {

using Json = StrictJson::Json;
using Node = StrictJson::Node;

constexpr const char* kEyeVersion = "eye 1";
constexpr double kMost_deg = 360.0;

class EyeReader : public StrictJson {
public:
    using StrictJson::StrictJson;

    EyeGuess guess(const Node& at) {
        only(at, {"day", "view", "angle", "truth_deg", "said_deg", "truth_order", "said_order"});
        EyeGuess out;
        if (const auto day = find_date(needed_text(at, "day")))
            out.day = *day;
        else
            fail(at, "This is no day.", "Write it as 2026-11-27.");
        out.view = one_of(at, "view", kEyeViews).value_or(EyeView::FaceOn);
        if (member(at, "angle")) {
            out.angle = one_of(at, "angle", kEyeAngles);
            out.truth_deg = angle(at, "truth_deg");
            out.said_deg = angle(at, "said_deg");
        } else {
            out.truth_order = needed_text(at, "truth_order");
            out.said_order = needed_text(at, "said_order");
        }
        return out;
    }

private:
    template <class All>
    std::optional<typename All::value_type> one_of(const Node& at, const char* key,
                                                   const All& all) {
        const std::string said = needed_text(at, key);
        std::string known;
        for (const auto one : all) {
            if (said == key_of(one))
                return one;
            known += (known.empty() ? "" : ", ") + std::string(key_of(one));
        }
        fail(member(at, key).value_or(at), "\"" + said + "\" is not known here.",
             "It is one of " + known + ".");
        return std::nullopt;
    }
    double angle(const Node& at, const char* key) {
        const double value = number(at, key);
        if (std::isfinite(value) && std::abs(value) > kMost_deg)
            fail(*member(at, key), "No part turns that far.", "Write degrees.");
        return value;
    }
};

} // namespace

Outcome<std::vector<EyeGuess>> parse_eye(std::string_view bytes) {
    Outcome<std::vector<EyeGuess>> out;
    EyeReader reader(bytes);
    if (const auto root = reader.open(kEyeVersion, "estimates of an eye")) {
        reader.only(*root, {"kite-hinge", "guesses"});
        for (const Node& at : reader.list(*root, "guesses"))
            out.value.push_back(reader.guess(at));
    }
    out.findings = std::move(reader.findings);
    if (!out.ok())
        out.value.clear();
    return out;
}

Outcome<std::vector<EyeGuess>> read_eye(const std::filesystem::path& path) {
    std::error_code ignored;
    if (!std::filesystem::exists(path, ignored))
        return {};
    const auto bytes = read_bytes(path);
    if (!bytes.ok())
        return {{}, bytes.findings};
    return parse_eye(bytes.value);
}

std::vector<Finding> write_eye(const std::filesystem::path& path,
                               const std::vector<EyeGuess>& guesses) {
    Json list = Json::array();
    for (const EyeGuess& guess : guesses) {
        Json one{{"day", text_of(guess.day)}, {"view", key_of(guess.view)}};
        if (guess.angle) {
            one["angle"] = key_of(*guess.angle);
            one["truth_deg"] = guess.truth_deg;
            one["said_deg"] = guess.said_deg;
        } else {
            one["truth_order"] = guess.truth_order;
            one["said_order"] = guess.said_order;
        }
        list.push_back(std::move(one));
    }
    const Json root{{"kite-hinge", kEyeVersion}, {"guesses", std::move(list)}};
    return write_bytes(path, root.dump(1) + "\n");
}

} // namespace kite::formats
