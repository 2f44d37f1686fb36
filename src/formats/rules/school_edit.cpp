#include "formats/rules/school_edit.h"

#include "formats/rules/shipped.h"

#include <nlohmann/json.hpp>

namespace kite::formats {

using Json = nlohmann::ordered_json;

namespace {

std::string written(const Json& school) {
    return school.dump(2, ' ', false, Json::error_handler_t::replace) + "\n";
}

/// Out of an object what has become empty.
void drop_empty(Json& school, const char* key) {
    if (school.contains(key) && school[key].empty())
        school.erase(key);
}

Json object_at(const Json& school, const char* key) {
    return school.contains(key) && school[key].is_object() ? school[key] : Json::object();
}

} // namespace

std::string_view shipped_school_file(const std::string& id) {
    for (const std::string_view bytes : shipped_school_bytes())
        if (Json::parse(bytes).value("id", "") == id)
            return bytes;
    return {};
}

std::string copy_of_school(std::string_view bytes, const std::string& id, const std::string& name) {
    Json school = Json::parse(bytes);
    school["id"] = id;
    school["name"] = name;
    return written(school);
}

std::string with_limit(std::string_view bytes, const std::string& limit, const Limit& own,
                       std::string_view unit) {
    Json school = Json::parse(bytes);
    Json limits = object_at(school, "limits");
    limits[limit] = {{"value", own.value}, {"width", own.width}};
    if (!unit.empty())
        limits[limit]["unit"] = unit;
    limits[limit]["source"] = own.source;
    for (const auto& [club, value] : own.by_club)
        limits[limit]["club"][std::string(key_of(club))] = value;
    for (const auto& [face, value] : own.by_face)
        limits[limit]["face"][std::string(key_of(face))] = value;
    school["limits"] = std::move(limits);
    return written(school);
}

std::string without_limit(std::string_view bytes, const std::string& limit) {
    Json school = Json::parse(bytes);
    if (school.contains("limits"))
        school["limits"].erase(limit);
    drop_empty(school, "limits");
    return written(school);
}

std::string with_weight(std::string_view bytes, const std::string& fault, double weight) {
    Json school = Json::parse(bytes);
    Json weights = object_at(school, "weights");
    if (weight == 1.0)
        weights.erase(fault);
    else
        weights[fault] = weight;
    school["weights"] = std::move(weights);
    drop_empty(school, "weights");
    return written(school);
}

std::string with_no_fault(std::string_view bytes, const std::string& fault,
                          const std::string& why) {
    Json school = Json::parse(bytes);
    Json reasons = object_at(school, "no_fault");
    if (why.empty())
        reasons.erase(fault);
    else
        reasons[fault] = why;
    school["no_fault"] = std::move(reasons);
    drop_empty(school, "no_fault");
    return written(school);
}

} // namespace kite::formats
