#pragma once

#include "formats/format.h"

#include <filesystem>
#include <string_view>

/// Sources that give angles or rotation speeds in columns, without positions.
namespace kite::formats {

/// Angles CSV: time_s and <segment>_turn_deg, _side_tilt_deg, _forward_bend_deg. A segment needs
/// its turn; tilt or bend that is missing is taken as zero, and a note says so.
int angles_csv_sureness(std::string_view bytes, const std::filesystem::path& path);
Outcome<Take> read_angles_csv(std::string_view bytes, const ReadOptions& options);

/// Rates CSV: time_s and <segment>_rate_deg_s, positive in the downswing direction: the sequence
/// alone.
int rates_csv_sureness(std::string_view bytes, const std::filesystem::path& path);
Outcome<Take> read_rates_csv(std::string_view bytes, const ReadOptions& options);

/// STO and MOT: a header up to "endheader" (nRows, nColumns, inDegrees), then a tab-separated table
/// with the columns of angles CSV, with or without "_deg", and "time".
int storage_sureness(std::string_view bytes, const std::filesystem::path& path);
Outcome<Take> read_storage(std::string_view bytes, const ReadOptions& options);

} // namespace kite::formats
