#pragma once

#include "core/base/findings.h"
#include "core/practice/eye.h"

#include <filesystem>
#include <string_view>
#include <vector>

namespace kite::formats {

/// What an instructor's eye estimated so far (docs/practice.md). No file is no error: nothing yet.
Outcome<std::vector<EyeGuess>> read_eye(const std::filesystem::path& path);
Outcome<std::vector<EyeGuess>> parse_eye(std::string_view bytes);
std::vector<Finding> write_eye(const std::filesystem::path& path,
                               const std::vector<EyeGuess>& guesses);

} // namespace kite::formats
