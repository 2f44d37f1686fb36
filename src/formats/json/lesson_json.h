#pragma once

#include "core/base/findings.h"
#include "core/base/missing.h"
#include "core/motion/beside.h"

#include <filesystem>
#include <optional>
#include <string>
#include <string_view>
#include <vector>

namespace kite::formats {

/// A lesson folder holds swing files and a `lesson.json` that says whose they are:
/// {"kite-hinge": "lesson 1", "name": "…", "swings": [{"file": "…", "golfer": "…", "note": "…"}]}
/// and, where they are known, "day" (2026-11-27), "flight" (a key), "guess_open_deg" and "launch".
struct LessonSwing {
    std::filesystem::path file; ///< made absolute with the lesson's folder
    std::string golfer;
    std::string note;
    std::string day;
    std::string flight;
    double guess_open_deg = kMissing;
    std::optional<LaunchNumbers> launch;
};

struct Lesson {
    std::string name;
    std::vector<LessonSwing> swings;
};

/// `path` is the lesson.json; only its folder is used.
Outcome<Lesson> parse_lesson(std::string_view bytes, const std::filesystem::path& path);
Outcome<Lesson> read_lesson(const std::filesystem::path& path);

/// File names are written without their folder.
std::string write_lesson(const Lesson& lesson);

} // namespace kite::formats
