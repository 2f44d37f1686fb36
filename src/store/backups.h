#pragma once

#include "core/base/findings.h"

#include <filesystem>
#include <string>
#include <vector>

namespace kite::store {

/// Which of these days ("2026-11-26") are kept: the last seven, then the last of each of five weeks
/// (from Monday), then the last of each of twelve months. In order.
std::vector<std::string> days_to_keep(std::vector<std::string> days);

/// "record.db" has its backups in "record.db.backups", one a day: "2026-11-26.db".
std::filesystem::path backup_folder(const std::filesystem::path& record);
std::vector<std::filesystem::path> backups_of(const std::filesystem::path& record);

} // namespace kite::store
