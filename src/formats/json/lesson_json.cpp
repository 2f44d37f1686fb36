#include "formats/json/lesson_json.h"

#include "formats/beside/launch_csv.h"
#include "formats/text/bytes.h"

#include <nlohmann/json.hpp>

#include <cmath>

namespace kite::formats {

using Json = nlohmann::ordered_json;
using Severity = Finding::Severity;

namespace {

constexpr const char* kLessonVersion = "lesson 1";

/// A list from somewhere else must not reach outside its folder, by whatever detour.
bool stays_inside(const std::filesystem::path& name) {
    if (name.is_absolute() || name.has_root_name())
        return false;
    const std::filesystem::path plain = name.lexically_normal();
    return !plain.empty() && plain != "." && *plain.begin() != "..";
}

std::string text_in(const Json& object, const char* key) {
    const auto found = object.find(key);
    return found != object.end() && found->is_string() ? found->get<std::string>() : std::string();
}

} // namespace

Outcome<Lesson> parse_lesson(std::string_view bytes, const std::filesystem::path& path) {
    Outcome<Lesson> out;
    Json json;
    try {
        json = Json::parse(bytes);
    } catch (const Json::parse_error& error) {
        out.add({Severity::Error, "bad-json", "This is not valid JSON.",
                 "byte " + std::to_string(error.byte), "Mend or restore the file."});
        return out;
    } catch (const Json::exception& error) {
        // A number beyond every range, for instance.
        out.add({Severity::Error, "bad-json", "This JSON cannot be used.", "", "Mend the file."});
        return out;
    }
    if (!json.is_object() || text_in(json, "kite-hinge") != kLessonVersion) {
        out.add({Severity::Error, "not-a-lesson", "This is not a lesson list.", "key kite-hinge",
                 "It must say \"lesson 1\"."});
        return out;
    }
    out.value.name = text_in(json, "name");
    const auto swings = json.find("swings");
    if (swings == json.end() || !swings->is_array()) {
        out.add({Severity::Error, "no-swings", "The lesson lists no swings.", "key swings",
                 "Add the list of files."});
        return out;
    }
    for (std::size_t i = 0; i < swings->size(); ++i) {
        const Json& entry = (*swings)[i];
        const std::string file = entry.is_object() ? text_in(entry, "file") : std::string();
        const std::filesystem::path name(file);
        if (file.empty() || !stays_inside(name)) {
            out.add({Severity::Warning, "swing-without-file",
                     "A swing names no file in this folder; it was left out.",
                     "swings, entry " + std::to_string(i + 1), "Give its file name."});
            continue;
        }
        LessonSwing swing;
        swing.file = path.parent_path() / name;
        swing.golfer = text_in(entry, "golfer");
        swing.note = text_in(entry, "note");
        swing.day = text_in(entry, "day");
        swing.flight = text_in(entry, "flight");
        if (const auto guess = entry.find("guess_open_deg");
            guess != entry.end() && guess->is_number())
            swing.guess_open_deg = guess->get<double>();
        if (const auto launch = entry.find("launch"); launch != entry.end())
            swing.launch = launch_of_json(launch->dump());
        out.value.swings.push_back(std::move(swing));
    }
    return out;
}

Outcome<Lesson> read_lesson(const std::filesystem::path& path) {
    const Outcome<std::string> bytes = read_bytes(path);
    if (!bytes.ok()) {
        Outcome<Lesson> out;
        out.findings = bytes.findings;
        return out;
    }
    return parse_lesson(bytes.value, path);
}

std::string write_lesson(const Lesson& lesson) {
    Json out = {{"kite-hinge", kLessonVersion}, {"name", lesson.name}, {"swings", Json::array()}};
    for (const LessonSwing& swing : lesson.swings) {
        Json entry{{"file", swing.file.filename().string()},
                   {"golfer", swing.golfer},
                   {"note", swing.note}};
        for (const auto& [key, text] :
             {std::pair("day", &swing.day), std::pair("flight", &swing.flight)})
            if (!text->empty())
                entry[key] = *text;
        if (std::isfinite(swing.guess_open_deg))
            entry["guess_open_deg"] = swing.guess_open_deg;
        if (swing.launch)
            entry["launch"] = Json::parse(to_json(*swing.launch), nullptr, false);
        out["swings"].push_back(std::move(entry));
    }
    return out.dump(2) + "\n";
}

} // namespace kite::formats
